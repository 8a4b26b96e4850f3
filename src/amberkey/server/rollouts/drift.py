"""Drift for specialists: what people changed on their machines, and what becomes of it."""

import datetime
from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.keys.wording import words_of
from amberkey.server.estate import current_estate, layer_names
from amberkey.server.fleet.surveys import LayerShareOut
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.rollouts.drifting import Drift, Drifts, drifts
from amberkey.server.rollouts.verbs.settle import leave, look_again, take
from amberkey.server.schema import Schema, Told

router = Router(tags=["rollouts"])
DriftId = Annotated[str, Field(max_length=16)]


class DriftedFileOut(Schema):
    """`whose`: the account in whose home it is, where the machine has several. `seen`: the day on which it was seen last."""

    machine: str
    name: str
    whose: str
    seen: datetime.date | None


class DriftOut(Schema):
    """The same own keys of one command. `has`, `wanted`: in words; empty: no keys; none: the program's default.

    `proposed`: the profile that it would be something for, "" where it is each one's own; `takeable`: whether a profile can
    take it. `reason`, `until`, `by`: of what was left.
    """

    id: str
    program: str
    command: str
    name: str
    has: list[str] | None
    wanted: list[str] | None
    machines: list[DriftedFileOut]
    takeable: bool
    proposed: str
    layers: list[LayerShareOut]
    reason: str
    until: datetime.date | None
    by: str


class DriftsOut(Schema):
    waiting: list[DriftOut]
    left: list[DriftOut]


class DriftTakeIn(Schema):
    """`into`: for each drift, by its id, a profile's id, or "own"."""

    into: Annotated[dict[DriftId, Annotated[str, Field(max_length=80)]], Field(min_length=1, max_length=200)]


class DriftLeaveIn(Schema):
    reason: Told
    until: datetime.date


@router.get("/drift", response=DriftsOut, auth=By(Role.EDITOR))
def drift_shown(request: HttpRequest) -> DriftsOut:
    """What people changed since it was written, once for all machines on which it is the same."""
    return _told(drifts())


@router.post("/drift/take", response=ChangeOut, auth=By(Role.EDITOR))
def drift_taken(request: HttpRequest, given: DriftTakeIn) -> ChangeOut:
    """Take it into profiles, as one change that can be undone."""
    done = take(actor_of(request), given.into)
    return ChangeOut(id=done.id, title=done.title)


@router.post("/drift/{drift_id}/leave", response=DriftsOut, auth=By(Role.EDITOR))
def drift_left(request: HttpRequest, drift_id: str, given: DriftLeaveIn) -> DriftsOut:
    """It stays on the machines that have it now, for a reason and until a day."""
    leave(actor_of(request), drift_id, given.reason, given.until)
    return _told(drifts())


@router.post("/drift/{drift_id}/again", response=DriftsOut, auth=By(Role.EDITOR))
def drift_again(request: HttpRequest, drift_id: str) -> DriftsOut:
    """What was left waits for a word again."""
    look_again(actor_of(request), drift_id)
    return _told(drifts())


def _told(found: Drifts) -> DriftsOut:
    names = layer_names(current_estate())
    return DriftsOut(
        waiting=[_one(one, found, names) for one in found.waiting], left=[_one(one, found, names) for one in found.left]
    )


def _one(one: Drift, found: Drifts, names: dict[str, str]) -> DriftOut:
    command = one.program.command(one.command)
    own = found.changes.get(one.id)
    why = next((h.left for h in one.here if h.left is not None), None)
    layers = own.layers if own is not None else ()
    return DriftOut(
        id=one.id,
        program=one.program.name,
        command=one.command,
        name=command.name if command is not None else one.command,
        has=None if one.has is None else [words_of(s, one.platform) for s in one.has],
        wanted=None if one.wanted is None else [words_of(s, one.platform) for s in one.wanted],
        machines=[
            DriftedFileOut(
                machine=h.file.machine_id,
                name=h.file.agent.machine.name,
                whose=h.file.agent.account,
                seen=h.file.seen_at.date() if h.file.seen_at is not None else None,
            )
            for h in one.here
        ],
        takeable=own is not None,
        proposed=own.proposed if own is not None else "",
        layers=[
            LayerShareOut(profile=s.profile, name=names.get(s.profile, s.profile), having=s.having, seen=s.seen) for s in layers
        ],
        reason=why["reason"] if why is not None else "",
        until=datetime.date.fromisoformat(why["until"]) if why is not None else None,
        by=why["by"] if why is not None else "",
    )
