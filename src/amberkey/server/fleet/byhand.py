"""What has to be set by hand on machines, as it is released, and what of it was ticked."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from weakref import WeakKeyDictionary

from amberkey.core.clashes.board import Board
from amberkey.core.exchange.approving import runs_of
from amberkey.core.exchange.worklist import ByHand, by_hand
from amberkey.core.organisation.model import Machine as OrganisationMachine
from amberkey.server.estate import current_derived, current_estate, current_organisation, in_sight
from amberkey.server.fleet.models import HandWork
from amberkey.server.library.approving import approved_digests, may_lie

_known: WeakKeyDictionary[Board, tuple[frozenset[str], list[ByHand]]] = WeakKeyDictionary()


def items_of(setup_id: str) -> list[ByHand]:
    """The things to set by hand on a setup as it is released; none for one that isn't."""
    estate = current_estate(released=True)
    if setup_id not in estate.setups:
        return []
    board, approved = estate.board(setup_id), approved_digests()
    known = _known.get(board)
    if known is None or known[0] != approved:
        found = by_hand(board.setup, may_lie(), lambda layer, one: runs_of(layer, one).digest in approved)
        known = _known[board] = approved, found
    return known[1]


def machines_of(setup_id: str) -> list[OrganisationMachine]:
    """The machines whose settings are those of a setup: it is the one of most people who sit there."""
    return [m for m in current_organisation().machines if m.retired is None and _setup_of(m.id) == setup_id]


def _setup_of(machine_id: str) -> str:
    derived = current_derived(released=True)
    return max(derived.setups_of(machine=machine_id), key=lambda i: derived.setups[i].people, default="")


def by_setup() -> Mapping[str, Sequence[OrganisationMachine]]:
    """The machines of every setup that is released and may be seen."""
    found: dict[str, list[OrganisationMachine]] = {}
    for machine in current_organisation().machines:
        setup = _setup_of(machine.id) if machine.retired is None else ""
        if setup and in_sight(setup):
            found.setdefault(setup, []).append(machine)
    return found


@dataclass(frozen=True, slots=True)
class Counted:
    """How many things there are to set by hand, and how many of them are."""

    done: int
    total: int


def ticks(machines: Sequence[str] | None = None) -> dict[str, dict[str, HandWork]]:
    """By machine and item what was ticked, on some machines or all."""
    rows = HandWork.objects.select_related("by")
    found: dict[str, dict[str, HandWork]] = {}
    for row in rows if machines is None else rows.filter(machine__in=machines):
        found.setdefault(row.machine, {})[row.item] = row
    return found


def is_done(item: ByHand, ticked: Mapping[str, HandWork]) -> bool:
    """Whether a thing is set as it is wanted now."""
    row = ticked.get(item.id)
    return row is not None and row.content == item.content


def counted(items: Sequence[ByHand], ticked: Mapping[str, HandWork]) -> Counted:
    return Counted(sum(is_done(i, ticked) for i in items), len(items))
