"""Sheets in and out: CSV and XLSX as a head line and rows of text, every fault with its row.

Sheets that come in are hostile until proven otherwise: bounded in size, rows and columns, no formulas. Those that go out have
no cell that a spreadsheet program would run: a text that begins like a formula gets an apostrophe, which is taken off again on
the way in.
"""

import csv
import datetime
import io
import itertools
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field

from amberkey.core.documents.errors import Fault
from amberkey.core.exchange.errors import SheetError

MOST_ROWS = 50_000
MOST_COLUMNS = 100
MOST_TEXT = 4_000
_MOST_UNPACKED = 200 * 1024 * 1024
_LIKE_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")


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


def read_sheet(data: bytes) -> Sheet:
    """CSV or XLSX, told apart by how the file begins. Raises SheetError where it can't be read at all."""
    return _gathered(_lines(data))


def read_heads(data: bytes, rows: int = 3) -> tuple[tuple[str, ...], tuple[Row, ...]]:
    """The headings and the first rows, without reading the rest."""
    sheet = _gathered(itertools.islice(_lines(data), rows + 1))
    return sheet.heads, sheet.rows


def _lines(data: bytes) -> Iterator[tuple[int, Sequence[str], list[Fault]]]:
    return _xlsx(data) if data.startswith(b"PK") else _csv(data)


def _gathered(lines: Iterator[tuple[int, Sequence[str], list[Fault]]]) -> Sheet:
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
        rows.append(Row(number, tuple(_came_in(c) for c in padded)))
    return Sheet(heads, tuple(rows), tuple(faults), frozenset(bad))


def _came_in(text: str) -> str:
    text = text.strip()
    return text[1:] if text.startswith("'") and text[1:].startswith(_LIKE_A_FORMULA) else text


def _csv(data: bytes) -> Iterator[tuple[int, Sequence[str], list[Fault]]]:
    text, wrong = _text_of(data)
    head = next((line for line in text.splitlines() if line.strip()), "")
    separator = max(",;\t", key=head.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    before = 0
    try:
        for cells in reader:
            faults = [wrong[n] for n in range(before + 1, reader.line_num + 1) if n in wrong]
            for n, cell in enumerate(cells):
                if cell.lstrip().startswith("="):
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


def _xlsx(data: bytes) -> Iterator[tuple[int, Sequence[str], list[Fault]]]:
    from openpyxl import load_workbook  # a second of importing that only sheets of this kind need

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(i.file_size for i in packed.infolist()) > _MOST_UNPACKED:
                raise SheetError([Fault("", "The sheet is too large when unpacked.", "Split it, or save it as CSV.")])
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=False, keep_links=False)
        sheet = book.worksheets[0]
    except SheetError:
        raise
    except Exception as error:  # openpyxl lets through whatever went wrong in the zip file or its XML
        raise SheetError([Fault("", "This XLSX file can't be opened.", "Save it anew, or save it as CSV.")]) from error
    for number, line in enumerate(sheet.iter_rows(), 1):
        cells, faults = [], []
        for n, cell in enumerate(line[: MOST_COLUMNS + 1]):
            if cell.data_type == "f":
                faults.append(_formula(f"row {number}, column {n + 1}"))
            cells.append(_cell_text(cell.value))
        yield number, cells, faults


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


def _formula(place: str) -> Fault:
    return Fault(place, "There is a formula in the cell.", "Put its result there instead.")


def write_csv(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    """UTF-8 with a byte-order mark, so that spreadsheet programs read it right."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(heads)
    writer.writerows([_goes_out(c) for c in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")


def write_xlsx(heads: Sequence[str], rows: Iterable[Sequence[str]], title: str) -> bytes:
    """One worksheet whose cells are all text."""
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    sheet = book.create_sheet(title[:31])
    sheet.freeze_panes = "A2"
    sheet.append(list(heads))
    for row in rows:
        cells = []
        for text in row:
            cell = WriteOnlyCell(sheet, value=_goes_out(text))
            cell.data_type = "s"
            cells.append(cell)
        sheet.append(cells)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _goes_out(text: str) -> str:
    return f"'{text}" if text.startswith(_LIKE_A_FORMULA) else text
