"""Saying yes to what something runs, or to where files are written, and taking that back."""

from django.db import transaction
from django.utils import timezone

from amberkey.server.library.approving import Standing, author_of, keep_approval, standing
from amberkey.server.library.models import Approval
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem


@transaction.atomic
def approve(actor: Actor, digest: str) -> Approval:
    """Say yes to a content as it stands now. Raises Problem for whoever wrote it, NotFound where it stands no more."""
    actor.require(Role.RELEASER)
    found = _found(digest)
    written = author_of(found.key, found.sensitive)
    if written is not None and written.author_id == actor.user.pk:
        raise Problem(
            409,
            "You wrote this yourself.",
            "What runs something, or is written somewhere, goes out only when somebody else has looked at it.",
            "Ask another releaser to look at it.",
        )
    row = keep_approval(found.sensitive, written.author if written else None, actor.user)
    actor.record("approved", found.sensitive.subject[:200], found.sensitive.content)
    return row


@transaction.atomic
def withdraw_approval(actor: Actor, digest: str) -> Approval:
    """Take a yes back: from then on it goes nowhere any more. Raises NotFound."""
    actor.require(Role.RELEASER)
    row = Approval.objects.select_for_update().filter(digest=digest, withdrawn_at=None).first()
    if row is None:
        raise NotFound("such approval")
    row.withdrawn_at = timezone.now()
    row.save(update_fields=["withdrawn_at"])
    actor.record("took an approval back", row.subject[:200], row.content)
    return row


def _found(digest: str) -> Standing:
    found = next((s for s in standing() if s.sensitive.digest == digest), None)
    if found is None:
        raise NotFound("such thing that needs approval")
    return found
