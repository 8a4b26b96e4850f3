"""From a press to its strokes: which key the fingers hit and which modifiers they hold.

The three ways in which programs read keys are those of Windows virtual keys (`key`), of characters and of W3C codes.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from amberkey.core.keys.codes import SAME_NAME_CODES
from amberkey.core.keys.platform import SIDES, Platform
from amberkey.core.keys.shortcut import Press
from amberkey.core.layouts.layout import Layout, load_layout, modifiers_of_level
from amberkey.core.layouts.pad import SWITCHED, codes_typing
from amberkey.core.layouts.stroke import Stroke

Reading = Literal["character", "key", "position"]
# Signs with a key of their own when a program reads by key.
_OWN_KEY_SIGNS = "+-,."
_SAME_NAME = frozenset(SAME_NAME_CODES)
_US_PLATFORM: Platform = "windows"


@dataclass(frozen=True, slots=True)
class Made:
    """A press that can be made: its strokes (usually one), and whether the key was only derived."""

    strokes: tuple[Stroke, ...]
    derived: bool = False


@dataclass(frozen=True, slots=True)
class NotMade:
    """A press that no stroke makes on this layout, and why, in words."""

    reason: str


@lru_cache(maxsize=200_000)
def strokes_of(press: Press, layout: Layout, reads: Reading, pad: bool = False) -> Made | NotMade:
    """The strokes that make a press on a layout, for a program that reads keys in one of the three ways.

    `pad`: the program lets the keys of the numeric pad answer to characters.
    """
    press = press.resolve(layout.platform)
    held = frozenset(press.modifiers)
    if not held.isdisjoint(SIDES):
        return _on_sides(press, layout, reads, pad)
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
    found = _by_position(key, held) if reads == "position" else _by_key_or_character(key, held, layout, reads)
    if pad:
        # Shift turns the pad's digits into navigation, except on macOS.
        shifted = "Shift" in held and layout.platform != "macos"
        codes = (c for c in codes_typing(key, layout) if not (shifted and c in SWITCHED))
        extra = tuple(Stroke(code, held) for code in codes)
        if extra:
            own = found.strokes if isinstance(found, Made) else ()
            return Made((*own, *extra), isinstance(found, Made) and found.derived)
    return found


def _on_sides(press: Press, layout: Layout, reads: Reading, pad: bool) -> Made | NotMade:
    """A press that says of some modifiers which key holds them: the strokes of the plain press, held so."""
    held = ["AltGraph" if m == "AltRight" and layout.right_alt_is_altgr else m for m in press.modifiers]
    sided = frozenset(held) & SIDES.keys()
    found = strokes_of(Press.of((SIDES.get(m, m) for m in held), press.key, press.code), layout, reads, pad)
    if isinstance(found, NotMade):
        return found
    plain = {SIDES[s] for s in sided}
    return Made(tuple(Stroke(s.code, s.modifiers - plain | sided) for s in found.strokes), found.derived)


def _by_position(key: str, held: frozenset[str]) -> Made | NotMade:
    """Programs that read by position name keys as a US keyboard prints them."""
    places = load_layout("us", _US_PLATFORM).places_of(key.lower())
    if not places:
        return NotMade(f"a program that reads by position has no key for {key}")
    code, level = places[0]
    return Made((Stroke(code, held | {"Shift"} if level == 1 else held),))


def _by_key_or_character(key: str, held: frozenset[str], layout: Layout, reads: Reading) -> Made | NotMade:
    letter = key.lower()
    if key.isalpha() and layout.places_of(letter):
        plain = tuple(Stroke(code, held) for code, n in layout.places_of(letter) if n == 0)
        return Made(plain or _typing(letter, layout, held))
    if reads == "key":
        if len(key) == 1 and key.isascii() and key.isdigit():
            return Made((Stroke(f"Digit{key}", held),))
        if key in _OWN_KEY_SIGNS:
            for code, n in layout.places_of(key):
                if n < 2:
                    return Made((Stroke(code, held),))
    typed = _typing(key, layout, held)
    if typed:
        return Made(typed, derived=reads == "key")
    dead = layout.dead_places_of(key)
    if dead and reads == "key":
        # Such a program goes by the key that carries the sign, whatever the key types.
        return Made(tuple(Stroke(code, held | modifiers_of_level(layout, n)) for code, n in dead[:1]), derived=True)
    if dead:
        return NotMade(f"{key} is only on a dead key of the {layout.name} keyboard, which starts an accent")
    return NotMade(f"no key of the {layout.name} keyboard types {key}")


def _typing(key: str, layout: Layout, held: frozenset[str]) -> tuple[Stroke, ...]:
    """One stroke for each key that types the character, on its lowest level; the level's modifiers are added."""
    found: dict[str, Stroke] = {}
    for code, n in layout.places_of(key):
        found.setdefault(code, Stroke(code, held | modifiers_of_level(layout, n)))
    return tuple(found.values())


def say_derived(press: Press, layout: Layout, reads: Reading) -> str | None:
    """That the key of a press was only derived, in words, where it was: a program that goes by keys may have another one."""
    made = strokes_of(press.resolve(layout.platform), layout, reads)
    if isinstance(made, NotMade) or not made.derived:
        return None
    return f"the key for {press.key} is derived: it is the one that carries it on the {layout.name} keyboard"


def canonical_on(press: Press, layout: Layout, reads: Reading) -> tuple[Press, str | None]:
    """One form per stroke: where Shift is part of typing the character, it is not written. The note says so."""
    press = press.resolve(layout.platform)
    if press.key is None or len(press.key) != 1 or press.key.isalpha() or "Shift" not in press.modifiers:
        return press, None
    bare = Press.of((m for m in press.modifiers if m != "Shift"), press.key)
    if strokes_of(bare, layout, reads) == strokes_of(press, layout, reads):
        return bare, f"{press.key} needs Shift on the {layout.name} keyboard anyway"
    return press, None
