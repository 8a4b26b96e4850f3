"""Finding every clash of a setup by index over strokes; pairs are never compared."""

from typing import Literal

from amberkey.core.clashes.board import Binding, Board, winner_of
from amberkey.core.clashes.model import Clash, identity_of
from amberkey.core.layouts.strokes import Stroke
from amberkey.core.layouts.typing import need_of, types
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.model import SEVERITIES, Severity


def find_clashes(board: Board) -> list[Clash]:
    """All clashes of a setup, the worst first; one per identity."""
    found: dict[str, Clash] = {}
    for binding in board.bindings:
        if binding.program.kind == "system":
            continue
        clash = _out_of_reach(board, binding) or _system(board, binding)
        if clash is not None:
            found.setdefault(clash.identity, clash)
            continue
        for way in binding.ways:
            rivals = board.in_scope[binding.program.id, binding.scope, way]
            winner = winner_of(rivals)
            if winner.command.id != binding.command.id:
                clashes: list[Clash | None] = [_same_scope(board, winner, binding, way)]
            else:
                clashes = [_swallows(board, binding, way[0]), _shadow(board, binding, way)]
            for one in clashes:
                if one is not None:
                    found.setdefault(one.identity, one)
    return sorted(found.values(), key=lambda c: (SEVERITIES.index(c.severity), c.kind, c.identity))


def _out_of_reach(board: Board, binding: Binding) -> Clash | None:
    if not binding.unreachable:
        return None
    platform = board.setup.setup.platform
    identity = identity_of("out_of_reach", platform, binding)
    return Clash("out_of_reach", "blocker", identity, platform, None, None, binding, None, note=binding.unreachable)


def _system(board: Board, binding: Binding) -> Clash | None:
    """The system takes one of the presses. If there are several ways to make it, all must be taken."""
    platform = board.setup.setup.platform
    taken: list[tuple[Binding, Stroke, bool]] = []
    for way in binding.ways:
        first = next((s for s in way if s in board.fixed or s in board.changeable), None)
        if first is None:
            return None
        fixed = first in board.fixed
        taken.append((board.fixed[first] if fixed else board.changeable[first], first, fixed))
    if not taken:
        return None
    holder, stroke, fixed = taken[0]
    kind: Literal["system_fixed", "system"] = "system_fixed" if fixed else "system"
    identity = identity_of(kind, platform, binding, holder)
    return Clash(kind, "blocker" if fixed else "high", identity, platform, stroke, holder, binding, kind)


def _same_scope(board: Board, winner: Binding, loser: Binding, way: tuple[Stroke, ...]) -> Clash:
    platform = board.setup.setup.platform
    identity = identity_of("same_scope", platform, winner, loser)
    return Clash(
        *("same_scope", "high", identity, platform, way[0], winner, loser, "program"),
        spellings_meet=winner.shortcut != loser.shortcut,
    )


def _swallows(board: Board, binding: Binding, stroke: Stroke) -> Clash | None:
    if binding.program.text_is_taken_within(binding.scope) is None:
        return None
    level = types(stroke, board.setup.layout)
    if level is None:
        return None
    severity: Severity = "high" if need_of(stroke, board.setup.layout) == "needed" else "medium"
    platform = board.setup.setup.platform
    identity = identity_of("swallows_text", platform, binding)
    note = "accent" if level.dead else ""
    return Clash("swallows_text", severity, identity, platform, stroke, binding, None, "program", level.text, note=note)


def _shadow(board: Board, binding: Binding, way: tuple[Stroke, ...]) -> Clash | None:
    """An inner scope hides the command of an outer one. Where both are the maker's own defaults, the maker meant it."""
    program = binding.program
    for outer in program.outward(binding.scope)[1:]:
        rivals = board.in_scope.get((program.id, outer.id, way))
        if not rivals:
            continue
        other = winner_of(rivals)
        if other.command.id == binding.command.id or (other.layer == DEFAULT and binding.layer == DEFAULT):
            return None
        holder, loser = (binding, other) if program.scope_order == "inner" else (other, binding)
        platform = board.setup.setup.platform
        identity = identity_of("shadow", platform, binding, other)
        return Clash("shadow", "medium", identity, platform, way[0], holder, loser, "program")
    return None
