"""Which clashes an edit solves and makes, told in sentences."""

from collections.abc import Iterable
from dataclasses import dataclass

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.grouping import Group
from amberkey.server.workbench.clashes.told import brief

_SHOWN = 12


@dataclass(frozen=True, slots=True)
class ClashDifference:
    """The first of each in sentences, those that touch most people first, and how many there are."""

    solves: list[str]
    makes: list[str]
    solved: int
    made: int


def clash_difference(now: Estate, then: Estate) -> ClashDifference:
    """What clashes of one state are gone in another, and what new ones there are."""
    before, after = ({g.clash.identity: g for g in e.groups()} for e in (now, then))
    solves = _by_people(g for i, g in before.items() if i not in after)
    makes = _by_people(g for i, g in after.items() if i not in before)
    return ClashDifference(
        solves=[brief(g, now.board(g.setups[0].id)) for g in solves[:_SHOWN]],
        makes=[brief(g, then.board(g.setups[0].id)) for g in makes[:_SHOWN]],
        solved=len(solves),
        made=len(makes),
    )


def _by_people(groups: Iterable[Group]) -> list[Group]:
    return sorted(groups, key=lambda g: -g.people)
