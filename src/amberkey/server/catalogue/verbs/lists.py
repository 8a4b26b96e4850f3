"""Bringing in a list of commands: uploaded or pasted, checked as often as wanted, taken once."""

from uuid import UUID

from django.db import transaction

from amberkey.core.exchange.sheets import DEFAULT_SHEET_LIMITS, is_packed, too_large
from amberkey.server.catalogue.models import CommandList
from amberkey.server.catalogue.tasks import put_to_work
from amberkey.server.catalogue.working import AT_ONCE, Asked, check, opened, take
from amberkey.server.library.lists import BUSY, ListState
from amberkey.server.library.models import Body
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem

State = ListState


def begin(actor: Actor, name: str, data: bytes, *, text: str = "", html: str = "") -> CommandList:
    """Keep what came, and check it as it is guessed to be meant. What has to be unpacked first is left to a worker.

    Raises SheetError where there is no table in it, Problem where it is too large.
    """
    actor.require(Role.EDITOR)
    if len(data) > DEFAULT_SHEET_LIMITS.packed:
        fault = too_large(len(data))
        raise Problem(413, "The file is too large.", fault.says, fault.cure)
    with transaction.atomic():
        found = CommandList(name=name[:200], content=Body.keep(data), actor=actor.user)
        if is_packed(data):
            found.save()
            put_to_work(found)
            return found
        opened(found, text, html)
        found.asked = Asked().model_dump(mode="json")
        _check(found)
    return found


def ask(actor: Actor, found_id: UUID, asked: Asked) -> CommandList:
    """Check a list anew, understood in another way. Raises Problem while a job is at work on it, or after it was taken."""
    actor.require(Role.EDITOR)
    with transaction.atomic():
        found = CommandList.locked(found_id)
        if found.state in (*BUSY, State.TAKEN):
            raise Problem(409, f"This list is {found.state} already.", "Look at how far it is.")
        if found.tables is None:
            raise Problem(409, "This list can't be read.", found.says, "Bring it in anew.")
        found.asked = asked.model_dump(mode="json")
        _check(found)
    return found


def _check(found: CommandList) -> None:
    if found.total <= AT_ONCE:
        check(found)
        found.save()
    else:
        found.state, found.done = State.CHECKING, 0
        found.save()
        put_to_work(found)


def take_it(actor: Actor, found_id: UUID) -> CommandList:
    """Take the good rows of a list that was checked. Raises Problem where it isn't checked or has none."""
    actor.require(Role.EDITOR)
    with transaction.atomic():
        found = CommandList.locked(found_id)
        if found.state != State.CHECKED or found.result is None:
            raise Problem(409, "This list isn't checked.", f"It is {found.state}.", "Check it first.")
        asked = Asked.model_validate(found.asked)
        if asked.program is None and asked.new is None:
            raise Problem(400, "It isn't said which program this is.", cure="Choose one, or name a new one.")
        found.actor = actor.user
        if found.total <= AT_ONCE:
            take(actor, found)
            found.save()
        else:
            found.state = State.TAKING
            found.save()
            put_to_work(found)
    return found
