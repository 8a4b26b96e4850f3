"""A solver that tries everything, for programs that are small enough: what the other one finds is held against it."""

import math
from collections.abc import Iterable, Sequence

from amberkey.core.proposing.program import Program, Relaxed, Row, Search, Solved


class Exactly:
    """The port's twin: depth first over all choices, cut off where a row can no longer hold or the cost is too high already."""

    def solve(self, program: Program, search: Search) -> Solved:
        """The cheapest of all choices. It takes what time it takes."""
        best = _Tries(program).best()
        if best is None:
            return Solved("none", (), math.inf, math.inf)
        return Solved("optimal", best, program.cost_of(best), program.cost_of(best))

    def relaxed(self, program: Program, search: Search, without: Iterable[int] = ()) -> Relaxed | None:
        """It knows no halves."""
        return None

    def floor(self, program: Program, search: Search) -> float:
        """The cost of the best."""
        return self.solve(program, search).bound

    def relaxations(self, program: Program, search: Search, row: Row, mosts: Sequence[float]) -> list[Relaxed | None]:
        """The same for each figure."""
        return [None for _ in mosts]


class _Tries:
    def __init__(self, program: Program) -> None:
        self.program = program
        self.of: list[list[tuple[int, float]]] = [[] for _ in program.costs]
        self.low: list[float] = []
        self.high: list[float] = []
        for n, row in enumerate(program.rows):
            self.low.append(sum(min(0.0, t) for t in row.times))
            self.high.append(sum(max(0.0, t) for t in row.times))
            for v, t in zip(row.variables, row.times, strict=True):
                self.of[v].append((n, t))
        # What is left to gain from the variables behind each one: costs may be below nothing.
        self.gain = [0.0] * (len(program.costs) + 1)
        for v in range(len(program.costs) - 1, -1, -1):
            self.gain[v] = self.gain[v + 1] + min(0.0, program.costs[v])

    def best(self) -> tuple[int, ...] | None:
        self.found: tuple[int, ...] | None = None
        self.cost = math.inf
        if all(map(_can_hold, self.program.rows, self.low, self.high)):
            self._go(0, [], 0.0)
        return self.found

    def _go(self, variable: int, chosen: list[int], cost: float) -> None:
        if cost + self.gain[variable] >= self.cost - 1e-9:
            return
        if variable == len(self.program.costs):
            self.found, self.cost = tuple(chosen), cost
            return
        for yes in (True, False):
            before = [(n, self.low[n], self.high[n]) for n, _ in self.of[variable]]
            for n, times in self.of[variable]:
                value = times if yes else 0.0
                self.low[n] += value - min(0.0, times)
                self.high[n] += value - max(0.0, times)
            if all(_can_hold(self.program.rows[n], self.low[n], self.high[n]) for n, _ in self.of[variable]):
                if yes:
                    chosen.append(variable)
                self._go(variable + 1, chosen, cost + (self.program.costs[variable] if yes else 0.0))
                if yes:
                    chosen.pop()
            for n, low, high in before:
                self.low[n], self.high[n] = low, high


def _can_hold(row: Row, low: float, high: float) -> bool:
    return (row.most is None or low <= row.most + 1e-9) and (row.least is None or high >= row.least - 1e-9)
