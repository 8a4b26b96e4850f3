"""How many people and machines have some setups: each counted once, in however many of them they are."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from amberkey.core.profiles.setup import Setup

SetupIds = frozenset[str]


@dataclass(frozen=True, eq=False)
class Tally:
    """Weights by the setups that they belong to. Most belong to one setup; those that don't are kept apart."""

    alone: Mapping[str, int]
    several: tuple[tuple[SetupIds, int], ...]

    @classmethod
    def of(cls, weights: Mapping[SetupIds, int]) -> "Tally":
        alone = {next(iter(ids)): weight for ids, weight in weights.items() if len(ids) == 1}
        return cls(alone, tuple((ids, weight) for ids, weight in weights.items() if len(ids) > 1))

    def within(self, setups: SetupIds) -> int:
        """The weight of all that belong to at least one of some setups."""
        return sum(self.alone.get(s, 0) for s in setups) + sum(w for ids, w in self.several if ids & setups)


@dataclass(frozen=True, eq=False)
class Census:
    """`roles`: for each role, the people who have it. `weekly`: uses a week of (role, program, command)."""

    people: Tally
    machines: Tally
    roles: Mapping[str, Tally] = field(default_factory=dict)
    weekly: Mapping[tuple[str, str], Mapping[str, int]] = field(default_factory=dict)
    """By program and command: how often one person of a role uses it in a week."""
    _known: dict[SetupIds, tuple[int, int]] = field(default_factory=dict, init=False, repr=False)

    def joined_by(self, planned: Iterable[Setup]) -> "Census":
        """With setups that nobody has yet, counted as each of them says."""
        setups = tuple(planned)
        if not setups:
            return self
        people = Tally({**self.people.alone, **{s.id: s.people for s in setups}}, self.people.several)
        machines = Tally({**self.machines.alone, **{s.id: s.machines for s in setups}}, self.machines.several)
        return Census(people, machines, self.roles, self.weekly)

    def people_in(self, setups: Iterable[str]) -> int:
        """How many people have at least one of some setups (by id); who has two counts once."""
        return self._counts(frozenset(setups))[0]

    def machines_in(self, setups: Iterable[str]) -> int:
        """How many machines have at least one of some setups (by id)."""
        return self._counts(frozenset(setups))[1]

    def _counts(self, setups: SetupIds) -> tuple[int, int]:
        found = self._known.get(setups)
        if found is None:
            found = self._known[setups] = self.people.within(setups), self.machines.within(setups)
        return found

    def uses_a_week(self, program: str, command: str, setups: Iterable[str]) -> int | None:
        """How often a command is used in some setups in a week, by all people together; None where nobody has said."""
        weekly = self.weekly.get((program, command))
        if weekly is None:
            return None
        ids = frozenset(setups)
        return sum(times * self.roles[role].within(ids) for role, times in weekly.items() if role in self.roles)
