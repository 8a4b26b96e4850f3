"""What a stroke types, and how badly people need that.

Windows: bare, Shift, and Control+Alt (which is AltGr) with or without Shift, where the level has text. macOS: bare, Shift,
Option with or without Shift. Linux: bare, Shift, AltGraph with or without Shift. Other modifiers type nothing.
"""

import unicodedata
from typing import Literal

from amberkey.core.layouts.accents import compose
from amberkey.core.layouts.layout import Layout, Level
from amberkey.core.layouts.pad import pad_types
from amberkey.core.layouts.sides import plain
from amberkey.core.layouts.stroke import Stroke

Need = Literal["needed", "spare"]


def types(stroke: Stroke, layout: Layout, numlock: bool = True) -> Level | None:
    """The level that a stroke types, or None: a text, or the start of an accent. Which Shift is held makes no difference."""
    stroke = plain(stroke)
    return layout.typing.get(stroke) or pad_types(stroke, layout, numlock)


def need_of(stroke: Stroke, layout: Layout) -> Need | None:
    """`needed`: people can't do without what the stroke types. None where it types nothing.

    Needed are bare and shifted keys; of those with AltGr or Option the ones that type, or begin, an ASCII sign that no surer
    press gives, a letter of the language or its currency sign. Whatever else AltGr, Option or the pad reach is spare.
    """
    stroke = plain(stroke)
    level = types(stroke, layout)
    if level is None:
        return None
    if not stroke.modifiers - {"Shift"}:
        return "needed"
    if stroke not in layout.typing or other_places(stroke, layout):
        return "spare"
    text = level.text
    if len(text) == 1 and text.isascii():
        return "needed"
    if not level.dead and (text.lower() in layout.letters or text == layout.currency):
        return "needed"
    return "spare"


def other_places(stroke: Stroke, layout: Layout) -> bool:
    """Whether another stroke types the same text, so that people can do without this one.

    What is on a key only likely makes no other press spare, and nor does a dead key, which only begins an accent.
    """
    stroke = plain(stroke)
    level = layout.typing.get(stroke)
    if level is None:
        return False
    return any(
        other != stroke and found.source != "likely" and not found.dead for other, found in layout.strokes_for(level.text)
    )


def can_type(sign: str, layout: Layout) -> bool:
    """Whether a layout has presses for a sign: a key of its own, or a dead key and the letter after it."""
    if layout.places_of(sign):
        return True
    base = unicodedata.normalize("NFD", sign)[:1]
    if not layout.places_of(base):
        return False
    return any(level.dead and compose(level.text, base) == sign for level in layout.typing.values())
