"""A first choice, line by line: what a program allows, or nothing."""

from hypothesis import given

from amberkey.core.proposing.greedy import first_choice
from amberkey.core.proposing.highs import Highs
from amberkey.core.proposing.program import Program, never
from amberkey.core.proposing.question import CannotPropose
from tests.core.estates import drawings, put_up
from tests.core.test_proposing import SOON, proposer, some


@some
@given(drawings)
def test_on_drawn_estates_it_may_be_chosen_and_is_never_better_than_the_best(drawn):
    estate = put_up(*drawn)
    try:
        joined = proposer(estate).searcher.joined(12)
    except CannotPropose:
        return
    found = first_choice(joined.program, joined.lines, never)
    best = Highs().solve(joined.program, SOON)
    assert not best.chosen or found
    assert joined.program.allows(found) or not best.chosen
    assert joined.program.cost_of(found) >= best.cost - 1e-6 or not best.chosen


def test_what_nothing_was_left_for_comes_first_the_next_time():
    made = Program()
    first, second, only = made.variable(0), made.variable(5), made.variable(1)
    made.exactly(1, [first, second])
    made.exactly(1, [only])
    made.at_most(1, [first, only])
    assert first_choice(made, [[first, second], [only]], never) == (second, only)


def test_what_goes_with_a_line_is_chosen_where_it_is_cheaper_and_others_make_room():
    made = Program()
    line, keeps, follows = made.variable(0), made.variable(10), made.variable(2)
    stays, moves = made.variable(0), made.variable(3)
    made.exactly(1, [line])
    made.exactly(1, [keeps, follows])
    made.at_most(0, [follows, line], [1.0, -1.0])
    made.exactly(1, [stays, moves])
    made.at_most(1, [follows, stays])
    assert first_choice(made, [[line]], never) == (line, follows, moves)
    made.costs[moves] = 9.0  # now it is dearer than what it saves
    assert first_choice(made, [[line]], never) == (line, keeps, stays)


def test_a_price_is_paid_where_there_is_one_and_taken_back_where_it_is_not_needed():
    made = Program()
    one, other, both = made.variable(1), made.variable(1), made.variable(4)
    made.exactly(1, [one])
    made.exactly(1, [other])
    made.at_most(1, [one, other, both], [1.0, 1.0, -1.0])
    assert first_choice(made, [[one], [other]], never) == (one, other, both)


def test_where_nothing_may_be_chosen_or_somebody_stops_it_there_is_none():
    made = Program()
    one, other = made.variable(0), made.variable(0)
    made.exactly(1, [one])
    made.exactly(1, [other])
    made.at_most(1, [one, other])
    assert first_choice(made, [[one], [other]], never) == ()
    assert first_choice(Program(), [], never) == ()
    made.rows.pop()
    assert first_choice(made, [[one], [other]], never) == (one, other)
    assert first_choice(made, [[one], [other]], lambda: True) == ()


def test_the_cheapest_of_a_line_is_chosen_with_all_that_goes_with_it():
    made = Program()
    dear, cheap = made.variable(5), made.variable(3)
    keeps, follows = made.variable(9), made.variable(1)
    made.exactly(1, [dear, cheap])
    assert first_choice(made, [[dear, cheap]], never) == (cheap,)
    # What follows the dear one saves more than that one costs.
    made.exactly(1, [keeps, follows])
    made.at_most(0, [follows, dear], [1.0, -1.0])
    assert first_choice(made, [[dear, cheap]], never) == (dear, follows)
