"""Sheets that come in: CSV, XLSX and ODS as a head line and rows of text, every fault with its row.

They are hostile until proven otherwise: bounded in size, rows and columns, no formulas. The apostrophe that keeps a text from
being a formula where it was written (see `sheets_out`) is taken off again.
"""

import csv
import datetime
import io
import itertools
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any
from xml.etree.ElementTree import Element

from amberkey.core.documents.errors import Fault
from amberkey.core.exchange.errors import SheetError

MOST_ROWS = 50_000
MOST_COLUMNS = 100
MOST_TEXT = 4_000


@dataclass(frozen=True, slots=True)
class SheetLimits:
    """What a sheet may hold. Bytes as a file (the one limit that page, server and database share), bytes unpacked, members of
    its zip file, how far a member may blow up, bytes of the texts that its cells share (they are held in memory all at once),
    and lines, empty ones too."""

    packed: int = 8 * 1024 * 1024
    unpacked: int = 200 * 1024 * 1024
    parts: int = 1_000
    ratio: int = 200
    shared: int = 32 * 1024 * 1024
    lines: int = 4 * MOST_ROWS


DEFAULT_SHEET_LIMITS = SheetLimits()
LIKE_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")


Lines = Iterator[tuple[int, Sequence[str], list[Fault]]]
"""Lines as they are counted in a sheet, their cells as text, and what is wrong with each."""


@dataclass(frozen=True, slots=True)
class Row:
    """A row as it is counted in the sheet (the head is row 1), its cells as text."""

    number: int
    cells: tuple[str, ...]


@dataclass(frozen=True)
class Sheet:
    """`faults` are those of single rows; such a row stands in `rows` with what could be read of it."""

    heads: tuple[str, ...]
    rows: tuple[Row, ...]
    faults: tuple[Fault, ...] = ()
    bad: frozenset[int] = field(default_factory=frozenset)
    """The numbers of the rows that have a fault."""


def read_sheet(data: bytes, limits: SheetLimits = DEFAULT_SHEET_LIMITS) -> Sheet:
    """CSV, XLSX or ODS, told apart by what the file is. Raises SheetError where it can't be read at all."""
    return _gathered(lines_of(data, limits))


def read_heads(
    data: bytes, rows: int = 3, limits: SheetLimits = DEFAULT_SHEET_LIMITS
) -> tuple[tuple[str, ...], tuple[Row, ...]]:
    """The headings and the first rows, without reading the rest. Raises SheetError."""
    sheet = _gathered(itertools.islice(lines_of(data, limits), rows + 1))
    return sheet.heads, sheet.rows


def is_packed(data: bytes) -> bool:
    """Whether a file has to be unpacked to be read, so that only a worker should."""
    return data.startswith(b"PK")


def lines_of(data: bytes, limits: SheetLimits, *, calculated: bool = False) -> Lines:
    """The lines of CSV, XLSX or the first table of ODS: number, cells as text, faults. `calculated`: a formula counts as what
    it came to, and is a fault only where it was never calculated; without it every formula is one. Raises SheetError."""
    if len(data) > limits.packed:
        raise SheetError([too_large(len(data), limits)])
    if not is_packed(data):
        return _csv(data)
    return _first_of_ods(data, limits, calculated) if is_ods(data) else _xlsx(data, limits, calculated)


def too_large(size: int, limits: SheetLimits = DEFAULT_SHEET_LIMITS) -> Fault:
    """`size` in bytes."""
    says = f"The sheet has {size / 1048576:.1f} MB, and {limits.packed // 1048576} MB is the most."
    return Fault("", says, "Split it, or leave columns out that aren't needed.")


def _gathered(lines: Lines) -> Sheet:
    first = next(((n, cells) for n, cells, _ in lines if any(c.strip() for c in cells)), None)
    if first is None:
        raise SheetError([Fault("", "The sheet is empty.", "It needs a line of headings and a row for each item.")])
    heads = tuple(c.strip() for c in first[1])
    if len(heads) > MOST_COLUMNS:
        raise SheetError(
            [Fault("row 1", f"There are {len(heads)} columns, and {MOST_COLUMNS} is the most.", "Leave some out.")]
        )
    rows: list[Row] = []
    faults: list[Fault] = []
    bad: set[int] = set()
    for number, cells, wrong in lines:
        if not wrong and not any(c.strip() for c in cells):
            continue
        if len(rows) == MOST_ROWS:
            raise SheetError([Fault(f"row {number}", f"There are more than {MOST_ROWS:,} rows.", "Split the sheet.")])
        for n, cell in enumerate(cells):
            if len(cell) > MOST_TEXT:
                wrong.append(Fault(f"row {number}, column {n + 1}", f"The text has {len(cell):,} characters.", "Shorten it."))
        if any(c.strip() for c in cells[len(heads) :]):
            wrong.append(Fault(f"row {number}", f"It has {len(cells)} cells, and there are {len(heads)} headings.", "Mend it."))
        faults += wrong
        if wrong:
            bad.add(number)
        padded = (*cells[: len(heads)], *("",) * (len(heads) - len(cells)))
        rows.append(Row(number, tuple(without_apostrophe(c.strip()) for c in padded)))
    return Sheet(heads, tuple(rows), tuple(faults), frozenset(bad))


def without_apostrophe(text: str) -> str:
    """A cell without the apostrophe that says it is text; of several one is it, the others are its own."""
    return text[1:] if text.startswith("'") and text.lstrip("'").startswith(LIKE_A_FORMULA) else text


def _csv(data: bytes) -> Lines:
    text, wrong = _text_of(data)
    head = next((line for line in text.splitlines() if line.strip()), "")
    separator = max(",;\t", key=head.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    before = 0
    try:
        for cells in reader:
            faults = [wrong[n] for n in range(before + 1, reader.line_num + 1) if n in wrong]
            for n, cell in enumerate(cells):
                if cell.lstrip().startswith("=") and len(cell.strip()) > 1:  # alone it is a key
                    faults.append(_formula(f"row {before + 1}, column {n + 1}"))
            yield before + 1, cells, faults
            before = reader.line_num
    except csv.Error as error:
        raise SheetError([Fault(f"row {before + 1}", f"This is not CSV: {error}.", "Save it anew as CSV.")]) from error


def _text_of(data: bytes) -> tuple[str, dict[int, Fault]]:
    """The text of a CSV file, and the lines that are not in its encoding."""
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return data.decode("utf-16"), {}
        except UnicodeDecodeError as error:
            raise SheetError([Fault(f"byte {error.start}", "This is not UTF-16 text.", "Save it as UTF-8.")]) from error
    if b"\0" in data[:4096]:
        raise SheetError([Fault("", "This is neither CSV nor XLSX.", "Save the sheet as one of them.")])
    try:
        return data.decode("utf-8-sig"), {}
    except UnicodeDecodeError:
        pass
    wrong: dict[int, Fault] = {}
    for n, line in enumerate(data.splitlines(), 1):
        try:
            line.decode()
        except UnicodeDecodeError as error:
            says = f"The character at place {error.start + 1} is not UTF-8."
            wrong[n] = Fault(f"row {n}", says, "Save the sheet as UTF-8, or write that row anew.")
    return data.decode("utf-8-sig", errors="replace"), wrong


_OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
_TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
_P = f"{_TEXT}p"


def is_ods(data: bytes) -> bool:
    """Whether a zip file is a sheet of OpenDocument."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            return "content.xml" in packed.namelist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError):
        return False


def ods_tables(data: bytes, limits: SheetLimits, *, calculated: bool = True) -> Iterator[tuple[str, Lines]]:
    """The tables of ODS with their names; every cell as what it shows. `calculated` as in `lines_of`. Raises SheetError."""
    from defusedxml.ElementTree import fromstring  # type: ignore[import-untyped]

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            check_outline(packed.infolist(), limits)
            root = fromstring(packed.read("content.xml"), forbid_dtd=True)
    except SheetError:
        raise
    except Exception as error:  # whatever goes wrong in the zip file or its XML
        raise SheetError([Fault("", "This ODS file can't be read.", "Save it anew, or save it as CSV.")]) from error
    for sheet in root.iter(f"{_TABLE}table"):
        yield sheet.get(f"{_TABLE}name", ""), _ods_rows(sheet, calculated)


def _first_of_ods(data: bytes, limits: SheetLimits, calculated: bool) -> Lines:
    _, lines = next(ods_tables(data, limits, calculated=calculated), ("", iter(())))
    return lines


def _ods_rows(sheet: Element, calculated: bool) -> Lines:
    number = 1
    for row in sheet.iter(f"{_TABLE}table-row"):
        again = _count(row, "number-rows-repeated")
        cells: list[str] = []
        faults: list[Fault] = []
        for cell in row:
            if cell.tag not in (f"{_TABLE}table-cell", f"{_TABLE}covered-table-cell"):
                continue
            text = "\n".join("".join(_pieces(p)) for p in cell.iter(_P))
            formula, place = cell.get(f"{_TABLE}formula"), f"row {number}, column {len(cells) + 1}"
            if formula and not calculated:
                faults.append(_formula(place))
            elif formula and not text and cell.get(f"{_OFFICE}value") is None:
                faults.append(never_calculated(place))
            # Thousands of empty cells behind the last one are how a sheet is drawn, not what it holds.
            cells += [text] * min(_count(cell, "number-columns-repeated"), MOST_COLUMNS + 1 if text else MOST_COLUMNS)
            cells = cells[: MOST_COLUMNS + 1]
        filled = any(cells) or bool(faults)
        for n in range(again if filled else 0):
            yield number + n, list(cells) if any(cells) else [], faults
            if n >= MOST_ROWS:
                break
        number += again


def _pieces(paragraph: Element) -> Iterator[str]:
    """The text of a paragraph; several blanks, tabs and line ends are elements in it."""
    yield paragraph.text or ""
    for one in paragraph:
        name = one.tag.rpartition("}")[2]
        if name == "s":
            again = one.get(f"{_TEXT}c", "1")
            yield " " * (min(int(again), MOST_TEXT) if again.isdigit() and len(again) < 9 else 1)
        elif name in ("tab", "line-break"):
            yield "\t" if name == "tab" else "\n"
        else:
            yield from _pieces(one)
        yield one.tail or ""


def _count(element: Element, name: str) -> int:
    text = element.get(f"{_TABLE}{name}", "1")
    return int(text) if text.isdigit() and len(text) < 9 else 1


def _xlsx(data: bytes, limits: SheetLimits, calculated: bool) -> Lines:
    from openpyxl import load_workbook  # a second of importing that only sheets of this kind need

    number = 0
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            check_outline(packed.infolist(), limits)
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=False, keep_links=False)
        lines = book.worksheets[0].iter_rows()
        pairs: Iterable[tuple[Sequence[Any], Sequence[Any]]] = ((line, line) for line in lines)
        if calculated:
            known = load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
            pairs = zip(lines, known.worksheets[0].iter_rows(), strict=False)
        for number, (line, results) in enumerate(pairs, 1):
            if number > limits.lines:
                raise SheetError([Fault(f"row {number}", f"There are more than {limits.lines:,} lines.", "Split the sheet.")])
            cells, faults = [], []
            for n, (cell, result) in enumerate(zip(line[: MOST_COLUMNS + 1], results, strict=False)):
                if cell.data_type == "f" and not calculated:
                    faults.append(_formula(f"row {number}, column {n + 1}"))
                elif cell.data_type == "f" and result.value is None:
                    faults.append(never_calculated(f"row {number}, column {n + 1}"))
                cells.append(_cell_text(result.value))
            yield number, cells, faults
    except SheetError:
        raise
    except Exception as error:  # openpyxl lets through whatever goes wrong in the zip file or its XML, wherever it gets to it
        place = f"after row {number}" if number else ""
        raise SheetError([Fault(place, "This XLSX file can't be read.", "Save it anew, or save it as CSV.")]) from error


def check_outline(infos: Sequence[zipfile.ZipInfo], limits: SheetLimits) -> None:
    """Refuses of a zipped sheet what would be too much, before anything is unpacked: a member never gives more bytes than it
    says here."""
    if len(infos) > limits.parts or sum(i.file_size for i in infos) > limits.unpacked:
        raise SheetError([Fault("", "The sheet is too large when unpacked.", "Split it, or save it as CSV.")])
    for info in infos:
        if info.file_size > limits.ratio * max(info.compress_size, 64):
            raise SheetError([Fault(info.filename[:120], "This part blows up when it is unpacked.", "Don't trust this file.")])
        if info.filename.lower().endswith("sharedstrings.xml") and info.file_size > limits.shared:
            says = f"Its texts have {info.file_size / 1048576:.0f} MB, and {limits.shared // 1048576} MB is the most."
            raise SheetError([Fault("", says, "Split it, or save it as CSV.")])


def _cell_text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime.datetime):
        return value.date().isoformat()
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value)


def never_calculated(place: str) -> Fault:
    """Of a cell with a formula that has come to nothing yet."""
    return Fault(place, "Its formula was never calculated.", "Put its result there instead.")


def _formula(place: str) -> Fault:
    return Fault(place, "There is a formula in the cell.", "Put its result there instead.")
