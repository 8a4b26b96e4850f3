"""Saying yes or no to a list that waits."""

from uuid import UUID

from django.db import transaction

from amberkey.server.nightly.models import Sender, SentList
from amberkey.server.nightly.tasks import put_to_work
from amberkey.server.nightly.working import let_go, settle
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

State = SentList.State


@transaction.atomic
def say_yes(actor: Actor, sent_id: UUID) -> SentList:
    """Have the good rows of a list taken after all, held against what is here now."""
    sent = _waiting(actor, sent_id)
    sent.state, sent.decided_by, sent.says = State.WORKING, actor.user, ""
    sent.save(update_fields=["state", "decided_by", "says"])
    put_to_work(sent)
    actor.record("said yes to a list", f"sender/{sent.sender_id}", sent.name)
    return sent


@transaction.atomic
def say_no(actor: Actor, sent_id: UUID) -> SentList:
    """Nothing of a list is taken."""
    sent = _waiting(actor, sent_id)
    let_go(sent, "Somebody said no to it.")
    sent.state, sent.decided_by, sent.says = State.REFUSED, actor.user, ""
    sent.save(update_fields=["state", "decided_by", "says"])
    actor.record("said no to a list", f"sender/{sent.sender_id}", sent.name)
    return sent


def _waiting(actor: Actor, sent_id: UUID) -> SentList:
    """A list that waits, its sender locked. Raises NotFound; Problem where it doesn't wait any more."""
    actor.require(Role.EDITOR)
    sent = SentList.objects.filter(id=sent_id).first()
    if sent is None:
        raise NotFound("such list")
    sender = Sender.objects.select_for_update().get(pk=sent.sender_id)
    settle(sender)
    sent.refresh_from_db()
    if sent.state != State.WAITING:
        raise Problem(409, "This list doesn't wait for an answer.", f"It is {sent.state}.", "Look at the newest one.")
    return sent
