"""What a way out of a clash asks of the standard, and deciding both at once."""

import datetime
from typing import Literal

from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.board import Board
from amberkey.core.standard.asking import Asked
from amberkey.core.standard.judging import State
from amberkey.server.estate import STANDARD, current_estate, current_standard
from amberkey.server.library.documents import digests
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.schema import Reason, Schema
from amberkey.server.standard.plans import LineIn
from amberkey.server.standard.verbs.decide_too import Says, asked_of, decide_too
from amberkey.server.workbench.ahead import look_ahead
from amberkey.server.workbench.clashes.groups import group_of, tell_ahead
from amberkey.server.workbench.verbs.decide import way_of
from amberkey.server.workbench.words import ShortcutOut, shortcut_out

router = Router(tags=["standard"])


class AskedOut(Schema):
    """A task that a way out touches in a program: what the standard says of it now, what the command gets, how it stands then.

    `line`: as it would be saved if the standard is to say so; None where there is nothing to say. `state`: "silent" where the
    standard says nothing of the task.
    """

    task: str
    name: str
    program_name: str
    says: ShortcutOut | None
    gets: ShortcutOut | None
    state: State | Literal["silent"]
    line: LineIn | None
    could_be_let_off: bool


class AskedOfOut(Schema):
    """`seen`: the digest of the standard that was asked, to be given back with a decision; "" where there is none."""

    seen: str
    asked: list[AskedOut]


class DecisionTooIn(Schema):
    setup: str
    way: str
    standard: Says
    reason: Reason = ""
    until: datetime.date | None = None
    target: str | None = None
    seen: str | None = None


@router.get("/clashes/{identity}/standard", response=AskedOfOut)
def asked(request: HttpRequest, identity: str, setup: str, way: str, target: str | None = None) -> AskedOfOut:
    """What a way out asks of the standard: one for each task that it touches. Asked for once a way is chosen, so that what all
    setups would be after it is worked out ahead.
    """
    estate = current_estate()
    group = group_of(estate, setup, identity)
    board = estate.board(setup)
    chosen = way_of(estate, group, way, target)
    look_ahead(estate, chosen, lambda after: tell_ahead(after, setup))
    found = asked_of(estate, group, chosen, current_standard())
    return AskedOfOut(seen=digests().get(STANDARD, ""), asked=[_asked_out(one, board) for one in found])


@router.post("/clashes/{identity}/standard", response=ChangeOut, auth=By(Role.EDITOR))
def decide_with_standard(request: HttpRequest, identity: str, given: DecisionTooIn) -> ChangeOut:
    """Decide a clash and change the standard with it, as one change."""
    estate = current_estate()
    group = group_of(estate, given.setup, identity)
    done = decide_too(
        *(actor_of(request), estate, group, given.way, given.standard),
        target=given.target,
        reason=given.reason,
        until=given.until,
        seen=given.seen,
    )
    return ChangeOut(id=done.id, title=done.title)


def _asked_out(one: Asked, board: Board) -> AskedOut:
    layouts = one.ruling.line.layouts if one.ruling else ()
    line = LineIn(task=one.task.id, platform=one.setup.works_on, layouts=list(layouts), keys=str(one.gets))
    return AskedOut(
        task=one.task.id,
        name=one.task.name,
        program_name=one.program.name,
        says=shortcut_out(one.ruling.line.shortcut, board) if one.ruling else None,
        gets=shortcut_out(one.gets, board) if one.gets else None,
        state=one.state or "silent",
        line=line if one.could_be_the_line else None,
        could_be_let_off=one.could_be_let_off,
    )
