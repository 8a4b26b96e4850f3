"""Integer programs over yes and no: what is chosen, what it costs, and what can't be chosen together. Knows nothing of keys."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal, NamedTuple, Protocol

Status = Literal["optimal", "feasible", "none"]


class Row(NamedTuple):
    """The sum of some variables, each times a figure, lies between two bounds; None: it has no such bound."""

    variables: tuple[int, ...]
    times: tuple[float, ...]
    least: float | None
    most: float | None


@dataclass(eq=False)
class Program:
    """Least cost over yes and no. `costs` by variable, `offset` whatever is chosen."""

    costs: list[float] = field(default_factory=list)
    rows: list[Row] = field(default_factory=list)
    offset: float = 0.0

    def variable(self, cost: float = 0.0) -> int:
        """One more, by its number."""
        self.costs.append(cost)
        return len(self.costs) - 1

    def at_most(self, most: float, variables: Iterable[int], times: Sequence[float] | None = None) -> None:
        found = tuple(variables)
        self.rows.append(Row(found, tuple(times) if times is not None else (1.0,) * len(found), None, most))

    def at_least(self, least: float, variables: Iterable[int], times: Sequence[float] | None = None) -> None:
        found = tuple(variables)
        self.rows.append(Row(found, tuple(times) if times is not None else (1.0,) * len(found), least, None))

    def exactly(self, number: float, variables: Iterable[int]) -> None:
        found = tuple(variables)
        self.rows.append(Row(found, (1.0,) * len(found), number, number))

    def cost_of(self, chosen: Iterable[int]) -> float:
        """What it costs to choose just some variables."""
        return self.offset + sum(self.costs[v] for v in chosen)

    def allows(self, chosen: Iterable[int]) -> bool:
        """Whether just these may be chosen together."""
        yes = set(chosen)
        for row in self.rows:
            total = sum(t for v, t in zip(row.variables, row.times, strict=True) if v in yes)
            if (row.least is not None and total < row.least - 1e-6) or (row.most is not None and total > row.most + 1e-6):
                return False
        return True

    def without(self, dropped: Iterable[int]) -> "tuple[Program, tuple[int, ...]]":
        """The program in which some variables are no, with the variables that are left by their old numbers. Rows that can't
        fail any more, or say what another one says, are gone."""
        out = set(dropped)
        left = tuple(v for v in range(len(self.costs)) if v not in out)
        new = {v: n for n, v in enumerate(left)}
        rows: dict[Row, None] = {}
        for row in self.rows:
            kept = [(new[v], t) for v, t in zip(row.variables, row.times, strict=True) if v not in out]
            least = row.least if row.least is None or sum(min(0.0, t) for _, t in kept) < row.least else None
            most = row.most if row.most is None or sum(max(0.0, t) for _, t in kept) > row.most else None
            if least is not None or most is not None:
                rows[Row(tuple(v for v, _ in kept), tuple(t for _, t in kept), least, most)] = None
        return Program([self.costs[v] for v in left], list(rows), self.offset), left


class Solved(NamedTuple):
    """`chosen`: the variables that are yes, in order, empty where nothing was found; `bound`: no choice costs less."""

    status: Status
    chosen: tuple[int, ...]
    cost: float
    bound: float


Progress = Callable[[tuple[int, ...], float], None]
"""Told now and then: the best choice so far, empty before there is one, and the bound."""


def untold(chosen: tuple[int, ...], bound: float) -> None:
    """Nobody asks how far it is."""


def never() -> bool:
    """Nobody stops it."""
    return False


@dataclass(frozen=True)
class Search:
    """How a program is looked through: for so many `seconds`, until a choice is dearer than the best by a share of `gap` at
    most, beginning with `start`, until it is `stopped`. `likely`: the variables among which the best may well be, all if
    empty; the others are looked at after them where halves may be chosen."""

    seconds: float
    gap: float = 0.0
    start: tuple[int, ...] = ()
    likely: tuple[int, ...] = ()
    stopped: Callable[[], bool] = never
    progress: Progress = untold

    @property
    def alone(self) -> "Search":
        """The same with nobody beside it: what another process can be told."""
        return replace(self, stopped=never, progress=untold)


class Relaxed(NamedTuple):
    """The same program where halves may be chosen: `cost` is a bound, `reduced`: by how much it would grow at least for
    choosing a variable that isn't chosen at all; `prices`: by variable, how much it would grow without it."""

    cost: float
    reduced: tuple[float, ...]
    prices: dict[int, float]


class Solver(Protocol):
    """Finds the cheapest choice. The same program and search have the same answer, unless time ran out or somebody stopped
    it."""

    def solve(self, program: Program, search: Search) -> Solved:
        """The cheapest choice. Raises CannotPropose."""
        ...

    def relaxed(self, program: Program, search: Search, without: Iterable[int] = ()) -> Relaxed | None:
        """The bound where halves may be chosen, with the prices of doing `without` some variables, one at a time; None where
        it didn't come to that."""
        ...

    def floor(self, program: Program, search: Search) -> float:
        """What no choice can cost less than, found sooner than the relaxation and nearly as high; minus infinity where it
        didn't come to that."""
        ...

    def relaxations(self, program: Program, search: Search, row: Row, mosts: Sequence[float]) -> list[Relaxed | None]:
        """The bounds where halves may be chosen, without prices: with one more row, at most each of some figures in turn. None
        where it didn't come to that."""
        ...
