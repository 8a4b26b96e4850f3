"""Free keys for a command, easiest first, narrowed down by hand, row of the keyboard, modifiers and first letter."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from amberkey.core.clashes.board import Board
from amberkey.core.inventory.rows import Row
from amberkey.core.layouts.bodies import Body
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.ways.candidates import Candidate, Wish, candidates_for

OneHand = Literal["left hand", "right hand"]
KeyRow = Literal["function keys", "digits", "upper letters", "home row", "lower letters"]
ROWS: tuple[KeyRow, ...] = ("function keys", "digits", "upper letters", "home row", "lower letters")
_LOOKED_AT = 2_000
# A key of each row that every body has; the rows themselves lie at other heights on each.
_IN_ROW: dict[KeyRow, str] = {
    "function keys": "F1",
    "digits": "Digit1",
    "upper letters": "KeyQ",
    "home row": "KeyA",
    "lower letters": "KeyX",
}


@dataclass(frozen=True, slots=True)
class Narrowed:
    """What a free key has to be; None for what doesn't matter. `first_letter`: that of the command's name."""

    hand: OneHand | None = None
    row: KeyRow | None = None
    modifiers: int | None = None
    first_letter: bool = False


def free_keys(row: Row, boards: Sequence[Board], narrowed: Narrowed, most: int) -> list[Candidate]:
    """The easiest free keys for a row's command in all of some setups of one platform, each of which has the program."""
    old = row.bindings[0].shortcut if row.bindings else None
    wish = Wish(row.program, row.command, row.command.scope, old)
    found = candidates_for(wish, boards, _LOOKED_AT)
    return list(_only(found, row, boards[0], narrowed))[:most]


def _only(found: Sequence[Candidate], row: Row, board: Board, narrowed: Narrowed) -> Iterator[Candidate]:
    letter = next((c for c in row.command.name.upper() if c.isalpha()), "")
    for one in found:
        press = one.shortcut.presses[0]
        if narrowed.hand is not None and narrowed.hand not in one.reach.flags:
            continue
        if narrowed.modifiers is not None and len(press.modifiers) != narrowed.modifiers:
            continue
        if narrowed.first_letter and (press.key or "").upper() != letter:
            continue
        if narrowed.row is not None and _row_of(one, row, board) != narrowed.row:
            continue
        yield one


def _row_of(one: Candidate, row: Row, board: Board) -> KeyRow | None:
    """The row of the keyboard in which the key of a shortcut lies; of several presses, that of the first."""
    part, keyboard = board.parts[row.program.id], board.ground.keyboard
    ways = ways_of(one.shortcut, keyboard, part.reads, part.pad).ways
    code = ways[0][0].code if ways else None
    key = keyboard.body.key(code) if code else None
    return next((name for name in ROWS if key is not None and _height(keyboard.body, name) == key.y), None)


def _height(body: Body, name: KeyRow) -> float | None:
    key = body.key(_IN_ROW[name])
    return key.y if key else None
