"""What several setups, and several states of an estate, have in common, computed once for all of them.

A program under the same entries (`Cache`), a program laid out on the same keyboard (`Part`), the board of a setup on which
nothing has changed, and the grouping of all clashes as it was.
"""

import datetime
import functools
import operator
import threading
from collections.abc import Callable, Container, Hashable, Mapping
from dataclasses import dataclass, field
from typing import Concatenate, ParamSpec, TypeVar, cast

from amberkey.core.clashes.board import Board, put_together
from amberkey.core.clashes.ground import Ground, Here
from amberkey.core.clashes.grouping import Group, Grouping
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part, lay_out
from amberkey.core.organisation.census import Census
from amberkey.core.profiles.effective import EffectiveProgram
from amberkey.core.profiles.resolving import Cache, ResolvedSetup
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Condition

P = ParamSpec("P")
R = TypeVar("R")
V = TypeVar("V", bound=Hashable)
# How many states of a setup are kept: as released, as it is, as it was before the last change, and as it may be after the next.
_STATES = 5


def _whole(method: Callable[Concatenate["Shared", P], R]) -> Callable[Concatenate["Shared", P], R]:
    """One thread at a time."""

    @functools.wraps(method)
    def alone(self: "Shared", /, *given: P.args, **named: P.kwargs) -> R:
        with self.lock:
            return method(self, *given, **named)

    return alone


@dataclass(eq=False)
class Shared:
    """Give it to the next state of an estate, and that one finds here whatever is still the same.

    Several threads may use it at once: each call sees and leaves it whole, and what one works out the others wait for.
    """

    effective: Cache = field(default_factory=dict)
    grounds: dict[tuple[object, ...], Ground] = field(default_factory=dict)
    parts: dict[tuple[int, int], Part] = field(default_factory=dict)
    boards: dict[str, list[Board]] = field(default_factory=dict)
    values: dict[Hashable, Hashable] = field(default_factory=dict)
    stood_on: dict[str, list[tuple[tuple[object, ...], Board]]] = field(default_factory=dict)
    """The boards of each setup by the documents that they were put together from."""
    groupings: list[Grouping] = field(default_factory=list)
    groups: list[tuple[Grouping, Census | None, Mapping[str, Group]]] = field(default_factory=list)
    lock: threading.RLock = field(default_factory=threading.RLock, repr=False)

    @_whole
    def one(self, value: V) -> V:
        """One object for equal values, so that they can be told apart by identity."""
        return cast(V, self.values.setdefault(value, value))

    @_whole
    def board_on(self, setup_id: str, documents: tuple[object, ...]) -> Board | None:
        """The board that was put together from these very documents."""
        for known, board in self.stood_on.get(setup_id, ()):
            if len(known) == len(documents) and all(map(operator.is_, known, documents)):
                return board
        return None

    @_whole
    def keep_board(self, setup_id: str, documents: tuple[object, ...], board: Board) -> None:
        """Keep a board with the documents that it was put together from; the newest states of a setup stay."""
        self.stood_on[setup_id] = [(documents, board), *self.stood_on.get(setup_id, ())][:_STATES]

    @_whole
    def grouping(self, boards: Mapping[str, Board], found: Mapping[str, list[Clash]]) -> Grouping:
        """All clashes of some boards by identity: what an earlier grouping shares with it is taken over."""
        nearest = min(self.groupings, key=lambda g: g.differing(boards), default=None)
        made = Grouping.made(boards, found, nearest)
        self.groupings = [made, *(g for g in self.groupings if g is not made)][:_STATES]
        return made

    @_whole
    def board(self, resolved: ResolvedSetup, today: datetime.date | None) -> Board:
        """The board of a setup: one that was put together before, if everything on it is still the same."""
        ground = self.ground(resolved, today)
        alike = resolved.near is resolved.keyboard and resolved.version == resolved.far_version
        near = ground if alike else self.ground(resolved, today, near=True)
        parts = {i: self.part(e, near if e.program.kind == "system" else ground) for i, e in resolved.effective.items()}
        far = self.part(resolved.far, ground) if resolved.far else None
        known = self.boards.setdefault(resolved.setup.id, [])
        for board in known:
            if board.ground is ground and board.far is far and _same_parts(board, parts) and _same(board.setup, resolved):
                # Asked for again, it is the newest: what isn't asked for any more goes first.
                known.remove(board)
                known.insert(0, board)
                return board
        # Where only programs without hotkeys are in another state, what was found of the hotkeys still holds.
        like = next((b for b in known if _same_hotkeys(b, resolved, ground, parts, far)), None)
        made = like.with_parts(resolved, parts) if like is not None else put_together(resolved, ground, parts, far)
        known.insert(0, made)
        del known[_STATES:]
        return known[0]

    @_whole
    def prune(self, setups: Container[str]) -> None:
        """Forget what no board needs any more: boards of other setups, and what only they stood on."""
        self.boards = {i: boards for i, boards in self.boards.items() if i in setups}
        self.stood_on = {
            i: [k for k in known if k[1] in self.boards[i]] for i, known in self.stood_on.items() if i in self.boards
        }
        self.groupings = [g for g in self.groupings if all(i in setups for i in g.boards)]
        self.groups = [k for k in self.groups if k[0] in self.groupings]
        boards = [b for known in self.boards.values() for b in known]
        parts = {id(p) for b in boards for p in (*b.parts.values(), b.far) if p is not None}
        self.parts = {key: part for key, part in self.parts.items() if id(part) in parts}
        effective = {id(p.effective) for p in self.parts.values()}
        # Settings are resolved outside of the lock, so entries may come in meanwhile: the list is made in one step.
        self.effective = {key: one for key, one in list(self.effective.items()) if id(one) in effective}
        grounds = {id(p.ground) for b in boards for p in b.parts.values()} | {id(b.ground) for b in boards}
        self.grounds = {key: ground for key, ground in self.grounds.items() if id(ground) in grounds}

    @_whole
    def groups_of(self, grouping: Grouping, census: Census | None) -> Mapping[str, Group] | None:
        """The groups of the grouping that one was made from, if people were counted alike there."""
        for known, counted, groups in self.groups:
            if known.token in (grouping.origin, grouping.token) and counted is census:
                return groups
        return None

    @_whole
    def keep_groups(self, grouping: Grouping, census: Census | None, groups: Mapping[str, Group]) -> None:
        """Keep the groups that were made of a grouping while people were counted so."""
        self.groups = [(grouping, census, groups), *(k for k in self.groups if k[0] is not grouping)][:_STATES]

    @_whole
    def part(self, effective: EffectiveProgram, ground: Ground) -> Part:
        """A program laid out on a ground: once for all setups that agree in both."""
        key = (id(effective), id(ground))
        found = self.parts.get(key)
        if found is None or found.effective is not effective or found.ground is not ground:
            found = self.parts[key] = lay_out(effective, ground)
        return found

    @_whole
    def ground(self, setup: ResolvedSetup, today: datetime.date | None, *, near: bool = False) -> Ground:
        """What a setup's keyboard, platform and tasks come to: once for all setups that agree in them. `near`: as this
        machine's own system sees it, where the programs run on a far one."""
        document = setup.setup
        system = next((p for p in setup.programs if p.kind == "system"), None)
        if setup.far is not None and not near:
            system = setup.far.program
        keyboard = setup.near if near else setup.keyboard
        here = _here(document, setup.version if near else setup.far_version)
        key = (
            *(keyboard, document.mouse_hand, document.open_documents, here),
            *(id(system), id(setup.tasks), today),
        )
        found = self.grounds.get(key)
        if found is None:
            found = self.grounds[key] = Ground(
                platform=document.platform if near else document.works_on,
                keyboard=keyboard,
                mouse_hand=document.mouse_hand,
                open_documents=frozenset(document.open_documents),
                here=here,
                system=system,
                tasks=setup.tasks,
                today=today,
            )
        return found


def _here(setup: Setup, version: str) -> Here:
    holds: tuple[Condition, ...] = (*setup.has, *(("input method",) if setup.input_method else ()))
    return Here(
        tuple(sorted(holds)),
        version,
        frozenset((p.id, i) for p in setup.programs for i in p.on),
        frozenset((p.id, i) for p in setup.programs for i in p.off),
    )


def _same_parts(board: Board, parts: Mapping[str, Part]) -> bool:
    return len(board.parts) == len(parts) and all(board.parts.get(i) is part for i, part in parts.items())


_WITH_HOTKEYS = frozenset({"system", "utility", "browser"})


def _same_hotkeys(board: Board, resolved: ResolvedSetup, ground: Ground, parts: Mapping[str, Part], far: Part | None) -> bool:
    """Whether a board has the hotkeys, translations and browsers that another state of its setup would have."""
    return (
        board.ground is ground
        and board.far is far
        and list(board.parts) == list(parts)
        and all(part is parts[i] for i, part in board.parts.items() if part.program.kind in _WITH_HOTKEYS)
        and _same(board.setup, resolved)
        # A translation stands on how its program reads keys, and on nothing else of it.
        and all(part.program is parts[i].program for i, part in board.parts.items())
    )


def _same(one: ResolvedSetup, other: ResolvedSetup) -> bool:
    """Whether two resolved setups agree in everything that their parts don't show."""
    return (
        one.setup == other.setup
        and one.launchers == other.launchers
        and one.translations == other.translations
        and one.orphans == other.orphans
        and one.abbreviations == other.abbreviations
        and one.arranged_said == other.arranged_said
        and one.preferences_said == other.preferences_said
        and (one.guard.reservations if one.guard else ()) == (other.guard.reservations if other.guard else ())
    )
