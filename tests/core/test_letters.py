"""Letters of menus: never twice, and as many first letters as there can be, proven by trying everything."""

import itertools

from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.profiles.letters import letters_for, rank

NAMES = st.lists(st.sampled_from(["Aft", "Abeam", "Bow", "Bay", "Cab", "A cab", "Éab", "Ba", "Zzz", "C-bow"]), max_size=5)


def ranks(names, letters):
    """How many names have a letter of each rank, the best rank first."""
    found = [rank(n, letter) for n, letter in zip(names, letters, strict=True) if letter is not None]
    return [found.count(n) for n in range(4)]


@given(NAMES, st.sampled_from(["ABCDE", "ABCXY", "CBAXYZ"]), st.sampled_from(["", "A", "BX"]))
def test_no_letter_twice_and_none_better_by_trying_all(names, alphabet, taken):
    found = letters_for(names, alphabet, taken)
    free = [c for c in alphabet if c not in taken]
    given_out = [c for c in found if c is not None]
    assert len(given_out) == len(set(given_out)) == min(len(names), len(free))
    assert set(given_out) <= set(free)
    served = names[: len(free)]
    best = max((ranks(served, p) for p in itertools.permutations(free, len(served))), default=[0, 0, 0, 0])
    assert ranks(served, found[: len(served)]) == best


def test_a_first_letter_is_kept_for_the_one_that_has_no_other():
    assert letters_for(["Stamp", "S"], "STAMP") == ("T", "S")
    assert letters_for(["Stamp", "Split the row", "Sail"], "ABCDEFGHIJKLMNOPQRSTUVWXYZ") == ("S", "T", "A")


def test_letters_run_out_for_the_last_ones():
    assert letters_for(["Aft", "Bow", "Cab"], "AB") == ("A", "B", None)
    assert letters_for([], "AB") == ()
    assert letters_for(["Aft"], "A", "A") == (None,)


def test_marks_on_letters_are_left_out():
    assert letters_for(["Éclair", "Übersicht"], "EU") == ("E", "U")


@given(NAMES)
def test_the_same_names_get_the_same_letters(names):
    assert letters_for(names, "ABCDEFGH") == letters_for(list(names), "ABCDEFGH")
