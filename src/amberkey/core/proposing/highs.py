"""The solver HiGHS: one thread, fixed seed. Loaded where it is first asked, so that nothing else needs it."""

import math
from collections.abc import Iterable
from typing import Any

from amberkey.core.proposing.program import Program, Relaxed, Search, Solved
from amberkey.core.proposing.question import CannotPropose

SCALE = 0.01
"""Points are in the hundred thousands; a solver is at its best with smaller figures."""
GAP = 0.004
"""The solver goes on until no other choice can be better by more than so many hundreds of points."""


class Highs:
    """The port's implementation."""

    def solve(self, program: Program, search: Search) -> Solved:
        """The cheapest choice, or the best until time ran out or it was stopped. Raises CannotPropose without HiGHS."""
        highspy = _loaded()
        highs = _told(highspy, program, whole=True, fixed=dict(search.fixed))
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
        highs = _told(highspy, program, whole=False, fixed={})
        highs.setOptionValue("time_limit", max(0.1, search.seconds))
        highs.run()
        if highs.getModelStatus() != highspy.HighsModelStatus.kOptimal:
            return None
        solution = highs.getSolution()
        cost = highs.getInfo().objective_function_value
        reduced = tuple(d / SCALE for d in solution.col_dual)
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


def _loaded() -> Any:
    try:
        import highspy
    except ImportError as error:
        raise CannotPropose(
            "The solver HiGHS isn't installed.", "Start Amber Key with ./amberkey, which installs it."
        ) from error
    return highspy


def _told(highspy: Any, program: Program, *, whole: bool, fixed: dict[int, bool]) -> Any:
    """A solver that knows a program. `whole`: halves can't be chosen."""
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
    for variable, yes in fixed.items():
        lower[variable] = upper[variable] = float(yes)
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
