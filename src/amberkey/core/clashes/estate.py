"""Everything in use at once: all setups with their programs and profiles, and the clashes of each, computed once.

An estate that is made with the `Shared` of an earlier one finds its boards there, wherever nothing that they depend on has
changed.
"""

import datetime
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass, field, replace
from functools import cached_property

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.finding import find_clashes, find_meant
from amberkey.core.clashes.grouping import Group, in_order, worst_of
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.shared import Shared
from amberkey.core.organisation.census import Census
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.resolving import resolve_setup
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import NO_TASKS, Tasks
from amberkey.core.worth.assumptions import ASSUMED, Assumptions

__all__ = ["Estate", "Group", "Shared"]


@dataclass(eq=False, slots=True)
class _WorkedOut:
    """What one estate has worked out by now, and no other one is given."""

    boards: dict[str, Board] = field(default_factory=dict)
    groups: list[Group] | None = None


@dataclass(frozen=True, eq=False)
class Estate:
    """`setups` by id, `programs` by (id, version), `profiles` by id. `today` judges keys that were given up lately.

    `census` counts people over several setups; without one, each setup's own figure is added up. `assumed`: what minutes are
    counted by.
    """

    setups: Mapping[str, Setup]
    programs: Mapping[tuple[str, str], Program]
    profiles: Mapping[str, Profile]
    tasks: Tasks = NO_TASKS
    today: datetime.date | None = None
    shared: Shared = field(default_factory=Shared, repr=False)
    census: Census | None = None
    assumed: Assumptions = ASSUMED
    _worked_out: _WorkedOut = field(default_factory=_WorkedOut, init=False, repr=False)

    def board(self, setup_id: str) -> Board:
        """The board of a setup. Raises MissingPart, UnfitPart, UnknownLayout or UnknownBody where it can't be put together."""
        found = self._worked_out.boards.get(setup_id)
        if found is None:
            documents = self._documents(self.setups[setup_id])
            found = self.shared.board_on(setup_id, documents)
            if found is None:
                setup = self.setups[setup_id]
                resolved = resolve_setup(setup, self.programs, self.profiles, self.tasks, self.shared.effective)
                found = self.shared.board(resolved, self.today)
                self.shared.keep_board(setup_id, documents, found)
            self._worked_out.boards[setup_id] = found
        return found

    def _documents(self, setup: Setup) -> tuple[object, ...]:
        """Everything that the board of a setup depends on; what isn't there stands as None. Which programs there are at all
        decides what is an orphan."""
        used = [*setup.programs, *([setup.remote.system] if setup.remote else ())]
        programs = (self.programs.get((u.id, u.version)) for u in used)
        return (setup, self.tasks, self.shared.one(self.today), self._names, *map(self.profiles.get, setup.layers), *programs)

    @cached_property
    def _names(self) -> frozenset[str]:
        return self.shared.one(frozenset(i for i, _ in self.programs))

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

    def meant_groups(self, setup_ids: Iterable[str] | None = None) -> list[Group]:
        """The shadows that makers meant in some setups (or in all), copies together."""
        found: dict[str, list[tuple[Clash, Setup]]] = {}
        for setup_id in self.setups if setup_ids is None else setup_ids:
            for clash in self.meant(setup_id):
                found.setdefault(clash.identity, []).append((clash, self.setups[setup_id]))
        return self.grouped(found)

    def groups(self, setup_ids: Iterable[str] | None = None) -> list[Group]:
        """All clashes of some setups (or of all), copies together: the worst first, then by people."""
        if setup_ids is None:
            return self._all_groups()
        found: dict[str, list[tuple[Clash, Setup]]] = {}
        for setup_id in setup_ids:
            setup = self.setups[setup_id]
            for clash in self.clashes(setup_id):
                found.setdefault(clash.identity, []).append((clash, setup))
        return self.grouped(found)

    def _all_groups(self) -> list[Group]:
        if self._worked_out.groups is None:
            clashes = {i: self.clashes(i) for i in self.setups}
            grouping = self.shared.grouping({i: self.board(i) for i in self.setups}, clashes)
            groups: dict[str, Group] = {}
            before = self.shared.groups_of(grouping, self.census)
            for identity, copies in grouping.copies.items():
                group = before.get(identity) if before and identity not in grouping.changed else None
                if group is None:
                    group = self._group([(clash, self.setups[i]) for i, clash in copies.items()])
                groups[identity] = group
            self.shared.keep_groups(grouping, self.census, groups)
            self._worked_out.groups = in_order(list(groups.values()))
        return self._worked_out.groups

    def grouped(self, found: Mapping[str, Sequence[tuple[Clash, Setup]]]) -> list[Group]:
        """The copies of clashes, by identity, as groups."""
        return in_order([self._group(copies) for copies in found.values()])

    def _group(self, copies: Iterable[tuple[Clash, Setup]]) -> Group:
        """In an order that depends on nothing but the setups, so that every process tells a group through the same one."""
        ordered = sorted(copies, key=lambda copy: (-copy[1].people, copy[1].id))
        setups = tuple([s for _, s in ordered])
        return Group(worst_of([c for c, _ in ordered]), setups, self.people_of(setups))

    def new_in(self, other: "Estate", setup_ids: Iterable[str] | None = None) -> list[Group]:
        """The clashes that setups have in another state of the estate and not in this one, for instance in a profile before
        its release; each with those setups only."""
        new = {i: self._new_on(i, other) for i in (other.setups if setup_ids is None else setup_ids)}
        wanted = {identity for own in new.values() for identity in own}
        if setup_ids is None and other._worked_out.groups is not None:
            groups = [g for g in other._worked_out.groups if g.clash.identity in wanted]
        else:  # most of what there is isn't new, and grouping it costs most
            copies: dict[str, list[tuple[Clash, Setup]]] = {}
            for setup_id in new:
                for clash in other.clashes(setup_id) if wanted else ():
                    if clash.identity in wanted:
                        copies.setdefault(clash.identity, []).append((clash, other.setups[setup_id]))
            groups = other.grouped(copies)
        found = []
        for group in groups:
            here = tuple(s for s in group.setups if group.clash.identity in new[s.id])
            if here:
                found.append(Group(group.clash, here, other.people_of(here)))
        return found

    def _new_on(self, setup_id: str, other: "Estate") -> Set[str]:
        """The identities of clashes that a setup has in another state and not in this one."""
        if setup_id in self.setups and self.board(setup_id) is other.board(setup_id):
            return frozenset()
        there = {c.identity for c in other.clashes(setup_id)}
        return there - {c.identity for c in self.clashes(setup_id)} if setup_id in self.setups else there

    def with_profiles(self, changed: Iterable[Profile]) -> "Estate":
        """The same estate with some profiles in a new state; setups without them keep what was computed."""
        profiles = {p.id: p for p in changed}
        after = replace(self, profiles={**self.profiles, **profiles})
        for setup_id, board in list(self._worked_out.boards.items()):
            if profiles.keys().isdisjoint(self.setups[setup_id].layers):
                after._worked_out.boards[setup_id] = board
        return after
