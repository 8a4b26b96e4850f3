"""What solvers are asked: the best of drawn programs, what halves would cost, the same program with less in it."""

import math
import random
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.proposing.apart import Apart
from amberkey.core.proposing.exactly import Exactly
from amberkey.core.proposing.flooring import floor_of
from amberkey.core.proposing.highs import Highs
from amberkey.core.proposing.program import Program, Row, Search
from tests.core.test_laws_of_clashes import slowly

SOON = Search(20)
seeds = st.integers(0, 10**9)


def drawn_program(rnd):
    drawn = Program()
    groups = [[drawn.variable(rnd.randint(-40, 400)) for _ in range(rnd.randint(2, 4))] for _ in range(rnd.randint(2, 5))]
    for group in groups:
        drawn.exactly(1, group)
    everything = [v for group in groups for v in group]
    everything += [drawn.variable(rnd.randint(-40, 40)) for _ in range(rnd.randint(0, 2))]
    if rnd.random() < 0.3:
        drawn.exactly(1, rnd.sample(everything, 2))  # lies across the others
    if rnd.random() < 0.3:
        drawn.rows.append(Row(tuple(rnd.sample(everything, 3)), (1.0, 2.0, -1.0), 1, 1))
    for _ in range(rnd.randint(0, 8)):
        drawn.at_most(1, rnd.sample(everything, min(len(everything), rnd.randint(2, 4))))
    for _ in range(rnd.randint(0, 2)):
        drawn.at_least(1, rnd.sample(everything, 2))
    times = [float(rnd.randint(0, 9)) for _ in everything]
    drawn.at_most(rnd.randint(0, 30), everything, times)
    return drawn


@slowly
@given(seeds)
def test_the_solver_finds_what_trying_everything_finds(seed):
    drawn = drawn_program(random.Random(seed))
    found, wanted = Highs().solve(drawn, SOON), Exactly().solve(drawn, SOON)
    assert found.status == wanted.status
    if wanted.status == "optimal":
        assert (found.cost, drawn.allows(found.chosen)) == (pytest.approx(wanted.cost), True)
        assert found.bound == pytest.approx(wanted.cost, abs=0.5)
        half = Highs().relaxed(drawn, SOON)
        assert half.cost <= wanted.cost + 1e-6


@slowly
@given(seeds)
def test_a_program_without_some_variables_is_the_one_in_which_they_are_no(seed):
    rnd = random.Random(seed)
    drawn = drawn_program(rnd)
    dropped = rnd.sample(range(len(drawn.costs)), rnd.randint(0, len(drawn.costs) // 2))
    left, of = drawn.without(dropped)
    barred = Program(drawn.costs, [*drawn.rows, Row(tuple(dropped), (1.0,) * len(dropped), None, 0)], drawn.offset)
    found, wanted = Exactly().solve(left, SOON), Exactly().solve(barred, SOON)
    assert (found.status, found.cost) == (wanted.status, pytest.approx(wanted.cost))
    assert drawn.allows([of[v] for v in found.chosen]) or not found.chosen
    assert len(left.rows) <= len(drawn.rows)
    assert {*of, *dropped} == set(range(len(drawn.costs)))


def test_rows_that_can_t_fail_any_more_are_gone():
    program = Program()
    one, other, third = (program.variable(n) for n in range(3))
    program.at_most(1, [one, other])
    program.at_least(0, [one, third])
    program.at_most(3, [one, third], [2.0, 2.0])
    left, of = program.without([other])
    assert (of, left.rows) == ((one, third), [Row((0, 1), (2.0, 2.0), None, 3)])


@slowly
@given(seeds)
def test_what_is_likely_changes_nothing_but_the_way(seed):
    """Wherever it begins, the relaxation ends at the same cost, and each bound is that of the program with its row."""
    rnd = random.Random(seed)
    drawn = drawn_program(rnd)
    likely = tuple(rnd.sample(range(len(drawn.costs)), len(drawn.costs) // 2))
    whole, begun = Highs().relaxed(drawn, SOON), Highs().relaxed(drawn, replace(SOON, likely=likely))
    assert (whole is None) == (begun is None)
    if whole is not None:
        assert begun.cost == pytest.approx(whole.cost)
        assert all(begun.reduced[v] > -1e-4 for v in range(len(drawn.costs)) if v not in likely) or likely
    row = Row(tuple(range(len(drawn.costs))), tuple(float(rnd.randint(0, 9)) for _ in drawn.costs), None, math.inf)
    mosts = (30.0, 12.0, 4.0)
    bounds = Highs().bounds(drawn, replace(SOON, likely=likely), row, mosts)
    exact = Exactly().bounds(drawn, SOON, row, mosts)
    for most, bound, cost in zip(mosts, bounds, exact, strict=True):
        within = Program(drawn.costs, [*drawn.rows, row._replace(most=most)], drawn.offset)
        half = Highs().relaxed(within, SOON)
        assert bound <= cost + 1e-6
        if half is not None and math.isfinite(bound):
            assert bound == pytest.approx(half.cost)


def test_bounds_come_from_another_process_too():
    program = Program()
    one, other = program.variable(5), program.variable(3)
    program.exactly(1, [one, other])
    row = Row((one, other), (0.0, 4.0), None, math.inf)
    assert Apart().bounds(program, SOON, row, (8, 2, 0)) == pytest.approx([3, 4, 5])
    dies = Apart(("-c", "import os; os._exit(9)"))
    assert dies.bounds(program, SOON, row, (8, 2)) == [-math.inf, -math.inf]


@slowly
@given(seeds)
def test_a_floor_is_never_above_the_best(seed):
    rnd = random.Random(seed)
    drawn = drawn_program(rnd)
    drawn.offset = float(rnd.randint(-50, 50))
    wanted = Exactly().solve(drawn, SOON)
    # However dear a choice is known, the floor is under all of them.
    for known in (wanted.cost, wanted.cost + 200):
        floor = floor_of(drawn, known)
        assert floor <= wanted.cost + 1e-6
    if wanted.status == "none":
        assert floor_of(drawn, math.inf) == -math.inf


def test_a_floor_is_raised_to_the_best_where_nothing_is_half():
    """Two lines want the cheap key that one of them can have."""
    program = Program(offset=7)
    one, other, third, fourth = (program.variable(c) for c in (0, 10, 0, 30))
    program.exactly(1, [one, other])
    program.exactly(1, [third, fourth])
    program.at_most(1, [one, third])
    assert floor_of(program, 17, 0) == -math.inf
    assert floor_of(program, 17, 1) == 7
    assert floor_of(program, 17) == pytest.approx(17, abs=1)
