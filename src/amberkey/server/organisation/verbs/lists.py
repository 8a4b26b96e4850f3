"""Bringing in a list: uploaded, then checked and taken by jobs (see `working`)."""

import base64
from collections.abc import Mapping
from typing import Any, cast
from uuid import UUID

from django.db import transaction

from amberkey.core.exchange.lists.columns import ListKind, columns_of, guess
from amberkey.core.exchange.sheets import read_heads
from amberkey.server.library.models import Body
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.tasks import check_list, take_list
from amberkey.server.organisation.working import locked, sheet_bytes
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem

MOST_BYTES = 9 * 1024 * 1024
State = ListImport.State


def begin(actor: Actor, kind: ListKind, name: str, data: bytes) -> ListImport:
    """Keep an uploaded sheet. Raises SheetError where it is none, Problem where it is too large."""
    actor.require(Role.EDITOR)
    if len(data) > MOST_BYTES:
        raise Problem(413, "The sheet is too large.", f"{MOST_BYTES // 1048576} MB is the most.", "Split it.")
    heads, _ = read_heads(data)
    return ListImport.objects.create(
        kind=kind, name=name[:200], content=_keep(data), matching=guess(kind, heads), actor=actor.user
    )


def check(actor: Actor, import_id: UUID, matching: Mapping[str, int]) -> ListImport:
    """Begin the job that checks every row. Raises Problem while another job is at work on it, or after it was taken."""
    actor.require(Role.EDITOR)
    with transaction.atomic():
        found = locked(import_id)
        if found.state in (State.CHECKING, State.TAKING, State.TAKEN):
            raise Problem(409, f"This list is {found.state} already.", "Look at how far it is.")
        heads, _ = read_heads(sheet_bytes(found))
        wrong = [c for c, place in matching.items() if c not in columns_of(cast(ListKind, found.kind)) or place >= len(heads)]
        if wrong or len(set(matching.values())) != len(matching):
            raise Problem(400, "The columns don't match.", "Each heading can be one column, and each column one heading.")
        found.matching, found.state, found.done, found.total, found.result = dict(matching), State.CHECKING, 0, 0, None
        found.says = ""
        found.save()
        check_list.defer(import_id=str(found.id))
    return found


def take(actor: Actor, import_id: UUID, *, only_good: bool) -> ListImport:
    """Begin the job that takes what was checked.

    Raises Problem where it has faults and `only_good` doesn't say to leave them.
    """
    actor.require(Role.EDITOR)
    with transaction.atomic():
        found = locked(import_id)
        if found.state != State.CHECKED or found.result is None:
            raise Problem(409, "This list isn't checked.", f"It is {found.state}.", "Check it first.")
        result = cast(dict[str, Any], found.result.json())
        if result["bad"] and not only_good:
            raise Problem(409, f"{result['bad']} rows have faults.", cure="Mend the sheet, or take the good rows alone.")
        if not result["operations"]:
            raise Problem(409, "This list changes nothing.", "Everything is so already.")
        found.state, found.actor = State.TAKING, actor.user
        found.save(update_fields=["state", "actor"])
        take_list.defer(import_id=str(found.id))
    return found


def _keep(data: bytes) -> Body:
    """Bodies are JSON; a sheet is kept in one as base64."""
    return Body.keep_json({"base64": base64.b64encode(data).decode()})
