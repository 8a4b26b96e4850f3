"""Reach: how far the fingers go for a stroke. A number without unit, 0 for a bare home key; less is easier.

Score = travel + finger + modifiers + strain, each documented beside its weight. The weights are our own choice and fixed:
they order candidates, they measure nothing. Travel is counted in key widths from the finger's home key (ISO/IEC 9995-2
positions), as the typing charts of ten-finger writing assign fingers.
"""

from dataclasses import dataclass
from math import hypot

from amberkey.core.layouts.bodies import Body
from amberkey.core.layouts.strokes import Stroke

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
    8: "Space AltLeft AltRight",
}
_FINGER_OF = {code: finger for finger, codes in _FINGERS.items() for code in codes.split()}
_HOME_KEYS = {0: "KeyA", 1: "KeyS", 2: "KeyD", 3: "KeyF", 4: "KeyJ", 5: "KeyK", 6: "KeyL", 7: "Semicolon"}
_WEAKNESS = {0: 3.0, 1: 1.5, 2: 0.5, 3: 0.0, 4: 0.0, 5: 0.5, 6: 1.5, 7: 3.0, 8: 0.0}
_TRAVEL = 3.0  # per key width
_MODIFIER = {"Control": 3.0, "Shift": 2.0, "Alt": 4.0, "Meta": 4.0, "AltGraph": 4.0}
_EACH_FURTHER_MODIFIER = 3.0
_SAME_HAND_STRETCH = 1.0  # per key width between a left modifier and a left key further than 5 widths away
_FAR = 5.0  # leaving the writing block altogether


@dataclass(frozen=True, slots=True)
class Reach:
    score: int
    flags: tuple[str, ...]


def reach_of(stroke: Stroke, body: Body) -> Reach:
    """The score of a stroke on a body and its flags: `left hand`, `right hand`, `home row`, `three modifiers`, `far`."""
    mods = stroke.modifiers
    held = sum(_MODIFIER[m] for m in mods) + _EACH_FURTHER_MODIFIER * max(0, len(mods) - 1)
    if stroke.code is None:
        return Reach(round(held), ())
    key = body.key(stroke.code)
    if key is None:
        return Reach(999, ("not on this keyboard",))
    x, y = key.x + key.w / 2, key.y
    block = x < 15 and y > 0
    finger = _FINGER_OF.get(stroke.code, 7)
    home = body.key(_HOME_KEYS[finger]) if finger < 8 else None
    travel = 0.0 if home is None else hypot(x - home.x - home.w / 2, y - home.y)
    score = travel * _TRAVEL + _WEAKNESS[finger] + held + (0 if block else _FAR)
    left = finger < 4
    if mods and left:
        score += _SAME_HAND_STRETCH * max(0.0, x - 5)
    flags = []
    if finger < 8 and block:
        if left:
            flags.append("left hand")
        elif mods <= {"Shift", "AltGraph"}:
            flags.append("right hand")
    if y == 3 and block:
        flags.append("home row")
    if len(mods) >= 3:
        flags.append("three modifiers")
    if not block or travel > 3.5:
        flags.append("far")
    return Reach(round(score), tuple(flags))
