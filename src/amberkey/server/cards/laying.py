"""Where the lines of a card lie on its paper, reckoned before they are laid out.

The browser of paper finds out by itself how wide floating keys are and where columns end, by laying all of it out some eight
times. A card whose lines surely fit on one page is told both: its keys lie in a room that is wide enough, and its columns are
parted here. That takes a third of the time; what is reckoned wrong costs an uneven column, never a line.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import ceil

from amberkey.core.cards.model import CardLine, CardPart
from amberkey.core.cards.wish import Paper
from amberkey.core.cards.words import word
from amberkey.core.documents.field import Language


@dataclass(frozen=True, slots=True)
class Sheet:
    """A paper: its name in style sheets, its size in millimetres, its columns with what is between them, and on how many pages
    a card may stand."""

    size: str
    width: float
    height: float
    columns: int
    gap: float = 8
    pages: int = 1

    @property
    def column(self) -> float:
        """The width of a column, in millimetres."""
        return (self.width - _MARGINS - self.gap * (self.columns - 1)) / self.columns


SHEETS: dict[Paper, Sheet] = {
    "A4": Sheet("A4", 210, 297, 2),
    "A4 across": Sheet("A4 landscape", 297, 210, 3),
    "A4 folded": Sheet("A4 landscape", 297, 210, 2, 24, 2),
    "A5": Sheet("A5", 148, 210, 1),
    "A5 across": Sheet("A5 landscape", 210, 148, 2),
}
# Millimetres, as card.css has them.
_MARGINS = 24.0
_AROUND = 23.0 + 14.0 + 8.0
"""Above and below the columns: the margins, the head and the foot."""
_LINE, _BETWEEN_LINES, _NOTE, _HEADING = 4.6, 2.0, 3.9, 8.4
_NAME, _PLACES, _CAP = 3.36, 2.83, 3.0
"""The type of names, of places and words, and of caps."""
_AROUND_CAP = 4.3
"""Its padding and borders, and the space behind it."""
_SPACE = 1.0
_SURE = 0.85
"""A card is parted here where it takes no more of its page than this: the rest is for what was reckoned too small."""

_STEP, _WIDEST = 4, 44
ROOMS = range(_STEP, _WIDEST + 1, _STEP)
"""The rooms that keys may have, in millimetres."""
_NARROW = frozenset("fijlrtI.,:;'|!()[]/-` ")
_BROAD = frozenset("mwMW@%&OQ")


def room_of(line: CardLine, language: Language) -> int | None:
    """The room for the keys of a line, one of ROOMS, never less than they need; None where they need more."""
    wide = 2.0 + sum(_ems(key.words) * _CAP + _SPACE for key in line.old)
    for n, key in enumerate(line.keys):
        wide += _ems(word("or", language)) * _PLACES + _SPACE if n else 0.0
        for m, press in enumerate(key.caps):
            wide += _ems(word("then", language)) * _PLACES + _SPACE if m else 0.0
            wide += sum(_ems(cap) * _CAP + _AROUND_CAP for cap in press)
    room = ceil(wide / _STEP) * _STEP
    return room if room <= _WIDEST else None


def columns_of(parts: Sequence[CardPart], sheet: Sheet, language: Language) -> list[list[CardPart]] | None:
    """The parts of a card by columns, as even as their order allows; one that goes on in the next column has no title there.
    None where they may not fit on one page: then where pages end has to be found out."""
    heights = [_heights(part, sheet, language) for part in parts]
    low, high = 0.0, sum(map(sum, heights))
    if high > (sheet.height - _AROUND) * _SURE * sheet.columns:
        return None
    for _ in range(12):
        middle = (low + high) / 2
        low, high = (low, middle) if len(_parted(heights, middle)) <= sheet.columns else (middle, high)
    if high > (sheet.height - _AROUND) * _SURE:
        return None
    return [
        [CardPart(parts[n].title if first == 0 else "", parts[n].lines[first:end]) for n, first, end in column]
        for column in _parted(heights, high)
    ]


def _parted(heights: Sequence[Sequence[float]], most: float) -> list[list[tuple[int, int, int]]]:
    """Columns no higher than `most` where that can be: of each part that is in one its number, its first line and its end."""
    columns: list[list[tuple[int, int, int]]] = []
    left = 0.0
    for n, m, height in _each(heights):
        if height > left:
            columns.append([])
            left = most
        left -= height
        column = columns[-1]
        if column and column[-1][0] == n:
            column[-1] = (n, column[-1][1], m + 1)
        else:
            column.append((n, m, m + 1))
    return columns


def _each(heights: Sequence[Sequence[float]]) -> Iterator[tuple[int, int, float]]:
    for n, part in enumerate(heights):
        for m, height in enumerate(part):
            yield n, m, height


def _heights(part: CardPart, sheet: Sheet, language: Language) -> list[float]:
    """The height of each line, the first with the title of the part, in millimetres."""
    found = []
    for line in part.lines:
        wide = _ems(line.name) * _NAME + _ems(", ".join(line.where)) * _PLACES + _SPACE
        free = sheet.column - (room_of(line, language) or sheet.column / 2)
        notes = sum(ceil(_ems(note) * _PLACES / sheet.column) for note in line.said)
        found.append(ceil(wide / free) * _LINE + _BETWEEN_LINES + notes * _NOTE)
    if found:
        found[0] += _HEADING
    return found


def _ems(text: str) -> float:
    """No less than the width of a text in the half-bold type of cards, in its own size."""
    return sum(
        0.45 if s in _NARROW else 1.05 if s in _BROAD or not s.isascii() else 0.66 if s.islower() else 0.76 for s in text
    )
