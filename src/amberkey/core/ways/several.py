"""Settling several clashes one after another: each way out is looked for where the ones before are done already, so that no
two of them take the same press."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.compare.operations import JsonDocument, Operation, apply, compare
from amberkey.core.documents.model import read_document
from amberkey.core.profiles.model import Profile
from amberkey.core.ways.proposing import ways_out
from amberkey.core.ways.wayout import WayKind, WayOut

BY_ITSELF: tuple[WayKind, ...] = ("move", "move_family", "narrow", "translate", "tidy", "take_over")
"""The ways that may be taken without anybody looking at each, in the order in which they are preferred."""


@dataclass(frozen=True, slots=True)
class Settled:
    """`way` is what is done about the group; None where nothing is, and then `why` says the reason."""

    group: Group
    way: WayOut | None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Settlement:
    """`after` is the estate with all of it done; `operations` by profile lead there. `solves` and `makes` are of the whole."""

    settled: tuple[Settled, ...]
    after: Estate
    operations: Mapping[str, tuple[Operation, ...]]
    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    people: int


def settle(
    estate: Estate,
    groups: Sequence[Group],
    target_of: Callable[[Group], str],
    kinds: Sequence[WayKind] = BY_ITSELF,
) -> Settlement:
    """The best way out of each group that makes no clash, one after another, each on what the ones before left.

    `target_of` says in which profile a group's decision is kept. A way that leaves the clash in some setups is taken only
    where there is none that ends it. The setup that speaks for each group is its first.
    """
    running = estate
    settled: list[Settled] = []
    moved: set[str] = set()
    for group in groups:
        now = _still_there(running, group)
        if now is None:
            settled.append(Settled(group, None, "those before it solve it"))
            continue
        way = _best(running, now, target_of(group), kinds)
        if way is None:
            settled.append(Settled(group, None, "every way out makes another clash, or there is none"))
            continue
        moved.update(way.consequences.setups)
        settled.append(Settled(now, way))
        running = with_operations(running, way.changes)
    operations = operations_between(estate, running)
    return Settlement(
        settled=tuple(settled),
        after=running,
        operations=operations,
        solves=tuple(running.new_in(estate)) if operations else (),
        makes=tuple(estate.new_in(running)) if operations else (),
        people=estate.people_of(estate.setups[i] for i in moved),
    )


def with_operations(estate: Estate, changes: Mapping[str, Sequence[Operation]]) -> Estate:
    """The estate after operations on some of its profiles."""
    changed = (
        read_document(apply(_json(estate.profiles[i]), operations), {"amberkey/profile@1": Profile})
        for i, operations in changes.items()
    )
    return estate.with_profiles(changed)


def operations_between(before: Estate, after: Estate) -> dict[str, tuple[Operation, ...]]:
    """What leads from the profiles of one state of an estate to those of another, by profile."""
    found = {
        i: tuple(compare(_json(before.profiles[i]), _json(profile)))
        for i, profile in after.profiles.items()
        if profile is not before.profiles[i]
    }
    return {i: operations for i, operations in found.items() if operations}


def _json(profile: Profile) -> JsonDocument:
    return cast(JsonDocument, profile.to_json())


def _still_there(estate: Estate, group: Group) -> Group | None:
    """The group as it is now, spoken for by the same setup where that still has the clash."""
    identity = group.clash.identity
    setups = [s for s in group.setups if any(c.identity == identity for c in estate.clashes(s.id))]
    if not setups:
        return None
    clash = next(c for c in estate.clashes(setups[0].id) if c.identity == identity)
    return Group(clash, tuple(setups), estate.people_of(setups))


def _best(estate: Estate, group: Group, target: str, kinds: Sequence[WayKind]) -> WayOut | None:
    layers = group.setups[0].layers
    ways = ways_out(estate, group, target if target in layers or not layers else layers[-1], most=1)
    clean = [w for w in ways if w.kind in kinds and w.changes and w.consequences.solves and not w.consequences.makes]
    return min(clean, key=lambda w: (len(w.consequences.remains), kinds.index(w.kind)), default=None)
