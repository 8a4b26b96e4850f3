"""Bringing in a list: uploaded, then opened, checked and taken by jobs (see `working`)."""

from collections.abc import Mapping
from typing import Any, cast
from uuid import UUID

from django.db import transaction

from amberkey.core.exchange.lists.columns import ListKind, columns_of
from amberkey.core.exchange.sheets import DEFAULT_SHEET_LIMITS, is_packed, too_large
from amberkey.server.library.lists import BUSY, ListState
from amberkey.server.library.models import Body
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.tasks import put_to_work
from amberkey.server.organisation.working import opened
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem

State = ListState


def begin(actor: Actor, kind: ListKind, name: str, data: bytes) -> ListImport:
    """Keep an uploaded sheet. One that has to be unpacked first is opened by a worker, the others at once.

    Raises SheetError where it is none, Problem where it is too large.
    """
    actor.require(Role.EDITOR)
    if len(data) > DEFAULT_SHEET_LIMITS.packed:
        fault = too_large(len(data))
        raise Problem(413, "The sheet is too large.", fault.says, fault.cure)
    found = ListImport(kind=kind, name=name[:200], content=Body.keep(data), state=State.OPENING, actor=actor.user)
    if is_packed(data):
        with transaction.atomic():
            found.save()
            put_to_work(found)
    else:
        opened(found, data)
        found.save()
    return found


def check(actor: Actor, import_id: UUID, matching: Mapping[str, int]) -> ListImport:
    """Begin the job that checks every row. Raises Problem while another job is at work on it, or after it was taken."""
    actor.require(Role.EDITOR)
    with transaction.atomic():
        found = ListImport.locked(import_id)
        if found.state in (*BUSY, State.TAKEN):
            raise Problem(409, f"This list is {found.state} already.", "Look at how far it is.")
        if not found.heads:
            raise Problem(409, "This list can't be read.", found.says, "Bring it in anew.")
        columns = columns_of(cast(ListKind, found.kind))
        wrong = [c for c, place in matching.items() if c not in columns or not 0 <= place < len(found.heads)]
        if wrong or len(set(matching.values())) != len(matching):
            raise Problem(400, "The columns don't match.", "Each heading can be one column, and each column one heading.")
        found.matching, found.state, found.done, found.total, found.result = dict(matching), State.CHECKING, 0, 0, None
        found.says = ""
        found.save()
        put_to_work(found)
    return found


def take(actor: Actor, import_id: UUID, *, only_good: bool) -> ListImport:
    """Begin the job that takes what was checked.

    Raises Problem where it has faults and `only_good` doesn't say to leave them.
    """
    actor.require(Role.EDITOR)
    with transaction.atomic():
        found = ListImport.locked(import_id)
        if found.state != State.CHECKED or found.result is None:
            raise Problem(409, "This list isn't checked.", f"It is {found.state}.", "Check it first.")
        result = cast(dict[str, Any], found.result.json())
        if result["bad"] and not only_good:
            raise Problem(409, f"{result['bad']} rows have faults.", cure="Mend the sheet, or take the good rows alone.")
        if not result["operations"]:
            raise Problem(409, "This list changes nothing.", "Everything is so already.")
        found.state, found.actor = State.TAKING, actor.user
        found.save(update_fields=["state", "actor"])
        put_to_work(found)
    return found
