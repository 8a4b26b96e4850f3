"""Sheets as answers: any rows in any of the forms."""

from collections.abc import Iterable, Sequence

from django.http import HttpResponse
from django.utils.http import content_disposition_header

from amberkey.core.exchange.sheets import SheetLimits
from amberkey.core.exchange.sheets_out import CONTENT_TYPES, SHEET_FORMS, write_sheet
from amberkey.server.problems import NotFound

WHILE_WAITING = SheetLimits(packed=2 * 1024 * 1024, unpacked=24 * 1024 * 1024, shared=8 * 1024 * 1024, lines=20_000)
"""Of sheets that are read while somebody waits: they may be smaller than lists that a worker takes."""


def sheet_response(
    form: str, called: str, heads: Sequence[str], rows: Iterable[Sequence[str]], title: str = ""
) -> HttpResponse:
    """A sheet to keep. `called`: its file's name without the form; `title`: the name of the sheet in it, else the same.

    Raises NotFound for another form than those that there are.
    """
    known = next((f for f in SHEET_FORMS if f == form), None)
    if known is None:
        raise NotFound(f"sheet of the form {form[:20]}")
    name = content_disposition_header(as_attachment=True, filename=f"{called}.{known}")
    data = write_sheet(known, heads, rows, title or called.replace("-", " ").capitalize())
    return HttpResponse(data, content_type=CONTENT_TYPES[known], headers={"Content-Disposition": name})
