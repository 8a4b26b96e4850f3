"""A keyboard: a layout on a body after the remaps, and the strokes that make a shortcut on it."""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import product
from typing import NamedTuple

from amberkey.core.keys.codes import MODIFIER_CODES
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.bodies import Body
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.remaps import Remaps, makeable_codes
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Made, NotMade, Reading, strokes_of

Way = tuple[Stroke, ...]


@dataclass(frozen=True, eq=False)
class Keyboard:
    """One object for each layout, body and remaps (`keyboard_of` makes it), so that it can be part of a key."""

    layout: Layout
    body: Body
    remaps: Remaps

    @cached_property
    def awkward(self) -> dict[Stroke, str]:
        """Room for why strokes are awkward here, worked out by others."""
        return {}

    @cached_property
    def codes(self) -> frozenset[str]:
        """The keys that can be made here."""
        return makeable_codes(self.body, self.remaps)

    @cached_property
    def modifiers(self) -> frozenset[str]:
        """The modifiers that can be held here."""
        held = {MODIFIER_CODES[c] for c in self.codes if c in MODIFIER_CODES}
        return frozenset(held | {"AltGraph"}) if "AltRight" in self.codes else frozenset(held)


def keyboard_of(layout: Layout, body: Body, remaps: Remaps) -> Keyboard:
    """A layout on a body under some remaps; the same three give the same object."""
    return _keyboard(layout, body, tuple(sorted(remaps.items())))


@lru_cache(maxsize=4096)
def _keyboard(layout: Layout, body: Body, remaps: tuple[tuple[str, str], ...]) -> Keyboard:
    return Keyboard(layout, body, dict(remaps))


class Ways(NamedTuple):
    """The ways of making a shortcut, or why there is none."""

    ways: tuple[Way, ...]
    unreachable: str


@lru_cache(maxsize=200_000)
def ways_of(shortcut: Shortcut, keyboard: Keyboard, reads: Reading, pad: bool = False) -> Ways:
    """Every way of making a shortcut on a keyboard, as one stroke per press. `pad`: the pad's keys answer to characters."""
    per_press: list[tuple[Stroke, ...]] = []
    for press in shortcut.presses:
        made = strokes_of(press, keyboard.layout, reads, pad)
        if isinstance(made, NotMade):
            return Ways((), made.reason)
        strokes = _made_here(made, keyboard)
        if not strokes:
            return Ways((), _lacking(press, made, keyboard))
        per_press.append(strokes)
    if len(per_press) == 1:
        return Ways(tuple((s,) for s in per_press[0]), "")
    return Ways(tuple(product(*per_press)), "")


def _made_here(made: Made, keyboard: Keyboard) -> tuple[Stroke, ...]:
    codes, held = keyboard.codes, keyboard.modifiers
    return tuple(s for s in made.strokes if (s.code is None or s.code in codes) and s.modifiers <= held)


def _lacking(press: Press, made: Made, keyboard: Keyboard) -> str:
    stroke = made.strokes[0]
    if stroke.code is not None and stroke.code not in keyboard.codes:
        if stroke.code not in keyboard.body.codes:
            return f"the {keyboard.body.name} body lacks the key for {press}"
        return f"the remaps leave no key that makes {stroke.code}"
    gone = next(iter(sorted(stroke.modifiers - keyboard.modifiers)))
    return f"no key of the {keyboard.body.name} body makes {gone} here"
