"""Where a decision can be kept, and how far it reaches from there."""

from collections.abc import Iterable
from dataclasses import dataclass

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.profiles.setup import Setup


@dataclass(frozen=True, slots=True)
class Landing:
    """A layer of a setup. `copies`: the setups with the clash that it reaches; `others`: those without it that run the
    program on the same platform, and would get the decision's key as well."""

    profile: str
    copies: tuple[Setup, ...]
    others: tuple[Setup, ...]
    people: int


def landings(estate: Estate, group: Group, setup_id: str) -> list[Landing]:
    """Every layer of a setup as a place for a decision on a clash, the farthest first."""
    clash = group.clash
    copies = {s.id for s in group.setups}
    program = clash.subject.program.id
    runs = [s for s in estate.setups.values() if s.works_on == clash.platform and any(p.id == program for p in s.programs)]
    found = []
    for profile in estate.setups[setup_id].layers:
        reached = [s for s in runs if profile in s.layers]
        with_it = tuple(s for s in group.setups if profile in s.layers)
        without = tuple(s for s in reached if s.id not in copies)
        found.append(Landing(profile, with_it, without, estate.people_of(_each_once(with_it, without))))
    return found


def _each_once(*setups: Iterable[Setup]) -> list[Setup]:
    return list({s.id: s for several in setups for s in several}.values())
