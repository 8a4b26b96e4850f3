"""The solver HiGHS: one thread, fixed seed. Loaded where it is first asked, so that nothing else needs it."""

import math
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from amberkey.core.proposing.program import Program, Relaxed, Row, Search, Solved
from amberkey.core.proposing.question import CannotPropose

SCALE = 0.01
"""Points are in the hundred thousands; a solver is at its best with smaller figures."""
GAP = 0.004
"""The solver goes on until no other choice can be better by more than so many hundreds of points."""

_AT_ONCE = 2_000
"""So many variables are let in at once where halves may be chosen."""
_TINY = 1e-7
_ROUGHLY = (1e-2, 1e-3, 1e-4)
"""How far prices on rows may be from the best, as a share, first and then."""


class Highs:
    """The port's implementation."""

    def solve(self, program: Program, search: Search) -> Solved:
        """The cheapest choice, or the best until time ran out or it was stopped. Raises CannotPropose without HiGHS."""
        until = time.monotonic() + search.seconds
        found, is_ended = self._solved(program, search)
        if is_ended and search.start and found.cost - found.bound > max(1.0, search.gap * abs(found.cost)):
            # What it began with may come back although it counted something better (seen with HiGHS 1.16).
            left = max(0.1, until - time.monotonic())
            again, _ = self._solved(program, replace(search, start=(), seconds=left))
            return again if again.cost <= found.cost else found
        return found

    def _solved(self, program: Program, search: Search) -> tuple[Solved, bool]:
        """What is found, and whether the solver ended by itself."""
        highspy = loaded()
        highs = as_told(highspy, program, whole=True)
        highs.setOptionValue("time_limit", max(0.1, search.seconds))
        highs.setOptionValue("mip_rel_gap", search.gap)
        highs.setOptionValue("mip_abs_gap", GAP)
        given = set(search.start)
        if given:
            solution = highspy.HighsSolution()
            solution.col_value = [1.0 if v in given else 0.0 for v in range(len(program.costs))]
            highs.setSolution(solution)

        best: list[tuple[int, ...]] = [tuple(sorted(given))]

        def better(event: Any) -> None:
            best[0] = tuple(v for v, value in enumerate(event.data_out.mip_solution) if value > 0.5)
            search.progress(best[0], event.data_out.mip_dual_bound / SCALE + program.offset)

        def look(event: Any) -> None:
            search.progress(best[0], event.data_out.mip_dual_bound / SCALE + program.offset)
            if search.stopped():
                event.data_in.user_interrupt = True

        highs.cbMipImprovingSolution += better
        highs.cbMipInterrupt += look
        highs.run()
        info = highs.getInfo()
        status = highs.getModelStatus()
        bound = info.mip_dual_bound / SCALE + program.offset if program.costs else program.offset
        values = highs.getSolution().col_value
        chosen = tuple(v for v, value in enumerate(values) if value > 0.5)
        if info.primal_solution_status != highspy.SolutionStatus.kSolutionStatusFeasible:
            chosen = best[0]
        if not program.allows(chosen):
            return Solved("none", (), math.inf, bound), False
        cost = program.cost_of(chosen)
        is_ended = status == highspy.HighsModelStatus.kOptimal
        # Points are whole: what no other choice can be better than by one is the best.
        is_best = is_ended and cost - bound < 1
        return Solved("optimal" if is_best else "feasible", chosen, cost, min(cost, bound)), is_ended

    def relaxed(self, program: Program, search: Search, without: Iterable[int] = ()) -> Relaxed | None:
        """The linear relaxation; the prices are found from where it ended, one after the other."""
        highspy = loaded()
        relaxing = _Relaxing(highspy, program, search)
        cost = relaxing.run()
        if cost is None:
            return None
        highs = relaxing.highs
        reduced = relaxing.reduced
        prices: dict[int, float] = {}
        for variable in without:
            if search.stopped():
                break
            highs.changeColBounds(variable, 0.0, 0.0)
            highs.run()
            if highs.getModelStatus() == highspy.HighsModelStatus.kOptimal:
                prices[variable] = max(0.0, (highs.getInfo().objective_function_value - cost) / SCALE)
            elif highs.getModelStatus() == highspy.HighsModelStatus.kTimeLimit:
                break
            highs.changeColBounds(variable, 0.0, 1.0)
        return Relaxed(cost / SCALE + program.offset, reduced, prices)

    def floor(self, program: Program, search: Search) -> float:
        """From prices on rows that are nearly those of the relaxation."""
        return max(self.each_floor(program, search), default=-math.inf)

    def each_floor(self, program: Program, search: Search) -> Iterator[float]:
        """The same, roughly first. Any prices give a floor: what rows are worth at them, and what can be saved beside them.
        They are found by PDLP (Applegate and others, Advances in Neural Information Processing Systems 34, 2021), which comes
        near the best in a fraction of the time where there are very many rows."""
        highspy = loaded()
        until = time.monotonic() + search.seconds
        for near in _ROUGHLY:
            left = until - time.monotonic()
            if left <= 0 or search.stopped():
                return
            highs = as_told(highspy, program, whole=False)
            for option, value in (("solver", "pdlp"), ("kkt_tolerance", near), ("pdlp_optimality_tolerance", near)):
                highs.setOptionValue(option, value)
            highs.setOptionValue("time_limit", left)
            highs.run()
            if highs.getModelStatus() == highspy.HighsModelStatus.kOptimal:
                yield floor_at(program, highs.getSolution().row_dual)

    def relaxations(self, program: Program, search: Search, row: Row, mosts: Sequence[float]) -> list[Relaxed | None]:
        """Each from where the one before ended."""
        found = list(self.each_relaxation(program, search, row, mosts))
        return found + [None] * (len(mosts) - len(found))

    def each_relaxation(self, program: Program, search: Search, row: Row, mosts: Sequence[float]) -> Iterator[Relaxed | None]:
        """The same one by one, as far as time allows."""
        highspy = loaded()
        within = Program(program.costs, [*program.rows, row], program.offset)
        relaxing = _Relaxing(highspy, within, search)
        for most in mosts:
            relaxing.highs.changeRowBounds(len(program.rows), -highspy.kHighsInf, most)
            cost = relaxing.run()
            if cost is None:
                return
            yield Relaxed(cost / SCALE + program.offset, relaxing.reduced, {})


class _Relaxing:
    """A program where halves may be chosen. The variables that are not likely are out at first, and let in as far as they would
    make it cheaper, until none does: many times as fast where the best is among the likely ones, or nearly."""

    def __init__(self, highspy: Any, program: Program, search: Search) -> None:
        import numpy as np

        self.highspy, self.until = highspy, time.monotonic() + max(0.1, search.seconds)
        self.out = np.full(len(program.costs), bool(search.likely))
        self.out[list(search.likely)] = False
        self.following = Following(program)
        self.highs = as_told(highspy, program, whole=False, out=np.flatnonzero(self.out).tolist())
        self.reduced: tuple[float, ...] = ()
        """By variable, in points, by how much the cost grows at least for choosing it."""

    def run(self) -> float | None:
        """The cost, as the solver counts it; None where time ran out or nothing can be chosen."""
        import numpy as np

        while True:
            self.highs.setOptionValue("time_limit", self.highs.getRunTime() + max(0.1, self.until - time.monotonic()))
            self.highs.run()
            status = self.highs.getModelStatus()
            if status == self.highspy.HighsModelStatus.kInfeasible and self.out.any():
                self._let_in(np.flatnonzero(self.out))
                continue
            if status != self.highspy.HighsModelStatus.kOptimal:
                return None
            solution = self.highs.getSolution()
            reduced, followers = self.following.passed_on(np.array(solution.col_dual), np.array(solution.row_dual), self.out)
            cheaper = np.flatnonzero(self.out & (reduced < -_TINY))
            if not len(cheaper):
                self.reduced = tuple((self.following.with_leader(reduced) / SCALE).tolist())
                return float(self.highs.getInfo().objective_function_value)
            nearest = cheaper[np.argsort(reduced[cheaper], kind="stable")][:_AT_ONCE]
            self._let_in(np.union1d(nearest, followers(nearest)))

    def _let_in(self, variables: Any) -> None:
        import numpy as np

        self.out[variables] = False
        count = len(variables)
        self.highs.changeColsBounds(count, variables.astype(np.int32), np.zeros(count), np.ones(count))


class Following:
    """The rows that let a variable be yes only where one of some others is. While all of such a row are out, any price on it is
    as good as any other: what its follower would save is passed on to those that it follows, so that nothing is let in that
    can't be chosen without another one."""

    def __init__(self, program: Program) -> None:
        import numpy as np

        rows = [
            (n, row.variables)
            for n, row in enumerate(program.rows)
            if row.most == 0 and row.least is None and row.times[0] == 1 and len(row.times) > 1 and max(row.times[1:]) == -1
            if min(row.times[1:]) == -1
        ]
        self.rows = np.array([n for n, _ in rows], dtype=np.int64)
        self.follower = np.array([own[0] for _, own in rows], dtype=np.int64)
        self.leaders = np.array([v for _, own in rows for v in own[1:]], dtype=np.int64)
        self.of = np.repeat(np.arange(len(rows)), [len(own) - 1 for _, own in rows])
        self.first = np.searchsorted(self.of, np.arange(len(rows)))

    def passed_on(self, reduced: Any, prices: Any, out: Any) -> tuple[Any, Callable[[Any], Any]]:
        """What variables would add with what their followers would save in it; and what gives the followers of some. `prices`:
        those of all rows, as the solver counts them: nothing or less."""
        import numpy as np

        held = np.bincount(self.of, weights=~out[self.leaders], minlength=len(self.rows)) > 0
        free = np.flatnonzero(out[self.follower] & ~held)
        free = free[np.unique(self.follower[free], return_index=True)[1]]
        before = -prices[self.rows[free]]
        more = np.zeros(len(self.rows))
        more[free] = np.maximum(0.0, before - reduced[self.follower[free]]) - before
        found = reduced.copy()
        found[self.follower[free]] += more[free]
        np.subtract.at(found, self.leaders, more[self.of])
        saves = np.zeros(len(self.rows), dtype=bool)
        saves[free] = more[free] + before > 0

        def followers(leaders: Any) -> Any:
            chosen = np.zeros(len(reduced), dtype=bool)
            chosen[leaders] = True
            return self.follower[saves & (np.bincount(self.of, weights=chosen[self.leaders], minlength=len(self.rows)) > 0)]

        return found, followers

    def with_leader(self, reduced: Any) -> Any:
        """What each variable would add at least with one of those without which it isn't chosen."""
        import numpy as np

        found = reduced.copy()
        if len(self.rows):
            cheapest = np.minimum.reduceat(np.maximum(0.0, reduced[self.leaders]), self.first)
            np.maximum.at(found, self.follower, reduced[self.follower] + cheapest)
        return found


def floor_at(program: Program, prices: Any) -> float:
    """What no choice can cost less than, by any prices of rows, as the solver counts them. A price for a bound that a row
    hasn't is none."""
    import numpy as np

    if not program.costs:
        return program.offset
    least = np.array([-math.inf if r.least is None else r.least for r in program.rows])
    most = np.array([math.inf if r.most is None else r.most for r in program.rows])
    paid = np.array(prices)
    paid[((paid > 0) & ~np.isfinite(least)) | ((paid < 0) & ~np.isfinite(most))] = 0.0
    sizes = [len(r.variables) for r in program.rows]
    variables = np.array([v for r in program.rows for v in r.variables], dtype=np.int64)
    times = np.array([t for r in program.rows for t in r.times])
    left = np.array(program.costs) * SCALE
    left -= np.bincount(variables, weights=times * np.repeat(paid, sizes), minlength=len(left))
    sold = paid != 0
    worth = paid[sold] * np.where(paid > 0, least, most)[sold]
    return float(worth.sum() + np.minimum(0.0, left).sum()) / SCALE + program.offset


def loaded() -> Any:
    try:
        import highspy
    except ImportError as error:
        raise CannotPropose(
            "The solver HiGHS isn't installed.", "Start Amber Key with ./amberkey, which installs it."
        ) from error
    return highspy


def as_told(highspy: Any, program: Program, *, whole: bool, out: Sequence[int] = ()) -> Any:
    """A solver that knows a program. `whole`: halves can't be chosen; `out`: variables that can't be chosen for now."""
    import numpy as np

    highs = highspy.Highs()
    highs.setOptionValue("output_flag", False)
    highs.setOptionValue("threads", 1)
    highs.setOptionValue("random_seed", 7)
    model = highspy.HighsLp()
    columns = len(program.costs)
    model.num_col_, model.num_row_ = columns, len(program.rows)
    model.col_cost_ = np.array(program.costs) * SCALE
    lower, upper = np.zeros(columns), np.ones(columns)
    upper[list(out)] = 0.0
    model.col_lower_, model.col_upper_ = lower, upper
    infinite = highspy.kHighsInf
    model.row_lower_ = np.array([-infinite if r.least is None else r.least for r in program.rows], dtype=float)
    model.row_upper_ = np.array([infinite if r.most is None else r.most for r in program.rows], dtype=float)
    sizes = [len(r.variables) for r in program.rows]
    matrix = model.a_matrix_
    matrix.format_ = highspy.MatrixFormat.kRowwise
    matrix.start_ = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32)
    matrix.index_ = np.array([v for r in program.rows for v in r.variables], dtype=np.int32)
    matrix.value_ = np.array([t for r in program.rows for t in r.times], dtype=float)
    if whole:
        model.integrality_ = [highspy.HighsVarType.kInteger] * columns
    highs.passModel(model)
    return highs
