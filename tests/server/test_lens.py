"""Programs and keys through different lenses, as the screens get them."""

import pytest

from tests.server.test_workbench import AMERICAN, GERMAN, MAC
from tests.server.unpacked import unpacked


def command(api, setup, program, name):
    found = api.get(f"/programs?setup={setup}")[1]
    return next(c for p in found if p["id"] == program for c in p["commands"] if c["id"] == name)


def test_lenses_come_with_the_words_of_their_sentence(tove):
    found = {lens["setup"]: lens for lens in tove.get("/lenses")[1]}
    german = found[GERMAN]
    assert (german["name"], german["system"], german["layout_name"], german["people"]) == (
        *("Ticket counters", "Windows 11 Pro", "German"),
        31,
    )
    assert [f["name"] for f in german["focuses"]] == ["Quaysheet", "Folioform", "Gullwake", "Ebbchart"]
    assert {s["id"] for s in german["focuses"][0]["scopes"] if s["takes_text"]} == {"sheet"}


@pytest.mark.parametrize(
    "setup, words, stroke",
    [
        (GERMAN, "Strg /", {"code": "Digit7", "modifiers": ["Control", "Shift"]}),
        (AMERICAN, "Ctrl /", {"code": "Slash", "modifiers": ["Control"]}),
        (MAC, "Cmd /", {"code": "Slash", "modifiers": ["Meta"]}),
    ],
)
def test_one_command_is_pressed_in_three_ways(tove, setup, words, stroke):
    shortcut = command(tove, setup, "quaysheet", "comment-line")["shortcuts"][0]
    assert (shortcut["words"], shortcut["strokes"]) == (words, [stroke])


def test_a_shortcut_that_nobody_can_press_says_why(tove):
    shortcut = command(tove, GERMAN, "folioform", "raise")["shortcuts"][0]
    assert "no key of the German keyboard types" in shortcut["unreachable"]
    assert shortcut["strokes"] == []


def test_a_command_tells_its_layers(tove):
    paste = command(tove, GERMAN, "quaysheet", "paste-values")
    assert paste["layer"] == "House"
    assert [(h["layer"], h["shortcuts"][0]["text"]) for h in paste["hid"]] == [("default", "Control+Shift+V")]
    count = command(tove, GERMAN, "folioform", "word-count")
    assert (count["shortcuts"], count["layer"]) == ([], "House")


def test_a_command_names_its_clashes(tove):
    groups = {g["identity"] for g in unpacked(tove.get(f"/clashes?setup={GERMAN}")[1])}
    clashes = command(tove, GERMAN, "quaysheet", "quote-fare")["clashes"]
    assert len(clashes) == 1
    assert set(clashes) <= groups
    assert command(tove, AMERICAN, "quaysheet", "quote-fare")["clashes"] == []


def test_the_mac_keyboard_is_another_one(tove):
    keyboard = tove.get(f"/keyboard?setup={MAC}&program=quaysheet&scope=sheet&held=Alt")[1]
    keys = {k["code"]: k for k in keyboard["keys"]}
    assert keys["MetaLeft"]["cap"] == "Cmd"
    assert (keys["KeyL"]["owner"], keys["KeyL"]["short"]) == ("program", "Mark")
    assert keys["KeyU"]["sentence"].endswith("begins the accent ¨.")
    assert "Insert" not in keys
    assert keyboard["modifier_caps"]["Alt"] == "Option"


def test_a_keyboard_without_a_pad_has_none(tove):
    codes = {k["code"] for k in tove.get(f"/keyboard?setup={AMERICAN}")[1]["keys"]}
    assert "IntlBackslash" not in codes
    assert not any(c.startswith("Numpad") for c in codes)
