"""Dropping old revisions: which go by age and budget, and what never goes."""

import datetime
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.thinning import Kept, Rule, thin

NOW = datetime.datetime(2026, 11, 28, 12, 0, tzinfo=datetime.UTC)


def at(days, number, document="a", stays="", body="", size=10, hours=0):
    when = NOW - datetime.timedelta(days=days, hours=hours)
    return Kept(document, number, when, body or f"{document}{number}", size, stays)


def numbers(plan):
    return [r.number for r in plan.drop]


def test_all_of_the_last_days_stay_then_the_last_of_a_day_then_of_a_week():
    week = [at(0, 9), at(3, 8), at(3, 7, hours=1)]
    days = [at(20, 6), at(20, 5, hours=2), at(21, 4)]
    # 25 and 26 May 2026 are a Monday and a Tuesday; 18 May is in the week before.
    old = [at((NOW.date() - datetime.date(2026, 5, d)).days, n) for d, n in ((26, 3), (25, 2), (18, 1))]
    assert numbers(thin([*week, *days, *old], Rule(), NOW)) == [2, 5]
    assert numbers(thin([*week, *days, *old], Rule(weekly=False), NOW)) == [1, 2, 3, 5]
    assert numbers(thin([*week, *days, *old], Rule(all_days=0, daily_days=0), NOW)) == [2, 4, 5, 7, 8]


@pytest.mark.parametrize("why", ["the newest", "the released one", "a named one", "what a machine has"])
def test_what_somebody_relies_on_never_goes(why):
    revisions = [at(400, 1, stays=why), at(400, 2, hours=-1), at(400, 3, hours=-2)]
    assert numbers(thin(revisions, Rule(), NOW)) == [2]
    assert numbers(thin(revisions, Rule(weekly=False, budget=0), NOW)) == [2, 3]


def test_a_budget_drops_the_oldest_first_and_says_where_it_is_too_small():
    revisions = [at(d, 9 - d, size=100) for d in range(5)] + [at(6, 1, stays="a named one", size=100)]
    plan = thin(revisions, Rule(budget=350), NOW)
    assert numbers(plan) == [5, 6, 7]
    assert (plan.freed, plan.left, plan.must, plan.over) == (300, 300, 100, 0)
    assert thin(revisions, Rule(budget=60), NOW).over == 40
    assert thin(revisions, Rule(), NOW).over == 0


def test_bytes_that_several_share_are_freed_when_the_last_of_them_goes():
    revisions = [at(3, 1, body="x", size=100), at(2, 2, body="x", size=100), at(1, 3, size=50)]
    assert thin(revisions, Rule(), NOW).left == 150
    plan = thin(revisions, Rule(budget=149), NOW)
    assert (numbers(plan), plan.freed) == ([1, 2], 100)


REVISIONS = st.lists(
    st.tuples(
        *(st.sampled_from("ab"), st.integers(0, 800), st.integers(0, 23), st.integers(0, 4), st.booleans()),
    ),
    max_size=40,
).map(
    lambda rows: [
        at(days, n, document, "kept" if stays else "", f"b{body}", 10 * (body + 1), hours)
        for n, (document, days, hours, body, stays) in enumerate(rows)
    ]
)
RULES = st.builds(Rule, st.integers(0, 30), st.integers(0, 200), st.booleans(), st.one_of(st.none(), st.integers(0, 120)))


@given(REVISIONS, RULES)
def test_thinning_again_drops_nothing_and_never_what_has_to_stay(revisions, rule):
    plan = thin(revisions, rule, NOW)
    gone = {r.id for r in plan.drop}
    assert not any(r.stays for r in plan.drop)
    left = [r for r in revisions if r.id not in gone]
    assert plan.left == sum({r.body: r.size for r in left}.values())
    assert plan.freed + plan.left == sum({r.body: r.size for r in revisions}.values())
    assert thin(left, rule, NOW).drop == ()
    if rule.budget is not None and not plan.over:
        assert plan.left <= max(rule.budget, plan.must)


@given(REVISIONS, RULES, st.randoms())
def test_the_order_in_which_revisions_are_told_means_nothing(revisions, rule, random):
    other = list(revisions)
    random.shuffle(other)
    assert thin(other, rule, NOW) == thin(revisions, rule, NOW)


@given(REVISIONS, RULES)
def test_a_kinder_rule_drops_no_more(revisions, rule):
    plain = replace(rule, budget=None)
    kinder = replace(plain, all_days=plain.all_days + 10)
    assert len(thin(revisions, kinder, NOW).drop) <= len(thin(revisions, plain, NOW).drop)
