"""Everything in use at once: all setups with their programs and profiles, and the clashes of each, computed once.

What setups share is computed once for all of them: a program under the same entries (`Cache`), and a program laid out
on the same keyboard (`Part`).
"""

import datetime
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from amberkey.core.clashes.board import Board, put_together
from amberkey.core.clashes.finding import find_clashes, find_meant
from amberkey.core.clashes.ground import Ground
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part, lay_out
from amberkey.core.layouts.keyboard import keyboard_of
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

    @property
    def people(self) -> int:
        return sum(s.people for s in self.setups)


@dataclass(eq=False)
class Shared:
    """What several setups, and several states of an estate, have in common."""

    effective: Cache = field(default_factory=dict)
    grounds: dict[tuple[object, ...], Ground] = field(default_factory=dict)
    parts: dict[tuple[int, int], Part] = field(default_factory=dict)

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
    """`setups` by id, `programs` by (id, version), `profiles` by id. `today` judges keys that were given up lately."""

    setups: Mapping[str, Setup]
    programs: Mapping[tuple[str, str], Program]
    profiles: Mapping[str, Profile]
    tasks: Tasks = NO_TASKS
    today: datetime.date | None = None
    shared: Shared = field(default_factory=Shared, repr=False)
    _boards: dict[str, Board] = field(default_factory=dict, repr=False)
    _clashes: dict[str, list[Clash]] = field(default_factory=dict, repr=False)

    def board(self, setup_id: str) -> Board:
        """The board of a setup. Raises MissingPart, UnfitPart, UnknownLayout or UnknownBody where it can't be put together."""
        if setup_id not in self._boards:
            resolved = resolve_setup(self.setups[setup_id], self.programs, self.profiles, self.tasks, self.shared.effective)
            ground = self.shared.ground(resolved, self.today)
            parts = {i: self.shared.part(e, ground) for i, e in resolved.effective.items()}
            far = self.shared.part(resolved.far, ground) if resolved.far else None
            self._boards[setup_id] = put_together(resolved, ground, parts, far)
        return self._boards[setup_id]

    def clashes(self, setup_id: str) -> list[Clash]:
        """Every clash of a setup but those that a maker meant."""
        if setup_id not in self._clashes:
            self._clashes[setup_id] = find_clashes(self.board(setup_id))
        return self._clashes[setup_id]

    def meant(self, setup_id: str) -> list[Clash]:
        """The shadows that the makers of the programs meant."""
        return find_meant(self.board(setup_id))

    def groups(self, setup_ids: Iterable[str] | None = None) -> list[Group]:
        """All clashes of some setups (or of all), copies together: the worst first, then by people."""
        found: dict[str, list[tuple[Clash, Setup]]] = {}
        for setup_id in self.setups if setup_ids is None else setup_ids:
            for clash in self.clashes(setup_id):
                found.setdefault(clash.identity, []).append((clash, self.setups[setup_id]))
        return grouped(found)

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
                found.append(Group(group.clash, here))
        return found

    def with_profiles(self, changed: Iterable[Profile]) -> "Estate":
        """The same estate with some profiles in a new state; setups without them keep what was computed."""
        profiles = {p.id: p for p in changed}
        keep = {i for i, s in self.setups.items() if not profiles.keys() & set(s.layers)}
        return replace(
            self,
            profiles={**self.profiles, **profiles},
            _boards={i: b for i, b in self._boards.items() if i in keep},
            _clashes={i: c for i, c in self._clashes.items() if i in keep},
        )


def grouped(found: Mapping[str, Sequence[tuple[Clash, Setup]]]) -> list[Group]:
    """The copies of clashes, by identity, as groups: the worst first, then those that touch most people."""
    groups = []
    for copies in found.values():
        worst = min(copies, key=lambda c: SEVERITIES.index(c[0].severity))[0]
        groups.append(Group(worst, tuple(s for _, s in copies)))
    return sorted(groups, key=lambda g: (SEVERITIES.index(g.clash.severity), -g.people, g.clash.identity))
