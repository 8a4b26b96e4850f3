"""What a stroke types, and how badly people need that.

Windows: bare, Shift, and Control+Alt (which is AltGr) with or without Shift, where the level has text. macOS: bare, Shift,
Option with or without Shift. Linux: bare, Shift, AltGraph with or without Shift. Other modifiers type nothing.
"""

from typing import Literal

from amberkey.core.layouts.layout import Layout, Level, modifiers_of_level
from amberkey.core.layouts.pad import pad_types
from amberkey.core.layouts.stroke import Stroke

Need = Literal["needed", "spare"]


def types(stroke: Stroke, layout: Layout, numlock: bool = True) -> Level | None:
    """The level that a stroke types, or None: a text, or the start of an accent."""
    return layout.typing.get(stroke) or pad_types(stroke, layout, numlock)


def need_of(stroke: Stroke, layout: Layout) -> Need | None:
    """`needed`: people can't do without what the stroke types. None where it types nothing.

    Needed are bare and shifted keys, ASCII signs that no other stroke types, letters of the language and its
    currency sign. Whatever else AltGr, Option or the pad reach is spare.
    """
    level = types(stroke, layout)
    if level is None:
        return None
    if not stroke.modifiers - {"Shift"}:
        return "needed"
    if stroke not in layout.typing or other_places(stroke, layout):
        return "spare"
    text = level.text
    if not level.dead and ((len(text) == 1 and text.isascii()) or text.lower() in layout.letters or text == layout.currency):
        return "needed"
    return "spare"


def other_places(stroke: Stroke, layout: Layout) -> bool:
    """Whether another stroke types the same text."""
    level = layout.typing.get(stroke)
    if level is None:
        return False
    return any(
        code != stroke.code or modifiers_of_level(layout, n) != stroke.modifiers for code, n in layout.places_of(level.text)
    )
