"""Where a settings file would be written, sign by sign: told from the spans that change, and nothing of what stands around
them."""

from collections.abc import Iterable
from dataclasses import dataclass

from amberkey.core.containers.tree import Edit

MOST = 200


@dataclass(frozen=True, slots=True)
class Differs:
    """`line`: of the file as it is, counted from 1. `before`, `after`: the signs that stand in one place of it."""

    line: int
    before: str
    after: str


def bytewise(text: str, edits: Iterable[Edit]) -> list[Differs]:
    """The first 200 places that change. Of a value that becomes another one, what both begin and end with is left out."""
    found = []
    for start, end, new in sorted(edits, key=lambda e: (e[0], e[1])):
        before = text[start:end]
        first = _alike(before, new)
        last = _alike(before[first:][::-1], new[first:][::-1])
        one, other = before[first : len(before) - last], new[first : len(new) - last]
        if one or other:
            found.append(Differs(text.count("\n", 0, start + first) + 1, one.strip(), other.strip()))
        if len(found) == MOST:
            break
    return found


def _alike(one: str, other: str) -> int:
    """How many signs two texts begin with alike."""
    return next((n for n, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), min(len(one), len(other)))
