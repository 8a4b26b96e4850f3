"""Taking newer facts of the systems in: three ways between what was taken before, what the organisation corrected, and now."""

from dataclasses import dataclass
from typing import cast

from django.db import transaction
from django.db.models import Q

from amberkey.core.compare.merging import Contradiction, merge
from amberkey.core.compare.operations import JsonDocument, Operation
from amberkey.core.programs.model import Program
from amberkey.core.programs.reference import system_tables
from amberkey.server.library.documents import key_of, newest_of
from amberkey.server.library.models import Body, ChangeSet, Document, TakenFacts
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound


@dataclass(frozen=True, slots=True)
class News:
    """What a shipped table would change in the organisation's copy, and what stays as the organisation corrected it."""

    document: Document
    shipped: Program
    operations: tuple[Operation, ...]
    stays: tuple[Contradiction, ...]


def note_taken(document: Document, shipped: Program, change_set: ChangeSet | None = None) -> None:
    """Remember which shipped table an organisation's copy comes from."""
    TakenFacts.objects.create(document=document, body=Body.keep(shipped.to_bytes()), change_set=change_set)


def news() -> list[News]:
    """The shipped tables that say something else than when they were taken over, or than the first revision that there is."""
    found = []
    for shipped in system_tables():
        document = Document.objects.filter(key=key_of(shipped), deleted_at=None).select_related("newest").first()
        if document is not None and document.newest is not None:
            one = _news_of(document, shipped)
            if one.operations:
                found.append(one)
    return found


def _news_of(document: Document, shipped: Program) -> News:
    taken = document.taken_facts.filter(Q(change_set=None) | Q(change_set__undone=False)).order_by("-id").first()
    first = document.revisions.order_by("number").first()
    base = taken.body if taken else first.body if first else newest_of(document).body
    merged = merge(
        cast(JsonDocument, base.json()),
        cast(JsonDocument, shipped.to_json()),
        cast(JsonDocument, newest_of(document).body.json()),
    )
    return News(document, shipped, merged.operations, merged.contradictions)


@transaction.atomic
def take_facts(actor: Actor, key: str) -> ChangeSet:
    """Take newer facts into the organisation's copy of a system table, as one change that can be undone. What it corrected
    itself stays. Raises NotFound where nothing is new."""
    actor.require(Role.EDITOR)
    Document.objects.select_for_update().filter(key=key).first()
    one = next((n for n in news() if n.document.key == key), None)
    if one is None:
        raise NotFound(f"newer facts of {key[:60]}")
    done = change(actor, f"Newer facts of {one.shipped.name} {one.shipped.version}", {key: one.operations})
    note_taken(one.document, one.shipped, done)
    return done
