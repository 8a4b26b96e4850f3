"""From a stroke back to a press: how a program that reads keys in one of the three ways would name it."""

from amberkey.core.keys.codes import SAME_NAME_CODES
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.shortcut import Press
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import NotMade, Reading, canonical_on, strokes_of

_SAME_NAME = frozenset(SAME_NAME_CODES)


def press_for(stroke: Stroke, layout: Layout, reads: Reading) -> Press:
    """A press that makes the stroke: by its name or character where that leads back to it, else by position."""
    code, held = stroke
    if code is None:
        return Press.of(held)
    if code in _SAME_NAME:
        return Press.of(held, code)
    levels = layout.keys.get(code)
    if levels is not None and reads != "position":
        for level in levels[:2]:
            if level is None or level.dead:
                continue
            press = Press.of(held, case_of_key(level.text))
            made = strokes_of(press, layout, reads)
            if not isinstance(made, NotMade) and stroke in made.strokes:
                return canonical_on(press, layout, reads)[0]
    return Press.of(held, None, code)
