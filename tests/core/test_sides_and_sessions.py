"""Left and right modifiers, Fn and the top row, and sessions on far machines of another platform."""

from dataclasses import replace

import pytest

from amberkey.core.clashes.finding import find_clashes
from amberkey.core.documents.errors import DocumentError
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.bodies import load_body, with_special_row
from amberkey.core.layouts.keyboard import keyboard_of, pressed, sides_in, ways_of
from amberkey.core.layouts.layout import load_layout
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.sides import heard_among, told_apart
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.ways.changes import Change, patch
from tests.core.estates import read
from tests.core.scenes import clashes, command, entry, name, office, program, scene, system, told
from tests.core.scenes import pressed as press


def stroke(code, *held):
    return Stroke(code, frozenset(held))


def keyboard(layout="us", platform="windows", body="ansi", says=(), **more):
    found = load_layout(layout, platform)
    presses = [p for text in says for p in read_shortcut(text).presses]
    return keyboard_of(found, load_body(body), more.pop("remaps", {}), True, sides_in(presses, found))


def ends(estate, text, focus=None):
    return name(press(estate, text, focus)[-1].effect.binding)


# Reading and wording


@pytest.mark.parametrize(
    "text, means",
    [
        ("ControlRight+A", "ControlRight+A"),
        ("rctrl a", "ControlRight+A"),
        ("A + leftshift", "ShiftLeft+A"),
        ("RAlt+LWin+x", "AltRight+MetaLeft+X"),
        ("ShiftLeft then ShiftRight", "ShiftLeft then ShiftRight"),
        ("fn+a", "Fn+A"),
        ("DStrg+a", None),
    ],
)
def test_a_side_is_read_and_written_by_the_code_of_its_key(text, means):
    if means is None:
        with pytest.raises(ShortcutError):
            read_shortcut(text)
    else:
        assert str(read_shortcut(text)) == means


@pytest.mark.parametrize("text", ["Control+ControlRight+A", "ShiftLeft+Shift+F1"])
def test_a_modifier_and_its_side_are_the_same_key_held_twice(text):
    with pytest.raises(ShortcutError, match="held twice"):
        read_shortcut(text)


@pytest.mark.parametrize("platform", ["windows", "macos", "linux"])
@pytest.mark.parametrize("language", ["en", "de", "fr", "sv"])
@pytest.mark.parametrize("style", ["words", "symbols"])
def test_what_is_worded_is_read_again(platform, language, style):
    for side in ("ControlLeft", "ShiftRight", "AltRight", "MetaLeft", "Fn"):
        shortcut = read_shortcut(f"{side}+F5")
        assert read_shortcut(words_of(shortcut, platform, language, style)) == shortcut


# Sides


def test_a_side_counts_only_where_somebody_says_it():
    plain, telling = keyboard(), keyboard(says=["ControlRight+A"])
    right, left = stroke("KeyA", "ControlRight"), stroke("KeyA", "ControlLeft")
    assert plain.heard(right) == stroke("KeyA", "Control")
    assert (telling.heard(right), telling.heard(left)) == (right, stroke("KeyA", "Control"))
    assert telling.heard(stroke("KeyB", "ControlRight")) == stroke("KeyB", "Control")


def test_who_holds_what_two_shortcuts_say_makes_a_stroke_of_its_own():
    one, other = stroke("KeyA", "ControlRight", "Shift"), stroke("KeyA", "Control", "ShiftLeft")
    both = stroke("KeyA", "ControlRight", "ShiftLeft")
    sides = told_apart([one, other, stroke("KeyA", "Control")])
    assert sides == {one, other, both}
    assert heard_among(both, sides) == both
    assert heard_among(stroke("KeyA", "ControlRight", "ShiftRight"), sides) == one
    assert heard_among(stroke("KeyA", "ControlLeft", "ShiftRight"), sides) == stroke("KeyA", "Control", "Shift")


def test_a_shortcut_without_sides_is_made_by_either_key():
    made = ways_of(read_shortcut("Control+A"), keyboard(says=["ControlRight+A"]), "key").ways
    assert made == ((stroke("KeyA", "Control"),), (stroke("KeyA", "ControlRight"),))


def test_where_a_body_has_one_key_of_a_modifier_that_is_the_one():
    here = keyboard("us(mac)", "macos", "mac-ansi-laptop", says=["ControlLeft+A"])
    assert ways_of(read_shortcut("Control+A"), here, "character").ways == ((stroke("KeyA", "ControlLeft"),),)
    assert here.heard(stroke("KeyA", "Control")) == stroke("KeyA", "ControlLeft")
    assert "ControlRight" in ways_of(read_shortcut("ControlRight+A"), here, "character").unreachable


@pytest.mark.parametrize(
    "layout, platform, heard",
    [
        ("de", "windows", stroke("KeyE", "Control", "Alt")),
        ("de", "linux", stroke("KeyE", "AltGraph")),
        ("us", "windows", stroke("KeyE", "Alt")),
    ],
)
def test_the_right_alt_key_is_altgr_where_a_layout_has_one(layout, platform, heard):
    body = "iso" if layout == "de" else "ansi"
    assert keyboard(layout, platform, body).heard(stroke("KeyE", "AltRight")) == heard


def test_a_key_that_became_a_modifier_has_its_side():
    here = keyboard(says=["ControlLeft+A"], remaps={"CapsLock": "ControlLeft", "ControlLeft": "CapsLock"})
    assert here.heard(stroke("KeyA", "CapsLock")) == stroke("KeyA", "ControlLeft")
    assert here.fingers(stroke("KeyA", "ControlLeft")) == stroke("KeyA", "CapsLock")
    assert here.heard(stroke("KeyA", "ControlRight")) == stroke("KeyA", "Control")


def test_shift_of_either_side_types():
    here = office("windows", command("a", "page", "ShiftRight+A"))
    assert clashes(scene("windows", here)) == [("swallows_text", "high", "office/a", None)]


def on_one_side(**house):
    mine = system("windows", command("menu", "everywhere", "ControlRight+F8"))
    return scene(
        "windows", mine, office("windows", command("a", "window", "Control+F8"), command("b", "window", "F9")), house=house
    )


def test_a_press_that_the_system_takes_on_one_side_is_lost_there_only():
    estate = on_one_side()
    assert clashes(estate) == [("system_fixed", "medium", "system/menu", "office/a")]
    assert ends(estate, "ControlRight+F8", "office/window") == "system/menu"
    assert ends(estate, "ControlLeft+F8", "office/window") == ends(estate, "Control+F8", "office/window") == "office/a"


def test_two_sides_of_one_press_are_two_presses():
    keys = {"a": "ControlRight+F2", "b": "ControlLeft+F2"}
    estate = scene("windows", office("windows", *(command(n, "window", k) for n, k in keys.items())))
    assert clashes(estate) == []
    assert [ends(estate, k, "office/window") for k in keys.values()] == ["office/a", "office/b"]


def test_a_side_beside_the_same_press_without_it_is_told_twice_over():
    estate = scene("windows", office("windows", command("a", "window", "ShiftRight+F8", "Shift+F8")))
    (clash,) = estate.clashes("here")
    assert (clash.kind, str(clash.holder.shortcut), str(clash.loser.shortcut)) == ("duplicate", "Shift+F8", "ShiftRight+F8")


@pytest.mark.parametrize("keys, code", [("ControlRight+F9", "F9"), ("ControlRight+code:KeyJ", "KeyJ")])
def test_a_proposal_that_says_a_side_is_judged_as_it_will_be(keys, code):
    estate = on_one_side()
    board = estate.board("here")
    after = estate.profiles["house"].model_validate({"id": "house", "name": "House", "entries": [entry("windows", "b", keys)]})
    patched = patch(board, estate.profiles, [Change("house", None, after.entries[0])])
    saved = estate.with_profiles([after])
    assert [name(b) for b in patched.board.bindings if str(b.shortcut) == keys] == ["office/b"]
    for made in (patched.board, saved.board("here")):
        assert made.ground.keyboard.sides == {
            stroke("F8", "ControlRight"),
            stroke(keys[-2:] if "F9" in keys else "KeyJ", "ControlRight"),
        }


# Fn and the top row


MAC = {"layout": "us(mac)", "platform": "macos"}


def test_fn_makes_other_keys_of_some_and_only_macos_hears_it_with_the_others():
    mac = keyboard("us(mac)", "macos", "mac-iso-laptop")
    assert mac.heard(stroke("ArrowLeft", "Fn")) == stroke("Home")
    assert mac.heard(stroke("KeyE", "Fn")) == stroke("KeyE", "Fn")
    assert keyboard("us", "windows", "ansi-laptop").heard(stroke("KeyE", "Fn")) == stroke("KeyE")
    assert ways_of(read_shortcut("Fn+E"), mac, "character").ways == ((stroke("KeyE", "Fn"),),)
    why = ways_of(read_shortcut("Fn+E"), keyboard("us", "windows", "ansi-laptop"), "key").unreachable
    assert why.startswith("Fn stays inside the keyboard")


def special(body="mac-iso-laptop", layout="us(mac)", platform="macos"):
    return keyboard_of(load_layout(layout, platform), with_special_row(load_body(body)), {})


def test_special_keys_in_the_top_row_push_the_function_keys_under_fn():
    here = special()
    assert here.heard(stroke("F1")) == stroke("BrightnessDown")
    assert here.heard(stroke("F1", "Fn")) == stroke("F1")
    assert here.fingers(stroke("F1", "Control")) == stroke("F1", "Control", "Fn")
    for text in ("F5", "Fn+F5"):
        assert ways_of(read_shortcut(text), here, "character").ways == ((stroke("F5"),),)
    assert pressed(read_shortcut("F5"), here, "character").ways == ((stroke("F5"),),)
    usual = keyboard("us(mac)", "macos", "mac-iso-laptop")
    assert usual.heard(stroke("F1")) == stroke("F1")
    assert usual.heard(stroke("F1", "Fn")) == stroke("BrightnessDown")


def test_a_function_key_costs_more_under_fn():
    f5, dim = stroke("F5"), stroke("BrightnessDown")
    usual, row = load_body("mac-iso-laptop"), with_special_row(load_body("mac-iso-laptop"))
    assert reach_of(f5, row).score > reach_of(f5, usual).score
    assert reach_of(dim, row).score < reach_of(dim, usual).score


def test_what_a_laptop_of_another_maker_does_there_nobody_hears_by_name():
    here = office("windows", command("a", "window", "F5"))
    estate = scene("windows", here, body="ansi-laptop", top_row="special keys")
    assert ends(estate, "F5", "office/window") is None
    assert ends(estate, "Fn+F5", "office/window") == "office/a"


def test_special_keys_are_refused_where_a_body_has_none():
    with pytest.raises(DocumentError, match=r"top_row.*function keys only"):
        scene("windows", office("windows", command("a", "window", "F5")), top_row="special keys")


# A session on a far machine of another platform


def far_system(platform, *commands):
    return program(platform, "far", "system", list(commands))


def session(presses="kept", layout="de(mac)", **more):
    """From a Linux machine to a Mac: the programs and their layout are the Mac's."""
    near = system("linux", command("here", "everywhere", "Meta+F8"), command("there-and-here", "everywhere", "Meta+F9"))
    far = far_system("macos", command("far-one", "everywhere", "Meta+F8"), command("far-two", "everywhere", "Control+F9"))
    mine = office("macos", command("a", "window", "Meta+F8"), command("at", "page", "Alt+L"), command("b", "window", "Meta+F9"))
    remote = {
        "name": "The quay",
        "presses": presses,
        "platform": "macos",
        "layout": layout,
        "system": {"id": "far", "version": "1"},
    }
    estate = scene("linux", near, mine, layout="de", body="iso", remote=remote, **more)
    return add(estate, far)


def add(estate, document):
    return replace(estate, programs={**estate.programs, (document["id"], "1"): read(document)})


def test_programs_of_a_far_machine_are_judged_by_its_platform_and_layout():
    board = session().board("here")
    assert (board.ground.platform, board.ground.layout.id) == ("macos", "de(mac)")
    assert board.parts["system"].ground.platform == "linux"
    # Option and L is @ on a German Mac; a German Linux keyboard has it elsewhere.
    assert ("swallows_text", "high", "office/at", None) in clashes(session())


def test_what_changes_in_the_far_system_is_told_with_all_that_comes_and_goes():
    estate = session()
    board = estate.board("here")
    moved = entry("macos", "far-one", "Meta+F7", program="far")
    given = read({"format": "amberkey/profile@1", "id": "x", "name": "X", "entries": [moved]})
    patched = patch(board, estate.profiles, [Change("house", None, given.entries[0])])
    assert [str(b.shortcut) for b in patched.gone if b.program.id == "far"] == ["Meta+F8"]
    assert [str(b.shortcut) for b in patched.come if b.program.id == "far"] == ["Meta+F7"]


@pytest.mark.parametrize(
    "presses, takes",
    [
        ("kept", {"Meta+F8": "system/here", "Meta+F9": "system/there-and-here", "Control+F9": "far/far-two"}),
        ("passed on", {"Meta+F8": "far/far-one", "Meta+F9": "office/b", "Control+F9": "far/far-two"}),
    ],
)
def test_hotkeys_here_are_kept_or_passed_on_and_then_the_far_system_takes_its_own(presses, takes):
    estate = session(presses)
    assert {keys: ends(estate, keys, "office/window") for keys in takes} == takes
    found = {name(c.loser): (c.kind, name(c.holder)) for c in estate.clashes("here") if c.loser}
    assert found["office/a"] == ("remote", takes["Meta+F8"])
    assert ("office/b" in found) == (presses == "kept")


def test_altgr_is_what_the_right_alt_key_is_over_there():
    near = system("linux", command("here", "everywhere", "AltGraph+F8"))
    mine = office("macos", command("a", "window", "Alt+F8"))
    remote = {
        "name": "Quay",
        "presses": "kept",
        "platform": "macos",
        "layout": "de(mac)",
        "system": {"id": "far", "version": "1"},
    }
    estate = add(scene("linux", near, mine, layout="de", body="iso", remote=remote), far_system("macos"))
    assert clashes(estate) == [("remote", "high", "system/here", "office/a")]


def test_a_far_machine_needs_a_layout_that_its_platform_has():
    with pytest.raises(DocumentError, match=r"remote\.layout"):
        session(layout="fi")
    with pytest.raises(DocumentError, match=r"remote\.layout"):
        session(layout=None)


def test_a_proposal_that_says_a_side_in_a_session_leaves_the_near_system_its_own_platform():
    estate = session()
    after = estate.profiles["house"].model_validate(
        {"id": "house", "name": "House", "entries": [entry("macos", "b", "ControlRight+F9")]}
    )
    patched = patch(estate.board("here"), estate.profiles, [Change("house", None, after.entries[0])])
    saved = estate.with_profiles([after])
    assert patched.board.parts["system"].ground.platform == "linux"
    assert patched.board.parts["office"].ground.platform == "macos"
    assert sorted(map(str, map(told, find_clashes(patched.board)))) == sorted(map(str, clashes(saved)))
