"""A first choice for programs that are too large for a solver's own: line by line, each with what is cheapest beside those
before it. Knows nothing of keys."""

from collections.abc import Callable, Sequence
from itertools import count

from amberkey.core.proposing.program import Program

_ENOUGH = 1e-6
_DEPTH = 1
"""How many may make room one for another."""
_PASSES = 30


def first_choice(program: Program, lines: Sequence[Sequence[int]], stopped: Callable[[], bool]) -> tuple[int, ...]:
    """A choice that a program allows; empty where none came of it. `lines`: of which one each is chosen, in this order, with
    whatever of other rows goes with it and makes it cheaper. Of each other row of which exactly one is chosen, that is the
    first that fits, until something cheaper makes it give way.

    Lines for which nothing was left come first the next time ("squeaky wheel", Joslin and Clements, Journal of Artificial
    Intelligence Research 10, 1999), until all have something."""
    order = list(range(len(lines)))
    rows = _Rows(program, lines)
    for _ in range(_PASSES):
        choosing = _Choosing(rows)
        left = choosing.choose([lines[n] for n in order], stopped)
        if not left:
            found = choosing.found()
            return found if program.allows(found) else ()
        if stopped():
            break
        first = [order[n] for n in left]
        order = [*first, *(n for n in order if n not in set(first))]
    return ()


class _Rows:
    """A program as it is looked at here. `groups`: the rows of which exactly one is chosen, `group` of each variable; `most`:
    what the sum of each other row is at most; `of`: by variable the rows that it is in, and how many times; `payers`: by row
    what may be chosen beside anything, and makes room for more; `with_line`: what goes with one of a line."""

    def __init__(self, program: Program, lines: Sequence[Sequence[int]]) -> None:
        self.costs = program.costs
        self.group = [-1] * len(program.costs)
        self.groups: list[tuple[int, ...]] = []
        self.most: list[float] = []
        self.of: list[list[tuple[int, float]]] = [[] for _ in program.costs]
        self.with_line: dict[int, list[int]] = {}
        others = []
        for row in program.rows:
            if row.least == row.most == 1 and all(self.group[v] < 0 for v in row.variables):
                for v in row.variables:
                    self.group[v] = len(self.groups)
                self.groups.append(row.variables)
                continue
            if row.most is not None:
                others.append((row.variables, row.times, row.most))
            if row.least is not None:
                others.append((row.variables, tuple(-t for t in row.times), -row.least))
        self.payers: list[tuple[int, ...]] = []
        for variables, times, most in others:
            for v, t in zip(variables, times, strict=True):
                self.of[v].append((len(self.most), t))
            self.most.append(most)
            self.payers.append(tuple(v for v, t in zip(variables, times, strict=True) if t < 0 and self.group[v] < 0))
            if most == 0 and times[0] == 1 and self.group[variables[0]] >= 0 and all(t == -1 for t in times[1:]):
                for v in variables[1:]:
                    self.with_line.setdefault(v, []).append(variables[0])
        self.is_line = {self.group[v] for line in lines for v in line}


class _Choosing:
    """`sums`: what each row has so far, by `on`, the chosen ones that make it more; `done`: what was turned, in order."""

    def __init__(self, rows: _Rows) -> None:
        self.rows, self.cost = rows, 0.0
        self.yes = [False] * len(rows.costs)
        self.chosen: list[int | None] = [None] * len(rows.groups)
        self.sums = [0.0] * len(rows.most)
        self.on: list[set[int]] = [set() for _ in rows.most]
        self.done: list[int] = []

    def choose(self, lines: Sequence[Sequence[int]], stopped: Callable[[], bool]) -> list[int]:
        """Chooses, and says for which lines nothing was left."""
        for n, group in enumerate(self.rows.groups):
            if n not in self.rows.is_line:
                next((v for v in group if self._tried(v, _DEPTH)), None)
        left = []
        for nth, line in zip(count(), lines, strict=False):
            best: tuple[float, int] | None = None
            for v in () if stopped() else line:
                at = len(self.done)
                if self._with_line(v) and (best is None or self.cost < best[0]):
                    best = self.cost, v
                self._back_to(at)
            if best is None:
                left.append(nth)
            else:
                self._with_line(best[1])
            self.done.clear()
        return left

    def found(self) -> tuple[int, ...]:
        """What is chosen, without what was paid for and isn't needed any more."""
        for v, is_yes in enumerate(self.yes):
            if is_yes and self.rows.group[v] < 0 and self.rows.costs[v] > 0:
                self._turn(v)
                if any(self._is_broken(n) for n, _ in self.rows.of[v]):
                    self._turn(v)
        return tuple(v for v, is_yes in enumerate(self.yes) if is_yes)

    def _with_line(self, v: int) -> bool:
        """Chooses one of a line, and what goes with it where that is cheaper, or where nothing else was possible so far."""
        if not self._put(v, 0):
            return False
        for follower in self.rows.with_line.get(v, ()):
            at, before = len(self.done), self.cost
            needed = self.chosen[self.rows.group[follower]] is None
            if self._put(follower, _DEPTH) and (needed or self.cost < before):
                continue
            self._back_to(at)
            if needed:
                return False
        return True

    def _tried(self, v: int, depth: int) -> bool:
        at = len(self.done)
        if self._put(v, depth):
            return True
        self._back_to(at)
        return False

    def _put(self, v: int, depth: int) -> bool:
        """Chooses a variable instead of what its group has; False where a row would be broken, with all half done."""
        group = self.rows.group[v]
        old = self.chosen[group] if group >= 0 else None
        if old == v:
            return True
        if old is not None:
            self._turn(old)
            if any(t < 0 and self._is_broken(n) for n, t in self.rows.of[old]):
                return False
        self._turn(v)
        return all(not self._is_broken(n) or self._mend(n, v, depth) for n, _ in self.rows.of[v])

    def _mend(self, row: int, kept: int, depth: int) -> bool:
        """Pays for what breaks a row, or has another one of it give way."""
        for v in self.rows.payers[row]:
            if not self.yes[v]:
                at = len(self.done)
                self._turn(v)
                if not any(t > 0 and self._is_broken(n) for n, t in self.rows.of[v]) and not self._is_broken(row):
                    return True
                self._back_to(at)
        if depth == 0:
            return False
        for v in sorted(self.on[row]):
            group = self.rows.group[v]
            if v != kept and group >= 0 and group not in self.rows.is_line:
                others = sorted((w for w in self.rows.groups[group] if w != v), key=lambda w: (self.rows.costs[w], w))
                if any(self._tried(w, depth - 1) for w in others) and not self._is_broken(row):
                    return True
        return False

    def _is_broken(self, row: int) -> bool:
        return self.sums[row] > self.rows.most[row] + _ENOUGH

    def _turn(self, v: int) -> None:
        """From no to yes, or back."""
        sign = -1.0 if self.yes[v] else 1.0
        self.yes[v] = not self.yes[v]
        for n, t in self.rows.of[v]:
            self.sums[n] += sign * t
            if t > 0:
                (self.on[n].add if sign > 0 else self.on[n].remove)(v)
        self.cost += sign * self.rows.costs[v]
        if self.rows.group[v] >= 0:
            self.chosen[self.rows.group[v]] = v if self.yes[v] else None
        self.done.append(v)

    def _back_to(self, at: int) -> None:
        while len(self.done) > at:
            self._turn(self.done.pop())
            self.done.pop()
