"""Any accepted file as tables of cells with their places: CSV and tab separated, XLSX, ODS, JSON, HTML, and what was pasted.

Files are hostile until proven otherwise: bounded in bytes, rows and columns. HTML gives its text only, nothing of it is shown
as HTML; scripts and styles are skipped. A cell with a formula that was never calculated is a fault of its row.
"""

import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from html.parser import HTMLParser
from typing import cast

from amberkey.core.documents.errors import Fault
from amberkey.core.documents.texts import without_hidden
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.sheets import (
    DEFAULT_SHEET_LIMITS,
    MOST_COLUMNS,
    MOST_ROWS,
    MOST_TEXT,
    SheetLimits,
    is_ods,
    is_packed,
    lines_of,
    ods_tables,
    too_large,
    without_apostrophe,
)

MOST_TABLES = 200


@dataclass(frozen=True, slots=True)
class TableRow:
    """A row as it is counted where it stands, from 1; its cells as text. `faults`: what is wrong with it, by place."""

    number: int
    cells: tuple[str, ...]
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class Table:
    """A table with the name of its sheet, or of what stands before it. No row of it is empty."""

    name: str
    rows: tuple[TableRow, ...]

    @cached_property
    def width(self) -> int:
        return max((len(r.cells) for r in self.rows), default=0)


def read_tables(data: bytes, limits: SheetLimits = DEFAULT_SHEET_LIMITS) -> list[Table]:
    """The tables of a file, told apart by how it begins; the largest first. Raises SheetError where there is none."""
    if len(data) > limits.packed:
        raise SheetError([too_large(len(data), limits)])
    found = [t for t in _tables(data, limits) if t.rows]
    if not found:
        raise SheetError([Fault("", "There is no table in it.", "It needs a row for each command.")])
    return sorted(found, key=lambda t: -len(t.rows) * t.width)


def read_pasted(text: str, html: str = "", limits: SheetLimits = DEFAULT_SHEET_LIMITS) -> list[Table]:
    """The tables of what was pasted: its HTML where that has a table, else lines with tabs, commas or semicolons between."""
    if html and len(html) <= limits.packed and (found := [t for t in _html(html) if t.rows]):
        return sorted(found, key=lambda t: -len(t.rows) * t.width)
    return read_tables(text.encode(), limits)


def _tables(data: bytes, limits: SheetLimits) -> Iterable[Table]:
    if is_packed(data):
        if is_ods(data):
            return [_table(name, lines) for name, lines in ods_tables(data, limits)]
        return [_table("", lines_of(data, limits, calculated=True))]
    head = data[:2000].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    if head.startswith((b"[", b"{")):
        return [_json(data)]
    if head.startswith(b"<"):
        return _html(_decoded(data))
    return [_table("", lines_of(data, limits, calculated=True))]


def _decoded(data: bytes) -> str:
    for encoding in ("utf-16",) if data[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    return data.decode("latin-1")


def _table(name: str, lines: Iterable[tuple[int, Sequence[str], list[Fault]]]) -> Table:
    rows: list[TableRow] = []
    for number, cells, wrong in lines:
        plain = tuple(_plain(c) for c in cells)
        while plain and not plain[-1]:
            plain = plain[:-1]
        if not plain and not wrong:
            continue
        if len(rows) == MOST_ROWS:
            raise SheetError([Fault(f"row {number}", f"There are more than {MOST_ROWS:,} rows.", "Split the sheet.")])
        if len(plain) > MOST_COLUMNS:
            says = f"There are {len(plain)} columns, and {MOST_COLUMNS} is the most."
            raise SheetError([Fault(f"row {number}", says, "Leave some out.")])
        long = [n for n, c in enumerate(plain) if len(c) > MOST_TEXT]
        faults = [*wrong, *(Fault(f"row {number}, column {n + 1}", "The text is too long.", "Shorten it.") for n in long)]
        rows.append(TableRow(number, tuple(c[:MOST_TEXT] for c in plain), tuple(faults)))
    return Table(name, tuple(rows))


def _plain(text: str) -> str:
    """A cell's text without what can't be seen, and with one blank for many; line ends stay, they may stand between keys."""
    lines = (" ".join(line.split()) for line in without_hidden(text).replace("\xa0", " ").splitlines())
    plain = "\n".join(line for line in lines if line)
    return without_apostrophe(plain)


def _json(data: bytes) -> Table:
    """The list of objects that has the most of them, wherever in the file it stands; objects within them are laid flat."""
    try:
        value = json.loads(_decoded(data))
    except (ValueError, RecursionError) as error:
        says = f"This is not JSON: {error}." if isinstance(error, ValueError) else "It is nested too deeply."
        raise SheetError([Fault("", says[:200], "Save it anew.")]) from error
    best: list[Mapping[str, object]] = []
    for found in _lists(value, 0):
        if len(found) > len(best):
            best = found
    heads = list(dict.fromkeys(k for one in best for k in _flat(one)))
    if not heads:
        raise SheetError([Fault("", "There is no list of objects in it.", "It needs an object for each command.")])
    lines = ((n, [_flat(one).get(h, "") for h in heads], list[Fault]()) for n, one in enumerate(best, 1))
    rows = _table("", lines).rows
    return Table("", (TableRow(0, tuple(heads)), *rows))


def _lists(value: object, depth: int) -> Iterator[list[Mapping[str, object]]]:
    if depth > 12:
        return
    if isinstance(value, list):
        objects = [v for v in value if isinstance(v, dict)]
        if len(objects) * 2 > len(value):
            yield cast(list[Mapping[str, object]], objects)
    if isinstance(value, list | dict):
        for part in value.values() if isinstance(value, dict) else value:
            yield from _lists(part, depth + 1)


def _flat(one: Mapping[str, object], before: str = "") -> dict[str, str]:
    found: dict[str, str] = {}
    for name, value in one.items():
        if isinstance(value, dict) and not before:
            found |= _flat(value, f"{name} ")
        elif isinstance(value, list):
            found[before + name] = "\n".join(_text(v) for v in value)
        else:
            found[before + name] = _text(value)
    return found


def _text(value: object) -> str:
    match value:
        case None:
            return ""
        case bool():
            return "yes" if value else "no"
        case list():
            return ", ".join(_text(v) for v in value)
        case _:
            return str(value)


def _html(text: str) -> list[Table]:
    reader = _Tables()
    reader.feed(text)
    reader.close()
    reader.end()
    return [_table(name, rows) for name, rows in reader.found]


_SKIPPED = frozenset({"script", "style", "template", "noscript", "head"})
_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6", "caption"})
_BREAKS = frozenset({"br", "p", "div", "li"})
_MOST_SPAN = 1_000


class _Tables(HTMLParser):
    """Lays out the tables of a page, those within others by themselves. What a cell covers downwards has its text as well, what
    it covers along the row has none."""

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.found: list[tuple[str, list[tuple[int, list[str], list[Fault]]]]] = []
        self.open: list[_Open] = []
        self.skipping = 0
        self.heading: list[str] | None = None
        self.before = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag in _SKIPPED:
            self.skipping += 1
        elif tag in _HEADINGS:
            self.heading = []
        elif tag == "table":
            if len(self.open) < 20 and len(self.found) + len(self.open) < MOST_TABLES:
                self.open.append(_Open(self.before))
            else:
                self.open.append(_Open("", ignored=True))
        elif self.open:
            at = self.open[-1]
            if tag == "tr":
                at.end_row()
            elif tag in ("td", "th"):
                at.end_cell()
                sizes = dict(attrs)
                at.begin_cell(_span(sizes.get("colspan")), _span(sizes.get("rowspan")))
            elif tag in _BREAKS and at.text is not None:
                at.text.append("\n")

    def handle_endtag(self, tag: str) -> None:
        if tag in _SKIPPED:
            self.skipping = max(0, self.skipping - 1)
        elif tag in _HEADINGS and self.heading is not None:
            self.before = " ".join("".join(self.heading).split())[:200]
            self.heading = None
        elif tag == "table" and self.open:
            self._end_table()
        elif self.open:
            if tag in ("td", "th"):
                self.open[-1].end_cell()
            elif tag == "tr":
                self.open[-1].end_row()

    def handle_data(self, data: str) -> None:
        if self.skipping:
            return
        if self.heading is not None:
            self.heading.append(data)
        if self.open and self.open[-1].text is not None:
            self.open[-1].text.append(data.replace("\n", " "))

    def end(self) -> None:
        while self.open:
            self._end_table()

    def _end_table(self) -> None:
        table = self.open.pop()
        table.end_row()
        if not table.ignored:
            self.found.append((table.name, table.rows))


class _Open:
    """A table that is being read."""

    def __init__(self, name: str, ignored: bool = False) -> None:
        self.name = name
        self.ignored = ignored
        self.rows: list[tuple[int, list[str], list[Fault]]] = []
        self.row: list[str] | None = None
        self.text: list[str] | None = None
        self.size = (1, 1)
        self.covered: dict[int, tuple[int, str]] = {}
        """By column, how many further rows a cell covers, and its text."""

    def begin_cell(self, columns: int, rows: int) -> None:
        if self.row is None:
            self.row = []
        self._covered()
        self.text = []
        self.size = (columns, rows)

    def end_cell(self) -> None:
        if self.text is None or self.row is None:
            return
        text = "".join(self.text).strip()
        columns, rows = self.size
        for n in range(min(columns, MOST_COLUMNS + 1 - len(self.row))):
            if rows > 1:
                self.covered[len(self.row)] = (rows - 1, text if n == 0 else "")
            self.row.append(text if n == 0 else "")
        self.text = None

    def end_row(self) -> None:
        self.end_cell()
        if self.row is None:
            return
        self._covered()
        if len(self.rows) > MOST_ROWS:
            raise SheetError([Fault(f"row {len(self.rows)}", f"There are more than {MOST_ROWS:,} rows.", "Split the table.")])
        if not self.ignored:
            self.rows.append((len(self.rows) + 1, self.row, []))
        self.row = None

    def _covered(self) -> None:
        assert self.row is not None
        while (at := len(self.row)) in self.covered:
            left, text = self.covered.pop(at)
            if left > 1:
                self.covered[at] = (left - 1, text)
            self.row.append(text)


def _span(text: str | None) -> int:
    return min(int(text), _MOST_SPAN) if text and text.isdigit() and len(text) < 6 and int(text) > 0 else 1
