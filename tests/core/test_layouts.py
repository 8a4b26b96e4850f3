import csv
import itertools
import pathlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press
from amberkey.core.layouts.bodies import body_ids, load_body
from amberkey.core.layouts.errors import UnknownBody, UnknownLayout
from amberkey.core.layouts.layout import layout_ids, layouts_also_named, load_layout, platforms_of
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.strokes import Made, NotMade, Stroke, canonical_on, modifiers_of_level, strokes_of
from amberkey.core.layouts.typing import need_of, types

FACTS = pathlib.Path(__file__).parents[2] / "tools/layout_facts/altgr_levels.csv"


def press(text):
    return read_shortcut(text).presses[0]


def stroke(text):
    """`Control+Shift+code:Digit7` as a stroke."""
    p = press(text)
    return Stroke(p.code, frozenset(p.modifiers))


def made(text, layout, platform, reads="character"):
    answer = strokes_of(press(text), load_layout(layout, platform), reads)
    return [str(s) for s in answer.strokes] if isinstance(answer, Made) else answer.reason


def test_recorded_levels_are_those_of_the_recordings():
    with FACTS.open(encoding="utf-8", newline="") as file:
        rows = [r for r in csv.DictReader(file) if r["layout"] in layout_ids()]
    assert len(rows) > 100
    wrong = []
    for row in rows:
        level = 3 if row["level"] == "shift+altgr" else 2
        found = load_layout(row["layout"], row["platform"]).keys[row["code"]][level]
        if found is None or (found.text, found.source) != (row["text"], "recorded"):
            wrong.append(row)
    assert wrong == []


def test_a_recorded_layout_types_nothing_where_no_row_is():
    german = load_layout("de", "windows")
    assert german.keys["KeyF"][2] is None
    assert load_layout("de", "linux").keys["KeyF"][2] is not None
    assert not load_layout("us", "windows").has_altgr


@pytest.mark.parametrize(
    "text, layout, platform, reads, expected",
    [
        ("Control+/", "de", "windows", "character", ["Control+Shift+code:Digit7"]),
        ("Control+Shift+7", "de", "windows", "character", ["Control+Shift+code:Digit7"]),
        ("Control+/", "us", "windows", "character", ["Control+code:Slash"]),
        ("Control+/", "de", "windows", "position", ["Control+code:Slash"]),
        ("Control+Z", "de", "windows", "key", ["Control+code:KeyY"]),
        ("Control+Z", "de", "windows", "position", ["Control+code:KeyZ"]),
        ("Control+Plus", "us", "windows", "key", ["Control+code:Equal"]),
        ("Control+Plus", "us", "windows", "character", ["Control+Shift+code:Equal"]),
        ("AltGraph+E", "de", "windows", "key", ["Control+Alt+code:KeyE"]),
        ("AltGraph+E", "de", "linux", "key", ["AltGraph+code:KeyE"]),
        ("Control+code:KeyZ", "de", "windows", "character", ["Control+code:KeyZ"]),
        ("Alt+Shift", "de", "windows", "key", ["Alt+Shift"]),
        ("Meta+Space", "us(mac)", "macos", "character", ["Meta+code:Space"]),
    ],
)
def test_from_press_to_stroke(text, layout, platform, reads, expected):
    assert made(text, layout, platform, reads) == expected


def test_what_cannot_be_made_says_why():
    assert "dead key" in made("Control+^", "de", "windows")
    assert "no AltGr" in made("AltGraph+E", "us", "windows")
    assert "no key" in made("Control+Ö", "us", "windows")


def test_a_key_that_is_only_derived_is_marked():
    answer = strokes_of(press("Control+/"), load_layout("de", "windows"), "key")
    assert isinstance(answer, Made)
    assert answer.derived


def test_shift_that_belongs_to_the_character_is_not_written_twice():
    german = load_layout("de", "windows")
    form, note = canonical_on(press("Control+Shift+/"), german, "character")
    assert str(form) == "Control+/"
    assert "needs Shift" in note
    assert canonical_on(press("Control+Shift+7"), german, "character")[1] is None


@pytest.mark.parametrize(
    ("platform", "named", "layout"),
    [
        *(("windows", "00000407", "de"), ("windows", "0407:00000407", "de"), ("windows", "040c", "fr(azerty)")),
        *(
            ("linux", "tr+f", "tr(f)"),
            ("linux", "us colemak", "us(colemak)"),
            ("macos", "com.apple.keylayout.German", "de(mac)"),
        ),
    ],
)
def test_inventories_name_layouts_in_their_own_ways(platform, named, layout):
    assert layouts_also_named(platform)[named] == layout


def test_a_further_name_means_one_layout_and_is_no_id():
    named = [n for i in layout_ids() for n in layouts_also_named() if layouts_also_named()[n] == i]
    assert len(named) == len(set(named)) > 100
    assert not set(named) & set(layout_ids())


ALL = [(i, p) for i in layout_ids() for p in platforms_of(i)]


@given(st.sampled_from(ALL), st.data())
def test_a_stroke_that_types_a_character_is_found_by_that_character(which, data):
    layout = load_layout(*which)
    code = data.draw(st.sampled_from(sorted(layout.keys)))
    number = data.draw(st.integers(0, 3))
    level = layout.keys[code][number]
    if level is None or level.dead or level.text.isspace() or level.text.isalpha():
        return
    typed = Stroke(code, modifiers_of_level(layout, number))
    if layout.second:
        # Text is the layout's own script; only its shortcuts go by the Latin layer.
        own = layout.second.get(code, layout.keys[code])[number]
        assert types(typed, layout) == own
        assert (code, number) in layout.places_of(level.text)
        return
    assert types(typed, layout) == level
    answer = strokes_of(Press.of((), level.text), layout, "character")
    assert not isinstance(answer, NotMade)
    places = layout.places_of(level.text)
    assert (code, number) in places
    assert all(types(s, layout).text == level.text for s in answer.strokes)


@pytest.mark.parametrize(
    "text, layout, platform, typed, need",
    [
        ("Control+Alt+code:KeyE", "de", "windows", "€", "needed"),
        ("Control+Alt+code:Digit8", "de", "windows", "[", "needed"),
        ("Control+Alt+code:Digit2", "de", "windows", "²", "spare"),
        ("Control+Alt+code:Digit8", "us", "windows", None, None),
        ("Control+Alt+code:KeyE", "de", "linux", None, None),
        ("Alt+code:KeyE", "us(mac)", "macos", "´", "spare"),
        ("Alt+Meta+code:KeyE", "us(mac)", "macos", None, None),
        ("Control+code:KeyE", "de", "windows", None, None),
        ("Shift+code:Digit7", "de", "windows", "/", "needed"),
    ],
)
def test_what_a_stroke_types_and_who_needs_it(text, layout, platform, typed, need):
    keyboard = load_layout(layout, platform)
    level = types(stroke(text), keyboard)
    assert (level.text if level else None) == typed
    assert need_of(stroke(text), keyboard) == need


def test_unknown_names_say_what_is_known():
    with pytest.raises(UnknownLayout, match=r"'dvorkan'.*us"):
        load_layout("dvorkan", "windows")
    with pytest.raises(UnknownBody, match=r"'round'.*iso"):
        load_body("round")


@pytest.mark.parametrize("body_id", body_ids())
def test_no_two_keys_of_a_body_overlap(body_id):
    keys = load_body(body_id).keys
    assert len({k.code for k in keys}) == len(keys)
    for row in {k.y for k in keys}:
        line = sorted((k for k in keys if k.y == row), key=lambda k: k.x)
        assert all(a.x + a.w <= b.x + 1e-9 for a, b in itertools.pairwise(line))


def test_reach_prefers_the_home_row_and_fewer_modifiers():
    body = load_body("iso")
    score = {t: reach_of(stroke(t), body).score for t in ("code:KeyF", "Control+code:KeyF", "Control+Shift+code:KeyF")}
    assert score["code:KeyF"] == 0
    assert score["Control+code:KeyF"] < score["Control+Shift+code:KeyF"]
    assert reach_of(stroke("Control+code:KeyF"), body).flags == ("left hand", "home row")
    assert reach_of(Stroke("F9", frozenset()), body).flags == ("far",)
    assert reach_of(Stroke("NumpadAdd", frozenset()), load_body("iso-no-pad")).score == 999
