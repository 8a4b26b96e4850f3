"""The solver HiGHS: one thread, fixed seed. Loaded where it is first asked, so that nothing else needs it."""

import math
import time
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from amberkey.core.proposing.program import Program, Relaxed, Row, Search, Solved
from amberkey.core.proposing.question import CannotPropose

SCALE = 0.01
"""Points are in the hundred thousands; a solver is at its best with smaller figures."""
GAP = 0.004
"""The solver goes on until no other choice can be better by more than so many hundreds of points."""

_AT_ONCE = 10_000
"""So many variables are let in at once where halves may be chosen."""
_TINY = 1e-7


class Highs:
    """The port's implementation."""

    def solve(self, program: Program, search: Search) -> Solved:
        """The cheapest choice, or the best until time ran out or it was stopped. Raises CannotPropose without HiGHS."""
        highspy = _loaded()
        highs = _told(highspy, program, whole=True)
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
            return Solved("none", (), math.inf, bound)
        cost = program.cost_of(chosen)
        # Points are whole: what no other choice can be better than by one is the best.
        optimal = status == highspy.HighsModelStatus.kOptimal and cost - bound < 1
        return Solved("optimal" if optimal else "feasible", chosen, cost, min(cost, bound))

    def relaxed(self, program: Program, search: Search, without: Iterable[int] = ()) -> Relaxed | None:
        """The linear relaxation; the prices are found from where it ended, one after the other."""
        highspy = _loaded()
        relaxing = _Relaxing(highspy, program, search)
        cost = relaxing.run()
        if cost is None:
            return None
        highs = relaxing.highs
        reduced = tuple(d / SCALE for d in highs.getSolution().col_dual)
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

    def bounds(self, program: Program, search: Search, row: Row, mosts: Sequence[float]) -> list[float]:
        """Each from where the one before ended."""
        found = list(self.each_bound(program, search, row, mosts))
        return found + [-math.inf] * (len(mosts) - len(found))

    def each_bound(self, program: Program, search: Search, row: Row, mosts: Sequence[float]) -> Iterator[float]:
        """The same one by one, as far as time allows."""
        highspy = _loaded()
        within = Program(program.costs, [*program.rows, row], program.offset)
        relaxing = _Relaxing(highspy, within, search)
        for most in mosts:
            relaxing.highs.changeRowBounds(len(program.rows), -highspy.kHighsInf, most)
            cost = relaxing.run()
            if cost is None:
                return
            yield cost / SCALE + program.offset


class _Relaxing:
    """A program where halves may be chosen. The variables that are not likely are out at first, and let in as far as they would
    make it cheaper, until none does: many times as fast where the best is among the likely ones, or nearly."""

    def __init__(self, highspy: Any, program: Program, search: Search) -> None:
        self.highspy, self.until = highspy, time.monotonic() + max(0.1, search.seconds)
        likely = set(search.likely)
        out = [v for v in range(len(program.costs)) if v not in likely] if likely else []
        self.out = set(out)
        self.highs = _told(highspy, program, whole=False, out=out)

    def run(self) -> float | None:
        """The cost, as the solver counts it; None where time ran out or nothing can be chosen."""
        import numpy as np

        while True:
            self.highs.setOptionValue("time_limit", self.highs.getRunTime() + max(0.1, self.until - time.monotonic()))
            self.highs.run()
            status = self.highs.getModelStatus()
            if status == self.highspy.HighsModelStatus.kInfeasible and self.out:
                self._let_in(sorted(self.out))
                continue
            if status != self.highspy.HighsModelStatus.kOptimal:
                return None
            reduced = np.array(self.highs.getSolution().col_dual)
            cheaper = [v for v in np.flatnonzero(reduced < -_TINY).tolist() if v in self.out]
            if not cheaper:
                return float(self.highs.getInfo().objective_function_value)
            cheaper.sort(key=lambda v: (reduced[v], v))
            self._let_in(sorted(cheaper[:_AT_ONCE]))

    def _let_in(self, variables: list[int]) -> None:
        import numpy as np

        self.out.difference_update(variables)
        count = len(variables)
        self.highs.changeColsBounds(count, np.array(variables, dtype=np.int32), np.zeros(count), np.ones(count))


def _loaded() -> Any:
    try:
        import highspy
    except ImportError as error:
        raise CannotPropose(
            "The solver HiGHS isn't installed.", "Start Amber Key with ./amberkey, which installs it."
        ) from error
    return highspy


def _told(highspy: Any, program: Program, *, whole: bool, out: Sequence[int] = ()) -> Any:
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
