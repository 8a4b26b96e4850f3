"""The ways out of a clash with their consequences, and the layers in which a decision can be kept."""

from weakref import WeakKeyDictionary

from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.model import ClashKind
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.ways.landing import landings
from amberkey.core.ways.proposing import move_to, ways_out
from amberkey.core.ways.task_moving import Follower, task_move
from amberkey.core.ways.wayout import WayKind, WayOut
from amberkey.server.estate import current_estate, layer_names, target_of
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema
from amberkey.server.workbench.clashes.groups import group_of
from amberkey.server.workbench.clashes.told import PartyOut, brief, party
from amberkey.server.workbench.keeping import kept
from amberkey.server.workbench.words import ShortcutOut, shortcut_out
from amberkey.server.workbench.worth import WorthOut, worth_out

router = Router(tags=["workbench"])
# The ways out of clashes in a state of the estate; gone with it.
_known: WeakKeyDictionary[Estate, dict[tuple[str, str, str], list[WayOut]]] = WeakKeyDictionary()


class WayGroupOut(Schema):
    """`uncovered`: a clash that was there before, behind the one that goes."""

    kind: ClashKind
    says: str
    uncovered: bool


class WayOutOut(Schema):
    key: str
    kind: WayKind
    shortcut: ShortcutOut | None
    subject: PartyOut
    reach: int | None
    reach_before: int | None
    reasons: list[str]
    profile: str
    entries: int
    people: int
    setups: list[str]
    solves: list[WayGroupOut]
    makes: list[WayGroupOut]
    remains: list[str]
    scopes: list[str]
    worth: WorthOut


class FollowerOut(Schema):
    program_name: str
    command_name: str
    why_not: str


class TaskMoveOut(Schema):
    """The way that moves a task in all its programs; `stays` are those that don't move along, with the reason."""

    task: str
    way: WayOutOut
    moves: list[FollowerOut]
    stays: list[FollowerOut]


class LandingOut(Schema):
    """A layer in which a decision can be kept: how many of the setups with the clash it reaches, how many others."""

    profile: str
    name: str
    copies: int
    others: int
    people: int


@router.get("/clashes/{identity}/ways", response=list[WayOutOut])
@kept
def ways(request: HttpRequest, identity: str, setup: str, own: str | None = None, target: str | None = None) -> list[WayOutOut]:
    """The ways out of a clash with their consequences; `own` adds a move to a shortcut of one's own choice.

    `target`: the layer in which the decision is kept, unless a nearer layer has set the key already.
    """
    estate = current_estate()
    group = group_of(estate, setup, identity)
    board = estate.board(setup)
    layer = target_of(estate.setups[setup], target)
    if own:
        shortcut = read_shortcut(own).resolve(group.clash.platform)
        moved = move_to(estate, group, shortcut, layer)
        if moved is None:
            title = f"{group.clash.subject.called} can't be given another shortcut here."
            raise Problem(
                409, title, "Its key comes of its place, or of nothing that a profile says.", "Choose another way out."
            )
        return [way_out(moved, estate, board)]
    return [way_out(w, estate, board) for w in _known_ways(estate, group, layer)]


@router.get("/clashes/{identity}/task", response=TaskMoveOut | None)
@kept
def task(request: HttpRequest, identity: str, setup: str, shortcut: str, target: str | None = None) -> TaskMoveOut | None:
    """What moving a command would be if its task moved with it in every program; null where the command has no task."""
    estate = current_estate()
    group = group_of(estate, setup, identity)
    read = read_shortcut(shortcut).resolve(group.clash.platform)
    found = task_move(estate, group, read, target_of(estate.setups[setup], target))
    if found is None:
        return None
    return TaskMoveOut(
        task=found.task.name,
        way=way_out(found.way, estate, estate.board(setup)),
        moves=[_follower(f) for f in found.moves],
        stays=[_follower(f) for f in found.stays],
    )


@router.get("/clashes/{identity}/landings", response=list[LandingOut])
@kept
def where_kept(request: HttpRequest, identity: str, setup: str) -> list[LandingOut]:
    """The layers of a setup in which a decision can be kept, the farthest first, with what each reaches."""
    estate = current_estate()
    group = group_of(estate, setup, identity)
    names = layer_names(estate)
    return [
        LandingOut(
            profile=one.profile,
            name=names[one.profile],
            copies=len(one.copies),
            others=len(one.others),
            people=one.people,
        )
        for one in landings(estate, group, setup)
    ]


def way_out(way: WayOut, estate: Estate, board: Board) -> WayOutOut:
    told = way.consequences

    def tell(groups: tuple[Group, ...]) -> list[WayGroupOut]:
        return [
            WayGroupOut(kind=g.clash.kind, says=brief(g, board), uncovered=g.clash.identity in told.uncovered) for g in groups
        ]

    return WayOutOut(
        key=way.key,
        kind=way.kind,
        shortcut=shortcut_out(way.shortcut, board) if way.shortcut else None,
        subject=party(way.subject, board),
        reach=way.reach.score if way.reach else None,
        reach_before=way.reach_before.score if way.reach_before else None,
        reasons=list(way.reasons),
        profile=", ".join(layer_names(estate)[i] for i in way.changes),
        entries=sum(len(o) for o in way.changes.values()),
        people=told.people,
        setups=[estate.setups[i].name for i in told.setups],
        solves=tell(told.solves),
        makes=tell(told.makes),
        remains=[s.name for s in told.remains],
        scopes=[way.subject.program.scope(s).name for s in way.scopes],
        worth=worth_out(told.worth),
    )


def _known_ways(estate: Estate, group: Group, target: str) -> list[WayOut]:
    """Who looks at the ways out and then decides waits for them once only."""
    key = (group.clash.identity, group.setups[0].id, target)
    known = _known.setdefault(estate, {})
    if key not in known:
        known[key] = ways_out(estate, group, target)
    return known[key]


def find_way(estate: Estate, group: Group, key: str, target: str) -> WayOut | None:
    """The way out with that key, as it is now; None where it isn't one any more. Raises Problem for a key that is none."""
    for way in _known_ways(estate, group, target):
        if way.key == key:
            return way
    kind, _, text = key.partition(":")
    if kind == "move":
        return move_to(estate, group, read_shortcut(text).resolve(group.clash.platform), target)
    if kind == "task":
        found = task_move(estate, group, read_shortcut(text).resolve(group.clash.platform), target)
        if found is None:
            raise Problem(400, f"{group.clash.subject.command.name} is no task's command.", cure="Move it alone.")
        return found.way
    return None


def _follower(one: Follower) -> FollowerOut:
    return FollowerOut(program_name=one.binding.program.name, command_name=one.binding.command.name, why_not=one.why_not)
