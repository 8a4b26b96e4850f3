"""The first standard: what each way to begin would come to, and beginning."""

from typing import Literal

from django.db import transaction
from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.estate import Estate
from amberkey.core.standard.beginning import from_presses, from_usual
from amberkey.core.standard.coverage import Gauge
from amberkey.core.standard.model import NO_STANDARD, Standard
from amberkey.server.estate import STANDARD, current_estate
from amberkey.server.library.documents import digests
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema
from amberkey.server.standard.matrix import CountOut, count_out
from amberkey.server.standard.state import allowed_clashes, current_coverage
from amberkey.server.standard.verbs.keep_point import keep_point

router = Router(tags=["standard"])
Way = Literal["presses", "usual", "empty"]
_TITLES = {
    "presses": "Began the standard with what most people press",
    "usual": "Began the standard with the usual keys of the tasks",
    "empty": "Began an empty standard",
}


class BeginningOut(Schema):
    """One way to begin: how many lines it has, for how many tasks, and how many cells agree with it as things are."""

    way: Way
    lines: int
    tasks: int
    covered: CountOut


class BeginningsOut(Schema):
    """`begun`: there is a standard already. `tasks`: how many there are to have lines for."""

    begun: bool
    tasks: int
    ways: list[BeginningOut]


class BeginIn(Schema):
    way: Way


@router.get("/standard/beginnings", response=BeginningsOut)
def beginnings(request: HttpRequest) -> BeginningsOut:
    """What each way to begin would come to."""
    estate, gauge = current_estate(), Gauge()
    ways: list[BeginningOut] = []
    for way in _TITLES:
        standard = _made(way, estate)
        covered = gauge.measure(estate, standard, allowed_clashes()).whole()
        tasks = len({v.task for v in standard.lines})
        ways.append(BeginningOut(way=way, lines=len(standard.lines), tasks=tasks, covered=count_out(covered)))
    return BeginningsOut(begun=STANDARD in digests(), tasks=len(estate.tasks.tasks), ways=ways)


@router.post("/standard/beginnings", response=ChangeOut, auth=By(Role.EDITOR))
@transaction.atomic
def begin(request: HttpRequest, given: BeginIn) -> ChangeOut:
    """Begin the standard. One change that can be undone; refused where there is a standard."""
    if STANDARD in digests():
        raise Problem(409, "There is a standard already.", "It is changed line by line.", "Open it.")
    made = _made(given.way, current_estate())
    done = change(actor_of(request), _TITLES[given.way], {}, making=Making(make=[made]))
    keep_point(current_coverage())
    return ChangeOut(id=done.id, title=done.title)


def _made(way: str, estate: Estate) -> Standard:
    if way == "presses":
        return from_presses(estate)
    return from_usual(estate) if way == "usual" else NO_STANDARD
