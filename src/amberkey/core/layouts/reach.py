"""Reach: how far the fingers go for a stroke. A number without unit, 0 for a bare home key; less is easier.

    score = travel + finger + held modifiers + stretch + off the block + Fn + off the mouse

Travel is counted in key widths from the finger's home key (ISO/IEC 9995-2 positions); which finger takes which key is what the
charts of ten-finger writing say. The weights are our own choice, stated beside each and fixed: they order candidates
and measure nothing. `docs/reach.md` draws the score of every key of every body.
"""

from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from math import hypot
from typing import Literal, NamedTuple

from amberkey.core.keys.codes import MODIFIER_CODES
from amberkey.core.keys.platform import SIDES
from amberkey.core.layouts.bodies import Body, Key
from amberkey.core.layouts.remaps import NO_REMAPS, Remaps, makers_of
from amberkey.core.layouts.stroke import Stroke

# Fingers from the left little finger (0) to the left index finger (3), right index finger (4) to right little finger (7);
# 8 is the thumbs. As the charts of ten-finger writing have it; keys that no chart names go to the nearest little finger.
_FINGERS = {
    0: "Backquote Digit1 KeyQ KeyA KeyZ IntlBackslash Tab CapsLock ShiftLeft ControlLeft MetaLeft Escape F1",
    1: "Digit2 KeyW KeyS KeyX F2",
    2: "Digit3 KeyE KeyD KeyC F3",
    3: "Digit4 Digit5 KeyR KeyT KeyF KeyG KeyV KeyB F4 F5",
    4: "Digit6 Digit7 KeyY KeyU KeyH KeyJ KeyN KeyM F6 F7",
    5: "Digit8 KeyI KeyK Comma F8",
    6: "Digit9 KeyO KeyL Period F9",
    8: "Space AltLeft AltRight NonConvert Convert KanaMode",
}
_FINGER_OF = {code: finger for finger, codes in _FINGERS.items() for code in codes.split()}
_HOME_KEYS = {0: "KeyA", 1: "KeyS", 2: "KeyD", 3: "KeyF", 4: "KeyJ", 5: "KeyK", 6: "KeyL", 7: "Semicolon"}
_WEAKNESS = {0: 3.0, 1: 1.5, 2: 0.5, 3: 0.0, 4: 0.0, 5: 0.5, 6: 1.5, 7: 3.0, 8: 0.0}  # little fingers are the weakest
_TRAVEL = 3.0  # per key width within the writing block
_HAND = 1.0  # per key width where the whole hand moves off the block
_OFF_THE_BLOCK = 5.0
_MODIFIER = {"Control": 3.0, "Shift": 2.0, "Alt": 4.0, "Meta": 4.0, "AltGraph": 4.0, "Fn": 4.0}
_EACH_FURTHER_MODIFIER = 3.0
_SPAN = 5.0  # key widths that a hand spans without effort
_STRETCH = 1.0  # per key width beyond, where one hand holds a modifier and hits the key
_FN = 4.0  # Fn has to be held as well
_OFF_THE_MOUSE = 6.0  # the hand that holds the mouse is needed
_ROW_CHANGE = 1.0  # per row between the keys of a sequence
NOT_HERE = 999

Hand = Literal["left", "right"]
_SIDES: dict[str, dict[Hand, tuple[str, ...]]] = {
    "Control": {"left": ("ControlLeft",), "right": ("ControlRight",)},
    "Shift": {"left": ("ShiftLeft",), "right": ("ShiftRight",)},
    "Alt": {"left": ("AltLeft",), "right": ()},  # the right one is AltGr on most keyboards
    "Meta": {"left": ("MetaLeft",), "right": ("MetaRight",)},
    "AltGraph": {"left": (), "right": ("AltRight",)},
    "Fn": {"left": (), "right": ()},  # where it lies differs from body to body
    # A modifier of which it is said which key holds it.
    **{
        code: {"left": (code,) if code.endswith("Left") else (), "right": (code,) if code.endswith("Right") else ()}
        for code in SIDES
    },
}
_MAC_RIGHT_ALT = ("AltRight",)


class Reach(NamedTuple):
    """`stretch`: key widths beyond an easy span that one hand must cover. Flags are in a fixed order."""

    score: int
    flags: tuple[str, ...]
    stretch: float = 0.0


def reach_of(stroke: Stroke, body: Body, remaps: Remaps = NO_REMAPS, mouse_hand: Hand | None = None) -> Reach:
    """The score of a stroke on a body and its flags: `left hand`, `right hand` (that hand alone can make it), `home row`,
    `three modifiers`, `far`. `mouse_hand` is the hand that stays on the mouse."""
    if remaps:
        return _best(stroke, body, tuple(sorted(remaps.items())), mouse_hand)
    return _plain(stroke, body, mouse_hand)


def reach_of_sequence(way: Sequence[Stroke], body: Body, remaps: Remaps = NO_REMAPS, mouse_hand: Hand | None = None) -> Reach:
    """A sequence costs the sum of its strokes, and each change of rows."""
    each = [reach_of(s, body, remaps, mouse_hand) for s in way]
    if len(each) == 1:
        return each[0]
    if any(r.score >= NOT_HERE for r in each):
        return Reach(NOT_HERE, next(r.flags for r in each if r.score >= NOT_HERE))
    keys = [body.key(s.code) for s in way if s.code]
    rows = [k.y for k in keys if k]
    changes = sum(abs(a - b) for a, b in pairwise(rows))
    flags = tuple(dict.fromkeys(f for r in each for f in r.flags))
    return Reach(sum(r.score for r in each) + round(changes * _ROW_CHANGE), flags, max(r.stretch for r in each))


@lru_cache(maxsize=50_000)
def _plain(stroke: Stroke, body: Body, mouse_hand: Hand | None) -> Reach:
    return _score(stroke, stroke.code, body, NO_REMAPS, mouse_hand)


@lru_cache(maxsize=20_000)
def _best(stroke: Stroke, body: Body, pairs: tuple[tuple[str, str], ...], mouse_hand: Hand | None) -> Reach:
    remaps = dict(pairs)
    makers = makers_of(stroke.code, body, remaps) if stroke.code else (None,)
    found = [_score(stroke, maker, body, remaps, mouse_hand) for maker in makers]
    return min(found, default=_missing(), key=lambda r: r.score)


def _missing() -> Reach:
    return Reach(NOT_HERE, ("not on this keyboard",))


def _score(stroke: Stroke, maker: str | None, body: Body, remaps: Remaps, mouse_hand: Hand | None) -> Reach:
    """`maker` is the physical key that is hit."""
    mods = stroke.modifiers
    held = sum(_MODIFIER[SIDES.get(m, m)] for m in mods) + _EACH_FURTHER_MODIFIER * max(0, len(mods) - 1)
    three = ("three modifiers",) if len(mods) >= 3 else ()
    if maker is None:
        return Reach(round(held), three)
    key = body.key(maker)
    if key is None:
        return _missing()
    finger = _FINGER_OF.get(key.code, 7)
    x, y = _centre(key)
    block = x < 15 and y > 0
    home = body.by_code.get(_HOME_KEYS[finger]) if finger < 8 else None
    travel = 0.0 if home is None else hypot(x - _centre(home)[0], y - home.y)
    score = _WEAKNESS[finger] + held
    score += travel * _TRAVEL if block else _OFF_THE_BLOCK + travel * _HAND
    if maker in body.fn:
        score += _FN
    hand: Hand = "left" if finger < 4 else "right"
    holders: dict[Hand, dict[str, Key]] = {
        "left": _holders(mods, "left", body, remaps),
        "right": _holders(mods, "right", body, remaps),
    }
    stretch = _stretch(key, hand, holders, mods)
    score += stretch * _STRETCH
    alone: Hand | None = None
    if finger < 8 and block and all(m in holders[hand] for m in mods):
        alone = hand
    if mouse_hand and alone != ("left" if mouse_hand == "right" else "right"):
        score += _OFF_THE_MOUSE
    flags = []
    if alone:
        flags.append(f"{alone} hand")
    if y == 3 and block:
        flags.append("home row")
    flags.extend(three)
    if not block or travel > 3.5:
        flags.append("far")
    return Reach(round(score), tuple(flags), stretch)


def _centre(key: Key) -> tuple[float, float]:
    return key.x + key.w / 2, key.y


def _holders(mods: frozenset[str], hand: Hand, body: Body, remaps: Remaps) -> dict[str, Key]:
    """The modifier keys that a hand can hold, remapped ones on its half included."""
    found: dict[str, Key] = {}
    for modifier in mods:
        codes = [*_SIDES[modifier][hand]]
        if modifier == "Alt" and hand == "right" and body.id.startswith("mac"):
            codes.extend(_MAC_RIGHT_ALT)
        codes = [c for c in codes if c not in remaps]
        codes += [
            k for k, becomes in remaps.items() if modifier in (becomes, MODIFIER_CODES.get(becomes)) and _half(k, body) == hand
        ]
        key = next((body.by_code[c] for c in codes if c in body.by_code), None)
        if key is not None:
            found[modifier] = key
    return found


def _half(code: str, body: Body) -> Hand | None:
    key = body.by_code.get(code)
    return None if key is None else "left" if _centre(key)[0] < 7.5 else "right"


def _stretch(key: Key, hand: Hand, holders: dict[Hand, dict[str, Key]], mods: frozenset[str]) -> float:
    """How far beyond an easy span the hitting hand must reach for modifiers that the other hand can't hold."""
    other: Hand = "right" if hand == "left" else "left"
    x, y = _centre(key)
    worst = 0.0
    for modifier in mods:
        if modifier in holders[other] or modifier not in holders[hand]:
            continue
        at = holders[hand][modifier]
        worst = max(worst, hypot(x - _centre(at)[0], y - at.y) - _SPAN)
    return round(max(0.0, worst), 2)
