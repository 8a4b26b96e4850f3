"""Cards as PDF and as a page: one template, one style sheet."""

import pathlib
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from functools import lru_cache
from itertools import count
from typing import Any, NamedTuple

from django.conf import settings
from django.template import Context, Engine
from django.utils.safestring import mark_safe

from amberkey.core.cards.model import CardPart
from amberkey.core.cards.words import word
from amberkey.core.documents.field import Language
from amberkey.server.cards.drawing import Drawn
from amberkey.server.cards.laying import ROOMS, SHEETS, columns_of, room_of
from amberkey.server.cards.pressing import Face, laid, pressed, pressed_as_one, pressed_together
from amberkey.server.problems import Problem

PAPER = pathlib.Path(__file__).parent / "paper"
_FONTS = settings.ROOT / "web/node_modules/inter-ui/web"
_WEIGHTS = ((400, "Regular"), (600, "SemiBold"))
TAGGED = "pdf/ua-1"


def page_of(drawn: Drawn) -> str:
    """The card as an HTML page of its own, that asks nobody for anything."""
    wish, templates = drawn.wish, engine()
    sheet = SHEETS[wish.paper]
    css = templates.get_template("card.css").render(Context({"sheet": sheet, "half": sheet.gap / 2, "rooms": ROOMS}))
    columns = columns_of(drawn.card.parts, sheet, wish.language)
    told = {
        "language": wish.language,
        "title": drawn.title,
        "organisation": drawn.organisation,
        "columns": _numbered(columns or [drawn.card.parts], wish.language),
        "flows": columns is None,
        "foot": drawn.foot,
        "or": word("or", wish.language),
        "then": word("then", wish.language),
        "css": mark_safe(css),  # noqa: S308  our own style sheet
    }
    return templates.get_template("card.html").render(Context(told))


def _numbered(columns: Iterable[Iterable[CardPart]], language: Language) -> list[list[dict[str, Any]]]:
    """By columns the parts with their lines, each with the number by which it is found again on paper, and the room for its
    keys."""
    number = count()
    return [
        [{"title": p.title, "lines": [(next(number), v, room_of(v, language)) for v in p.lines]} for p in parts]
        for parts in columns
    ]


def pdf_of(drawn: Drawn) -> bytes:
    """The card as a tagged PDF (PDF/UA-1). Raises Problem where Pango isn't there."""
    with _said():
        return pressed(page_of(drawn), _faces(), TAGGED)


def pdfs_of(cards: Iterator[Drawn]) -> Iterator[bytes]:
    """The same for many cards, in their order, by several processes. Raises Problem where Pango isn't there."""
    with _said():
        yield from pressed_together(map(page_of, cards), _faces(), TAGGED)


def pdf_as_one(cards: Iterator[Drawn], title: str) -> bytes:
    """Many cards as one PDF to print, in their order. Raises Problem where Pango isn't there."""
    with _said():
        return pressed_as_one(((page_of(c), SHEETS[c.wish.paper].pages > 1) for c in cards), _faces(), TAGGED, title=title)


def pdf_of_page(page: str) -> bytes:
    """Any page of ours as a PDF. Raises Problem where Pango isn't there."""
    with _said():
        return pressed(page, _faces())


class Laid(NamedTuple):
    """`pages` that a card needs, and its lines, by their ids, that stand on more than its paper has: they would have to go."""

    pages: int
    beyond: tuple[str, ...]


def laid_out(drawn: Drawn) -> Laid:
    """How a card lies on its paper. Raises Problem where Pango isn't there."""
    with _said():
        document = laid(page_of(drawn), _faces())
    lines = [line.id for part in drawn.card.parts for line in part.lines]
    most = SHEETS[drawn.wish.paper].pages
    late = {name for page in document.pages[most:] for name in page.anchors}
    found = [line for n, line in enumerate(lines) if f"line-{n}" in late]
    if len(document.pages) > most and not found:
        found = lines[-1:]  # only its foot has no room
    return Laid(len(document.pages), tuple(dict.fromkeys(found)))


@contextmanager
def _said() -> Iterator[None]:
    """What is missing here, told as a Problem."""
    try:
        yield
    except OSError as missing:
        raise Problem(
            503,
            "Cards can't be printed here: Pango is missing.",
            str(missing).splitlines()[0][:200],
            "Ask root for: apt-get install -y --no-install-recommends libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0",
        ) from missing


@lru_cache
def engine() -> Engine:
    """Templates of cards; names in them are escaped."""
    return Engine(dirs=[str(PAPER)], autoescape=True)


@lru_cache
def _faces() -> tuple[Face, ...]:
    """The font files that are there."""
    files = [(weight, _FONTS / f"Inter-{name}.woff2") for weight, name in _WEIGHTS]
    return tuple(Face(weight, file.as_uri()) for weight, file in files if file.is_file())


FORMS: dict[str, Callable[[Drawn], bytes]] = {
    "pdf": pdf_of,
    "html": lambda card: page_of(card).encode(),
    "txt": lambda card: card.text.encode(),
}
"""A card in each of its forms."""
