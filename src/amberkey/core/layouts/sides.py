"""Left and right modifiers. Both keys of a modifier are one, unless some shortcut in use says which it means.

Where one does, the strokes that are told apart by their sides are known beforehand (`told_apart`), and everything else is heard
as the nearest of them that the fingers made (`heard_among`), or as the plain stroke.
"""

from collections.abc import Iterable
from functools import lru_cache

from amberkey.core.keys.platform import SIDES
from amberkey.core.layouts.stroke import Stroke

Sides = frozenset[Stroke]
NO_SIDES: Sides = frozenset()
_CODES = frozenset(SIDES)


def plain(stroke: Stroke) -> Stroke:
    """A stroke without saying which key holds a modifier."""
    if stroke.modifiers.isdisjoint(_CODES):
        return stroke
    return Stroke(stroke.code, frozenset(SIDES.get(m, m) for m in stroke.modifiers))


def told_apart(strokes: Iterable[Stroke]) -> Sides:
    """Those of some strokes that say a side, and what they come to together: holding what two of them say makes a stroke of
    its own. That both keys of one modifier are held nobody means who doesn't say so."""
    found = {s for s in strokes if not s.modifiers.isdisjoint(_CODES)}
    new = set(found)
    while new:
        new = {both for a in new for b in found if plain(a) == plain(b) and (both := _both(a, b))} - found
        found |= new
    return frozenset(found)


def _both(one: Stroke, other: Stroke) -> Stroke | None:
    mine, others = ({SIDES[m]: m for m in s.modifiers & _CODES} for s in (one, other))
    if any(mine[modifier] != others[modifier] for modifier in mine.keys() & others.keys()):
        return None
    sided = (one.modifiers | other.modifiers) & _CODES
    covered = {SIDES[s] for s in sided}
    return Stroke(one.code, sided | (plain(one).modifiers - covered))


def is_part(wanted: Stroke, held: Stroke) -> bool:
    """Whether holding one stroke is also holding another, which may say fewer sides."""
    return wanted.modifiers & _CODES <= held.modifiers & _CODES and plain(wanted) == plain(held)


def heard_among(held: Stroke, sides: Sides) -> Stroke:
    """The stroke that says the most of what is held, of those that are told apart; the plain one where none of them fits."""
    if not sides:
        return plain(held)
    return _heard_among(held, sides)


@lru_cache(maxsize=8192)
def _heard_among(held: Stroke, sides: Sides) -> Stroke:
    fitting = (s for s in sides if is_part(s, held))
    return max(fitting, key=lambda s: (len(s.modifiers & _CODES), str(s)), default=plain(held))


@lru_cache(maxsize=8192)
def spread(wanted: Stroke, sides: Sides) -> tuple[Stroke, ...]:
    """Every stroke as which a wanted one may be heard: itself, and those told apart that are it as well, the plainest first."""
    further = (s for s in sides if s != wanted and is_part(wanted, s))
    return (wanted, *sorted(further, key=lambda s: (len(s.modifiers & _CODES), str(s))))
