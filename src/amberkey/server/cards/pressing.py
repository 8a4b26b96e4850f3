"""Pages to PDF, by nothing but WeasyPrint: other processes do it too, without the rest of the application."""

import atexit
import os
import re
import threading
from collections.abc import Iterator, Sequence
from concurrent.futures import Future, ProcessPoolExecutor
from multiprocessing import get_context
from typing import TYPE_CHECKING, Any, NamedTuple, cast

if TYPE_CHECKING:
    from weasyprint import HTML
    from weasyprint.document import Document

FEW = 8
"""So many pages are quicker done here than by processes that have to be started first."""
_PROCESSES = 2
_AHEAD = 4
_EMPTY = re.compile(r"<body>.*</body>", re.DOTALL)
"""What stands on a page, for one of that size with nothing on it."""
_kept = threading.local()
atexit.register(_kept.__dict__.clear)  # fonts are let go while the library that holds them is still there


class Face(NamedTuple):
    """A font file by its address, with its weight."""

    weight: int
    address: str


def pressed(page: str, faces: tuple[Face, ...], variant: str | None = None) -> bytes:
    """A page as a PDF. `variant`: of which kind it is, as `pdf/ua-1`. Raises OSError where Pango isn't there."""
    html = read(page)
    style, fonts = _fonts(faces)
    return bytes(html.write_pdf(stylesheets=[style], font_config=fonts, pdf_variant=variant))


def pressed_together(pages: Iterator[str], faces: tuple[Face, ...], variant: str | None = None) -> Iterator[bytes]:
    """Each of many pages as a PDF, in their order, by some processes at once. Raises OSError where Pango isn't there."""
    workers = min(_PROCESSES, os.cpu_count() or 1)
    with ProcessPoolExecutor(workers, mp_context=get_context("spawn")) as pool:
        waiting: list[Future[bytes]] = []
        for page in pages:
            waiting.append(pool.submit(pressed, page, faces, variant))
            if len(waiting) > _AHEAD:
                yield waiting.pop(0).result()
        for one in waiting:
            yield one.result()


def pressed_as_one(
    pages: Iterator[tuple[str, bool]], faces: tuple[Face, ...], variant: str | None = None, *, title: str
) -> bytes:
    """Many pages, one after the other, as one PDF with a title. With each, whether it has a sheet of paper for itself: then the
    next one begins on a front. Raises OSError where Pango isn't there."""
    # One process keeps all that is laid out, beside whoever makes the pages; with it goes the memory that this takes.
    with ProcessPoolExecutor(1, mp_context=get_context("spawn")) as pool:
        waiting: list[Future[None]] = []
        for page, has_a_sheet in pages:
            waiting.append(pool.submit(_keep_laid, page, faces, has_a_sheet))
            if len(waiting) > _AHEAD:
                waiting.pop(0).result()
        for one in waiting:
            one.result()
        return pool.submit(_join, title, variant).result()


_laid: "list[Document]" = []
"""What a process has laid out that presses many pages as one."""


def _keep_laid(page: str, faces: tuple[Face, ...], has_a_sheet: bool) -> None:
    _laid.append(laid(page, faces))
    if has_a_sheet and len(_laid[-1].pages) % 2:
        _laid.append(laid(_EMPTY.sub("<body></body>", page), faces))


def _join(title: str, variant: str | None) -> bytes:
    """All of it as one PDF: joining files that are written already would lose what a reader for the blind goes by."""
    first = _laid[0]
    first.metadata.title = title
    return bytes(first.copy([page for one in _laid for page in one.pages]).write_pdf(pdf_variant=variant))


def laid(page: str, faces: tuple[Face, ...]) -> "Document":
    """A page as it lies on paper. Raises OSError where Pango isn't there."""
    html = read(page)
    style, fonts = _fonts(faces)
    return html.render(stylesheets=[style], font_config=fonts)


def read(page: str) -> "HTML":
    from weasyprint import HTML

    return HTML(string=page, url_fetcher=_nothing_from_elsewhere)


def _nothing_from_elsewhere(url: str, *_: Any, **__: Any) -> Any:
    raise ValueError(f"a card asks nobody for anything, and not for {url[:80]}")


def _fonts(faces: Sequence[Face]) -> tuple[Any, Any]:
    """The application's own font, so that paper looks the same wherever it is made: a style sheet with what holds the fonts.
    Reading them takes longer than a card, so each thread keeps its own."""
    known = getattr(_kept, "fonts", None)
    if known is not None:
        return cast(tuple[Any, Any], known)
    from weasyprint import CSS
    from weasyprint.text.fonts import FontConfiguration

    rules = [f'@font-face {{ font-family: "Inter Card"; font-weight: {f.weight}; src: url("{f.address}"); }}' for f in faces]
    fonts = FontConfiguration()
    _kept.fonts = CSS(string="\n".join(rules), font_config=fonts), fonts
    return cast(tuple[Any, Any], _kept.fonts)
