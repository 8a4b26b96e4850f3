"""The numeric pad: what arrives of a pad key, and what it types.

NumLock chooses between digits and navigation (not on macOS, where the pad always has digits). On Windows Shift turns a digit
into its navigation key and is itself not seen by the program; Linux does the same (XKB key type KEYPAD). Alt held on Windows
collects the digits of a character's number.
"""

from amberkey.core.keys.codes import PAD_CODES
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.layout import Layout, Level
from amberkey.core.layouts.stroke import Stroke

NAVIGATION = {
    "Numpad0": "Insert",
    "Numpad1": "End",
    "Numpad2": "ArrowDown",
    "Numpad3": "PageDown",
    "Numpad4": "ArrowLeft",
    "Numpad6": "ArrowRight",
    "Numpad7": "Home",
    "Numpad8": "ArrowUp",
    "Numpad9": "PageUp",
    "NumpadDecimal": "Delete",
}
SIGNS = {"NumpadAdd": "+", "NumpadSubtract": "-", "NumpadMultiply": "*", "NumpadDivide": "/"}
DIGITS = {f"Numpad{n}": str(n) for n in range(10)}
# What NumLock and Shift switch. Without digits, the 5 in the middle does nothing.
SWITCHED = frozenset({*DIGITS, "NumpadDecimal"})
BY_NUMBER = "a character by its number"
_PAD = frozenset(PAD_CODES)
_SHIFT = frozenset({"Shift"})
_SHIFTS = frozenset({"Shift", "ShiftLeft", "ShiftRight"})
_ALT = frozenset({"Alt"})


def is_pad(code: str | None) -> bool:
    """Whether a W3C code is a key of the numeric pad."""
    return code in _PAD


def settled(stroke: Stroke, platform: Platform, numlock: bool) -> Stroke:
    """The stroke that everybody hears of a pressed one, the system as well as programs: a key that answers to two names is
    one stroke.

    A pad key that navigates is the navigation key, and the pad's Enter is Enter.
    """
    code = stroke.code
    if code == "NumpadEnter":
        return Stroke("Enter", stroke.modifiers)
    to = NAVIGATION.get(code) if code else None
    if to is None or platform == "macos":
        return stroke
    if not numlock:
        return Stroke(to, stroke.modifiers)
    return stroke if stroke.modifiers.isdisjoint(_SHIFTS) else Stroke(to, stroke.modifiers - _SHIFTS)


def heard_by_name(stroke: Stroke, platform: Platform, numlock: bool) -> Stroke | None:
    """The stroke that a shortcut which names a key of the pad is heard as; None where it never arrives, as Shift makes
    another key of it."""
    if numlock and not stroke.modifiers.isdisjoint(_SHIFTS) and stroke.code in NAVIGATION and platform != "macos":
        return None
    return settled(stroke, platform, numlock)


def pad_text(code: str, layout: Layout) -> str | None:
    """What the key types with NumLock on: a digit, a sign, or the layout's decimal sign. Where a pad has a key for thousands
    too, that types the other one of point and comma."""
    if code == "NumpadComma":
        return "." if layout.decimal == "," else ","
    return DIGITS.get(code) or SIGNS.get(code) or (layout.decimal if code == "NumpadDecimal" else None)


def pad_types(stroke: Stroke, layout: Layout, numlock: bool) -> Level | None:
    """What a stroke on the pad types, or None."""
    code = stroke.code
    if code is None or not is_pad(code):
        return None
    if layout.platform == "windows" and stroke.modifiers == _ALT and code in DIGITS and numlock:
        return Level(BY_NUMBER, "derived")
    if stroke.modifiers - _SHIFT:
        return None
    if code in SWITCHED and layout.platform != "macos" and (not numlock or stroke.modifiers):
        return None
    text = pad_text(code, layout)
    return Level(text, "derived") if text else None


def codes_typing(char: str, layout: Layout) -> tuple[str, ...]:
    """The pad keys that type a character with NumLock on, for programs that let them answer to it."""
    return tuple(c for c in (*DIGITS, *SIGNS, "NumpadDecimal", "NumpadComma") if pad_text(c, layout) == char)
