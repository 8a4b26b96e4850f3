"""What every container of settings files gives: a tree of values with their places in the text, and the text with some changed.

A container knows its format and nothing of shortcuts; what the values mean says the description of the file. A text is never
written anew: changes replace the spans of single values and names, take members and items out, or put new ones behind others.
The laws that every container keeps are in `tests/core/test_trees.py`.
"""

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple, Protocol

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.documents.canonical import Json

MOST_NODES = 50_000
"""Values in one file, and steps through it: aliases that multiply each other come to more. So many are read within 2 s."""
MAX_DEPTH = 200


@dataclass(frozen=True, slots=True, eq=False)
class Node:
    """A value and where it stands, in characters.

    It has `members` (named ones, a name may stand twice), `items`, or neither and a `value`. `own` is for the container.
    """

    start: int
    end: int
    value: Json = None
    members: tuple["Member", ...] | None = None
    items: tuple["Node", ...] | None = None
    own: object = None

    @property
    def is_scalar(self) -> bool:
        return self.members is None and self.items is None

    def get(self, name: str) -> "Node | None":
        """The value of a member; of several with one name the last one counts, as programs read it."""
        found = None
        for member in self.members or ():
            if member.name == name:
                found = member.node
        return found

    def plain(self) -> Json:
        """The value without places: names that stand several times have the list of their values."""
        if self.items is not None:
            return [n.plain() for n in self.items]
        if self.members is None:
            return self.value
        found: dict[str, list[Json]] = {}
        for m in self.members:
            found.setdefault(m.name, []).append(m.node.plain())
        return {name: values[0] if len(values) == 1 else values for name, values in found.items()}


@dataclass(frozen=True, slots=True, eq=False)
class Member:
    """A named value, with the place of its name. `whole`: from where to where it is taken out."""

    name: str
    name_start: int
    name_end: int
    node: Node
    whole: tuple[int, int] = (0, 0)


@dataclass(frozen=True, slots=True)
class Put:
    """Give a node another value: a scalar, or a list of scalars."""

    node: Node
    value: Json


@dataclass(frozen=True, slots=True)
class Rename:
    """Call a member something else."""

    member: Member
    name: str


@dataclass(frozen=True, slots=True)
class Cut:
    """Take a member or an item, by its place among all of its parent, out."""

    parent: Node
    place: int


@dataclass(frozen=True, slots=True)
class Append:
    """Put a new member (with a name) or item (without) behind the others of a node."""

    parent: Node
    name: str | None
    value: Json


Change = Put | Rename | Cut | Append


class Opened(Protocol):
    """A text that was understood."""

    @property
    def text(self) -> str: ...

    @property
    def root(self) -> Node: ...

    def edits(self, changes: Sequence[Change]) -> "list[Edit]":
        """The spans of the text that become others where changes are made; all else stays character for character. Nothing is
        changed twice, and nothing within what is taken out. Raises SettingsFileError for what the format can't hold."""


class Container(Protocol):
    """`options` are those of the description, by name; a container takes those that it knows."""

    def open(self, text: str, options: Mapping[str, Json]) -> Opened:
        """Raises SettingsFileError with the place of the fault."""


Edit = tuple[int, int, str]


def with_edits(text: str, edits: Iterable[Edit]) -> str:
    """A text with some spans replaced. Edits at the same place stay in their order."""
    parts: list[str] = []
    at = 0
    for start, end, new in sorted(edits, key=lambda e: (e[0], e[1])):
        if start < at:
            raise SettingsFileError("Two changes of the file meet in one place.", start)
        parts += [text[at:start], new]
        at = end
    return "".join((*parts, text[at:]))


def edited(opened: Opened, changes: Sequence[Change]) -> str:
    """The text with changes made. Raises SettingsFileError for what the format can't hold."""
    return with_edits(opened.text, opened.edits(changes))


def whole_lines(text: str, start: int, end: int) -> tuple[int, int]:
    """A span with its line end, and the blanks before it, where nothing else stands on its lines; else as it is."""
    left = start
    while left > 0 and text[left - 1] in " \t":
        left -= 1
    right = end
    while right < len(text) and text[right] in " \t":
        right += 1
    if (left == 0 or text[left - 1] == "\n") and (right == len(text) or text[right] in "\r\n"):
        if text.startswith("\r\n", right):
            return left, right + 2
        return left, min(len(text), right + 1)
    return start, end


def newline_of(text: str) -> str:
    """How lines end in a text."""
    return "\r\n" if "\r\n" in text else "\n"


def indent_at(text: str, place: int) -> str:
    """The blanks with which the line of a place begins."""
    begin = text.rfind("\n", 0, place) + 1
    end = begin
    while end < len(text) and text[end] in " \t":
        end += 1
    return text[begin : min(end, place)]


@dataclass
class Counting:
    """Refuses what grows without end while it is being read."""

    most: int = MOST_NODES
    seen: int = field(default=0)

    def one(self, place: int) -> None:
        self.seen += 1
        if self.seen > self.most:
            raise SettingsFileError(f"There are more than {self.most:,} values in it.", place)


def walk(node: Node) -> Iterator[Node]:
    """A node and everything in it. Raises SettingsFileError where that doesn't end."""
    counting = Counting()
    waiting = [node]
    while waiting:
        one = waiting.pop()
        counting.one(one.start)
        yield one
        waiting.extend(m.node for m in one.members or ())
        waiting.extend(one.items or ())


class Sorted(NamedTuple):
    """Changes by what they do; cuts and additions by the node in which they are, which is named by its identity."""

    puts: list[Put]
    renames: list[Rename]
    cuts: dict[int, tuple[Node, set[int]]]
    adds: dict[int, tuple[Node, list[Append]]]

    def parents(self) -> Iterator[tuple[Node, set[int], list[Append]]]:
        """Every node of which children go or come, with which."""
        for key in self.cuts.keys() | self.adds.keys():
            parent = (self.cuts.get(key) or self.adds[key])[0]
            yield parent, self.cuts[key][1] if key in self.cuts else set(), self.adds[key][1] if key in self.adds else []


def in_parts(changes: Sequence[Change]) -> Sorted:
    """Changes sorted by what they do."""
    found = Sorted([], [], {}, {})
    for one in changes:
        match one:
            case Put():
                found.puts.append(one)
            case Rename():
                found.renames.append(one)
            case Cut():
                found.cuts.setdefault(id(one.parent), (one.parent, set()))[1].add(one.place)
            case Append():
                found.adds.setdefault(id(one.parent), (one.parent, []))[1].append(one)
    return found


def spans_of(parent: Node) -> list[tuple[int, int]]:
    """From where to where each child stands."""
    return [(n.start, n.end) for n in parent.items] if parent.items is not None else [m.whole for m in parent.members or ()]


def scalar_text(value: Json) -> str:
    """A scalar as a format writes it that has nothing but texts."""
    if isinstance(value, list | dict):
        raise SettingsFileError("A list can't stand where this file has a text.")
    return value if isinstance(value, str) else "" if value is None else str(value).lower()


@dataclass(frozen=True, slots=True)
class Line:
    """A line without its end, and where the next one begins."""

    start: int
    end: int
    next: int


_LINE = re.compile(r"([^\r\n]*)(?:\r\n|\n|\r|\Z)")


def lines_of(text: str) -> list[Line]:
    """The lines of a text with their places. Only line feeds and returns end a line: other separators may stand in a value."""
    return [Line(f.start(), f.end(1), f.end()) for f in _LINE.finditer(text) if f.end() > f.start()]
