"""Which rows of the sheet are asked for, and in which order."""

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple, overload

from amberkey.core.catalogue.headings import plain_words
from amberkey.core.inventory.rows import Order, Row, Sheet, State, Way
from amberkey.core.inventory.seeking import Found
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.platform import ORDER
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.model import CommandKind

_WORD = re.compile(r"\w+")
_NOWHERE = (99.0, 99.0)
_FUNCTION_KEY = re.compile(r"F\d{1,2}")
_HAS_IT = 2.0
"""The score of who has the shortcut that is asked for: above whatever words reach."""


@dataclass(frozen=True, slots=True)
class Asked:
    """What rows have to be, all of it at once. `programs`: ids, none for all but systems; `task`: an id, or empty for any;
    `ways`: presses of which a key has to be one, or begin with it, any of them (None: no such question); `words`: in any
    wording; `closed`: groups of which only the head is shown, where rows are shown by groups."""

    words: str = ""
    programs: tuple[str, ...] = ()
    state: State | None = None
    scope: str = ""
    kind: CommandKind | None = None
    group: str = ""
    task: str = ""
    layer: str = ""
    ways: tuple[Way, ...] | None = None
    order: Order = "program"
    by_groups: bool = False
    closed: frozenset[str] = frozenset()


class Head(NamedTuple):
    """The head of a group of a program: how many rows are in it, and whether they are shown."""

    id: str
    program: str
    group: str
    rows: int
    closed: bool


class Shown(NamedTuple):
    """A row with what of it was found by words, or the head of a group."""

    row: Row | None
    found: Found | None
    head: Head | None


class Chosen(Sequence[Shown]):
    """What is shown, in order; each line is made where somebody looks at it, since there may be twenty thousand. `rows`: how
    many rows there are, those of closed groups with them."""

    def __init__(self, sheet: Sheet, lines: Sequence[int | Head], found: Mapping[int, Found] | None, rows: int) -> None:
        self._sheet, self._lines, self._found, self.rows = sheet, lines, found, rows

    def __len__(self) -> int:
        return len(self._lines)

    @overload
    def __getitem__(self, at: int) -> Shown: ...
    @overload
    def __getitem__(self, at: slice) -> list[Shown]: ...
    def __getitem__(self, at: int | slice) -> Shown | list[Shown]:
        return self._shown(self._lines[at]) if isinstance(at, int) else [self._shown(line) for line in self._lines[at]]

    def _shown(self, line: int | Head) -> Shown:
        if isinstance(line, Head):
            return Shown(None, None, line)
        return Shown(self._sheet.rows[line], self._found[line] if self._found is not None else None, None)

    def place_of(self, row: str) -> int | None:
        """Which line a row is, by its id."""
        rows = self._sheet.rows
        return next((n for n, line in enumerate(self._lines) if not isinstance(line, Head) and rows[line].id == row), None)


def chosen(sheet: Sheet, asked: Asked) -> Chosen:
    """The rows that are asked for, in order."""
    found = _by_words(sheet, asked.words) if asked.words.strip() else None
    places: Iterable[int] = found if found is not None else _most_of(sheet, asked)
    if asked.ways is not None:
        pressed = {n for way in asked.ways for n in sheet.with_press(way)}
        places = (n for n in places if n in pressed)
    kept = list(places)
    for fits in _fitting(sheet, asked):
        kept = [n for n in kept if fits(sheet.rows[n])]
    if not (asked.order == "best first" and found is not None) and asked.order in ORDERS:
        kept.sort(key=order_of(sheet, asked.order).__getitem__)
    elif found is None or asked.order != "best first":
        kept.sort()
    lines: list[int | Head] = []
    for head, own in _by_groups(sheet, kept, asked.closed) if asked.by_groups else ((None, kept),):
        lines += [head] if head is not None else []
        lines += own
    return Chosen(sheet, lines, found, len(kept))


@lru_cache(maxsize=256)
def as_keys(words: str) -> Shortcut | None:
    """Words that are rather a shortcut, as one: some modifier is held, or they name a function key."""
    try:
        shortcut = read_shortcut(words)
    except ShortcutError:
        return None
    told = any(p.modifiers or _FUNCTION_KEY.fullmatch(p.key or "") for p in shortcut.presses)
    return shortcut if told else None


def _by_words(sheet: Sheet, words: str) -> dict[int, Found]:
    """What words find, the best first; words that are a shortcut find whoever has it, and nothing where nobody has."""
    keys = as_keys(words)
    if keys is not None:
        pressed = {n for way in sheet.ways_of(keys) for n in sheet.with_press(way)}
        return {n: Found(n, _HAS_IT, "", frozenset()) for n in sorted(pressed)}
    return {one.at: one for one in sheet.sought.find(words)}


def _most_of(sheet: Sheet, asked: Asked) -> Iterable[int]:
    """The places that are looked through where no words are asked for: those of a state, and those of no system, are known."""
    if asked.state is not None:
        return sheet.in_state(asked.state)
    return range(len(sheet.rows)) if asked.programs or asked.ways is not None else sheet.own


def _fitting(sheet: Sheet, asked: Asked) -> list[Callable[[Row], bool]]:
    tests: list[Callable[[Row], bool]] = []
    programs = frozenset(asked.programs)
    if programs:
        tests.append(lambda row: row.program.id in programs)
    elif asked.ways is None and as_keys(asked.words) is None and (asked.words.strip() or asked.state is not None):
        # Whoever asks for a press wants to hear of the system too.
        systems = sheet.systems
        tests.append(lambda row: row.program.id not in systems)
    if asked.state is not None and asked.words.strip():
        tests.append(lambda row: asked.state in row.states)
    if asked.scope:
        tests.append(lambda row: row.program.scope(row.command.scope).name == asked.scope)
    if asked.kind is not None:
        tests.append(lambda row: row.command.kind == asked.kind)
    if asked.group:
        tests.append(lambda row: row.command.group == asked.group)
    if asked.task:
        tests.append(lambda row: row.command.task == asked.task)
    if asked.layer:
        tests.append(lambda row: row.layer == asked.layer)
    return tests


ORDERS: tuple[Order, ...] = ("keys, as they lie", "name", "group", "task", "people", "set by")
"""Those in which rows don't stand already."""


def order_of(sheet: Sheet, order: Order) -> Sequence[int]:
    """The place of each row in an order: worked out once for a sheet."""
    known = sheet.orders.get(order)
    if known is None:
        by = _by(sheet, order)
        ordered = sorted(enumerate(sheet.rows), key=by)
        found = [0] * len(ordered)
        for place, (n, _) in enumerate(ordered):
            found[n] = place
        known = sheet.orders[order] = found
    return known


def _by(sheet: Sheet, order: Order) -> Callable[[tuple[int, Row]], tuple[object, ...]]:
    names = {t.id: t.name.casefold() for t in sheet.tasks.tasks}
    if order == "keys, as they lie":
        return lambda one: (*_where(sheet, one[1]), one[0])
    if order == "name":
        return lambda one: (plain_words(one[1].command.name), one[0])
    if order == "group":
        return lambda one: (one[1].command.group == "", plain_words(one[1].command.group), one[0])
    if order == "task":
        return lambda one: (one[1].command.task is None, names.get(one[1].command.task or "", ""), one[0])
    if order == "people":
        return lambda one: (-one[1].people, one[0])
    if order == "set by":
        return lambda one: (one[1].layer == "default", one[1].layer, one[0])
    return lambda one: (one[0],)


def _where(sheet: Sheet, row: Row) -> tuple[object, ...]:
    """Where the row's first key lies: from the top row down, from the left, with fewer modifiers first. Without a key, last."""
    way = next((way for b in row.bindings for way in b.ways), None)
    if way is None:
        return (True, *_NOWHERE, 0, ())
    first = way[0]
    key = sheet.boards[row.setup].ground.keyboard.body.key(first.code) if first.code else None
    y, x = (key.y, key.x) if key else _NOWHERE
    return (False, y, x, len(first.modifiers), tuple(sorted(ORDER[m] for m in first.modifiers)))


def _by_groups(sheet: Sheet, places: Iterable[int], closed: frozenset[str]) -> Iterator[tuple[Head, Sequence[int]]]:
    """The heads of groups, each with the places of its rows that are shown: none where it is closed."""
    groups: dict[tuple[str, str], list[int]] = {}
    for n in places:
        row = sheet.rows[n]
        groups.setdefault((row.program.id, row.command.group), []).append(n)
    for (program, group), own in groups.items():
        head = Head(f"{program}/{group}", program, group, len(own), f"{program}/{group}" in closed)
        yield head, () if head.closed else own


def marked(text: str, marks: frozenset[str]) -> list[tuple[int, int]]:
    """Where the words that were found stand in a text: begin and end of each."""
    return [m.span() for m in _WORD.finditer(text) if marks and marks.intersection(plain_words(m.group()).split())]


def counts(rows: Sequence[Row]) -> Mapping[str, Mapping[str, int]]:
    """How many rows there are of each program, state, scope, kind, group, task and layer."""
    found: dict[str, dict[str, int]] = {k: {} for k in ("program", "state", "scope", "kind", "group", "task", "layer")}

    def count(what: str, value: str) -> None:
        found[what][value] = found[what].get(value, 0) + 1

    for row in rows:
        count("program", row.program.id)
        if row.program.kind == "system":
            continue
        count("scope", row.program.scope(row.command.scope).name)
        count("kind", row.command.kind)
        count("layer", row.layer)
        if row.command.group:
            count("group", row.command.group)
        if row.command.task:
            count("task", row.command.task)
        for state in row.states:
            count("state", state)
    return found
