"""What lists that come every night may do without asking."""

import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.compare.operations import apply, operation
from amberkey.core.exchange.lists.nightly import RUNS, Memory, why_asked, with_missing
from tests.core.organisations import organisation, read

TODAY = datetime.date(2026, 11, 29)
IDS = st.frozensets(st.sampled_from("abcdef"))


def told(memory: Memory, lists) -> tuple[list[set[str]], Memory]:
    """What each of some lists retires, and the memory after all of them."""
    found = []
    for listed in lists:
        found.append(set(memory.to_retire()) - set(listed))
        memory = memory.after(listed)
    return found, memory


def test_what_is_missing_three_times_in_a_row_goes_and_comes_back_when_it_is_listed_again():
    retires, memory = told(Memory(), ["ab", "a", "a", "a", "a"])
    assert retires == [set(), set(), set(), {"b"}, set()]
    assert memory.retired == {"b"}
    assert memory.after("ab").retired == set()


def test_a_list_in_between_that_has_it_begins_the_count_anew():
    assert told(Memory(), ["ab", "a", "a", "ab", "a", "a", "a"])[0][3:] == [set(), set(), set(), {"b"}]


@given(st.lists(IDS, max_size=12))
def test_memory_says_what_the_lists_said(lists):
    memory, retired = Memory(), []
    for n, listed in enumerate(lists):
        going = memory.to_retire() - listed
        # Held against the plain rule: once listed, and in none of the last three, and not gone by that already.
        last = lists[max(0, n - RUNS + 1) : n + 1]
        first_missed = n - RUNS
        expected = {i for i in (lists[first_missed] if first_missed >= 0 else ()) if all(i not in other for other in last)}
        assert going == expected
        retired.append(going)
        memory = memory.after(listed)
        assert memory.retired.isdisjoint(listed)
        assert Memory.from_json(memory.to_json()) == memory


@pytest.mark.parametrize(
    "rows, changed, faults, known, there, why",
    [
        (100, 10, 0, 100, 100, []),
        (100, 11, 0, 100, 100, ["It would change 11, and 10% of its 100 rows is the most without asking."]),
        (9, 1, 0, 9, 9, ["It would change 1, and 10% of its 9 rows is the most without asking."]),
        (100, 0, 1, 99, 100, ["1 row breaks a rule."]),
        (100, 0, 2, 98, 100, ["2 rows break a rule."]),
        (0, 0, 0, 0, 100, ["It has no rows."]),
        (5, 0, 0, 0, 100, ["Nothing in it is here yet: it may be the list of somebody else."]),
        (5, 0, 0, 0, 0, []),
    ],
)
def test_what_waits_for_a_yes(rows, changed, faults, known, there, why):
    assert why_asked(rows, changed, faults, known, there) == why


def test_missing_ones_retire_and_listed_ones_come_back_beside_what_the_list_changes():
    value = organisation()
    value["people"][0]["retired"] = "2026-11-01"
    before = read(value)
    ada = before.to_json()["people"][0]
    renamed = {**ada, "name": "Adele"}
    operations = [operation("people", "ada", ada, renamed)]
    done = with_missing("people", before, operations, retire=["desk", "nobody"], back=["ada"], today=TODAY)
    after = read(apply(before.to_json(), done))
    people = after.people_by_id
    assert (people["ada"].name, people["ada"].retired, people["desk"].retired) == ("Adele", None, TODAY)
    # What is so already is left alone.
    assert with_missing("people", after, [], retire=["desk"], back=["ada"], today=TODAY) == []
    machines = with_missing("machines", before, [], retire=["one"], back=["two"], today=TODAY)
    assert [(o.key, o.after["retired"]) for o in machines] == [("one", "2026-11-29")]
