"""How long a command takes, with its key and without one, by the Keystroke-Level Model.

S. K. Card, T. P. Moran, A. Newell: The Keystroke-Level Model for User Performance Time with Interactive Systems, Communications
of the ACM 23 (1980) 7. Operators: K a keystroke (a modifier is one), P pointing with the mouse, B a press of its button, H a
hand between keyboard and mouse, M a moment of thought.
"""

from collections.abc import Iterable, Sequence

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.ground import Ground
from amberkey.core.layouts.reach import NOT_HERE, reach_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.programs.model import Command, CommandKind, ReachedBy
from amberkey.core.worth.assumptions import Assumptions

# Where a program document doesn't say how people come to a command without its key.
_BY_KIND: dict[CommandKind, ReachedBy] = {
    "built-in": ReachedBy(by="menu"),
    "add-on": ReachedBy(by="menu", depth=2),
    "style": ReachedBy(by="button"),
    "symbol": ReachedBy(by="dialog"),
    "font": ReachedBy(by="dialog"),
    "text block": ReachedBy(by="menu", depth=2),
    "macro": ReachedBy(by="dialog"),
    "launcher": ReachedBy(by="menu"),
}


def without_key(command: Command, assumed: Assumptions) -> float:
    """Seconds by the mouse: H M and H back, and P B for each thing that is pointed at: the button; the menu and one item for
    each depth; or the menu, its item, and in each dialog, after a moment of thought, what is chosen, then what confirms it."""
    way = command.reached_by or _BY_KIND[command.kind]
    point = assumed.pointing_ms + assumed.button_ms
    spent = 2 * assumed.homing_ms + assumed.thought_ms
    match way.by:
        case "button":
            spent += point
        case "menu":
            spent += point * (way.depth + 1)
        case "dialog":
            spent += point * 3 + (assumed.thought_ms + point) * way.depth
    return spent / 1000


def with_way(way: Sequence[Stroke], ground: Ground, assumed: Assumptions) -> float | None:
    """Seconds for a way of making a shortcut: M, and for each stroke K for its key and each modifier, and what its reach adds.
    None where this keyboard can't make it."""
    spent = float(assumed.thought_ms)
    for stroke in way:
        reach = reach_of(stroke, ground.keyboard.body, ground.keyboard.remaps, ground.mouse_hand).score
        if reach >= NOT_HERE:
            return None
        strokes = len(stroke.modifiers) + (1 if stroke.code else 0)
        spent += strokes * assumed.keystroke_ms + reach * assumed.reach_ms
    return spent / 1000


def with_keys(bindings: Iterable[Binding], ground: Ground, assumed: Assumptions) -> float | None:
    """Seconds with the quickest of some keys; None where none of them works here."""
    times = (with_way(way, ground, assumed) for b in bindings if b.live for way in b.ways)
    return min((t for t in times if t is not None), default=None)
