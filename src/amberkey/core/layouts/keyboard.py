"""A keyboard: a layout on a body after the remaps, with NumLock on or off, and the strokes that make a shortcut on it.

Two readings of a shortcut must not be mixed up. What is *heard* of it: the strokes by which everything is indexed, after remaps
and NumLock (`ways_of`). And what the *fingers* do (`pressed`), of which `heard` tells what arrives.
"""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import product
from typing import NamedTuple

from amberkey.core.keys.codes import MODIFIER_CODES, PAD_CODES
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.bodies import Body, load_body
from amberkey.core.layouts.layout import Layout, load_layout
from amberkey.core.layouts.pad import heard_by_name, settled
from amberkey.core.layouts.remaps import Remaps, after_remaps, makeable_codes, makers_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Made, NotMade, Reading, strokes_of

Way = tuple[Stroke, ...]
_ALTGR = frozenset({"Control", "Alt"})
_NONE: frozenset[str] = frozenset()


@dataclass(frozen=True, eq=False)
class Keyboard:
    """One object for each layout, body, remaps and NumLock (`keyboard_of` makes it), so that it can be part of a key."""

    layout: Layout
    body: Body
    remaps: Remaps
    numlock: bool = True

    @cached_property
    def awkward(self) -> dict[Stroke, str]:
        """Room for why strokes are awkward here, worked out by others."""
        return {}

    @cached_property
    def codes(self) -> frozenset[str]:
        """The keys that can be made here; without NumLock the pad makes those that it stands for."""
        own = makeable_codes(self.body, self.remaps)
        platform, numlock = self.layout.platform, self.numlock
        return own | {s.code for c in own if (s := settled(Stroke(c, _NONE), platform, numlock)).code is not None}

    @cached_property
    def modifiers(self) -> frozenset[str]:
        """The modifiers that can be held here."""
        held = {MODIFIER_CODES[c] for c in self.codes if c in MODIFIER_CODES}
        return frozenset(held | {"AltGraph"}) if "AltRight" in self.codes else frozenset(held)

    @property
    def pad_has_digits(self) -> bool:
        """Whether the pad's keys are digits now; on macOS they always are."""
        return self.numlock or self.layout.platform == "macos"

    @property
    def altgr_is_both(self) -> bool:
        """Whether one key here holds Control and Alt: AltGr on Windows layouts that have it."""
        return self.layout.platform == "windows" and self.layout.has_altgr and "AltRight" in self.codes

    def can_hold(self, modifiers: frozenset[str]) -> bool:
        """Whether some modifiers can be held together here."""
        return not self.lacking(modifiers)

    def lacking(self, modifiers: frozenset[str]) -> frozenset[str]:
        """Those of some modifiers that no key makes here. AltGr makes Control and Alt together, where a layout has it."""
        gone = modifiers - self.modifiers
        return gone - _ALTGR if gone and modifiers >= _ALTGR and self.altgr_is_both else gone

    def heard(self, pressed: Stroke) -> Stroke:
        """What arrives of what the fingers do: remaps in one step, then NumLock."""
        if pressed.modifiers >= _ALTGR and self.altgr_is_both and not self._left >= _ALTGR:
            kept = after_remaps(Stroke(pressed.code, pressed.modifiers - _ALTGR), self.body, self.remaps)
            after = Stroke(kept.code, kept.modifiers | _ALTGR)
        else:
            after = after_remaps(pressed, self.body, self.remaps)
        return settled(after, self.layout.platform, self.numlock)

    @cached_property
    def _left(self) -> frozenset[str]:
        """The modifiers that still have a key which no remap takes away."""
        return frozenset(MODIFIER_CODES[c] for c in self.body.codes - self.remaps.keys() if c in MODIFIER_CODES)

    def fingers(self, heard: Stroke) -> Stroke:
        """What the fingers do so that a stroke arrives: the stroke itself, but for keys that remaps moved. A key that is held
        as a modifier though its cap says another one stands under its code."""
        if not self.remaps:
            return heard
        code = heard.code
        if code is not None:
            names = (
                code,
                *(c for c in PAD_CODES if settled(Stroke(c, _NONE), self.layout.platform, self.numlock).code == code),
            )
            code = next((key for name in names for key in makers_of(name, self.body, self.remaps)), code)
        held = heard.modifiers
        if held >= _ALTGR and self.altgr_is_both and not self._left >= _ALTGR:
            return Stroke(code, frozenset(map(self._holder, held - _ALTGR)) | _ALTGR)
        return Stroke(code, frozenset(map(self._holder, held)))

    def _holder(self, modifier: str) -> str:
        if modifier in self._left or (modifier == "AltGraph" and "AltRight" not in self.remaps):
            return modifier
        for code, becomes in self.remaps.items():
            if MODIFIER_CODES.get(becomes) == modifier and code in self.body.codes:
                own = MODIFIER_CODES.get(code)
                return own if own is not None and own not in self._left else code
        return modifier


def keyboard_of(layout: Layout, body: Body, remaps: Remaps, numlock: bool = True) -> Keyboard:
    """A layout on a body under some remaps; the same of all gives the same object."""
    return _keyboard(layout, body, tuple(sorted(remaps.items())), numlock)


@lru_cache(maxsize=4096)
def _keyboard(layout: Layout, body: Body, remaps: tuple[tuple[str, str], ...], numlock: bool) -> Keyboard:
    return Keyboard(layout, body, dict(remaps), numlock)


def usual_keyboard(platform: Platform, layout: str | None = None) -> Keyboard:
    """The keyboard to judge on where no setup is asked about: the US layout of a platform, or another one, with a pad.

    Raises UnknownLayout, LayoutNotThere.
    """
    layout, body = (layout or "us(mac)", "mac-iso") if platform == "macos" else (layout or "us", "iso")
    return keyboard_of(load_layout(layout, platform), load_body(body), {})


class Ways(NamedTuple):
    """The ways of making a shortcut, or why there is none."""

    ways: tuple[Way, ...]
    unreachable: str


@lru_cache(maxsize=200_000)
def ways_of(shortcut: Shortcut, keyboard: Keyboard, reads: Reading, pad: bool = False) -> Ways:
    """Every way of making a shortcut on a keyboard, as one heard stroke per press. `pad`: the pad's keys answer to characters,
    where they have digits."""
    per_press: list[tuple[Stroke, ...]] = []
    for press in shortcut.presses:
        made = strokes_of(press, keyboard.layout, reads, pad and keyboard.pad_has_digits)
        if isinstance(made, NotMade):
            return Ways((), made.reason)
        strokes = _made_here(made, keyboard)
        if not strokes:
            return Ways((), _lacking(press, made, keyboard))
        per_press.append(strokes)
    if len(per_press) == 1:
        return Ways(tuple((s,) for s in per_press[0]), "")
    return Ways(tuple(product(*per_press)), "")


def pressed(shortcut: Shortcut, keyboard: Keyboard, reads: Reading, pad: bool = False) -> Ways:
    """Every way of pressing a shortcut by what is printed on the keys, as what the fingers do; what is heard of it may be
    something else. The first way is the one to try."""
    per_press: list[tuple[Stroke, ...]] = []
    for press in shortcut.presses:
        made = strokes_of(press, keyboard.layout, reads, pad and keyboard.pad_has_digits)
        if isinstance(made, NotMade):
            return Ways((), made.reason)
        codes = keyboard.body.codes
        strokes = tuple(s for s in made.strokes if s.code is None or s.code in codes)
        if not strokes:
            return Ways((), _lacking(press, made, keyboard))
        per_press.append(strokes)
    return Ways(tuple(product(*per_press)), "")


def _made_here(made: Made, keyboard: Keyboard) -> tuple[Stroke, ...]:
    codes, platform, numlock = keyboard.codes, keyboard.layout.platform, keyboard.numlock
    here = (s for s in made.strokes if (s.code is None or s.code in codes) and keyboard.can_hold(s.modifiers))
    heard = (heard_by_name(s, platform, numlock) if s.code else s for s in here)
    return tuple(dict.fromkeys(s for s in heard if s is not None))


def _lacking(press: Press, made: Made, keyboard: Keyboard) -> str:
    stroke = made.strokes[0]
    if stroke.code is not None and stroke.code not in keyboard.codes:
        if stroke.code not in keyboard.body.codes:
            return f"the {keyboard.body.name} body lacks the key for {press}"
        return f"the remaps leave no key that makes {stroke.code}"
    gone = sorted(keyboard.lacking(stroke.modifiers))
    if gone:
        return f"no key of the {keyboard.body.name} body makes {gone[0]} here"
    return f"Shift makes another key of {press} while NumLock is on"
