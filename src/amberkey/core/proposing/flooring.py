"""A bound for programs that are too large for a solver's own: prices on rows, raised where they are broken.

Lagrangean relaxation with subgradients (Held, Wolfe and Crowder, "Validation of subgradient optimization", Mathematical
Programming 6, 1974). Whatever the prices are, the bound holds; time only makes it better.
"""

import math
from typing import Any

from amberkey.core.proposing.program import Program

_ROUNDS = 600
_PATIENCE = 12
"""So many rounds without a better bound, and steps become half as long."""
_FIRST = 1.2
_LEAST = 1e-4
_STILL = 1e-6


def floor_of(program: Program, best: float, rounds: int = _ROUNDS) -> float:
    """What no choice costs less than. `best`: the cost of one that is known, which says how far prices may be raised. Rows of
    which exactly one is chosen are kept as they are; every other one has a price."""
    import numpy as np

    costs = np.array(program.costs, dtype=float)
    if not len(costs) or not math.isfinite(best):
        return -math.inf
    group = np.full(len(costs), -1)
    groups = 0
    priced: list[tuple[tuple[int, ...], tuple[float, ...], float]] = []
    for row in program.rows:
        one = row.least == row.most == 1 and all(t == 1 for t in row.times)
        if one and all(group[v] < 0 for v in row.variables):
            group[list(row.variables)] = groups
            groups += 1
            continue
        if row.most is not None:
            priced.append((row.variables, row.times, row.most))
        if row.least is not None:
            priced.append((row.variables, tuple(-t for t in row.times), -row.least))
    ordered = np.argsort(group, kind="stable")
    loose = int(np.count_nonzero(group < 0))
    first = np.flatnonzero(np.diff(group[ordered], prepend=-2)) if len(ordered) else np.array([], dtype=int)
    starts = first[1:] if loose else first
    sizes = np.array([len(v) for v, _, _ in priced], dtype=int)
    variables = np.array([v for own, _, _ in priced for v in own], dtype=int)
    times = np.array([t for _, own, _ in priced for t in own], dtype=float)
    mosts = np.array([m for _, _, m in priced], dtype=float)
    of_row = np.repeat(np.arange(len(priced)), sizes)

    def below(prices: Any) -> tuple[float, Any]:
        """The bound for some prices, and by how much what is chosen for it breaks each row."""
        reduced = costs + np.bincount(variables, weights=prices[of_row] * times, minlength=len(costs))
        by_group = reduced[ordered]
        chosen = np.zeros(len(costs), dtype=bool)
        free = ordered[:loose]
        chosen[free] = reduced[free] < 0
        total = program.offset - float(prices @ mosts) + float(reduced[free][reduced[free] < 0].sum())
        if groups:
            least = np.minimum.reduceat(by_group, starts)
            total += float(least.sum())
            lengths = np.diff(np.append(starts, len(ordered)))
            at_least = by_group[loose:] <= np.repeat(least, lengths)
            ties = np.flatnonzero(at_least)
            _, one_each = np.unique(np.repeat(np.arange(groups), lengths)[ties], return_index=True)
            chosen[ordered[loose:][ties[one_each]]] = True
        broken = np.bincount(of_row, weights=times * chosen[variables], minlength=len(priced)) - mosts
        return total, broken

    prices = np.zeros(len(priced))
    dearest = float(np.abs(costs).sum()) + 1  # more than that no price says
    found, kept, step, waited = -math.inf, prices, _FIRST, 0
    direction = np.zeros(len(priced))
    for _ in range(rounds):
        bound, broken = below(prices)
        if bound > found + 1e-9 * max(1.0, abs(found)) or found == -math.inf:
            found, kept, waited = bound, prices, 0
        else:
            waited += 1
            if waited >= _PATIENCE:
                step, waited, prices = step / 2, 0, kept
                bound, broken = below(prices)
        direction = 0.7 * broken + 0.3 * direction
        moving = np.where((prices <= 0) & (direction < 0), 0.0, direction)
        length = float(moving @ moving)
        if length < _STILL or step < _LEAST or best - found < 1:
            break
        prices = np.clip(prices + step * (best - bound) / length * moving, 0.0, dearest)
    return min(found, best)
