"""Drawn keyboards to print: who takes each key, how far it is, or how often it is used, one drawing for each set of modifiers.

Readable in black and white: owners differ by pattern, not by colour.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from html import escape
from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.ids import id_from
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.worth.weighing import FEWEST
from amberkey.server.cards.printing import pdf_of_page
from amberkey.server.estate import board_of, current_estate
from amberkey.server.schema import Words
from amberkey.server.workbench.keyboard import KeyboardIn, KeyboardOut, KeyOut, Owner, keyboard_shown

router = Router(tags=["cards"])
Shows = Literal["owners", "reach", "use"]
_HELD: tuple[tuple[str, ...], ...] = (
    (),
    ("Control",),
    ("Control", "Shift"),
    ("Alt",),
    ("Alt", "Shift"),
    ("Control", "Alt"),
    ("Meta",),
    ("Meta", "Shift"),
)
_UNIT, _GAP, _HARDEST = 44, 3, 24
_TITLES: Mapping[Shows, str] = {
    "owners": "Who takes each key",
    "reach": "How far each key is",
    "use": "How often each key is used",
}
_OWNER_WORDS: Mapping[Owner, str] = {
    "system": "the system",
    "utility": "a utility",
    "browser": "the browser",
    "program": "the program",
    "text": "text and caret",
    "free": "nobody",
}
_FILLS: Mapping[Owner, str] = {"system": "#20252b", "utility": "url(#hatch)", "browser": "url(#dots)", "program": "#e3e3e3"}
_PATTERNS = (
    '<defs><pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    '<rect width="6" height="6" fill="#fff"/><rect width="2" height="6" fill="#777"/></pattern>'
    '<pattern id="dots" width="6" height="6" patternUnits="userSpaceOnUse">'
    '<rect width="6" height="6" fill="#fff"/><circle cx="3" cy="3" r="1.2" fill="#555"/></pattern></defs>'
)


@router.get("/cards/keyboard.{form}", response={200: None})
def keyboard_file(
    request: HttpRequest,
    form: Literal["svg", "pdf"],
    setup: str,
    program: Words | None = None,
    scope: Words | None = None,
    shows: Shows = "owners",
) -> HttpResponse:
    """The keyboard of a lens to print, with a drawing for each set of modifiers that says anything: SVG or PDF."""
    estate = current_estate()
    board = board_of(estate, setup)
    drawings = []
    for held in _HELD[:2] if shows == "reach" else _HELD:
        shown = keyboard_shown(KeyboardIn(setup=setup, program=program, scope=scope, held=list(held)))
        uses = _uses(estate, board, frozenset(held)) if shows == "use" else {}
        if shows == "reach" or uses or (shows == "owners" and _says_anything(shown)):
            drawings.append((" + ".join(shown.modifier_caps[m] for m in held) or "alone", shown, uses))
    title = f"{_TITLES[shows]}: {board.setup.setup.name}"
    if program is not None and shows == "owners":
        title += f", {board.part_of(program).program.name}"
    svg = keyboard_svg(title, drawings, shows)
    name = id_from(f"keyboard {shows} {board.setup.setup.name}")
    if form == "pdf":
        style = (
            "@page { size: A4 landscape; margin: 10mm; } html { font-family: 'Inter Card', sans-serif; } svg { width: 100%; }"
        )
        pages = "".join(keyboard_svg(title if n == 0 else "", [d], shows) for n, d in enumerate(drawings))
        page = (
            f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{escape(title)}</title>'
            f"<style>{style}</style></head><body>{pages or escape(NOTHING[shows])}</body></html>"
        )
        answer = HttpResponse(pdf_of_page(page), content_type="application/pdf")
    else:
        answer = HttpResponse(svg, content_type="image/svg+xml")
    answer["Content-Disposition"] = f'attachment; filename="{name}.{form}"'
    return answer


NOTHING: Mapping[Shows, str] = {
    "owners": "Nobody takes anything here.",
    "reach": "",
    "use": "Nobody has said yet how often commands are used here, or fewer than five people have this setup.",
}
Drawing = tuple[str, KeyboardOut, Mapping[str, int]]
"""What is held, the keys then, and the uses a week by key."""


def _says_anything(shown: KeyboardOut) -> bool:
    return any(k.owner not in ("free", "dead", "text") for k in shown.keys)


def _uses(estate: Estate, board: Board, held: frozenset[str]) -> dict[str, int]:
    """Uses a week by key, with just some modifiers held: of every program of the setup, single presses. No figures for fewer
    people than are told about."""
    if estate.people_of([board.setup.setup]) < FEWEST:
        return {}
    found: Counter[str] = Counter()
    for binding in board.bindings:
        if not binding.live or len(binding.ways[0]) != 1:
            continue
        stroke: Stroke = binding.ways[0][0]
        if stroke.code is not None and stroke.modifiers == held:
            found[stroke.code] += estate.uses_a_week(binding, [board.setup.setup]) or 0
    return {code: uses for code, uses in found.items() if uses}


def keyboard_svg(title: str, drawings: Sequence[Drawing], shows: Shows) -> str:
    """One picture with the drawings under each other. It asks nobody for anything."""
    if not drawings:
        return _svg(600, 60, f'<text x="4" y="34" font-size="15">{escape(NOTHING[shows])}</text>')
    most = max((n for _, _, uses in drawings for n in uses.values()), default=1)
    width = max(shown.width for _, shown, _ in drawings) * _UNIT
    parts = [_PATTERNS] + ([f'<text x="2" y="20" font-size="17" font-weight="600">{escape(title)}</text>'] if title else [])
    top = 40.0 if title else 8.0
    if shows == "owners" and title:
        parts.append(_legend(top))
        top += 26
    for held, shown, uses in drawings:
        parts.append(f'<text x="2" y="{top + 12:.0f}" font-size="13" font-weight="600">{escape(held)}</text>')
        keys = "".join(_key(k, shows, uses.get(k.code, 0), most) for k in shown.keys)
        parts.append(f'<g transform="translate(0 {top + 20:.0f})">{keys}</g>')
        top += shown.rows * _UNIT + 46
    return _svg(width, top, "".join(parts))


def _svg(width: float, height: float, inner: str) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.0f} {height:.0f}" width="{width:.0f}" '
        f'height="{height:.0f}" font-family="Inter Card, Inter, sans-serif" fill="#20252b">{inner}</svg>\n'
    )


def _legend(top: float) -> str:
    found = []
    for n, (owner, words) in enumerate(_OWNER_WORDS.items()):
        left = 2 + n * 118
        look = _look(owner)
        found.append(f'<rect x="{left}" y="{top:.0f}" width="16" height="13" rx="2" {look}/>')
        found.append(f'<text x="{left + 22}" y="{top + 11:.0f}" font-size="11.5">{words}</text>')
    return "".join(found)


def _look(owner: Owner) -> str:
    dashed = ' stroke-dasharray="3 2"' if owner == "free" else ""
    heavy = "2.2" if owner == "text" else "1"
    return f'fill="{_FILLS.get(owner, "#fff")}" stroke="#333" stroke-width="{heavy}"{dashed}'


def _key(key: KeyOut, shows: Shows, uses: int, most: int) -> str:
    x, y = key.x * _UNIT, key.y * _UNIT + (8 if key.y else 0)
    width, height = key.w * _UNIT - _GAP, _UNIT - _GAP
    ink, number = "#20252b", ""
    if key.modifier is not None or shows == "owners":
        look = 'fill="#eee" stroke="#999"' if key.modifier is not None else _look(key.owner)
        ink = "#fff" if key.modifier is None and key.owner == "system" else ink
        number = key.short if key.modifier is None and key.owner not in ("free", "dead") else ""
    else:
        part = min(1.0, key.reach / _HARDEST) if shows == "reach" else uses / most
        shade = round(255 - 150 * part)
        look = f'fill="rgb({shade},{shade},{shade})" stroke="#777"'
        number = str(key.reach) if shows == "reach" else (f"{uses:,}" if uses else "")
    below = ""
    if key.below:
        left, wide = key.below[0] * _UNIT, key.below[1] * _UNIT - _GAP
        below = f'<rect x="{left:.1f}" y="{y + _UNIT - 6:.1f}" width="{wide:.1f}" height="{_UNIT}" rx="4" {look}/>'
    plate = shows == "owners" and key.modifier is None and key.owner in ("utility", "browser")
    behind = f'<rect x="{x + 2:.1f}" y="{y + 3:.1f}" width="{width - 4:.1f}" height="{height - 8:.1f}" rx="3" fill="#fff"/>'
    cap = escape(key.cap)
    small = 11 if len(key.cap) * 6.2 < width else 7.5
    return (
        f'{below}<rect x="{x:.1f}" y="{y:.1f}" width="{width:.1f}" height="{height}" rx="4" {look}/>{behind if plate else ""}'
        f'<text x="{x + 4:.1f}" y="{y + 15:.1f}" font-size="{small}" font-weight="600" fill="{ink}">{cap}</text>'
        f'<text x="{x + 4:.1f}" y="{y + 31:.1f}" font-size="{_size(number, width)}" fill="{ink}">{escape(number)}</text>'
    )


def _size(text: str, width: float) -> float:
    """As large as fits on a key, 6 at least."""
    return max(6.0, min(11.0, (width - 6) / max(1, len(text)) / 0.55))
