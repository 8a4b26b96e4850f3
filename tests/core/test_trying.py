"""What presses in a row come to, drafts over several programs, and what should be tested again."""

import datetime

import pytest

from amberkey.core.clashes.trace import Focus, trace
from amberkey.core.clashes.trying import outcome_key, say_outcome, typed_by
from amberkey.core.clashes.untested import Changed, Trial, expected_of, strokes_in, untested
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.accents import compose
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.ways.drafting import Draft, drafted
from tests.core.scenes import command, entry, office, program, scene, system
from tests.core.test_several import done, identities

PAGE = Focus("office", "page")
NOON = datetime.datetime(2026, 11, 24, 12, tzinfo=datetime.UTC)
LATER, LATEST = NOON + datetime.timedelta(hours=1), NOON + datetime.timedelta(hours=2)


def keys(*codes):
    """Strokes from codes, `Shift+KeyA` with modifiers."""
    return tuple(Stroke(c.split("+")[-1], frozenset(c.split("+")[:-1])) for c in codes)


@pytest.mark.parametrize(
    "accent, letter, made",
    [("´", "e", "é"), ("^", "o", "ô"), ("¨", "U", "Ü"), ("~", "n", "ñ"), ("`", " ", "`"), ("´", "x", "´x"), ("€", "a", "€a")],
)
def test_an_accent_and_its_letter(accent, letter, made):
    assert compose(accent, letter) == made


@pytest.mark.parametrize(
    "codes, typed",
    [
        (("Shift+KeyA", "KeyB"), "Ab"),
        (("Equal", "KeyE"), "é"),  # the accent key of a German keyboard
        (("Equal",), "´"),
        (("Equal", "Equal"), "´´"),
        (("Equal", "F9", "KeyE"), "´e"),  # something else came between
        (("F9",), ""),
        (("KeyY",), "z"),
    ],
)
def test_what_is_really_typed(codes, typed):
    estate = scene("windows", office("windows", command("sum", "window", "F9")), layout="de", body="iso")
    assert typed_by(trace(estate.board("here"), keys(*codes), PAGE)) == typed


def test_a_swallowed_press_is_not_typed():
    here = office("windows", command("quote", "page", "Control+Alt+E"))
    board = scene("windows", here, layout="de", body="iso").board("here")
    assert typed_by(trace(board, keys("Control+Alt+KeyE", "KeyX"), PAGE)) == "x"


def test_presses_that_are_played_again_are_typed_after_all():
    here = office("windows", command("far", "page", ["G", "H", "I"]), after_miss="replay")
    board = scene("windows", here).board("here")
    waits, gone_wrong = trace(board, keys("KeyG", "KeyX"), PAGE)
    assert (typed_by([waits]), typed_by([waits, gone_wrong])) == ("", "gx")
    assert say_outcome([waits, gone_wrong]) == "types g, then types x"
    assert outcome_key([waits, gone_wrong]) == "text g then text x"
    dropped = office("windows", command("far", "page", ["G", "H", "I"]), after_miss="drop")
    assert typed_by(trace(scene("windows", dropped).board("here"), keys("KeyG", "KeyX"), PAGE)) == ""


def test_the_key_of_an_outcome_tells_answers_apart():
    here = office("windows", command("a", "page", "F8"), command("b", "page", "F8"), command("c", "page", "F7"))
    estate = scene("windows", here)
    board = estate.board("here")
    said = {t: outcome_key(trace(board, strokes_in(estate, "here", PAGE, read_shortcut(t)), PAGE)) for t in ("F8", "F7", "X")}
    assert said == {"F8": "command office/a or others", "F7": "command office/c", "X": "text x"}
    assert (outcome_key([]), say_outcome([])) == ("out of reach", "nobody can press it here")


def two_programs():
    here = office("windows", command("sum", "page", "F8"), command("sort", "page", "F8"))
    sheet = program("windows", "sheet", "office", [command("count", "page", "F7")])
    return scene("windows", system("windows", command("lock", "everywhere", "Meta+L")), here, sheet)


def give(name, *texts, program="office"):
    return Draft("here", program, name, tuple(map(read_shortcut, texts)), "house")


def test_drafts_over_several_programs_are_what_saving_them_comes_to():
    estate = two_programs()
    found = drafted(estate, [give("sort", "F9"), give("count", "Meta+L", program="sheet"), give("sort", "F10")])
    after = done(estate, found.operations)
    assert [str(b.shortcut) for b in after.board("here").bindings_of("office", "sort")] == ["F10"]
    assert {(g.clash.identity, s.id) for g in found.solves for s in g.setups} == identities(estate) - identities(after)
    assert {(g.clash.identity, s.id) for g in found.makes for s in g.setups} == identities(after) - identities(estate)
    assert [g.clash.kind for g in found.makes] == ["system_fixed"]
    assert identities(estate) == identities(two_programs())  # nothing was saved


def test_a_draft_of_what_is_already_so_changes_nothing():
    found = drafted(two_programs(), [give("sum", "F8")])
    assert len(found.operations) <= 1
    assert (found.solves, found.makes, found.people) == ((), (), 0)


def changed(name, at=NOON, before=()):
    return Changed("office", name, "windows", at, "Ines", f"Moved {name}", tuple(map(read_shortcut, before)))


def trial(text, expected, at=LATER, focus=PAGE, setup="here"):
    return Trial(1, setup, focus, read_shortcut(text), expected, at)


def of_house(*entries):
    here = office("windows", command("sum", "page", "F8"), command("sort", "page"))
    return scene("windows", here, house={"entries": entries})


def test_a_changed_entry_is_untested_until_somebody_tests_it():
    estate = of_house(entry("windows", "sort", "F10"))
    (one,) = untested(estate, [changed("sort")], [])
    assert (one.why, one.focus, str(one.shortcut), one.expects) == ("changed", PAGE, "F10", "Office does Sort")
    assert untested(estate, [changed("sort")], [trial("F10", "command office/sort")]) == []
    for elsewhere in (
        trial("F10", "command office/sort", at=NOON - datetime.timedelta(days=1)),
        trial("F9", "nothing"),
        trial("F10", "command office/sort", setup="gone"),
    ):
        assert [u.why for u in untested(estate, [changed("sort")], [elsewhere])] == ["changed"]


def test_a_key_that_was_taken_away_is_tested_at_its_old_place():
    estate = of_house(entry("windows", "sum"))
    (one,) = untested(estate, [changed("sum", before=["F8"])], [])
    assert (str(one.shortcut), one.expects) == ("F8", "nothing happens")
    assert untested(estate, [changed("sum", before=["F8"])], [trial("F8", "nothing")]) == []


def test_a_test_whose_answer_is_another_one_now_is_to_be_made_again():
    estate = of_house(entry("windows", "sort", "F10"))
    (one,) = untested(estate, [], [trial("F10", "command office/sum")])
    assert (one.why, one.expects) == ("other now", "Office does Sort")
    last = trial("F10", "command office/sort", at=LATEST)
    assert untested(estate, [], [trial("F10", "command office/sum"), last]) == []
    assert untested(estate, [], [trial("F10", "x", setup="gone"), trial("F10", "x", focus=Focus("office", "gone"))]) == []


def test_the_newest_change_stands_first_and_no_press_twice():
    estate = of_house(entry("windows", "sort", "F10"), entry("windows", "sum", "F9"))
    found = untested(estate, [changed("sort"), changed("sum", LATER)], [trial("F10", "command office/sum", at=NOON)])
    assert [str(u.shortcut) for u in found] == ["F9", "F10"]


def test_nobody_asks_to_test_what_no_setup_has():
    assert untested(of_house(), [changed("unknown"), Changed("nowhere", "x", "linux", NOON, "Ines", "x")], []) == []
    assert expected_of(of_house(), "here", None, read_shortcut("F8"))[1] == "nothing happens"
