"""The workbench's writing endpoints: deciding, assigning, undoing; the reading ones stand beside their answers."""

import datetime

from django.http import HttpRequest
from ninja import Router, Schema

from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.undo import redo, undo
from amberkey.server.people.acting import actor_of
from amberkey.server.workbench import behaviour, clashes, keyboard, lenses, press, programs
from amberkey.server.workbench.clashes import brief, group_of
from amberkey.server.workbench.estate import board_of, current_estate
from amberkey.server.workbench.verbs.assign import assign, planned
from amberkey.server.workbench.verbs.decide import Allowing, decide

router = Router(tags=["workbench"])
for part in (lenses, programs, behaviour, clashes, keyboard, press):
    router.add_router("", part.router)


class ChangeOut(Schema):
    id: int
    title: str


class HistoryItemOut(Schema):
    id: int
    title: str
    by: str
    at: datetime.datetime
    undone: bool
    mine: bool


class DecisionIn(Schema):
    setup: str
    way: str
    reason: str = ""
    until: datetime.date | None = None
    target: str | None = None


class AssignIn(Schema):
    setup: str
    program: str
    command: str
    shortcuts: list[str]
    target: str | None = None


class PlanOut(Schema):
    entries: int
    people: int
    setups: list[str]
    solves: list[str]
    makes: list[str]


def _change(change_set: ChangeSet) -> ChangeOut:
    return ChangeOut(id=change_set.id, title=change_set.title)


@router.post("/clashes/{identity}/decision", response=ChangeOut)
def decide_clash(request: HttpRequest, identity: str, given: DecisionIn) -> ChangeOut:
    """Decide a clash by one of its ways out."""
    estate = current_estate()
    actor = actor_of(request)
    allowing = Allowing(given.reason, given.until) if given.way == "allow" else None
    group = group_of(estate, given.setup, identity)
    return _change(decide(actor, estate, group, given.way, allowing, given.target))


@router.post("/commands/plan", response=PlanOut)
def plan(request: HttpRequest, given: AssignIn) -> PlanOut:
    """What giving a command these shortcuts would cause; nothing is saved."""
    estate = current_estate()
    board = board_of(estate, given.setup)
    changes, told, _ = planned(estate, given.setup, given.program, given.command, given.shortcuts, given.target)
    return PlanOut(
        entries=sum(map(len, changes.values())),
        people=told.people,
        setups=[estate.setups[i].name for i in told.setups],
        solves=[brief(g, board) for g in told.solves],
        makes=[brief(g, board) for g in told.makes],
    )


@router.post("/commands/shortcuts", response=ChangeOut)
def set_shortcuts(request: HttpRequest, given: AssignIn) -> ChangeOut:
    """Give a command its shortcuts in a layer of the setup; none leaves it without."""
    actor, estate = actor_of(request), current_estate()
    return _change(assign(actor, estate, given.setup, given.program, given.command, given.shortcuts, given.target))


@router.get("/history", response=list[HistoryItemOut])
def history(request: HttpRequest) -> list[HistoryItemOut]:
    """The newest changes, undone ones among them; an undo itself isn't listed."""
    rows = ChangeSet.objects.filter(undoes=None).select_related("actor")[:60]
    user = request.user
    return [
        HistoryItemOut(id=c.id, title=c.title, by=c.actor.display_name, at=c.at, undone=c.undone, mine=c.actor_id == user.pk)
        for c in rows
    ]


@router.post("/history/{change_id}/undo", response=ChangeOut)
def undo_change(request: HttpRequest, change_id: int) -> ChangeOut:
    return _change(undo(actor_of(request), change_id))


@router.post("/history/{change_id}/redo", response=ChangeOut)
def redo_change(request: HttpRequest, change_id: int) -> ChangeOut:
    return _change(redo(actor_of(request), change_id))
