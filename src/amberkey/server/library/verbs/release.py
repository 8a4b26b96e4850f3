"""Releasing revisions: from then on machines may be given them."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction

from amberkey.server.library.models import Document, Revision
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

RELEASED = (
    "amberkey/organisation@1",
    "amberkey/program@1",
    "amberkey/tasks@1",
    "amberkey/profile@1",
    "amberkey/setup@1",
)
"""What reaches machines, and so is released. The standard does so through its layer; decisions are for specialists."""


@dataclass(frozen=True)
class Wish:
    """`number`: the revision of the document that is to be the released one; None: none is."""

    key: str
    number: int | None


@transaction.atomic
def release(actor: Actor, key: str, number: int) -> Revision:
    """Release one revision. Raises NotFound."""
    actor.require(Role.RELEASER)
    release_all(actor, [Wish(key, number)])
    return Revision.objects.get(document_id=key, number=number)


@transaction.atomic
def release_all(actor: Actor, wishes: Sequence[Wish]) -> list[Wish]:
    """Release several documents together; gives what was released of each before, which done in turn takes it back.

    Raises NotFound for a revision that isn't there, before anything is released.
    """
    actor.require(Role.RELEASER)
    if not wishes:
        raise Problem(400, "Nothing is chosen to be released.", cure="Choose at least one document.")
    before = []
    for wish in sorted(wishes, key=lambda w: w.key):  # one order of locks for everybody
        document = Document.objects.select_for_update(of=("self",)).filter(key=wish.key, deleted_at=None).first()
        revision = document.revisions.filter(number=wish.number).first() if document and wish.number else None
        if document is None or (revision is None and wish.number is not None):
            raise NotFound(f"revision {wish.number} of {wish.key.replace('/', ' ', 1)}")
        before.append(Wish(wish.key, document.released.number if document.released else None))
        document.released = revision
        document.save(update_fields=["released"])
        actor.record("released", wish.key, f"revision {wish.number}" if wish.number else "no revision any more")
    return before
