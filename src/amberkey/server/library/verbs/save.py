"""Saving a whole document over the revision that it was made from."""

from typing import cast

from django.db import transaction

from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.server.library.documents import key_of
from amberkey.server.library.models import ChangeSet, Document
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Conflict, NotFound, Problem


@transaction.atomic
def save(actor: Actor, key: str, value: CoreDocument, parent: str, note: str) -> ChangeSet:
    """Save `value` over the revision with the digest `parent`; raises Conflict if somebody saved another one since."""
    actor.require(Role.EDITOR)
    if key_of(value) != key:
        raise Problem(400, "This is another document.", f"It is {key_of(value)}, and the address says {key}.")
    document = Document.objects.select_for_update().filter(key=key, deleted_at=None).first()
    if document is None or document.newest is None:
        raise NotFound(key.replace("/", " ", 1))
    newest = document.newest
    if newest.digest != parent:
        since = document.revisions.filter(number__gt=_number(document, parent)).select_related("author")
        raise Conflict(
            f"{newest.author.display_name} saved {document.name} before you.",
            f"It is at revision {newest.number} now.",
            by=newest.author.display_name,
            at=newest.at.isoformat(),
            changes=[f"{r.author.display_name}: {r.note or 'no note'}" for r in since.order_by("number")],
        )
    operations = compare(cast(JsonDocument, newest.body.json()), cast(JsonDocument, value.to_json()))
    return change(actor, note or f"Edited {value.name}", {key: operations})


def _number(document: Document, digest: str) -> int:
    revision = document.revisions.filter(body_id=digest).order_by("-number").first()
    return revision.number if revision else 0
