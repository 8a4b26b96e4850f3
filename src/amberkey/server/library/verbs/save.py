"""Saving a whole document over the revision that it was made from."""

from typing import cast

from django.db import transaction

from amberkey.core.compare.merging import NOTHING_CHOSEN, Chosen, merge
from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.server.library.contradicting import contradiction
from amberkey.server.library.documents import key_of
from amberkey.server.library.models import ChangeSet, Document, Revision
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Conflict, NotFound, Problem


@transaction.atomic
def save(actor: Actor, key: str, value: CoreDocument, parent: str, note: str, chosen: Chosen = NOTHING_CHOSEN) -> ChangeSet:
    """Save `value`, which was made from the revision with the digest `parent`.

    What others saved since stays beside it. Raises Problem with `contradictions` where both made something else of the same
    item and `chosen` doesn't decide it, Conflict where the revision isn't known.
    """
    actor.require(Role.EDITOR)
    if key_of(value) != key:
        raise Problem(400, "This is another document.", f"It is {key_of(value)}, and the address says {key}.")
    document = Document.objects.select_for_update().filter(key=key, deleted_at=None).first()
    if document is None or document.newest is None:
        raise NotFound(key.replace("/", " ", 1))
    newest = document.newest
    theirs, ours = cast(JsonDocument, newest.body.json()), cast(JsonDocument, value.to_json())
    if newest.digest == parent:
        operations = tuple(compare(theirs, ours))
    else:
        seen = document.revisions.filter(body_id=parent).select_related("body").order_by("-number").first()
        if seen is None:
            raise _conflict(document, newest)
        merged = merge(cast(JsonDocument, seen.body.json()), ours, theirs, chosen)
        if merged.contradictions:
            since = _since(document, seen.number)
            by = newest.author.display_name
            raise contradiction(merged.contradictions, by, at=newest.at.isoformat(), changes=since)
        operations = merged.operations
    return change(actor, note or f"Edited {value.name}", {key: operations})


def _conflict(document: Document, newest: Revision) -> Conflict:
    return Conflict(
        f"{newest.author.display_name} saved {document.name} before you.",
        f"It is at revision {newest.number} now, and the one that yours was made from isn't known.",
        by=newest.author.display_name,
        at=newest.at.isoformat(),
        changes=_since(document, 0),
    )


def _since(document: Document, number: int) -> list[str]:
    rows = document.revisions.filter(number__gt=number).select_related("author").order_by("number")
    return [f"{r.author.display_name}: {r.note or 'no note'}" for r in rows]
