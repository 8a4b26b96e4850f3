"""Defaults that a settings file only shows: entries behind a sign that makes a comment of them, as programs write them that
list what could be set.

Only a container can say what an entry is, so each such line is read as if the sign weren't there, with the rest of the file
around it. Prose behind the same sign is what can't be read so, or what would change the meaning of something else.
"""

from collections import deque
from collections.abc import Collection, Iterable, Sequence

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import Cut, edited
from amberkey.core.descriptions.carrying import Found, Reading, read_file
from amberkey.core.descriptions.described import ContainerName, Described
from amberkey.core.descriptions.records import File, open_file

MOST_READS = 120
"""Times that a file is read at most; what isn't settled then is taken for prose."""

MOST_CHARACTERS = 512 * 1024
"""Characters that are read for that at most, all times together: a long file is read fewer times, though four at least."""

_SIGNS = ("#", ";", "//", "!")
"""Signs behind which files show defaults, as far as they are guessed, each with a blank too."""

FEWEST = 2
"""Telling defaults without which no sign is believed."""

LONGEST = 64 * 1024
"""Characters of a file of which a sign is guessed at most: each one costs several reads."""

_WITHIN: dict[ContainerName, str] = {"json": ":", "yaml": ":", "toml": "="}
"""What no entry of these is without; prose that lacks it needs no reading."""


def shown_defaults(data: bytes, how: Described) -> tuple[Found, ...]:
    """What a file shows as defaults, each with its line, in their order. Of a line that shows several things, or one that can't
    be read, nothing is told. Raises SettingsFileError where it isn't such a file at all."""
    if not how.shown_behind:
        return ()
    file = open_file(data, how)
    lines = file.opened.text.split("\n")
    shown = _shown(lines, how)
    found = _sifted(lines, shown, file)
    if len(found) < len(shown):
        # Where a name may stand once, the default of one that is set is read with what is set taken out.
        bare = _without_records(file)
        behind = _shown(bare, how)
        if len(behind) == len(shown):
            at = dict(zip(behind, shown, strict=True))
            more = _sifted(bare, [n for n in behind if at[n] not in found], file)
            found |= {at[n]: Found(one.what, one.shortcuts, at[n] + 1) for n, one in more.items()}
    # "How to write them: Ctrl+K" reads as an entry too; among names of one word it is prose.
    one_word = [n for n in found if len(found[n].what.command.split()) == 1]
    return tuple(found[n] for n in sorted(one_word if len(one_word) * 2 > len(found) else found))


def telling(found: Collection[Found]) -> int:
    """How many of them have a modifier or a key whose name has several signs, which prose rarely comes to."""
    return sum(any(p.modifiers or p.key is None or len(p.key) > 1 for s in f.shortcuts for p in s.presses) for f in found)


def signs_in(text: str) -> tuple[str, ...]:
    """The sign that most lines of a text begin with, with a blank and without; none of a longer text, or of too few lines."""
    lines = [line.lstrip(" \t") for line in text.split("\n")] if len(text) <= LONGEST else []
    most = max(_SIGNS, key=lambda sign: sum(line.startswith(sign) for line in lines))
    return (f"{most} ", most) if sum(line.startswith(most) for line in lines) >= FEWEST else ()


def with_sign(data: bytes, how: Described, signs: Iterable[str]) -> Described:
    """A description that says behind which of some signs the file shows defaults, where enough telling ones stand behind it;
    else as it is."""
    best, most = how, FEWEST - 1
    for sign in signs:
        tried = how.model_copy(update={"shown_behind": sign})
        try:
            found = shown_defaults(data, tried)
        except SettingsFileError:
            continue
        many = telling(found)
        if many > most:
            best, most = tried, many
    return best


def bared(text: str, sign: str) -> str:
    """A text with a sign taken from each line that begins with it; where some of these look like entries, only from those."""
    lines = text.split("\n")
    behind = {n for n, line in enumerate(lines) if line.lstrip(" \t").startswith(sign)}
    entries = {n for n in behind if "=" in lines[n] or ":" in lines[n]} or behind
    return _without_sign(lines, sign, entries)


def _without_sign(lines: Sequence[str], sign: str, some: Collection[int]) -> str:
    return "\n".join(line.replace(sign, "", 1) if n in some else line for n, line in enumerate(lines))


def _shown(lines: Sequence[str], how: Described) -> list[int]:
    within = _WITHIN.get(how.container, "")
    return [n for n, line in enumerate(lines) if line.lstrip(" \t").startswith(how.shown_behind) and within in line]


def _without_records(file: File) -> list[str]:
    try:
        return edited(file.opened, [Cut(r.parent, r.place) for r in file.records()]).split("\n")
    except SettingsFileError:
        return []


def _sifted(lines: Sequence[str], shown: Sequence[int], file: File) -> dict[int, Found]:
    """Those lines (counted from 0) that each show one entry, with it."""
    kept: dict[int, Found] = {}
    if not shown:
        return kept
    base = _read(lines, (), file)
    waiting = deque([list(shown)])
    most = min(MOST_READS, max(4, MOST_CHARACTERS // (len(file.opened.text) + 1)))
    reads = 1
    while waiting and reads < most and isinstance(base, Reading):
        some = waiting.popleft()
        reads += 1
        read = _read(lines, [*kept, *some], file)
        if isinstance(read, int):
            waiting.extendleft(reversed(_around(some, read)))
            continue
        mine = set(some)
        by_line = {n: [f for f in read.found if f.line == n + 1] for n in some}
        if _outside(read, mine) != _outside(base, mine):
            waiting.extendleft(reversed(_around(some, some[len(some) // 2])))
            continue
        good = [n for n in some if len(by_line[n]) == 1 and by_line[n][0].shortcuts]
        if len(good) == len(some):
            kept |= {n: by_line[n][0] for n in some}
            base = read
            continue
        # A line behind it may have spoilt one that can't be read now; alone it may be read.
        spoilt = {u.line - 1 for u in read.unread} & mine if len(some) > 1 else set()
        waiting.extendleft(reversed([part for part in (good, *([n] for n in sorted(spoilt))) if part]))
    return kept


def _around(some: list[int], line: int) -> list[list[int]]:
    """Lines in smaller parts: those before one, it, and those behind it; none of a single line, which is prose then."""
    if len(some) == 1:
        return []
    at = line if line in some else some[len(some) // 2]
    parts = ([n for n in some if n < at], [at], [n for n in some if n > at])
    return [part for part in parts if part]


def _read(lines: Sequence[str], shown: Collection[int], file: File) -> Reading | int:
    """What the file says with the sign taken from some lines; the line of the fault, -1 where that isn't told."""
    text = _without_sign(lines, file.how.shown_behind, set(shown))
    try:
        return read_file(file.mark + text.encode(file.encoding), file.how)
    except SettingsFileError as error:
        return -1 if error.position is None else text.count("\n", 0, error.position)


def _outside(read: Reading, lines: Collection[int]) -> tuple[object, ...]:
    """What a reading tells of all other lines."""
    return (
        [f for f in read.found if f.line - 1 not in lines],
        [u for u in read.unread if u.line - 1 not in lines],
    )
