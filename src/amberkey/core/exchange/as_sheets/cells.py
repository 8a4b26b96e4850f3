"""What cells of these sheets have in common: keys in words and in canonical notation, and reading a row by its headings."""

import datetime
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TypeVar

from pydantic import ValidationError

from amberkey.core.documents.errors import Fault
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.sheets import Row, Sheet
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of

OR = " or "
"""Between several things in one cell."""
NONE = "none"
"""No shortcut at all, so that an empty cell isn't taken for it."""
T = TypeVar("T")
_PLATFORMS: Mapping[str, Platform] = {
    word.casefold(): platform for platform, name in PLATFORM_NAMES.items() for word in (platform, name)
}


def in_words(shortcuts: Iterable[Shortcut], platform: Platform, language: str) -> str:
    """Shortcuts as people read them."""
    return OR.join(words_of(s, platform, language) for s in shortcuts) or NONE


def canonical(shortcuts: Iterable[Shortcut]) -> str:
    """Shortcuts as documents write them."""
    return OR.join(str(s) for s in shortcuts) or NONE


@dataclass
class Reader:
    """Rows of a sheet by the names of its columns; `faults` gathers what is wrong, each with its place."""

    sheet: Sheet
    faults: list[Fault] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._places = {head.casefold(): n for n, head in enumerate(self.sheet.heads)}
        self.faults += self.sheet.faults

    def need(self, heads: Sequence[str]) -> None:
        """Raises SheetError where a column isn't there."""
        missing = [h for h in heads if h.casefold() not in self._places]
        if missing:
            says = f"There is no column {missing[0]}." if len(missing) == 1 else f"There are no columns {', '.join(missing)}."
            raise SheetError([Fault("row 1", says, "Take the sheet out again, and keep its headings.")])

    def rows(self) -> list[Row]:
        """Those without a fault of their own."""
        return [r for r in self.sheet.rows if r.number not in self.sheet.bad]

    def cell(self, row: Row, head: str) -> str:
        """The text of a cell; empty where there is no such column."""
        place = self._places.get(head.casefold())
        return row.cells[place] if place is not None and place < len(row.cells) else ""

    def read(self, row: Row, head: str, how: Callable[[str], T], otherwise: T) -> T:
        """A cell read by a function whose ValueError says what is wrong; that becomes a fault."""
        text = self.cell(row, head)
        try:
            return how(text)
        except ValueError as error:
            self.fault(row, head, str(error))
            return otherwise

    def fault(self, row: Row, head: str, says: str, cure: str = "Mend it there, or take the row out.") -> None:
        place = f"row {row.number}, {head}" if head else f"row {row.number}"
        self.faults.append(Fault(place, says[:300], cure))

    def refuse(self, row: Row, error: ValidationError, heads: Mapping[str, str]) -> None:
        """What a model says against a row, as a fault. `heads`: by field, the column that it comes from."""
        first = error.errors()[0]
        head = heads.get(str(first["loc"][0]), "") if first["loc"] else ""
        self.fault(row, head, str(first["msg"]).removeprefix("Value error, "))

    def finish(self) -> None:
        """Raises SheetError with every fault."""
        if self.faults:
            raise SheetError(self.faults)


def shortcuts_from(text: str) -> tuple[Shortcut, ...]:
    """Raises ValueError for what is no shortcut."""
    if text.casefold() in ("", NONE):
        return ()
    try:
        return tuple(read_shortcut(one) for one in text.split(OR))
    except ShortcutError as error:
        raise ValueError(f"{text[:80]!r} is no shortcut: {error}") from error


def platform_from(text: str) -> Platform:
    """Raises ValueError for what is no platform."""
    found = _PLATFORMS.get(text.casefold())
    if found is None:
        raise ValueError(f"{text[:40]!r} is no platform; {', '.join(PLATFORM_NAMES.values())} are.")
    return found


def names_from(text: str) -> tuple[str, ...]:
    """Several names with semicolons or commas between."""
    return tuple(one.strip() for one in text.replace(";", ",").split(",") if one.strip())


def flag_from(text: str) -> bool:
    """Raises ValueError for what is neither yes nor no."""
    if text.casefold() in ("", "no", "false", "0"):
        return False
    if text.casefold() in ("yes", "true", "1", "x"):
        return True
    raise ValueError(f"{text[:40]!r} is neither yes nor no.")


def day_from(text: str) -> datetime.date | None:
    """Raises ValueError for what is no day."""
    if not text:
        return None
    try:
        return datetime.date.fromisoformat(text)
    except ValueError as error:
        raise ValueError(f"{text[:40]!r} is no day; write it as 2026-11-24.") from error
