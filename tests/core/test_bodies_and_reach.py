import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.bodies import body_ids, load_body
from amberkey.core.layouts.errors import RemapError
from amberkey.core.layouts.keyboard import keyboard_of, ways_of
from amberkey.core.layouts.layout import load_layout
from amberkey.core.layouts.reach import NOT_HERE, reach_of, reach_of_sequence
from amberkey.core.layouts.remaps import check_remaps, makeable_codes, makers_of, unmade_keys
from amberkey.core.layouts.stroke import Stroke

ISO = load_body("iso")


def stroke(text):
    press = read_shortcut(text).presses[0]
    return Stroke(press.code or press.key, frozenset(press.modifiers))


def score(text, body=ISO, **more):
    return reach_of(stroke(text), body, **more).score


@pytest.mark.parametrize(
    "body, has, lacks",
    [
        ("iso", "IntlBackslash Numpad5 Insert", "IntlYen"),
        ("ansi", "Backslash Numpad5", "IntlBackslash"),
        ("iso-no-pad", "Insert PageUp", "Numpad5 NumLock"),
        ("jis", "IntlYen IntlRo Convert KanaMode", "IntlBackslash"),
        ("iso-laptop", "Home End PageUp Insert", "Numpad5 Pause"),
        ("mac-ansi", "F13 Numpad5", "Insert NumLock IntlBackslash"),
        ("mac-iso-laptop", "IntlBackslash Home Delete", "Insert PrintScreen"),
    ],
)
def test_a_body_has_its_keys(body, has, lacks):
    codes = load_body(body).codes
    assert set(has.split()) <= codes
    assert not set(lacks.split()) & codes


@pytest.mark.parametrize("body_id", body_ids())
def test_rows_are_staggered_and_the_writing_block_is_fifteen_wide(body_id):
    body = load_body(body_id)
    left = {row: body.by_code[code].x for row, code in ((1, "Digit1"), (2, "KeyQ"), (3, "KeyA"), (4, "KeyZ"))}
    assert list(left.values()) == [1, 1.5, 1.75, 2.25]
    assert all(k.x + k.w <= body.width + 1e-9 for k in body.keys)
    block = [k for k in body.keys if 1 <= k.y <= 3 and k.x < 15]
    assert {max(k.x + k.w for k in block if k.y == row) for row in (1, 2)} == {15}


def test_home_under_fn_costs_more_than_a_home_key_of_its_own():
    assert score("code:Home", load_body("iso-laptop")) > score("code:ArrowLeft", load_body("iso-laptop"))
    keyboard = keyboard_of(load_layout("de", "windows"), load_body("iso-laptop"), {})
    assert ways_of(read_shortcut("Control+Home"), keyboard, "key").ways


def test_weaker_fingers_and_farther_keys_cost_more():
    assert score("code:KeyF") == score("code:KeyJ") == 0
    assert score("code:KeyG") < score("code:KeyT") < score("code:Digit5")
    assert score("code:KeyF") < score("code:KeyA")
    assert score("code:F5") > score("code:Digit5")


@given(st.sampled_from(sorted(ISO.by_code)), st.sets(st.sampled_from(["Control", "Alt", "Shift", "Meta"]), min_size=1))
def test_another_modifier_never_makes_it_easier(code, held):
    for less in itertools.combinations(held, len(held) - 1):
        assert reach_of(Stroke(code, frozenset(less)), ISO).score <= reach_of(Stroke(code, frozenset(held)), ISO).score


def test_flags_say_what_a_hand_can_do_alone():
    assert "left hand" in reach_of(stroke("Control+code:KeyS"), ISO).flags
    assert "right hand" in reach_of(stroke("Control+code:KeyL"), ISO).flags  # the right Control key
    assert reach_of(stroke("Alt+code:KeyL"), ISO).flags == ("home row",)  # the right one is AltGr
    assert "right hand" in reach_of(stroke("Alt+code:KeyL"), load_body("mac-iso")).flags
    assert "three modifiers" in reach_of(stroke("Control+Alt+Shift+code:KeyS"), ISO).flags
    assert "far" in reach_of(stroke("Control+code:PageUp"), ISO).flags


def test_a_hand_on_the_mouse_wants_the_other_hands_keys():
    assert score("Control+code:KeyS", mouse_hand="right") == score("Control+code:KeyS")
    assert score("Control+code:KeyL", mouse_hand="right") > score("Control+code:KeyL")
    assert score("Control+code:KeyL", mouse_hand="left") == score("Control+code:KeyL")


def test_a_stretch_is_what_one_hand_must_span():
    near, far = (reach_of(stroke(f"AltGraph+code:{c}"), ISO) for c in ("KeyM", "Backspace"))
    assert near.stretch == 0
    assert reach_of(stroke("AltGraph+code:Numpad9"), ISO).stretch > far.stretch


def test_a_sequence_costs_its_presses_and_the_changes_of_rows():
    one, two = stroke("Control+code:KeyF"), stroke("code:Digit4")
    assert reach_of_sequence([one, two], ISO).score == reach_of(one, ISO).score + reach_of(two, ISO).score + 2
    assert reach_of_sequence([one, Stroke("Numpad1", frozenset())], load_body("iso-no-pad")).score == NOT_HERE


def test_remaps_change_reach():
    caps = {"CapsLock": "Escape"}
    assert score("code:Escape", remaps=caps) < score("code:Escape")
    swapped = {"KeyJ": "KeyB", "KeyB": "KeyJ"}
    assert score("code:KeyB", remaps=swapped) == 0


def test_remaps_happen_all_at_once():
    swap = check_remaps([("KeyA", "KeyB"), ("KeyB", "KeyA")])
    assert makers_of("KeyA", ISO, swap) == ("KeyB",)
    assert unmade_keys(ISO, swap) == frozenset()
    assert unmade_keys(ISO, check_remaps([("CapsLock", "ControlLeft")])) == {"CapsLock"}
    assert "CapsLock" not in makeable_codes(ISO, {"CapsLock": "ControlLeft"})


@pytest.mark.parametrize(
    "pairs, says",
    [
        ([("KeyQQ", "KeyA")], "KeyQQ is not the code"),
        ([("KeyA", "KeyA")], "becomes itself"),
        ([("KeyA", "KeyB"), ("KeyA", "KeyC")], "remapped twice"),
    ],
)
def test_a_wrong_remap_names_its_key(pairs, says):
    with pytest.raises(RemapError, match=says):
        check_remaps(pairs)


def test_a_key_that_nothing_makes_is_out_of_reach_and_the_other_stays():
    keyboard = keyboard_of(load_layout("us", "windows"), load_body("ansi"), {"KeyE": "KeyQ"})
    gone = ways_of(read_shortcut("Control+E"), keyboard, "key")
    assert "remaps leave no key that makes KeyE" in gone.unreachable
    assert ways_of(read_shortcut("Control+Q"), keyboard, "key").ways


def test_a_modifier_that_nothing_makes_is_out_of_reach():
    nothing = {"MetaLeft": "KeyA", "MetaRight": "KeyA"}
    keyboard = keyboard_of(load_layout("us", "windows"), load_body("ansi"), nothing)
    assert "makes Meta" in ways_of(read_shortcut("Meta+E"), keyboard, "key").unreachable


@pytest.mark.parametrize("body_id", body_ids())
def test_the_drawn_scores_in_docs_are_those_of_today(body_id):
    from tools.draw_reach import TARGET, picture

    drawn = (TARGET / f"{body_id}.svg").read_text(encoding="utf-8")
    assert drawn == picture(load_body(body_id)), "run tools/draw_reach.py"
    assert f"reach/{body_id}.svg" in (TARGET.parent / "reach.md").read_text(encoding="utf-8")
