"""From a press to its strokes: which key the fingers hit and which modifiers they hold.

The three ways in which programs read keys are those of Windows virtual keys (`key`), of characters and of W3C codes.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from amberkey.core.keys.codes import SAME_NAME_CODES
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press
from amberkey.core.layouts.layout import Layout, load_layout

Reading = Literal["character", "key", "position"]
# Signs with a key of their own when a program reads by key.
_OWN_KEY_SIGNS = "+-,."
_SAME_NAME = frozenset(SAME_NAME_CODES)


@dataclass(frozen=True, slots=True)
class Stroke:
    """A physical key (W3C code; None where modifiers alone are tapped) and the physical modifiers held."""

    code: str | None
    modifiers: frozenset[str]

    def __str__(self) -> str:
        held = [m for m in ("Control", "Alt", "Shift", "Meta", "AltGraph") if m in self.modifiers]
        return "+".join([*held, f"code:{self.code}"] if self.code else held)


@dataclass(frozen=True, slots=True)
class Made:
    """A press that can be made: its strokes (usually one), and whether the key was only derived."""

    strokes: tuple[Stroke, ...]
    derived: bool = False


@dataclass(frozen=True, slots=True)
class NotMade:
    """A press that no stroke makes on this layout, and why, in words."""

    reason: str


def modifiers_of_level(layout: Layout, level: int) -> frozenset[str]:
    """The physical modifiers that reach a level: AltGr is Control with Alt on Windows, Option on macOS."""
    third: dict[str, frozenset[str]] = {
        "windows": frozenset({"Control", "Alt"}),
        "macos": frozenset({"Alt"}),
        "linux": frozenset({"AltGraph"}),
    }
    held = third[layout.platform] if level >= 2 else frozenset()
    return held | {"Shift"} if level % 2 else held


@lru_cache(maxsize=50_000)
def _strokes_of(press: Press, layout_id: str, platform: Platform, reads: Reading) -> Made | NotMade:
    return _find_strokes(press, load_layout(layout_id, platform), reads)


def strokes_of(press: Press, layout: Layout, reads: Reading) -> Made | NotMade:
    """The strokes that make a press on a layout, for a program that reads keys in one of the three ways."""
    return _strokes_of(press, layout.id, layout.platform, reads)


def _find_strokes(press: Press, layout: Layout, reads: Reading) -> Made | NotMade:
    press = press.resolve(layout.platform)
    held = frozenset(press.modifiers)
    if "AltGraph" in held:
        if not layout.has_altgr:
            return NotMade(f"the {layout.name} keyboard has no AltGr")
        if layout.platform != "linux":
            held = held - {"AltGraph"} | modifiers_of_level(layout, 2)
    if press.is_tap:
        return Made((Stroke(None, held),))
    if press.code is not None:
        return Made((Stroke(press.code, held),))
    key = press.key
    assert key is not None
    if key in _SAME_NAME:
        return Made((Stroke(key, held),))
    if reads == "position":
        code = _us_position(key)
        if code is None:
            return NotMade(f"a program that reads by position has no key for {key}")
        return Made((Stroke(code, held),))
    letter = key.lower()
    if key.isalpha() and layout.places_of(letter):
        plain = tuple(Stroke(code, held) for code, n in layout.places_of(letter) if n == 0)
        return Made(plain or _typing(letter, layout, held))
    if reads == "key":
        if key.isdigit() and len(key) == 1 and key.isascii():
            return Made((Stroke(f"Digit{key}", held),))
        if key in _OWN_KEY_SIGNS:
            for code, n in layout.places_of(key):
                if n < 2:
                    return Made((Stroke(code, held),))
    typed = _typing(key, layout, held)
    if typed:
        return Made(typed, derived=reads == "key")
    if layout.dead_places_of(key):
        return NotMade(f"{key} is only on a dead key of the {layout.name} keyboard, which starts an accent")
    return NotMade(f"no key of the {layout.name} keyboard types {key}")


def _typing(key: str, layout: Layout, held: frozenset[str]) -> tuple[Stroke, ...]:
    """One stroke for each key that types the character, on its lowest level; the level's modifiers are added."""
    found: dict[str, Stroke] = {}
    for code, n in layout.places_of(key):
        found.setdefault(code, Stroke(code, held | modifiers_of_level(layout, n)))
    return tuple(found.values())


def _us_position(key: str) -> str | None:
    """Programs that read by position name keys as a US keyboard prints them."""
    places = load_layout("us", "windows").places_of(key.lower())
    return places[0][0] if places else None


def canonical_on(press: Press, layout: Layout, reads: Reading) -> tuple[Press, str | None]:
    """One form per stroke: where Shift is part of typing the character, it is not written. The note says so."""
    press = press.resolve(layout.platform)
    if press.key is None or len(press.key) != 1 or press.key.isalpha() or "Shift" not in press.modifiers:
        return press, None
    bare = Press.of((m for m in press.modifiers if m != "Shift"), press.key)
    if strokes_of(bare, layout, reads) == strokes_of(press, layout, reads):
        return bare, f"{press.key} needs Shift on the {layout.name} keyboard anyway"
    return press, None
