"""Where two states of a settings file differ, sign by sign: only what differs is told, nothing of what stands around it."""

import difflib
from collections.abc import Iterator
from dataclasses import dataclass

MOST = 200


@dataclass(frozen=True, slots=True)
class Differs:
    """`line`: of the file as it is, counted from 1; where a line comes in, the one that it comes before. `before`, `after`: the
    signs that differ there."""

    line: int
    before: str
    after: str


def bytewise(before: bytes, after: bytes, encoding: str) -> list[Differs]:
    """The first 200 places that differ. What can't be read in that encoding is told by its numbers."""
    one, other = (data.decode(encoding, "backslashreplace").splitlines(keepends=True) for data in (before, after))
    found = []
    for place in _places(one, other):
        found.append(place)
        if len(found) == MOST:
            break
    return found


def _places(one: list[str], other: list[str]) -> Iterator[Differs]:
    for tag, i, j, k, m in difflib.SequenceMatcher(None, one, other, autojunk=False).get_opcodes():
        if tag == "equal":
            continue
        pairs = min(j - i, m - k)
        for n in range(pairs):
            yield _within(i + n + 1, one[i + n], other[k + n])
        for n in range(i + pairs, j):
            yield Differs(n + 1, one[n].strip(), "")
        for n in range(k + pairs, m):
            yield Differs(j + 1, "", other[n].strip())


def _within(line: int, one: str, other: str) -> Differs:
    """Of two lines what stands between what both begin and end with."""
    first = 0
    while first < min(len(one), len(other)) and one[first] == other[first]:
        first += 1
    last = 0
    while last < min(len(one), len(other)) - first and one[-1 - last] == other[-1 - last]:
        last += 1
    return Differs(line, one[first : len(one) - last], other[first : len(other) - last])
