"""The best choice of a program by what its relaxation tells: the variables that are near to it are looked at first. Knows
nothing of keys."""

import math
import time
from collections.abc import Iterable
from dataclasses import replace

from amberkey.core.proposing.program import Program, Relaxed, Search, Solved, Solver, Status

NEAR = 0.0002
"""The variables are looked at first that the relaxation shows to be as near to its own cost, as a share of it: on the example
the best choices of single platforms are."""
_FURTHER = 6
"""So many times as far next, where the best isn't among them."""
MANY = 60_000
"""So many variables are looked at as a whole at most, the nearest."""


def nearest_first(solver: Solver, program: Program, relaxed: Relaxed, search: Search, many: int = MANY) -> Solved:
    """The cheapest choice. What the relaxation shows to be near its own cost is looked at first, then more of it: once what was
    found is no dearer than anything that wasn't looked at, it is the best (reduced cost fixing, Crowder, Johnson and Padberg,
    Operations Research 31, 1983, turned round). Costs of choices are whole numbers. `search`: its seconds are for all of it."""
    until = time.monotonic() + search.seconds
    floor, near, start = relaxed.cost, NEAR * abs(relaxed.cost), search.start
    best = Solved("none", start, program.cost_of(start) if start else math.inf, floor)
    while best.cost - best.bound >= 1 and not search.stopped() and time.monotonic() < until:
        near = min(near, best.cost - floor)
        some = [v for v, more in enumerate(relaxed.reduced) if more <= near]
        is_cut = len(some) > many
        if is_cut:
            some.sort(key=lambda v: (relaxed.reduced[v], v))
            near = max(0.0, relaxed.reduced[some[many]])
        # Without a start: the solver is as quick, and was seen to end with it although there was a better one.
        found = among(solver, program, {*some[:many], *best.chosen}, _bounded(search, until, floor + near))
        # What wasn't looked at costs as much as the nearest of it at least.
        bound = max(floor, min(found.bound, floor + near))
        best = (found if found.cost <= best.cost else best)._replace(bound=bound)
        if found.status == "feasible" or is_cut or len(some) == len(program.costs):
            break
        near *= _FURTHER
    status: Status = "feasible" if best.chosen else "none"
    return best._replace(status="optimal" if best.cost - best.bound < 1 else status, bound=min(best.bound, best.cost))


def among(solver: Solver, program: Program, some: Iterable[int], search: Search) -> Solved:
    """The best among some variables and those that it begins with."""
    left, of = program.without(set(range(len(program.costs))).difference(some, search.start))

    def progress(chosen: tuple[int, ...], bound: float) -> None:
        search.progress(tuple(of[n] for n in chosen), bound)

    yes = set(search.start)
    start = tuple(n for n, v in enumerate(of) if v in yes)
    found = solver.solve(left, replace(search, start=start, progress=progress))
    return found._replace(chosen=tuple(of[n] for n in found.chosen))


def _bounded(search: Search, until: float, most: float) -> Search:
    """The same for the time that is left, telling no bound above what holds for all."""

    def progress(chosen: tuple[int, ...], bound: float) -> None:
        search.progress(chosen, min(bound, most))

    return replace(search, seconds=until - time.monotonic(), start=(), progress=progress)
