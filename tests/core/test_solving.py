"""What solvers are asked: the best of drawn programs, what halves would cost, the same program with less in it."""

import math
import random
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.proposing.apart import Apart
from amberkey.core.proposing.exactly import Exactly
from amberkey.core.proposing.highs import Following, Highs, as_told, floor_at, loaded
from amberkey.core.proposing.nearest import NEAR, nearest_first
from amberkey.core.proposing.program import Program, Relaxed, Row, Search, Solved
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
    for _ in range(rnd.randint(0, 3)):  # only with one of some others
        follower = drawn.variable(rnd.randint(-200, 20))
        led = rnd.sample(everything, rnd.randint(1, 2))
        drawn.at_most(0, [follower, *led], [1.0, *[-1.0] * len(led)])
    for _ in range(rnd.randint(0, 8)):
        drawn.at_most(1, rnd.sample(everything, min(len(everything), rnd.randint(2, 4))))
    for _ in range(rnd.randint(0, 2)):
        drawn.at_least(1, rnd.sample(everything, 2))
    times = [float(rnd.randint(0, 9)) for _ in everything]
    drawn.at_most(rnd.randint(0, 30), everything, times)
    return drawn


def drawn_half_likely(seed):
    """A drawn program, half of whose variables are likely, and what it was drawn with."""
    rnd = random.Random(seed)
    drawn = drawn_program(rnd)
    return rnd, drawn, tuple(rnd.sample(range(len(drawn.costs)), len(drawn.costs) // 2))


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
        assert nearest_first(Highs(), drawn, half, SOON).cost == pytest.approx(wanted.cost)


@slowly
@given(seeds)
def test_choosing_a_variable_costs_as_much_more_as_the_relaxation_says(seed):
    _, drawn, likely = drawn_half_likely(seed)
    half = Highs().relaxed(drawn, replace(SOON, likely=likely))
    for variable in range(len(drawn.costs)) if half is not None else ():
        chosen = Program(drawn.costs, [*drawn.rows, Row((variable,), (1.0,), 1, None)], drawn.offset)
        assert Exactly().solve(chosen, SOON).cost >= half.cost + half.reduced[variable] - 1e-3


@slowly
@given(seeds, st.integers(1, 40), st.booleans())
def test_the_nearest_first_end_at_the_best_or_say_how_far_it_can_be(seed, many, begun):
    """However few are looked at as a whole, and wherever it begins."""
    rnd = random.Random(seed)
    drawn = drawn_program(rnd)
    drawn.offset = float(rnd.randint(0, 10**6))  # what is near grows with it
    wanted, half = Exactly().solve(drawn, SOON), Highs().relaxed(drawn, SOON)
    if half is None:
        assert wanted.status == "none"
        return
    start = _any_choice(drawn, rnd) if begun else ()
    told = []
    search = replace(SOON, start=start, progress=lambda chosen, bound: told.append((chosen, bound)))
    found = nearest_first(Highs(), drawn, half, search, many)
    assert found.bound <= wanted.cost + 1e-3
    assert all(bound <= wanted.cost + 1e-3 for _, bound in told)
    assert all(not chosen or drawn.allows(chosen) for chosen, _ in told)
    if found.chosen:
        assert (drawn.allows(found.chosen), drawn.cost_of(found.chosen)) == (True, pytest.approx(found.cost))
        assert not start or found.cost <= drawn.cost_of(start)
    if found.status == "optimal" or many >= len(drawn.costs):
        assert (found.status, found.cost) == (wanted.status, pytest.approx(wanted.cost))


class Telling(Exactly):
    """Tells what it found before it gives it back, with a bound that is too high; and counts how often it is asked."""

    asked = 0

    def solve(self, program, search):
        self.asked += 1
        found = super().solve(program, search)
        search.progress(found.chosen, 1e9)
        return found


def three_apart():
    """One of three keys that cost 1,000,000, 1,000,300 and 1,000,500, the first of them in halves only."""
    program = Program(offset=1_000_000)
    halves, dear, dearer = (program.variable(c) for c in (0, 300, 500))
    program.exactly(1, [halves, dear, dearer])
    program.at_most(1, [halves], [2.0])
    return program, Relaxed(1_000_150.0, (0.0, 0.0, 350.0), {})


def test_what_is_near_is_looked_at_first_and_what_is_told_holds_for_all():
    program, half = three_apart()
    told, solver = [], Telling()
    search = replace(SOON, start=(2,), progress=lambda chosen, bound: told.append((chosen, bound)))
    found = nearest_first(solver, program, half, search)
    assert (found.status, found.chosen, found.cost, found.bound) == ("optimal", (1,), 1_000_300, 1_000_300)
    near = 1_000_150 * (1 + NEAR)
    assert (solver.asked, told) == (1, [((1,), near)])


def test_nothing_is_looked_for_where_the_best_is_known_or_no_time_is_left():
    program, half = three_apart()
    solver = Telling()
    known = nearest_first(solver, program, half._replace(cost=1_000_299.5), replace(SOON, start=(1,)))
    assert (known.status, known.chosen, solver.asked) == ("optimal", (1,), 0)
    late = nearest_first(solver, program, half, replace(SOON, start=(1,), seconds=0))
    assert (late.status, late.chosen, late.bound, solver.asked) == ("feasible", (1,), half.cost, 0)
    assert nearest_first(solver, program, half, replace(SOON, stopped=lambda: True)).status == "none"
    # A point is the least that anything can differ by.
    assert nearest_first(solver, program, half._replace(cost=1_000_299), replace(SOON, start=(1,))).status == "optimal"
    assert solver.asked == 1


def test_what_a_follower_would_save_is_passed_on_to_those_that_it_follows():
    program = Program()
    leader, other, follower, third = (program.variable(0) for _ in range(4))
    program.at_most(0, [follower, leader, other], [1.0, -1.0, -1.0])
    program.at_most(1, [follower, third], [1.0, -1.0])  # none of these four lets anything follow
    program.at_most(0, [follower, third], [1.0, -2.0])
    program.at_most(0, [third, leader], [2.0, -1.0])
    program.exactly(0, [third])
    following = Following(program)
    assert following.rows.tolist() == [0]
    none, out = np.zeros(5), np.array([True] * 4)
    passed, followers = following.passed_on(np.array([5.0, 1.0, -3.0, -9.0]), none, out)
    assert passed.tolist() == [2, -2, 0, -9]
    assert (followers(np.array([1])).tolist(), followers(np.array([3])).tolist()) == ([follower], [])
    # What a row is already paid is taken back as far as nothing is saved by it.
    passed, followers = following.passed_on(np.array([5.0, 1.0, 1.0, 0.0]), np.array([-3.0, 0, 0, 0, 0]), out)
    assert (passed.tolist(), followers(np.array([0])).tolist()) == ([6, 2, 0, 0], [follower])
    passed, followers = following.passed_on(np.array([5.0, 1.0, 4.0, 0.0]), np.array([-3.0, 0, 0, 0, 0]), out)
    assert (passed.tolist(), followers(np.array([0])).tolist()) == ([8, 4, 1, 0], [])
    # Where one of them may be chosen, the solver's price stands.
    passed, followers = following.passed_on(np.array([5.0, 1.0, -3.0, 0.0]), none, np.array([True, False, True, True]))
    assert (passed.tolist(), followers(np.array([0])).tolist()) == ([5, 1, -3, 0], [])
    assert following.with_leader(np.array([5.0, 1.0, 2.0, -1.0])).tolist() == [5, 1, 3, -1]


def _any_choice(program, rnd):
    """Whatever is allowed, cheap or not."""
    other = Program([float(rnd.randint(-50, 50)) for _ in program.costs], program.rows)
    return Exactly().solve(other, SOON).chosen


def test_a_solver_that_gives_back_what_it_began_with_is_asked_again_without(monkeypatch):
    """It may count a better choice and still hand back its beginning."""
    program = Program()
    dear, cheap = program.variable(9), program.variable(2)
    program.exactly(1, [dear, cheap])
    real, began = Highs._solved, []

    def forgetful(self, program, search):
        began.append(search.start)
        if search.start:
            return Solved("feasible", search.start, program.cost_of(search.start), 2.0), True
        return real(self, program, search)

    monkeypatch.setattr(Highs, "_solved", forgetful)
    found = Highs().solve(program, replace(SOON, start=(dear,)))
    assert (found.status, found.chosen, began) == ("optimal", (cheap,), [(dear,), ()])
    # What is as good as was asked for is taken.
    assert Highs().solve(program, replace(SOON, start=(dear,), gap=0.8)).chosen == (dear,)


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
    rnd, drawn, likely = drawn_half_likely(seed)
    whole, begun = Highs().relaxed(drawn, SOON), Highs().relaxed(drawn, replace(SOON, likely=likely))
    assert (whole is None) == (begun is None)
    if whole is not None:
        assert begun.cost == pytest.approx(whole.cost)
    row = Row(tuple(range(len(drawn.costs))), tuple(float(rnd.randint(0, 9)) for _ in drawn.costs), None, math.inf)
    mosts = (30.0, 12.0, 4.0)
    found = Highs().relaxations(drawn, replace(SOON, likely=likely), row, mosts)
    for most, one in zip(mosts, found, strict=True):
        within = Program(drawn.costs, [*drawn.rows, row._replace(most=most)], drawn.offset)
        half = Highs().relaxed(within, SOON)
        if one is not None:
            assert one.cost == pytest.approx(half.cost)
            chosen = rnd.randrange(len(drawn.costs))
            with_it = Program(within.costs, [*within.rows, Row((chosen,), (1.0,), 1, None)], drawn.offset)
            assert Exactly().solve(with_it, SOON).cost >= one.cost + one.reduced[chosen] - 1e-3


def test_relaxations_come_from_another_process_too():
    program = Program()
    one, other = program.variable(5), program.variable(3)
    program.exactly(1, [one, other])
    row = Row((one, other), (0.0, 4.0), None, math.inf)
    found = Apart().relaxations(program, SOON, row, (8, 2, 0))
    assert [one.cost for one in found] == pytest.approx([3, 4, 5])
    assert found[0].reduced == pytest.approx((2, 0))
    dies = Apart(("-c", "import os; os._exit(9)"))
    assert dies.relaxations(program, SOON, row, (8, 2)) == [None, None]


@slowly
@given(seeds)
def test_a_floor_is_never_above_the_best(seed):
    rnd = random.Random(seed)
    drawn = drawn_program(rnd)
    drawn.offset = float(rnd.randint(-50, 50))
    wanted, half = Exactly().solve(drawn, SOON), Highs().relaxed(drawn, SOON)
    for floor in Highs().each_floor(drawn, SOON):
        assert floor <= (half.cost if half is not None else wanted.cost) + 1e-3
        if half is not None:
            assert floor >= half.cost - 0.05 * (abs(half.cost) + sum(map(abs, drawn.costs)))
    if half is not None:
        highs = as_told(loaded(), drawn, whole=False)
        highs.run()
        assert floor_at(drawn, highs.getSolution().row_dual) == pytest.approx(half.cost, abs=1e-3)
    # Whatever prices rows have, it is a floor, if a low one.
    prices = [rnd.uniform(-3, 3) for _ in drawn.rows]
    assert floor_at(drawn, prices) <= wanted.cost + 1e-6


def test_a_floor_comes_from_another_process_too_and_an_empty_program_costs_what_it_costs():
    program = Program(offset=7)
    assert floor_at(program, []) == 7
    one, other = program.variable(5), program.variable(3)
    program.exactly(1, [one, other])
    assert Apart().floor(program, SOON) == pytest.approx(10, abs=0.01)
    assert Exactly().floor(program, SOON) == 10
    assert Apart(("-c", "import os; os._exit(9)")).floor(program, SOON) == -math.inf
