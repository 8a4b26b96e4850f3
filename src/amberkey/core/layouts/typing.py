"""What a stroke types, and how badly people need that.

Windows: bare, Shift, and Control+Alt (which is AltGr) with or without Shift, where the level has text. macOS: bare, Shift,
Option with or without Shift. Linux: bare, Shift, AltGraph with or without Shift. Other modifiers type nothing.
"""

from typing import Literal

from amberkey.core.layouts.layout import Layout, Level
from amberkey.core.layouts.strokes import Stroke, modifiers_of_level

Need = Literal["needed", "spare"]


def types(stroke: Stroke, layout: Layout) -> Level | None:
    """The level that a stroke types, or None: a text, or the start of an accent."""
    if stroke.code is None or stroke.code not in layout.keys:
        return None
    for n, level in enumerate(layout.keys[stroke.code]):
        if level is not None and stroke.modifiers == modifiers_of_level(layout, n):
            return level
    return None


def need_of(stroke: Stroke, layout: Layout) -> Need | None:
    """`needed`: people can't do without what the stroke types. None where it types nothing.

    Needed are bare and shifted keys, ASCII signs that no other stroke types, letters of the language and its
    currency sign. Whatever else AltGr or Option reach is spare.
    """
    level = types(stroke, layout)
    if level is None:
        return None
    if not stroke.modifiers - {"Shift"}:
        return "needed"
    others = [
        p for p in layout.places_of(level.text) if modifiers_of_level(layout, p[1]) != stroke.modifiers or p[0] != stroke.code
    ]
    if others:
        return "spare"
    text = level.text
    if not level.dead and ((len(text) == 1 and text.isascii()) or text.lower() in layout.letters or text == layout.currency):
        return "needed"
    return "spare"
