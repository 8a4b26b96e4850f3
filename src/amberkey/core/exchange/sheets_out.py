"""Sheets that go out: CSV, ODS and XLSX with one line of headings that stays in sight, columns as wide as they read well.

No cell is anything that a spreadsheet program would run. In CSV a text that begins like a formula gets an apostrophe, which is
taken off again on the way in (see `sheets`); in ODS and XLSX every cell is marked as text.
"""

import csv
import io
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Literal, cast, get_args
from xml.sax.saxutils import escape, quoteattr

from amberkey.core.exchange.sheets import LIKE_A_FORMULA

SheetForm = Literal["csv", "ods", "xlsx"]
SHEET_FORMS: tuple[SheetForm, ...] = get_args(SheetForm)
CONTENT_TYPES: Mapping[SheetForm, str] = {
    "csv": "text/csv; charset=utf-8",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}
_NARROWEST, _WIDEST = 6, 60  # signs of a column
_CANT_STAND = dict.fromkeys((*range(9), 11, 12, *range(14, 32), 65534, 65535))
"""Characters that no XML may hold."""


def write_sheet(form: SheetForm, heads: Sequence[str], rows: Iterable[Sequence[str]], title: str) -> bytes:
    """One sheet of texts. `title` names it where the form has names for sheets."""
    write: Mapping[SheetForm, Callable[[Sequence[str], Iterable[Sequence[str]], str], bytes]] = {
        "csv": lambda h, r, _: write_csv(h, r),
        "ods": write_ods,
        "xlsx": write_xlsx,
    }
    return write[form](heads, rows, title)


def write_csv(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    """UTF-8 with a byte-order mark, so that spreadsheet programs read it right."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(heads)
    writer.writerows([_no_formula(c) for c in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")


def write_xlsx(heads: Sequence[str], rows: Iterable[Sequence[str]], title: str) -> bytes:
    """One worksheet whose cells are all text, and stay so where somebody edits them."""
    from openpyxl import Workbook  # a second of importing that only sheets of this kind need
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    lines = [list(map(_text, row)) for row in rows]
    book = Workbook(write_only=True)
    sheet = book.create_sheet(_name_of(title))
    sheet.freeze_panes = "A2"
    for n, width in enumerate(_widths(heads, lines), 1):
        sheet.column_dimensions[get_column_letter(n)].width = width
    bold = Font(bold=True)
    for line, text in enumerate([list(heads), *lines]):
        cells = []
        for one in text:
            cell = WriteOnlyCell(sheet, value=one)
            cell.data_type = "s"
            if line == 0:
                cell.font = bold
            if one.startswith(LIKE_A_FORMULA):
                cell.quotePrefix = True
            cells.append(cell)
        sheet.append(cells)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def write_ods(heads: Sequence[str], rows: Iterable[Sequence[str]], title: str) -> bytes:
    """One table whose cells are all text. odfdo packs it; the cells are put into its content as one text, since adding each by
    itself takes seventy times as long."""
    from odfdo import Document

    lines = [list(map(_text, row)) for row in rows]
    name, widths = quoteattr(_name_of(title)), _widths(heads, lines)
    container = Document("spreadsheet").container
    assert container is not None
    # All parts have to name one version of the format, and the library brings some of them.
    said = re.search(rb'office:version="([0-9.]+)"', cast(bytes, container.get_part("styles.xml")))
    version = said[1].decode() if said else "1.3"
    content = _CONTENT.format(
        version=version,
        styles="".join(_WIDTH.format(width=w, cm=w * 0.21) for w in sorted(set(widths))),
        name=name,
        columns="".join(_COLUMN.format(width=w) for w in widths),
        heads=_ods_row(heads, "head"),
        rows="".join(_ods_row(line, "text") for line in lines),
    )
    container.set_part("content.xml", content.encode())
    container.set_part("settings.xml", _SETTINGS.format(name=name, version=version).encode())
    container.set_part("meta.xml", _META.format(version=version).encode())
    out = io.BytesIO()
    container.save(out)
    return out.getvalue()


def _ods_row(cells: Sequence[str], style: str) -> str:
    inner = "".join(_CELL.format(style=style, text=_paragraphs(c)) for c in cells)
    return f"<table:table-row>{inner}</table:table-row>"


def _paragraphs(text: str) -> str:
    """Lines are paragraphs; several blanks side by side, or at the ends, would be one blank or none."""
    return "".join(f"<text:p>{_blanks(escape(line))}</text:p>" for line in text.split("\n")) if text else ""


def _blanks(text: str) -> str:
    text = text.replace("\r", "").replace("\t", "<text:tab/>").replace("  ", ' <text:s text:c="1"/>')
    return f'<text:s text:c="1"/>{text[1:]}' if text.startswith(" ") else text


def _no_formula(text: str) -> str:
    """One that begins like a formula with an apostrophe before it, also behind apostrophes of its own."""
    return f"'{text}" if text.lstrip("'").startswith(LIKE_A_FORMULA) else text


def _text(text: str) -> str:
    """A text in a form that marks it as such: only apostrophes that would be taken off on the way in get one more."""
    kept = text.translate(_CANT_STAND)
    return f"'{kept}" if kept.startswith("'") and kept.lstrip("'").startswith(LIKE_A_FORMULA) else kept


def _widths(heads: Sequence[str], rows: Sequence[Sequence[str]]) -> list[int]:
    """How many signs each column shows: nearly all of its longest line, between bounds."""
    longest = [len(h) + 2 for h in heads]
    for row in rows:
        for n, text in enumerate(row[: len(longest)]):
            longest[n] = max(longest[n], max(map(len, text.split("\n"))))
    return [min(max(n, _NARROWEST), _WIDEST) for n in longest]


def _name_of(title: str) -> str:
    """What a sheet may be called: at most 31 signs, and none of those that mean something in a reference."""
    return "".join(" " if c in "[]:*?/\\'" else c for c in title)[:31].strip() or "Sheet"


_WIDTH = (
    '<style:style style:name="w{width}" style:family="table-column">'
    '<style:table-column-properties style:column-width="{cm:.2f}cm"/></style:style>'
)
_COLUMN = '<table:table-column table:style-name="w{width}" table:default-cell-style-name="text"/>'
_CELL = '<table:table-cell table:style-name="{style}" office:value-type="string">{text}</table:table-cell>'
_META = (
    '<?xml version="1.0" encoding="UTF-8"?>'
    '<office:document-meta xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"'
    ' xmlns:meta="urn:oasis:names:tc:opendocument:xmlns:meta:1.0" office:version="{version}">'
    "<office:meta><meta:generator>Amber Key</meta:generator></office:meta></office:document-meta>"
)
_CONTENT = (
    '<?xml version="1.0" encoding="UTF-8"?>'
    '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"'
    ' xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"'
    ' xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0"'
    ' xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0"'
    ' xmlns:number="urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0" office:version="{version}">'
    "<office:automatic-styles>{styles}"
    '<number:text-style style:name="as-text"><number:text-content/></number:text-style>'
    '<style:style style:name="text" style:family="table-cell" style:data-style-name="as-text"/>'
    '<style:style style:name="head" style:family="table-cell" style:data-style-name="as-text">'
    '<style:text-properties fo:font-weight="bold"/></style:style></office:automatic-styles>'
    "<office:body><office:spreadsheet><table:table table:name={name}>{columns}"
    "<table:table-header-rows>{heads}</table:table-header-rows>{rows}"
    "</table:table></office:spreadsheet></office:body></office:document-content>"
)
_SETTINGS = (
    '<?xml version="1.0" encoding="UTF-8"?>'
    '<office:document-settings xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"'
    ' xmlns:config="urn:oasis:names:tc:opendocument:xmlns:config:1.0"'
    ' xmlns:ooo="http://openoffice.org/2004/office" office:version="{version}"><office:settings>'
    '<config:config-item-set config:name="ooo:view-settings"><config:config-item-map-indexed config:name="Views">'
    '<config:config-item-map-entry><config:config-item-map-named config:name="Tables">'
    "<config:config-item-map-entry config:name={name}>"
    '<config:config-item config:name="VerticalSplitMode" config:type="short">2</config:config-item>'
    '<config:config-item config:name="VerticalSplitPosition" config:type="int">1</config:config-item>'
    '<config:config-item config:name="ActiveSplitRange" config:type="short">2</config:config-item>'
    '<config:config-item config:name="PositionBottom" config:type="int">1</config:config-item>'
    "</config:config-item-map-entry></config:config-item-map-named></config:config-item-map-entry>"
    "</config:config-item-map-indexed></config:config-item-set></office:settings></office:document-settings>"
)
"""The first row stays in sight."""
