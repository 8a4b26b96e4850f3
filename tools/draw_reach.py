"""Draws docs/reach/BODY.svg: every key of every body with its score, bare and with Control.

Run it when a weight or a body changes; a test compares.

PYTHONPATH=src python tools/draw_reach.py
"""

import pathlib
import sys
from html import escape

ROOT = pathlib.Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

from amberkey.core.keys.codes import MODIFIER_CODES
from amberkey.core.keys.names import PAD_CAPS, cap_of_code
from amberkey.core.layouts.bodies import Body, Key, body_ids, load_body
from amberkey.core.layouts.caps import printed_on
from amberkey.core.layouts.layout import load_layout
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.stroke import Stroke

TARGET = ROOT / "docs/reach"
UNIT, GAP = 44, 3
HARDEST = 24  # scores from here on are drawn alike


def shade(score: int) -> str:
    """Paper for an easy key, ink for a hard one."""
    part = min(1.0, score / HARDEST)
    return "#{:02x}{:02x}{:02x}".format(*(round(a + (b - a) * part) for a, b in ((255, 84), (253, 96), (248, 112))))


def cap(code: str) -> str:
    return printed_on(load_layout("us", "windows")).get(code) or PAD_CAPS.get(code) or cap_of_code(code)


def drawn(key: Key, body: Body, held: frozenset[str]) -> str:
    x, y = key.x * UNIT, key.y * UNIT + (8 if key.y else 0)
    width, height = key.w * UNIT - GAP, UNIT - GAP
    if key.code in MODIFIER_CODES:
        fill, ink, text = "#ece7db", "#50565e", ""
    else:
        score = reach_of(Stroke(key.code, held), body).score
        fill, ink, text = shade(score), "#fffdf8" if score > HARDEST * 0.6 else "#20252b", str(score)
    label = escape(cap(key.code))
    small = 9 if len(label) * 5.2 < width else 6.5
    below = ""
    if key.below:
        left, wide = key.below[0] * UNIT, key.below[1] * UNIT - GAP
        below = f'<rect x="{left:.1f}" y="{y + UNIT - 6:.1f}" width="{wide:.1f}" height="{UNIT}" rx="4" fill="{fill}"/>'
    return (
        f'{below}<rect x="{x:.1f}" y="{y:.1f}" width="{width:.1f}" height="{height}" rx="4" fill="{fill}" stroke="#b9b1a0"/>'
        f'<text x="{x + 4:.1f}" y="{y + 13:.1f}" font-size="{small}" fill="{ink}">{label}</text>'
        f'<text x="{x + width / 2:.1f}" y="{y + 31:.1f}" font-size="15" text-anchor="middle" fill="{ink}">{text}</text>'
    )


def picture(body: Body) -> str:
    """Both drawings of a body, one under the other."""
    width, height = body.width * UNIT, body.rows * UNIT + 8
    parts = []
    for n, (title, held) in enumerate((("alone", frozenset[str]()), ("with Control", frozenset({"Control"})))):
        keys = "".join(drawn(k, body, held) for k in body.keys)
        top = n * (height + 34)
        parts.append(f'<g transform="translate(0 {top + 24:.0f})">{keys}</g>')
        parts.append(
            f'<text x="2" y="{top + 15:.0f}" font-size="13" fill="#20252b">{escape(body.name)}, each key {title}</text>'
        )
    size = f'width="{width:.0f}" height="{2 * (height + 34):.0f}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size} font-family="Inter, sans-serif">{"".join(parts)}</svg>\n'


def main() -> None:
    TARGET.mkdir(exist_ok=True)
    for body_id in body_ids():
        (TARGET / f"{body_id}.svg").write_text(picture(load_body(body_id)), encoding="utf-8")
        print(f"{body_id}.svg")


if __name__ == "__main__":
    main()
