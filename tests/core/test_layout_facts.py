"""The shipped layout data against the facts that it was made from: pressed in libxkbcommon, and named examples."""

import itertools

import pytest
from tools.derive_layouts import LAYOUTS, NO_INTL_BACKSLASH, SPACING
from tools.xkb import CODES, Keymap

from amberkey.core.keys.platform import MODIFIERS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.errors import LayoutNotThere
from amberkey.core.layouts.layout import LEVELS, layout_ids, load_layout, platforms_of
from amberkey.core.layouts.pad import NAVIGATION, pad_types, settled
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Made, strokes_of
from amberkey.core.layouts.typing import need_of, types

ON_LINUX = [i for i in layout_ids() if "linux" in platforms_of(i)]
KEY_OF = {code: key for key, code in CODES.items()}


def stroke(text):
    press = read_shortcut(text).presses[0]
    return Stroke(press.code or press.key, frozenset(press.modifiers))


@pytest.mark.parametrize("layout_id", ON_LINUX)
def test_what_a_linux_layout_types_is_what_xkb_types(layout_id):
    """Every writing key with every set of Shift and AltGr, pressed in XKB's own state machine."""
    xkb_layout, variant, *_ = LAYOUTS[layout_id]
    keymap, ours = Keymap(xkb_layout, variant), load_layout(layout_id, "linux")
    checked = 0
    for code in CODES.values():
        if code == "IntlBackslash" and layout_id in NO_INTL_BACKSLASH:
            continue
        for held in (frozenset(), frozenset({"Shift"}), frozenset({"AltGraph"}), frozenset({"Shift", "AltGraph"})):
            if "AltGraph" in held and not ours.has_altgr:
                continue
            symbol, text = keymap.press(KEY_OF[code], held)
            level = types(Stroke(code, held), ours)
            if symbol.startswith("dead_"):
                assert level is not None, (code, held, symbol)
                assert (level.text, level.dead) == (SPACING.get(symbol, symbol.removeprefix("dead_")), True)
            else:
                assert (level.text if level else "") == text, (code, held)
            checked += 1
    assert checked > 90


@pytest.mark.parametrize("layout_id", ["us", "de", "fr(azerty)", "se"])
def test_control_with_a_key_types_nothing(layout_id):
    ours = load_layout(layout_id, "linux")
    sets = (frozenset({"Control"}), frozenset({"Control", "Alt"}), frozenset({"Meta"}))
    for code, held in itertools.product(ours.keys, sets):
        assert types(Stroke(code, held), ours) is None


@pytest.mark.parametrize(
    "layout_id, platform, press, reads, expected",
    [
        ("de", "windows", "Control+/", "character", "Control+Shift+code:Digit7"),
        ("de", "windows", "Control+Z", "key", "Control+code:KeyY"),
        ("fr(azerty)", "windows", "Control+1", "key", "Control+code:Digit1"),
        ("fr(azerty)", "windows", "Control+1", "character", "Control+Shift+code:Digit1"),
        ("fr(azerty)", "windows", "Control+A", "key", "Control+code:KeyQ"),
        ("fr(azerty)", "windows", "Control+[", "character", "Control+Alt+code:Digit5"),
        ("se", "windows", "Control+/", "character", "Control+Shift+code:Digit7"),
        ("se", "windows", "Control+Å", "key", "Control+code:BracketLeft"),
        ("gb", "windows", "Control+#", "character", "Control+code:Backslash"),
        ("gb", "windows", "Control+€", "character", "Control+Alt+code:Digit4"),
        ("us", "windows", "Control+[", "character", "Control+code:BracketLeft"),
        ("us(intl)", "windows", "Control+É", "key", "Control+Alt+code:KeyE"),
        ("ch", "windows", "Control+Z", "key", "Control+code:KeyY"),
        ("ch", "windows", "Control+Ü", "key", "Control+code:BracketLeft"),
        ("es", "windows", "Control+Ñ", "key", "Control+code:Semicolon"),
        ("pl", "windows", "Control+Ł", "key", "Control+Alt+code:KeyL"),
        ("cz", "windows", "Control+1", "key", "Control+code:Digit1"),
        ("cz", "windows", "Control+1", "character", "Control+Shift+code:Digit1"),
        ("jp", "windows", "Control+:", "character", "Control+code:Quote"),
        ("be", "linux", "Control+-", "key", "Control+code:Equal"),
        ("de(mac)", "macos", "Meta+@", "character", "Alt+Meta+code:KeyL"),
        ("fr(mac)", "macos", "Meta+A", "character", "Meta+code:KeyQ"),
        ("us(mac)", "macos", "Meta+?", "character", "Shift+Meta+code:Slash"),
    ],
)
def test_named_examples(layout_id, platform, press, reads, expected):
    made = strokes_of(read_shortcut(press).presses[0], load_layout(layout_id, platform), reads)
    assert isinstance(made, Made), made
    assert str(made.strokes[0]) == expected


@pytest.mark.parametrize(
    "layout_id, press, typed, need",
    [
        ("us(intl)", "Control+Alt+code:Digit5", "€", "spare"),
        ("gb", "Control+Alt+code:KeyE", "é", "spare"),
        ("fr(azerty)", "Control+Alt+code:Digit0", "@", "needed"),
        ("se", "Control+Alt+code:Digit2", "@", "needed"),
        ("pl", "Control+Alt+code:KeyA", "ą", "needed"),
        ("ch(fr)", "Control+Alt+code:Digit3", "#", "needed"),  # as on its nearest relative
        ("ca", "Control+Alt+code:Digit2", "@", "needed"),
        ("it", "Control+Alt+code:Semicolon", "@", "needed"),
        ("us", "Control+Alt+code:Digit5", None, None),
    ],
)
def test_what_altgr_types_on_windows_and_who_needs_it(layout_id, press, typed, need):
    layout = load_layout(layout_id, "windows")
    level = types(stroke(press), layout)
    assert (level.text if level else None) == typed
    assert need_of(stroke(press), layout) == need


@pytest.mark.parametrize(
    "layout_id, code, level, expected",
    [
        ("us(intl)", "Quote", "plain", ("'", True)),
        ("us(intl)", "Digit6", "shift", ("^", True)),
        ("fr(azerty)", "Backquote", "shift", None),
        ("pl", "Backquote", "shift", ("~", True)),
        ("jp", "Digit0", "shift", None),
    ],
)
def test_the_windows_exceptions_hold_on_windows_only(layout_id, code, level, expected):
    number = LEVELS.index(level)
    here, there = (load_layout(layout_id, p).keys[code][number] for p in ("windows", "linux"))
    assert ((here.text, here.dead) if here else None) == expected
    assert here != there
    assert here is None or here.source == "recorded"


def test_every_level_knows_its_source():
    sources = {
        (i, p): {level.source for levels in load_layout(i, p).keys.values() for level in levels if level}
        for i in layout_ids()
        for p in platforms_of(i)
    }
    assert sources["de", "windows"] == {"derived", "recorded"}
    assert sources["ch(fr)", "windows"] == {"derived", "likely"}
    assert sources["nl", "windows"] == {"derived", "likely"}
    assert sources["de", "linux"] == {"derived"}
    assert sources["se(mac)", "macos"] == {"derived", "likely", "recorded"}


def test_an_unrecorded_windows_layout_reports_only_what_people_surely_have():
    letters = load_layout("nl", "windows").letters
    for levels in load_layout("nl", "windows").keys.values():
        for level in levels[2:]:
            assert level is None or level.text.isascii() or level.text.lower() in letters or level.text == "€"


def test_there_are_60_layouts_and_each_is_refused_where_it_is_not():
    assert len(layout_ids()) == 60
    with pytest.raises(LayoutNotThere, match="not one of macOS"):
        load_layout("de", "macos")


@pytest.mark.parametrize("layout_id", ["de", "us"])
def test_pad_keys_type_what_xkb_types_with_numlock(layout_id):
    xkb_layout, variant, *_ = LAYOUTS[layout_id]
    keymap, ours = Keymap(xkb_layout, variant), load_layout(layout_id, "linux")
    names = {**{f"KP{n}": f"Numpad{n}" for n in range(10)}, "KPDL": "NumpadDecimal", "KPAD": "NumpadAdd"}
    for key, code in names.items():
        _, text = keymap.press(key, frozenset({"NumLock"}))
        level = pad_types(Stroke(code, frozenset()), ours, numlock=True)
        assert level is not None
        assert level.text == text
        shifted, _ = keymap.press(key, frozenset({"NumLock", "Shift"}))
        arrives = settled(Stroke(code, frozenset({"Shift"})), "linux", numlock=True)
        navigates = shifted.startswith("KP_") and code in NAVIGATION
        assert (arrives.code == NAVIGATION.get(code)) == navigates
        unlocked = pad_types(Stroke(code, frozenset()), ours, numlock=False)
        assert (unlocked is None) == (not keymap.press(key)[1])


def test_modifiers_of_strokes_are_known_ones():
    for layout_id in layout_ids():
        for platform in platforms_of(layout_id):
            for known in load_layout(layout_id, platform).typing:
                assert known.modifiers <= set(MODIFIERS)
