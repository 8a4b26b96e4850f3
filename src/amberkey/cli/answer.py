"""One answer of a verb, for people and for programs."""

from collections.abc import Sequence
from dataclasses import dataclass

from amberkey.core.keys.platform import ORDER
from amberkey.core.layouts.reach import Reach
from amberkey.core.layouts.stroke import Stroke

Facts = dict[str, object]


@dataclass(frozen=True, slots=True)
class Answer:
    text: str
    facts: Facts


def stroke_facts(stroke: Stroke) -> Facts:
    return {"code": stroke.code, "modifiers": sorted(stroke.modifiers, key=ORDER.__getitem__)}


def reach_facts(reach: Reach) -> Facts:
    return {"score": reach.score, "flags": list(reach.flags), "stretch": reach.stretch}


def columns(rows: Sequence[tuple[str, ...]]) -> str:
    """Rows in columns as wide as they need; the last column runs free."""
    if not rows:
        return ""
    widths = [max(len(r[n]) for r in rows) for n in range(len(rows[0]))]
    return "\n".join("  ".join(c.ljust(w) for c, w in zip(r, widths, strict=True)).rstrip() for r in rows)
