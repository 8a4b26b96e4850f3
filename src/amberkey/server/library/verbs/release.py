"""Releasing a revision: from then on machines may be given it."""

from django.db import transaction

from amberkey.server.library.models import Document, Revision
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound


@transaction.atomic
def release(actor: Actor, key: str, number: int) -> Revision:
    actor.require(Role.RELEASER)
    document = Document.objects.select_for_update().filter(key=key, deleted_at=None).first()
    revision = document.revisions.filter(number=number).first() if document else None
    if document is None or revision is None:
        raise NotFound(f"revision {number} of {key.replace('/', ' ', 1)}")
    document.released = revision
    document.save(update_fields=["released"])
    actor.record("released", key, f"revision {number}")
    return revision
