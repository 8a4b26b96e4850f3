"""Which machines are in which wave of a release."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import islice

from amberkey.core.rollout.covering import covering
from amberkey.core.rollout.model import ReleasePlan


@dataclass(frozen=True, slots=True)
class Reached:
    """A machine that a release reaches. `departments`: those of the people who sit there, and those around them. `setups`: on
    it, each with how many people have it there."""

    machine: str
    departments: frozenset[str]
    setups: Mapping[str, int]

    @property
    def people(self) -> int:
        """How many sit there."""
        return sum(self.setups.values())


def resolved(plan: ReleasePlan, reached: Sequence[Reached]) -> list[tuple[str, ...]]:
    """The machines of each wave, by their ids, each machine in the first wave that takes it. What a plan names and the release
    doesn't reach is in none."""
    left = {one.machine: one for one in sorted(reached, key=lambda r: r.machine)}
    # What is named one by one waits for its own wave, whatever an earlier one would take.
    named = set(plan.named())
    drawn = sorted(left, key=_drawn) if any(wave.chosen.by == "share" for wave in plan.waves) else []
    found: list[tuple[str, ...]] = []
    for wave in plan.waves:
        free = [one for one in left.values() if one.machine not in named]
        chosen = wave.chosen
        if chosen.by == "machines":
            taken = [m for m in chosen.machines if m in left]
        elif chosen.by == "department":
            taken = [one.machine for one in free if chosen.department in one.departments]
        elif chosen.by == "share":
            many = -(-len(reached) * (chosen.share or 0) // 100)
            taken = sorted(islice((m for m in drawn if m in left and m not in named), many))
        elif chosen.by == "setups":
            taken = list(_one_of_each(free))
        else:
            taken = [one.machine for one in free]
        for machine in taken:
            del left[machine]
        found.append(tuple(taken))
    return found


def _one_of_each(free: Sequence[Reached]) -> tuple[str, ...]:
    people: dict[str, int] = {}
    for one in free:
        for setup, many in one.setups.items():
            people[setup] = people.get(setup, 0) + many
    return covering({one.machine: one.setups for one in free}, people).machines


def _drawn(machine: str) -> str:
    """An order of machines that nobody chose and that is the same each time."""
    return hashlib.sha256(f"share {machine}".encode()).hexdigest()
