"""What needs somebody today: in its order, and put aside."""

import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.today.matters import KINDS, SOON, Matter, in_order, next_monday, put_aside

TODAY = datetime.date(2026, 11, 26)  # a Thursday
DAYS = st.integers(-20, 40).map(lambda n: TODAY + datetime.timedelta(days=n))
MATTERS = st.builds(
    Matter,
    st.text("abcdef", min_size=1, max_size=4),
    st.sampled_from(KINDS),
    st.just("It needs somebody."),
    st.just("/clashes"),
    st.integers(0, 50),
    st.none() | DAYS,
)


def matter(name, people=0, day=None):
    return Matter(name, "drift", name, "/", people, TODAY + datetime.timedelta(days=day) if day is not None else None)


def test_what_gets_worse_soon_stands_first_then_what_touches_most():
    many, few, soon, later, past = (
        *(
            matter("many", 90),
            matter("few", 3),
            matter("soon", 1, day=7),
            matter("later", 40, day=8),
            matter("past", 0, day=-2),
        ),
    )
    assert [m.id for m in in_order([few, later, many, soon, past], TODAY)] == ["past", "soon", "many", "later", "few"]


@given(st.lists(MATTERS, max_size=9, unique_by=lambda m: m.id), st.randoms())
def test_the_order_is_whatever_came_first_the_same(matters, random):
    mixed = list(matters)
    random.shuffle(mixed)
    found = in_order(matters, TODAY)
    assert in_order(mixed, TODAY) == found
    assert sorted(m.id for m in found) == sorted(m.id for m in matters)
    urgent = [m.worse_on is not None and m.worse_on <= TODAY + SOON for m in found]
    assert urgent == sorted(urgent, reverse=True)
    rest = [m.people for m, u in zip(found, urgent, strict=True) if not u]
    assert rest == sorted(rest, reverse=True)


@pytest.mark.parametrize("day, monday", [(26, 30), (29, 30), (30, 37), (23, 30)])
def test_until_monday_is_the_next_one(day, monday):
    first = datetime.date(2026, 11, 1)
    assert next_monday(first.replace(day=day)) == first + datetime.timedelta(days=monday - 1)


def test_what_is_put_aside_is_back_on_its_day_and_otherwise_never():
    both = [matter("a"), matter("b")]
    monday = next_monday(TODAY)
    aside = {"a": monday, "b": None, "gone": None}
    assert put_aside(both, aside, TODAY) == {"a", "b"}
    assert put_aside(both, aside, monday - datetime.timedelta(days=1)) == {"a", "b"}
    assert put_aside(both, aside, monday) == {"b"}
