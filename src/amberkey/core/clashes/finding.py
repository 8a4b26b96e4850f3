"""Finding every clash of a setup by index over strokes; pairs are never compared.

`find_clashes` looks at the whole board. `clashes_on` looks at some strokes and bindings only, and finds what they have to do
with: enough to judge a change, at a small part of the cost.
"""

from collections.abc import Iterable, Iterator, Sequence, Set

from amberkey.core.clashes.alone import alone, doubled, orphans
from amberkey.core.clashes.before import (
    arrives,
    candidates_in,
    clashes_before,
    hidden_by_menus,
    lost_behind,
    outside_programs,
    strokes_asked_before,
    strokes_taken_before,
)
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.within import clashes_within, meant_within, on_stroke
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.decisions import SEVERITIES

# What a hotkey is by itself, whoever else wants its press.
_ANYWAY = frozenset({"awkward", "duplicate"})
_WORST = {severity: n for n, severity in enumerate(SEVERITIES)}


def find_clashes(board: Board) -> list[Clash]:
    """All clashes of a setup but the shadows that a maker meant, the worst first; one per identity."""
    found: list[Clash] = list(outside_programs(board))
    for part in board.parts.values():
        if part.within is None:
            part.within = clashes_within(part)
        arriving = board.arriving.get(part)
        if arriving is None:
            arriving = board.arriving[part] = list(_arriving(board, part, part.within, _asked_of(board, part)))
        found.extend(arriving)
    return sorted_clashes(found)


def find_meant(board: Board) -> list[Clash]:
    """The shadows that the makers of the programs meant."""
    found: list[Clash] = []
    for part in board.parts.values():
        if part.meant is None:
            part.meant = list(meant_within(part))
        if part.meant:
            found.extend(c for c in _arriving(board, part, part.meant, part.strokes) if c.meant)
    return sorted_clashes(found)


def clashes_on(
    board: Board, programs: Iterable[str], strokes: Set[Stroke], bindings: Sequence[Binding], *, outside: bool
) -> dict[str, Clash]:
    """The clashes, by identity, that some programs have on some strokes, and that some bindings have by themselves.

    `outside`: those too that are no program's own.
    """
    found: list[Clash] = list(outside_programs(board)) if outside else []
    for program in programs:
        part = board.parts[program]
        within = _within_on(part, strokes, [b for b in bindings if b.program is part.program])
        found.extend(_arriving(board, part, within, strokes))
    return {c.identity: c for c in found}


def _within_on(part: Part, strokes: Set[Stroke], bindings: Sequence[Binding]) -> Iterator[Clash]:
    if part.program.kind == "system":
        return
    yield from orphans(part)
    looked = {id(b): b for b in bindings}
    for stroke in sorted(strokes, key=str):  # a set has another order in every process
        bucket = part.first.get(stroke)
        if bucket:
            looked |= {id(b): b for b in bucket}
            yield from on_stroke(part, stroke, bucket, part.retired)
    for binding in looked.values():
        yield from alone(part, binding)
    for several in part.several:
        if any(id(b) in looked for b in several):
            yield from doubled(part, several)


def _asked_of(board: Board, part: Part) -> Set[Stroke]:
    """The strokes at which a program and its menus have a say."""
    if part.program.kind in ("system", "utility") or not (board.last or part.program.kind == "web"):
        return part.strokes
    return part.strokes | {s for p in board.menus_of(part) for s in p.menus}


def _arriving(board: Board, part: Part, within: Iterable[Clash], strokes: Set[Stroke]) -> Iterator[Clash]:
    """The clashes of one program on a board: those with whoever is asked before it, and of those within it the ones whose
    stroke arrives."""
    asked = strokes_asked_before(board, part, strokes)
    if asked:
        yield from clashes_before(board, part, candidates_in(part, asked))
    taken = strokes_taken_before(board, part, strokes)
    if board.last or part.program.kind == "web":
        yield from lost_behind(board, part, strokes - taken)
        yield from hidden_by_menus(board, part, strokes - taken - part.first.keys())
    if not taken and not board.translations and part.program.kind != "utility":
        yield from within
        return
    for clash in within:
        stroke = clash.stroke
        if stroke is None or (stroke not in taken and (clash.kind in _ANYWAY or arrives(board, part, clash, stroke))):
            yield clash


def sorted_clashes(clashes: Iterable[Clash]) -> list[Clash]:
    """The worst first, each identity once."""
    found: dict[str, Clash] = {}
    for clash in clashes:
        found.setdefault(clash.identity, clash)
    order = sorted([(_WORST[clash.severity], clash.kind, identity) for identity, clash in found.items()])
    return [found[identity] for _, _, identity in order]
