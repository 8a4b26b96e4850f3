"""Everything in use at once: all setups with their programs and profiles, and the clashes of each, computed once.

What setups share is computed once for all of them: a program under the same entries (`Cache`), and a program laid out
on the same keyboard (`Part`). What two states of an estate share is computed once for both: an estate that is made with the
`Shared` of an earlier one finds its boards there, wherever nothing that they depend on has changed.
"""

import datetime
from collections.abc import Container, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board, put_together
from amberkey.core.clashes.finding import find_clashes, find_meant
from amberkey.core.clashes.ground import Ground
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part, lay_out
from amberkey.core.layouts.keyboard import keyboard_of
from amberkey.core.organisation.census import Census
from amberkey.core.profiles.decisions import SEVERITIES
from amberkey.core.profiles.effective import EffectiveProgram
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.resolving import Cache, ResolvedSetup, resolve_setup
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import NO_TASKS, Tasks


@dataclass(frozen=True, eq=False)
class Group:
    """One clash with all its copies: the setups that have it, the worst severity, the people that it touches."""

    clash: Clash
    setups: tuple[Setup, ...]
    people: int


# How many states of a setup are kept: as released, as it is, and as it was before the last change.
_STATES = 3


@dataclass(eq=False)
class Shared:
    """What several setups, and several states of an estate, have in common."""

    effective: Cache = field(default_factory=dict)
    grounds: dict[tuple[object, ...], Ground] = field(default_factory=dict)
    parts: dict[tuple[int, int], Part] = field(default_factory=dict)
    boards: dict[str, list[Board]] = field(default_factory=dict)

    def board(self, resolved: ResolvedSetup, today: datetime.date | None) -> Board:
        """The board of a setup: one that was put together before, if everything on it is still the same."""
        ground = self.ground(resolved, today)
        parts = {i: self.part(e, ground) for i, e in resolved.effective.items()}
        far = self.part(resolved.far, ground) if resolved.far else None
        known = self.boards.setdefault(resolved.setup.id, [])
        for board in known:
            if board.ground is ground and board.far is far and _same_parts(board, parts) and _same(board.setup, resolved):
                return board
        known.insert(0, put_together(resolved, ground, parts, far))
        del known[_STATES:]
        return known[0]

    def prune(self, setups: Container[str]) -> None:
        """Forget what no board needs any more: boards of other setups, and what only they stood on."""
        self.boards = {i: boards for i, boards in self.boards.items() if i in setups}
        boards = [b for known in self.boards.values() for b in known]
        parts = {id(p) for b in boards for p in (*b.parts.values(), b.far) if p is not None}
        self.parts = {key: part for key, part in self.parts.items() if id(part) in parts}
        effective = {id(p.effective) for p in self.parts.values()}
        self.effective = {key: one for key, one in self.effective.items() if id(one) in effective}
        grounds = {id(b.ground) for b in boards}
        self.grounds = {key: ground for key, ground in self.grounds.items() if id(ground) in grounds}

    def part(self, effective: EffectiveProgram, ground: Ground) -> Part:
        key = (id(effective), id(ground))
        found = self.parts.get(key)
        if found is None or found.effective is not effective or found.ground is not ground:
            found = self.parts[key] = lay_out(effective, ground)
        return found

    def ground(self, setup: ResolvedSetup, today: datetime.date | None) -> Ground:
        document = setup.setup
        system = next((p for p in setup.programs if p.kind == "system"), None)
        keyboard = keyboard_of(setup.layout, setup.body, setup.remaps)
        key = (
            *(keyboard, document.numlock, document.mouse_hand, document.open_documents),
            *(id(system), id(setup.tasks), today),
        )
        found = self.grounds.get(key)
        if found is None:
            found = self.grounds[key] = Ground(
                platform=document.platform,
                keyboard=keyboard,
                numlock=document.numlock,
                mouse_hand=document.mouse_hand,
                open_documents=frozenset(document.open_documents),
                system=system,
                tasks=setup.tasks,
                today=today,
            )
        return found


@dataclass(frozen=True, eq=False)
class Estate:
    """`setups` by id, `programs` by (id, version), `profiles` by id. `today` judges keys that were given up lately.

    `census` counts people over several setups; without one, each setup's own figure is added up.
    """

    setups: Mapping[str, Setup]
    programs: Mapping[tuple[str, str], Program]
    profiles: Mapping[str, Profile]
    tasks: Tasks = NO_TASKS
    today: datetime.date | None = None
    shared: Shared = field(default_factory=Shared, repr=False)
    census: Census | None = None
    _boards: dict[str, Board] = field(default_factory=dict, repr=False)
    _groups: list[Group] = field(default_factory=list, repr=False)

    def board(self, setup_id: str) -> Board:
        """The board of a setup. Raises MissingPart, UnfitPart, UnknownLayout or UnknownBody where it can't be put together."""
        if setup_id not in self._boards:
            resolved = resolve_setup(self.setups[setup_id], self.programs, self.profiles, self.tasks, self.shared.effective)
            self._boards[setup_id] = self.shared.board(resolved, self.today)
        return self._boards[setup_id]

    def clashes(self, setup_id: str) -> list[Clash]:
        """Every clash of a setup but those that a maker meant."""
        board = self.board(setup_id)
        if board.clashes is None:
            board.clashes = find_clashes(board)
        return board.clashes

    def people_of(self, setups: Iterable[Setup]) -> int:
        """How many people have at least one of some setups."""
        if self.census is None:
            return sum(s.people for s in setups)
        return self.census.people_in(s.id for s in setups)

    def uses_a_week(self, binding: Binding, setups: Iterable[Setup]) -> int | None:
        """How often a binding's command is used in some setups in a week, by all people; None where nobody has said."""
        if self.census is None:
            return None
        return self.census.uses_a_week(binding.program.id, binding.command.id, (s.id for s in setups))

    def meant(self, setup_id: str) -> list[Clash]:
        """The shadows that the makers of the programs meant."""
        return find_meant(self.board(setup_id))

    def groups(self, setup_ids: Iterable[str] | None = None) -> list[Group]:
        """All clashes of some setups (or of all), copies together: the worst first, then by people."""
        if setup_ids is None and self._groups:
            return self._groups
        found: dict[str, list[tuple[Clash, Setup]]] = {}
        for setup_id in self.setups if setup_ids is None else setup_ids:
            setup = self.setups[setup_id]
            for clash in self.clashes(setup_id):
                found.setdefault(clash.identity, []).append((clash, setup))
        groups = self.grouped(found)
        if setup_ids is None:
            self._groups.extend(groups)
        return groups

    def grouped(self, found: Mapping[str, Sequence[tuple[Clash, Setup]]]) -> list[Group]:
        """The copies of clashes, by identity, as groups: the worst first, then those that touch most people."""
        groups = []
        for copies in found.values():
            worst = min(copies, key=lambda c: SEVERITIES.index(c[0].severity))[0]
            setups = tuple([s for _, s in copies])
            groups.append(Group(worst, setups, self.people_of(setups)))
        return sorted(groups, key=lambda g: (SEVERITIES.index(g.clash.severity), -g.people, g.clash.identity))

    def new_in(self, other: "Estate", setup_ids: Iterable[str] | None = None) -> list[Group]:
        """The clashes that setups have in another state of the estate and not in this one, for instance in a profile before
        its release; each with those setups only."""
        found = []
        for group in other.groups(other.setups if setup_ids is None else setup_ids):
            here = tuple(
                s
                for s in group.setups
                if s.id not in self.setups or all(c.identity != group.clash.identity for c in self.clashes(s.id))
            )
            if here:
                found.append(Group(group.clash, here, other.people_of(here)))
        return found

    def with_profiles(self, changed: Iterable[Profile]) -> "Estate":
        """The same estate with some profiles in a new state; setups without them keep what was computed."""
        profiles = {p.id: p for p in changed}
        keep = {i for i, s in self.setups.items() if not profiles.keys() & set(s.layers)}
        return replace(
            self,
            profiles={**self.profiles, **profiles},
            _boards={i: b for i, b in self._boards.items() if i in keep},
            _groups=[],
        )


def _same_parts(board: Board, parts: Mapping[str, Part]) -> bool:
    return len(board.parts) == len(parts) and all(board.parts.get(i) is part for i, part in parts.items())


def _same(one: ResolvedSetup, other: ResolvedSetup) -> bool:
    """Whether two resolved setups agree in everything that their parts don't show."""
    return (
        one.setup == other.setup
        and one.launchers == other.launchers
        and one.translations == other.translations
        and one.orphans == other.orphans
        and (one.guard.reservations if one.guard else ()) == (other.guard.reservations if other.guard else ())
    )
