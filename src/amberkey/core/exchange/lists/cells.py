"""Reading single cells: every refusal names what was found and what may stand there."""

import datetime
import difflib
import re
from collections.abc import Iterable, Mapping

from amberkey.core.documents.errors import Fault
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform

_YES = frozenset({"yes", "on", "true", "1", "ja", "oui", "x"})
_NO = frozenset({"no", "off", "false", "0", "nein", "non", "nej"})


class CellFault(ValueError):
    """A cell that can't be read; `says` and `cure` without the place."""

    def __init__(self, says: str, cure: str = "") -> None:
        super().__init__(says)
        self.says = says
        self.cure = cure

    def at(self, place: str) -> Fault:
        """The fault with the place at which it stands in the sheet."""
        return Fault(place, self.says, self.cure)


class Names:
    """Things that a cell may name by id or by name; `also`: ids by further names."""

    def __init__(self, kind: str, names: Mapping[str, str], also: Mapping[str, str] | None = None) -> None:
        self.kind = kind
        self.ids = {i.casefold(): i for i in names}
        self.by_name: dict[str, str] = {}
        for i, name in names.items():
            self.by_name.setdefault(name.casefold(), i)
        for name, i in (also or {}).items():
            self.by_name.setdefault(name.casefold(), i)

    def find(self, text: str) -> str:
        """The id. Raises CellFault with the nearest name."""
        key = text.casefold()
        found = self.ids.get(key) or self.by_name.get(key)
        if found is None:
            near = difflib.get_close_matches(key, [*self.ids, *self.by_name], 1, 0.6)
            guess = f"Did you mean {near[0]}?" if near else f"Add the {self.kind} first, or check its spelling."
            raise CellFault(f"There is no {self.kind} {text[:60]}.", guess)
        return found


def split(text: str) -> list[str]:
    """The parts of a cell that holds several, with semicolons, bars or line ends between."""
    return [part.strip() for part in re.split(r"[;|\n]", text) if part.strip()]


def each_once(found: Iterable[str]) -> tuple[str, ...]:
    """Some values without doubles, in their order."""
    return tuple(dict.fromkeys(found))


def read_number(text: str, least: int, most: int) -> int:
    """A whole number between two bounds, both of them allowed. Raises CellFault."""
    plain = text.replace(" ", "").replace("\N{NO-BREAK SPACE}", "")
    if not re.fullmatch(r"-?\d{1,12}", plain):
        raise CellFault(f"{text[:40]} is no whole number.", f"Write one from {least} to {most:,}.")
    number = int(plain)
    if not least <= number <= most:
        raise CellFault(f"{number:,} is out of bounds.", f"Write a number from {least} to {most:,}.")
    return number


def read_yes_or_no(text: str) -> bool:
    """What a cell says by one of the words for yes and no. Raises CellFault for any other."""
    plain = text.casefold()
    if plain not in _YES | _NO:
        raise CellFault(f"{text[:40]} is neither yes nor no.", "Write one of them.")
    return plain in _YES


def read_day(text: str) -> datetime.date:
    """A day written as in 2026-11-25. Raises CellFault."""
    try:
        return datetime.date.fromisoformat(text)
    except ValueError as error:
        raise CellFault(f"{text[:40]} is no day.", "Write it as 2026-11-25.") from error


def read_platform(text: str) -> Platform:
    """A platform by its id or name. Raises CellFault."""
    word = text.casefold()
    for platform, name in PLATFORM_NAMES.items():
        if word in (platform, name.casefold()):
            return platform
    raise CellFault(f"There is no platform {text[:40]}.", "Write Windows, macOS or Linux.")
