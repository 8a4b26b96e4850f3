"""What some changes of one profile would make of the organisation's clashes, before anything is written."""

from collections.abc import Mapping, Sequence

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.compare.operations import Operation
from amberkey.core.ways.several import with_operations
from amberkey.server.estate import current_estate
from amberkey.server.schema import Schema
from amberkey.server.workbench.clashes.told import brief
from amberkey.server.workbench.worth import NO_WORTH_OUT, WorthOut, worth_of

_BRIEF = 20


class WouldOut(Schema):
    """The clashes that would go and come: how many, and at most 20 of each in words. `people`: who have the profile."""

    solves: list[str]
    makes: list[str]
    solved: int
    made: int
    people: int
    worth: WorthOut


NOTHING = WouldOut(solves=[], makes=[], solved=0, made=0, people=0, worth=NO_WORTH_OUT)


def would(layer: str, operations: Sequence[Operation]) -> WouldOut:
    """What some operations on a profile (by its id) would do; nothing where no setup stands on it."""
    return would_all({layer: operations})


def would_all(changes: Mapping[str, Sequence[Operation]]) -> WouldOut:
    """What operations on several profiles would do together; those that no setup stands on count for nothing."""
    estate = current_estate()
    changes = {layer: operations for layer, operations in changes.items() if layer in estate.profiles and operations}
    if not changes:
        return NOTHING
    after = with_operations(estate, changes)
    solved, made = after.new_in(estate), estate.new_in(after)
    return WouldOut(
        solves=_say(solved, estate),
        makes=_say(made, after),
        solved=len(solved),
        made=len(made),
        people=estate.people_of(s for s in estate.setups.values() if changes.keys() & set(s.layers)),
        worth=worth_of(estate, after),
    )


def _say(groups: Sequence[Group], estate: Estate) -> list[str]:
    return [brief(g, estate.board(g.setups[0].id)) for g in groups[:_BRIEF]]
