"""One of every setup first: the fewest machines on which every setup is once, as near as can be told quickly."""

import heapq
from collections.abc import Iterable, Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Covering:
    """`machines`: in the order in which they were chosen, those that cover most people first. `at_least`: fewer than so many
    machines can't cover all setups, so `len(machines) - at_least` is the most that could be saved."""

    machines: tuple[str, ...]
    at_least: int


def covering(setups_of: Mapping[str, Iterable[str]], people: Mapping[str, int]) -> Covering:
    """`setups_of`: the setups on each machine; `people`: how many have each setup.

    Greedy: each time the machine whose setups that aren't covered yet have most people, of several alike the first by id. With
    people of equal weight it takes at most 1 + ln k times the fewest machines, k being the most setups on one machine (Chvatal,
    A Greedy Heuristic for the Set-Covering Problem, 1979). Machines with the same setups count once, so that the number of
    setups decides how long it takes.
    """
    first: dict[frozenset[str], str] = {}
    for machine in sorted(setups_of):
        first.setdefault(frozenset(setups_of[machine]), machine)
    left = {setup for setups in first for setup in setups}
    at_least = _at_least(list(first))

    def weight(setups: frozenset[str]) -> tuple[int, int]:
        open_ones = setups & left
        return sum(people.get(s, 0) for s in open_ones), len(open_ones)

    # What a set would cover only shrinks, so the best by its last known weight is the best if that still holds.
    queue = [(*_negative(weight(setups)), machine, setups) for setups, machine in first.items() if setups]
    heapq.heapify(queue)
    chosen = []
    while left:
        *known, machine, setups = heapq.heappop(queue)
        now = _negative(weight(setups))
        if now != tuple(known):
            if now[1]:
                heapq.heappush(queue, (*now, machine, setups))
            continue
        chosen.append(machine)
        left -= setups
    return Covering(tuple(chosen), at_least)


def _negative(weight: tuple[int, int]) -> tuple[int, int]:
    return -weight[0], -weight[1]


def _at_least(sets: list[frozenset[str]]) -> int:
    """Setups of which no two are on one machine need a machine each; and no machine covers more than the largest."""
    setups = sorted({s for one in sets for s in one}, key=lambda s: (sum(s in one for one in sets), s))
    if not setups:
        return 0
    apart: list[str] = []
    for setup in setups:
        beside = {s for one in sets if setup in one for s in one}
        if beside.isdisjoint(apart):
            apart.append(setup)
    return max(len(apart), -(-len(setups) // max(map(len, sets))))
