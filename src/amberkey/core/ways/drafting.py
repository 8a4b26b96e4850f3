"""Drafts: shortcuts given to commands of several programs, tried before anything is saved."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.compare.operations import Operation
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.ways.proposing import assign
from amberkey.core.ways.several import operations_between, with_operations


@dataclass(frozen=True, slots=True)
class Draft:
    """In a setup's layer `target`, a command gets some shortcuts (none: it loses its own)."""

    setup: str
    program: str
    command: str
    shortcuts: tuple[Shortcut, ...]
    target: str


@dataclass(frozen=True, slots=True)
class Drafted:
    """The estate with all drafts in it, the operations that lead there, and what the whole solves and makes."""

    after: Estate
    operations: Mapping[str, tuple[Operation, ...]]
    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    people: int


def drafted(estate: Estate, drafts: Sequence[Draft]) -> Drafted:
    """One draft after another, a later one of the same command over an earlier one. The command must be there."""
    running = estate
    moved: set[str] = set()
    for draft in drafts:
        shortcuts = tuple((s, None) for s in draft.shortcuts)
        operations, told = assign(running, (draft.program, draft.command), draft.setup, shortcuts, draft.target)
        moved.update(told.setups)
        running = with_operations(running, operations)
    operations = operations_between(estate, running)
    return Drafted(
        after=running,
        operations=operations,
        solves=tuple(running.new_in(estate)) if operations else (),
        makes=tuple(estate.new_in(running)) if operations else (),
        people=estate.people_of(estate.setups[i] for i in moved),
    )
