"""Free shortcuts for a command, easiest and likeliest first.

A candidate is free where no system hotkey takes it, nothing in an enclosing or enclosed scope of its program has it or begins
with it, and it types no text where text is taken: in every setup that is asked about.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from amberkey.core.clashes.board import Binding, Board
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.reach import Reach, reach_of
from amberkey.core.layouts.strokes import Made, Stroke, strokes_of
from amberkey.core.layouts.typing import types

_HELD: dict[Platform, tuple[tuple[str, ...], ...]] = {
    "windows": (("Control",), ("Control", "Shift"), ("Alt", "Shift"), ("Control", "Alt"), (), ("Shift",)),
    "linux": (("Control",), ("Control", "Shift"), ("Alt", "Shift"), ("Control", "Alt"), (), ("Shift",)),
    # Control alone moves the caret in every text field there, so it is never proposed.
    "macos": (("Meta",), ("Shift", "Meta"), ("Alt", "Meta"), ("Control", "Meta"), (), ("Shift",)),
}
_FUNCTION_KEYS = tuple(f"F{n}" for n in range(2, 13))
# What a likeness is worth, on the scale of reach.
_SAME_KEY, _SAME_MODIFIERS, _FIRST_LETTER = 6, 3, 5


@dataclass(frozen=True, slots=True)
class Candidate:
    shortcut: Shortcut
    reach: Reach
    cost: int
    reasons: tuple[str, ...]


def candidates_for(binding: Binding, boards: Sequence[Board], most: int = 3) -> list[Candidate]:
    """The best free shortcuts to replace a binding's, in all the given setups (of one platform)."""
    platform = boards[0].setup.setup.platform
    layouts = [b.setup.layout for b in boards]
    characters = {t for t in layouts[0].places if len(t) == 1 and not t.isspace()}
    for layout in layouts:
        characters &= {text for text, places in layout.places.items() if places[0][1] == 0}
    keys = [*sorted({case_of_key(c) for c in characters}), *_FUNCTION_KEYS]
    taken = [_taken(board, binding) for board in boards]
    found = []
    for held in _HELD[platform]:
        for key in keys:
            if not held and key not in _FUNCTION_KEYS:
                continue
            shortcut = Shortcut((Press.of(held, key),))
            if binding.program.limits.why_not(shortcut) or shortcut == binding.shortcut:
                continue
            strokes = [_free_stroke(shortcut, b, t, binding) for b, t in zip(boards, taken, strict=True)]
            if all(strokes):
                found.append(_rank(shortcut, [s for s in strokes if s], boards, binding))
    found.sort(key=lambda c: (c.cost, str(c.shortcut)))
    return found[:most]


def _taken(board: Board, binding: Binding) -> set[Stroke]:
    """First strokes of everything that the program binds where the command is live."""
    program = binding.program
    around = {s.id for s in program.outward(binding.scope)}
    within = {s.id for s in program.scopes if any(o.id == binding.scope for o in program.outward(s.id))}
    return {way[0] for (owner, scope, way) in board.in_scope if owner == program.id and scope in around | within}


def _free_stroke(shortcut: Shortcut, board: Board, taken: set[Stroke], binding: Binding) -> Stroke | None:
    made = strokes_of(shortcut.presses[0], board.setup.layout, binding.program.reads_on(board.setup.setup.platform))
    if not isinstance(made, Made) or made.derived or len(made.strokes) != 1:
        return None
    stroke = made.strokes[0]
    if stroke in board.fixed or stroke in board.changeable or stroke in taken:
        return None
    if types(stroke, board.setup.layout) is not None and binding.program.text_is_taken_within(binding.scope):
        return None
    return stroke if stroke.code is None or board.setup.body.key(stroke.code) else None


def _rank(shortcut: Shortcut, strokes: list[Stroke], boards: Sequence[Board], binding: Binding) -> Candidate:
    reach = max((reach_of(s, b.setup.body) for s, b in zip(strokes, boards, strict=True)), key=lambda r: r.score)
    cost = reach.score
    reasons = []
    old, new = binding.shortcut.presses[-1], shortcut.presses[0]
    if new.key == old.key:
        cost -= _SAME_KEY
        reasons.append("same key as before")
    elif new.modifiers == old.modifiers:
        cost -= _SAME_MODIFIERS
        reasons.append("same modifiers as before")
    initial = next((w for w in binding.command.name.split() if new.key == w[:1].upper()), None)
    if initial and len(initial) > 3:
        cost -= _FIRST_LETTER
        reasons.append(f"first letter of {initial}")
    return Candidate(shortcut, reach, cost, (*reasons, *reach.flags))
