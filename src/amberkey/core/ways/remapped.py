"""What changed keys come to: which keys nothing makes any more, and which shortcuts are easier or harder to press."""

from dataclasses import dataclass

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.layouts.reach import reach_of_sequence
from amberkey.core.layouts.remaps import unmade_keys


@dataclass(frozen=True, slots=True)
class OtherReach:
    """A shortcut whose reach is another one; scores as `layouts.reach` has them, None: nobody can press it."""

    binding: Binding
    before: int | None
    after: int | None


@dataclass(frozen=True, slots=True)
class Remapped:
    """`unmade`: codes of keys that nothing makes any more and something made before."""

    unmade: tuple[str, ...]
    easier: tuple[OtherReach, ...]
    harder: tuple[OtherReach, ...]


def remapped(before: Board, after: Board) -> Remapped:
    """What changes between two states of a setup whose keys act otherwise; shortcuts by how much they change."""
    was = {b.participant: _score(b, before) for b in before.bindings}
    found = [OtherReach(b, was[b.participant], _score(b, after)) for b in after.bindings if b.participant in was]
    changed = sorted(
        (o for o in found if o.before != o.after), key=lambda o: (-abs(_as(o.after) - _as(o.before)), o.binding.participant)
    )
    gone = unmade_keys(after.setup.body, after.setup.remaps) - unmade_keys(before.setup.body, before.setup.remaps)
    return Remapped(
        tuple(sorted(gone)),
        tuple(o for o in changed if _as(o.after) < _as(o.before)),
        tuple(o for o in changed if _as(o.after) > _as(o.before)),
    )


_OUT_OF_REACH = 1_000


def _as(score: int | None) -> int:
    return _OUT_OF_REACH if score is None else score


def _score(binding: Binding, board: Board) -> int | None:
    keyboard = board.ground.keyboard
    scores = [reach_of_sequence(w, keyboard.body, keyboard.remaps, board.ground.mouse_hand).score for w in binding.ways]
    return min(scores, default=None)
