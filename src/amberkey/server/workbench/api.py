"""The workbench's writing endpoints: deciding, assigning, undoing; the reading ones stand beside their answers."""

import datetime

from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.estate import Estate, Group
from amberkey.server.estate import board_of, current_estate
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.models import ChangeSet
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.schema import Reason, Schema, Values
from amberkey.server.workbench import behaviour, catalogue, keyboard, lenses, press, programs, settings_files, trying
from amberkey.server.workbench.clashes import decided, groups, ways
from amberkey.server.workbench.clashes.groups import group_of
from amberkey.server.workbench.clashes.told import brief
from amberkey.server.workbench.own import api as own
from amberkey.server.workbench.trying import TriedDraftIn, draft
from amberkey.server.workbench.verbs.assign import assign, checked, planned
from amberkey.server.workbench.verbs.assign import title_of as title_of_assignment
from amberkey.server.workbench.verbs.decide import Allowing, allow, decide, title_of
from amberkey.server.workbench.verbs.keep_drafts import keep_drafts
from amberkey.server.workbench.verbs.mean import mean
from amberkey.server.workbench.verbs.several import decide_several, settlement
from amberkey.server.workbench.worth import WorthOut, worth_of, worth_out

router = Router(tags=["workbench"])
for part in (lenses, programs, catalogue, settings_files, behaviour, groups, decided, ways, keyboard, press, trying, own):
    router.add_router("", part.router)


class DecisionIn(Schema):
    setup: str
    way: str
    reason: Reason = ""
    until: datetime.date | None = None
    target: str | None = None


class ChosenIn(Schema):
    """Some groups of clashes, each with the setup through which it is looked at."""

    identity: str
    setup: str


class SeveralIn(Schema):
    """`ways`: the keys of the ways that were shown for the chosen groups, in their order; "" where there was none."""

    chosen: list[ChosenIn]
    ways: list[str] = []
    reason: Reason = ""


class AllowSeveralIn(Schema):
    chosen: list[ChosenIn]
    reason: Reason
    until: datetime.date | None = None


class MeanIn(Schema):
    chosen: list[ChosenIn]
    meant: bool


class SettledOut(Schema):
    identity: str
    way: str
    says: str
    done: bool


class SettlementOut(Schema):
    """What settling several groups comes to: a sentence for each, and what the whole solves and makes."""

    settled: list[SettledOut]
    entries: int
    people: int
    solves: list[str]
    makes: list[str]
    worth: WorthOut


class AssignIn(Schema):
    """`arguments`: the values that a template gets along, each of its own name; none for any other command."""

    setup: str
    program: str
    command: str
    arguments: Values = {}
    shortcuts: list[str]
    target: str | None = None
    reason: Reason | None = None


class PlanOut(Schema):
    entries: int
    people: int
    setups: list[str]
    solves: list[str]
    makes: list[str]
    worth: WorthOut


def _change(change_set: ChangeSet) -> ChangeOut:
    return ChangeOut(id=change_set.id, title=change_set.title)


@router.post("/clashes/{identity}/decision", response=ChangeOut, auth=By(Role.EDITOR))
def decide_clash(request: HttpRequest, identity: str, given: DecisionIn) -> ChangeOut:
    """Decide a clash by one of its ways out."""
    estate = current_estate()
    actor = actor_of(request)
    allowing = Allowing(given.reason, given.until) if given.way == "allow" else None
    group = group_of(estate, given.setup, identity)
    return _change(decide(actor, estate, group, given.way, allowing, given.target, given.reason or ""))


def _chosen(estate: Estate, chosen: list[ChosenIn]) -> list[Group]:
    return [group_of(estate, c.setup, c.identity) for c in {c.identity: c for c in chosen}.values()]


_TO_DO = {"Moved": "Move", "Took": "Take", "Narrowed": "Narrow", "Translated": "Translate"}


def _to_do(title: str) -> str:
    """A title of the history as something that is still to be done."""
    first, _, rest = title.partition(" ")
    return f"{_TO_DO.get(first, first)} {rest}"


@router.post("/settlements/plan", response=SettlementOut)
def plan_several(request: HttpRequest, given: SeveralIn) -> SettlementOut:
    """What settling several clashes at once would do, each by the best way out that makes no clash; nothing is saved."""
    estate = current_estate()
    found = settlement(estate, _chosen(estate, given.chosen))
    board = board_of(estate, given.chosen[0].setup)
    return SettlementOut(
        settled=[
            SettledOut(
                identity=one.group.clash.identity,
                way=one.way.key if one.way else "",
                says=_to_do(title_of(estate, one.group, one.way)) if one.way else f"{brief(one.group, board)}: {one.why}",
                done=one.way is not None,
            )
            for one in found.settled
        ],
        entries=sum(map(len, found.operations.values())),
        people=found.people,
        solves=[brief(g, board) for g in found.solves],
        makes=[brief(g, board) for g in found.makes],
        worth=worth_of(estate, found.after),
    )


@router.post("/settlements", response=ChangeOut, auth=By(Role.EDITOR))
def settle_several(request: HttpRequest, given: SeveralIn) -> ChangeOut:
    """Settle several clashes at once, as the plan told it."""
    actor, estate = actor_of(request), current_estate()
    return _change(decide_several(actor, estate, _chosen(estate, given.chosen), given.ways, given.reason))


@router.post("/allowances", response=ChangeOut, auth=By(Role.EDITOR))
def allow_several(request: HttpRequest, given: AllowSeveralIn) -> ChangeOut:
    """Allow several clashes with one reason and one end."""
    actor, estate = actor_of(request), current_estate()
    if not given.chosen:
        raise Problem(400, "No clash is chosen.", cure="Choose some first.")
    return _change(allow(actor, estate, _chosen(estate, given.chosen), Allowing(given.reason, given.until)))


@router.post("/meanings", response=ChangeOut, auth=By(Role.EDITOR))
def mark_meant(request: HttpRequest, given: MeanIn) -> ChangeOut:
    """Say that a program's maker meant some clashes, or that it isn't so."""
    actor, estate = actor_of(request), current_estate()
    if not given.chosen:
        raise Problem(400, "No clash is chosen.", cure="Choose some first.")
    return _change(mean(actor, estate, _chosen(estate, given.chosen), given.meant))


@router.post("/commands/plan", response=PlanOut)
def plan(request: HttpRequest, given: AssignIn) -> PlanOut:
    """What giving a command these shortcuts would cause; nothing is saved."""
    estate = current_estate()
    board = board_of(estate, given.setup)
    of = (given.setup, given.program, given.command)
    changes, told, _ = planned(estate, *of, given.shortcuts, given.target, given.arguments)
    return PlanOut(
        entries=sum(map(len, changes.values())),
        people=told.people,
        setups=[estate.setups[i].name for i in told.setups],
        solves=[brief(g, board) for g in told.solves],
        makes=[brief(g, board) for g in told.makes],
        worth=worth_out(told.worth),
    )


@router.post("/commands/shortcuts", response=ChangeOut, auth=By(Role.EDITOR))
def set_shortcuts(request: HttpRequest, given: AssignIn) -> ChangeOut:
    """Give a command its shortcuts in a layer of the setup; none leaves it without. A risky one wants a reason."""
    actor, estate = actor_of(request), current_estate()
    of = (given.setup, given.program, given.command)
    return _change(assign(actor, estate, *of, given.shortcuts, given.target, given.reason or "", given.arguments))


class DraftsIn(Schema):
    drafts: list[TriedDraftIn]


@router.post("/try/drafts", response=ChangeOut, auth=By(Role.EDITOR))
def keep_tried(request: HttpRequest, given: DraftsIn) -> ChangeOut:
    """Save drafts that were tried, as one change set."""
    actor, estate = actor_of(request), current_estate()
    if not given.drafts:
        raise Problem(400, "There is no draft.", cure="Give a command another shortcut first.")
    titles = [title_of_assignment(*checked(estate, d.setup, d.program, d.command, d.shortcuts)) for d in given.drafts]
    return _change(keep_drafts(actor, draft(estate, given.drafts), titles))
