"""Another program's shortcuts: what a program would take, told before it is kept; keeping it, and taking it off again."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import Platform
from amberkey.core.standard.borrowing import Borrowed, NotTogether, borrow
from amberkey.server.estate import current_estate
from amberkey.server.library.documents import own_layers
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema
from amberkey.server.standard.verbs.lend import lend, take_off
from amberkey.server.workbench.clashes.told import brief

router = Router(tags=["standard"])


class HandedOut(Schema):
    task: str
    command: str
    before: str
    after: str


class NotTakenOut(Schema):
    task: str
    command: str
    wanted: str
    why: str


class BorrowedOut(Schema):
    name: str
    taken: list[HandedOut]
    refused: list[NotTakenOut]
    same: list[str]
    lacking: list[str]
    solves: list[str]
    makes: list[str]
    people: int


class BorrowIn(Schema):
    program: str
    source: str
    platform: Platform
    profile: str


class SetOut(Schema):
    """A set that a profile has."""

    profile: str
    profile_name: str
    id: str
    name: str
    entries: int


class SetOffIn(Schema):
    profile: str
    id: str


def borrowed(given: BorrowIn) -> Borrowed:
    estate = current_estate()
    profile = estate.profiles.get(given.profile)
    if profile is None:
        raise NotFound(f"profile {given.profile[:60]}")
    if profile.generated is not None:
        raise Problem(400, f"{profile.name} is compiled from the standard.", cure="Choose another layer.")
    try:
        return borrow(estate, given.program, given.source, given.platform, profile)
    except NotTogether as error:
        raise Problem(400, str(error)) from error


def borrowed_out(found: Borrowed) -> BorrowedOut:
    estate = current_estate()
    return BorrowedOut(
        name=found.entries.name,
        taken=[HandedOut(task=t.task, command=t.command, before=t.before, after=t.after) for t in found.taken],
        refused=[NotTakenOut(task=r.task, command=r.command, wanted=r.wanted, why=r.why) for r in found.refused],
        same=list(found.same),
        lacking=list(found.lacking),
        solves=[brief(g, estate.board(g.setups[0].id)) for g in found.solves if g.clash.severity != "low"],
        makes=[brief(g, found.after.board(g.setups[0].id)) for g in found.makes if g.clash.severity != "low"],
        people=found.people,
    )


def sets_out() -> list[SetOut]:
    """Every set in every profile that whoever asks may see."""
    estate = current_estate()
    unseen = frozenset() if sees_personal() else own_layers()
    return [
        SetOut(profile=p.id, profile_name=p.name, id=s.id, name=s.name, entries=len(s.entries))
        for p in estate.profiles.values()
        for s in p.sets
        if p.id not in unseen
    ]


@router.post("/standard/lend/plan", response=BorrowedOut)
def plan_lending(request: HttpRequest, given: BorrowIn) -> BorrowedOut:
    """What a program would take from another one."""
    return borrowed_out(borrowed(given))


@router.post("/standard/lend", response=ChangeOut, auth=By(Role.EDITOR))
def lend_shortcuts(request: HttpRequest, given: BorrowIn) -> ChangeOut:
    found = borrowed(given)
    if not found.taken:
        raise Problem(409, "There is nothing to take.", "Every task that both have is on the same keys, or refused.")
    done = lend(actor_of(request), given.profile, found.entries)
    return ChangeOut(id=done.id, title=done.title)


@router.get("/standard/sets", response=list[SetOut])
def sets(request: HttpRequest) -> list[SetOut]:
    return sets_out()


@router.post("/standard/sets/removal", response=ChangeOut, auth=By(Role.EDITOR))
def take_set_off(request: HttpRequest, given: SetOffIn) -> ChangeOut:
    done = take_off(actor_of(request), given.profile, given.id)
    return ChangeOut(id=done.id, title=done.title)
