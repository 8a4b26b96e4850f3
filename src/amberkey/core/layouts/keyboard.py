"""A keyboard: a layout on a body after the remaps, with NumLock on or off, and the strokes that make a shortcut on it.

Two readings of a shortcut must not be mixed up. What is *heard* of it: the strokes by which everything is indexed, after remaps
and NumLock (`ways_of`). And what the *fingers* do (`pressed`), of which `heard` tells what arrives.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import product
from typing import NamedTuple, get_args

from amberkey.core.keys.codes import MODIFIER_CODES, PAD_CODES
from amberkey.core.keys.platform import FN, SIDES, Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.bodies import Body, load_body
from amberkey.core.layouts.layout import Layout, load_layout
from amberkey.core.layouts.pad import heard_by_name, settled
from amberkey.core.layouts.remaps import Remaps, after_remaps, makeable_codes, makers_of
from amberkey.core.layouts.sides import NO_SIDES, Sides, heard_among, plain, spread, told_apart
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Made, NotMade, Reading, strokes_of

Way = tuple[Stroke, ...]
_ALTGR = frozenset({"Control", "Alt"})
_NONE: frozenset[str] = frozenset()


@dataclass(frozen=True, eq=False)
class Keyboard:
    """One object for each layout, body, remaps, NumLock and sides (`keyboard_of` makes it), so that it can be part of a key.

    `sides`: the strokes that are told apart by which of two modifier keys is held.
    """

    layout: Layout
    body: Body
    remaps: Remaps
    numlock: bool = True
    sides: Sides = NO_SIDES
    heard_by: "Keyboard | None" = None
    """The same keys as a far machine reads them, where presses are passed on to one: strokes are told as that hears them."""

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
        held = {m for c in self.codes if (own := self._held_by(c)) for m in (c, own)}
        if "AltRight" in self.codes:
            held.add("AltGraph")
        if self.layout.right_alt_is_altgr:
            held.discard("AltRight")
        if self.body.has_fn and self.layout.platform == "macos":
            held.add(FN)
        return frozenset(held)

    def _held_by(self, code: str) -> str | None:
        """The modifier that a key is; None for one that is none. The right Alt is AltGr where the layout has that."""
        return "AltGraph" if code == "AltRight" and self.layout.right_alt_is_altgr else MODIFIER_CODES.get(code)

    @cached_property
    def _only_side(self) -> Mapping[str, str]:
        """The modifiers of which there is one key only, with that key: holding one is holding the other."""
        found: dict[str, list[str]] = {}
        for code in self.modifiers & MODIFIER_CODES.keys():
            found.setdefault(MODIFIER_CODES[code], []).append(code)
        return {modifier: codes[0] for modifier, codes in found.items() if len(codes) == 1}

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
        """What arrives of what the fingers do: Fn and the top row, then remaps in one step, then NumLock; of modifiers the
        side, where somebody asks for it."""
        pressed = self.through_fn(pressed)
        if FN in pressed.modifiers and FN not in self.modifiers:
            pressed = Stroke(pressed.code, pressed.modifiers - {FN})
        if "AltRight" not in self.remaps:
            pressed = self._with_altgr(pressed)
        return self._named(self._arrives(pressed))

    def _with_altgr(self, stroke: Stroke) -> Stroke:
        """A stroke held with the right Alt key, where that is AltGr."""
        if "AltRight" not in stroke.modifiers or not self.layout.right_alt_is_altgr:
            return stroke
        altgr = _ALTGR if self.layout.platform == "windows" else frozenset({"AltGraph"})
        return Stroke(stroke.code, stroke.modifiers - {"AltRight"} | altgr)

    def _named(self, stroke: Stroke) -> Stroke:
        if not self.sides:
            return plain(stroke)
        if not (self.altgr_is_both and stroke.modifiers >= _ALTGR):
            stroke = Stroke(stroke.code, frozenset(self._only_side.get(m, m) for m in stroke.modifiers))
        return heard_among(stroke, self.sides)

    def as_named(self, wanted: Stroke) -> tuple[Stroke, ...]:
        """The strokes as which one is heard that a shortcut names: itself, and what the sides tell apart of it."""
        if self.heard_by is not None:
            held = wanted.modifiers
            passed = Stroke(wanted.code, held - {"AltGraph"} | {"AltRight"} if "AltGraph" in held else held)
            return self.heard_by.as_named(self.heard_by._with_altgr(passed))
        if not self.sides:
            return (plain(wanted),)
        return tuple(dict.fromkeys((self._named(wanted), *(s for s in spread(wanted, self.sides) if self._named(s) == s))))

    def through_fn(self, pressed: Stroke) -> Stroke:
        """What comes out of the keyboard: Fn makes other keys of some, and so does the top row without it."""
        code, held = pressed.code, pressed.modifiers
        if FN in held:
            made = self.body.under_fn.get(code or "")
            return pressed if made is None else Stroke(made, held - {FN})
        special = self.body.bare.get(code or "")
        return pressed if special is None else Stroke(special, held)

    def _arrives(self, pressed: Stroke) -> Stroke:
        if pressed.modifiers >= _ALTGR and self.altgr_is_both and not self._left >= _ALTGR:
            kept = after_remaps(Stroke(pressed.code, pressed.modifiers - _ALTGR), self.body, self.remaps)
            after = Stroke(kept.code, kept.modifiers | _ALTGR)
        else:
            after = self._with_altgr(after_remaps(pressed, self.body, self.remaps))
        return settled(after, self.layout.platform, self.numlock)

    @cached_property
    def _left(self) -> frozenset[str]:
        """The modifiers that still have a key which no remap takes away."""
        return frozenset(m for c in self.body.codes - self.remaps.keys() if (m := self._held_by(c)))

    def fingers(self, heard: Stroke) -> Stroke:
        """What the fingers do so that a stroke arrives: the stroke itself, but for keys that remaps moved. A key that is held
        as a modifier though its cap says another one stands under its code."""
        if not self.remaps:
            return self._with_fn(heard)
        code = heard.code
        if code is not None:
            names = (
                code,
                *(c for c in PAD_CODES if settled(Stroke(c, _NONE), self.layout.platform, self.numlock).code == code),
            )
            code = next((key for name in names for key in makers_of(name, self.body, self.remaps)), code)
        held = heard.modifiers
        if held >= _ALTGR and self.altgr_is_both and not self._left >= _ALTGR:
            return self._with_fn(Stroke(code, frozenset(map(self._holder, held - _ALTGR)) | _ALTGR))
        return self._with_fn(Stroke(code, frozenset(map(self._holder, held))))

    def _with_fn(self, pressed: Stroke) -> Stroke:
        """A function key needs Fn where the top row has special keys."""
        return Stroke(pressed.code, pressed.modifiers | {FN}) if pressed.code in self.body.bare else pressed

    def _holder(self, modifier: str) -> str:
        if modifier in self._left or (modifier == "AltGraph" and "AltRight" not in self.remaps):
            return modifier
        if modifier in MODIFIER_CODES:
            return next(iter(makers_of(modifier, self.body, self.remaps)), modifier)
        for code, becomes in self.remaps.items():
            if self._held_by(becomes) == modifier and code in self.body.codes:
                own = MODIFIER_CODES.get(code)
                return own if own is not None and own not in self._left else code
        return modifier


def keyboard_of(
    layout: Layout,
    body: Body,
    remaps: Remaps,
    numlock: bool = True,
    sides: Sides = NO_SIDES,
    heard_by: Keyboard | None = None,
) -> Keyboard:
    """A layout on a body under some remaps; the same of all gives the same object."""
    return _keyboard(layout, body, tuple(sorted(remaps.items())), numlock, sides, heard_by)


@lru_cache(maxsize=4096)
def _keyboard(
    layout: Layout,
    body: Body,
    remaps: tuple[tuple[str, str], ...],
    numlock: bool,
    sides: Sides,
    heard_by: Keyboard | None,
) -> Keyboard:
    return Keyboard(layout, body, dict(remaps), numlock, sides, heard_by)


def sides_in(presses: Iterable[Press], layout: Layout) -> Sides:
    """The strokes that some presses tell apart by their sides on a layout, however programs read keys."""
    said = [p for p in presses if not SIDES.keys().isdisjoint(p.modifiers)]
    made = (strokes_of(p, layout, reads, True) for p in said for reads in get_args(Reading))
    return told_apart(s for m in made if isinstance(m, Made) for s in m.strokes)


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
        if FN in press.modifiers:
            made = Made(tuple(map(keyboard.through_fn, made.strokes)), made.derived)
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
    found = (keyboard.as_named(s) for s in heard if s is not None)
    return tuple(dict.fromkeys(s for strokes in found for s in strokes))


def _lacking(press: Press, made: Made, keyboard: Keyboard) -> str:
    stroke = made.strokes[0]
    if stroke.code is not None and stroke.code not in keyboard.codes:
        if stroke.code not in keyboard.body.codes:
            return f"the {keyboard.body.name} body lacks the key for {press}"
        return f"the remaps leave no key that makes {stroke.code}"
    gone = sorted(keyboard.lacking(stroke.modifiers))
    if FN in gone:
        return "Fn stays inside the keyboard: only macOS hears it, on a body that has it"
    if gone:
        return f"no key of the {keyboard.body.name} body makes {gone[0]} here"
    return f"Shift makes another key of {press} while NumLock is on"
