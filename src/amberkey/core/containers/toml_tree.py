"""TOML: checked by Python's own reader, and gone through once more for the places, which that one doesn't tell.

A table is a map wherever its parts stand; a new member goes behind the last one that stands under the table's own heading.
"""

import json
import re
import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.flow import flow_edits
from amberkey.core.containers.tree import (
    MAX_DEPTH,
    Change,
    Counting,
    Edit,
    Member,
    Node,
    in_parts,
    indent_at,
    newline_of,
    spans_of,
)
from amberkey.core.documents.canonical import Json

_BLANK = re.compile(r"[ \t]*")
_GAP = re.compile(r"(?:[ \t\r\n]+|#[^\r\n]*)*")
_BARE = re.compile(r"[A-Za-z0-9_-]+")
_SCALAR = re.compile(r"[^\s,\]}#]+(?: \d\d:[^\s,\]}#]+)?")
_MOST_DIGITS = 400
_MOST_PARTS = 30  # of a dotted key


class TomlTree:
    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedToml":
        try:
            tomllib.loads(text)
        except tomllib.TOMLDecodeError as error:
            raise SettingsFileError(f"This is not TOML: {error}.") from error
        except (ValueError, RecursionError) as error:
            raise SettingsFileError("This TOML holds something too long or too deep.") from error
        try:
            return _OpenedToml(text, _Scan(text).whole())
        except RecursionError as error:
            raise SettingsFileError("Its tables nest too deep.") from error


@dataclass(eq=False)
class _Building:
    """A table while it is put together. `parts`: its members, with how they are taken out; `place`: where a new one goes."""

    start: int
    members: list[tuple[str, int, int, "Node | _Building | _Blocks", tuple[int, int]]] = field(default_factory=list)
    by_name: dict[str, "Node | _Building | _Blocks"] = field(default_factory=dict)
    place: int = -1
    block: tuple[int, int] = (0, 0)
    cut: tuple[int, int] = (0, 0)
    """From the end of what stands before, where only blanks lie between, to the next heading."""

    def node(self) -> Node:
        found = [Member(name, i, j, n if isinstance(n, Node) else n.node(), whole) for name, i, j, n, whole in self.members]
        return Node(self.start, max(self.block[1], self.start), members=tuple(found), own=("table", self.place))


@dataclass(eq=False)
class _Blocks:
    """Tables of an array of tables."""

    name: str
    tables: list[_Building] = field(default_factory=list)

    def node(self) -> Node:
        items = tuple(Node(*t.block, members=t.node().members, own=("table", t.place, t.cut)) for t in self.tables)
        return Node(items[0].start, items[-1].end, items=items, own=("blocks", self.name))


class _Scan:
    def __init__(self, text: str) -> None:
        self.text = text
        self.counting = Counting()

    def whole(self) -> Node:
        root = _Building(0, place=0)
        current = root
        heads: list[tuple[int, _Building]] = [(0, root)]
        at = self.gap(0)
        while at < len(self.text):
            self.counting.one(at)
            line = self.text.rfind("\n", 0, at) + 1
            if self.text[at] == "[":
                twice = self.text.startswith("[[", at)
                path, end = self.key(at + (2 if twice else 1))
                current = self._table(root, path, line, several=twice)
                end = self._line_end(self.text.index("]", end) + (2 if twice else 1))
                current.place = end
                heads.append((line, current))
                at = self.gap(end)
                continue
            path, end = self.key(at)
            at = self.text.index("=", end) + 1
            node, at = self.value(self.blank(at), 0)
            end = self._line_end(at)
            self._put(current, path, node, (line, end))
            current.place = end
            at = self.gap(end)
        for n, (start, table) in enumerate(heads):
            before = heads[n - 1][1].place if n else 0
            blank = not self.text[before:start].strip()
            table.block = (start, table.place)
            table.cut = (before if blank and n else start, heads[n + 1][0] if n + 1 < len(heads) else len(self.text))
        return root.node()

    def _table(self, root: _Building, path: list[tuple[str, int, int]], line: int, *, several: bool) -> _Building:
        at = root
        for n, (name, start, end) in enumerate(path):
            last = n == len(path) - 1
            found = at.by_name.get(name)
            if last and several:
                if not isinstance(found, _Blocks):
                    found = _Blocks(".".join(toml_name(p[0]) for p in path))
                    at.members.append((name, start, end, found, (0, 0)))
                    at.by_name[name] = found
                found.tables.append(_Building(line))
                return found.tables[-1]
            if isinstance(found, _Blocks):
                found = found.tables[-1]
            if not isinstance(found, _Building):
                found = _Building(line)
                at.members.append((name, start, end, found, (0, 0)))
                at.by_name[name] = found
            at = found
        return at

    def _put(self, table: _Building, path: list[tuple[str, int, int]], node: Node, whole: tuple[int, int]) -> None:
        at = table
        for name, start, end in path[:-1]:
            found = at.by_name.get(name)
            if not isinstance(found, _Building):
                found = _Building(start)
                at.members.append((name, start, end, found, (0, 0)))
                at.by_name[name] = found
            at = found
        name, start, end = path[-1]
        at.members.append((name, start, end, node, whole))
        at.by_name[name] = node

    def _line_end(self, at: int) -> int:
        end = self.text.find("\n", at)
        return len(self.text) if end < 0 else end + 1

    def gap(self, at: int) -> int:
        found = _GAP.match(self.text, at)
        return found.end() if found else at

    def blank(self, at: int) -> int:
        found = _BLANK.match(self.text, at)
        return found.end() if found else at

    def key(self, at: int) -> tuple[list[tuple[str, int, int]], int]:
        """The parts of a dotted key, and where it ends."""
        parts = []
        while True:
            at = self.blank(at)
            if self.text[at] in "\"'":
                node, end = self.string(at)
                parts.append((str(node.value), at, end))
            else:
                found = _BARE.match(self.text, at)
                assert found is not None
                end = found.end()
                parts.append((found[0], at, end))
            at = self.blank(end)
            if self.text[at : at + 1] != ".":
                return parts, at
            if len(parts) > _MOST_PARTS:
                raise SettingsFileError(f"A key has more than {_MOST_PARTS} parts.", at)
            at += 1

    def value(self, at: int, depth: int) -> tuple[Node, int]:
        self.counting.one(at)
        if depth > MAX_DEPTH:
            raise SettingsFileError(f"It nests deeper than {MAX_DEPTH} levels.", at)
        sign = self.text[at]
        if sign in "\"'":
            return self.string(at)
        if sign == "[":
            return self.array(at, depth)
        if sign == "{":
            return self.inline(at, depth)
        found = _SCALAR.match(self.text, at)
        assert found is not None
        return Node(at, found.end(), _plain(found[0])), found.end()

    def string(self, at: int) -> tuple[Node, int]:
        quote = self.text[at]
        if self.text.startswith(quote * 3, at):
            end = at + 3
            while True:
                end = self.text.index(quote * 3, end)
                if quote == "'" or not _is_escaped(self.text, end):
                    break
                end += 1
            end += 3
            while self.text[end : end + 1] == quote:  # up to two quotes may stand before the closing ones
                end += 1
        else:
            end = at + 1
            while self.text[end] != quote:
                end += 2 if quote == '"' and self.text[end] == "\\" else 1
            end += 1
        raw = self.text[at:end]
        value = raw[1:-1] if "\\" not in raw and len(raw) > 1 and raw[1] != quote else tomllib.loads(f"v={raw}")["v"]
        return Node(at, end, value), end

    def array(self, start: int, depth: int) -> tuple[Node, int]:
        items = []
        at = self.gap(start + 1)
        while self.text[at] != "]":
            node, at = self.value(at, depth + 1)
            items.append(node)
            at = self.gap(at)
            if self.text[at] == ",":
                at = self.gap(at + 1)
        return Node(start, at + 1, items=tuple(items), own=("array", 0)), at + 1

    def inline(self, start: int, depth: int) -> tuple[Node, int]:
        table = _Building(start)
        at = self.gap(start + 1)
        while self.text[at] != "}":
            path, end = self.key(at)
            begun = at
            at = self.text.index("=", end) + 1
            node, at = self.value(self.blank(at), depth + 1)
            self._put(table, path, node, (begun, at))
            at = self.gap(at)
            if self.text[at] == ",":
                at = self.gap(at + 1)
        found = table.node()
        return Node(start, at + 1, members=found.members, own=("inline", 0)), at + 1


def _is_escaped(text: str, at: int) -> bool:
    count = 0
    while text[at - 1 - count] == "\\":
        count += 1
    return count % 2 == 1


def _plain(raw: str) -> Json:
    """A scalar that is no string; days, times and what JSON can't hold as their texts."""
    if raw in ("true", "false"):
        return raw == "true"
    if len(raw) > _MOST_DIGITS:
        raise SettingsFileError(f"A number has more than {_MOST_DIGITS} digits.")
    value = tomllib.loads(f"v={raw}")["v"]
    if isinstance(value, int) or (isinstance(value, float) and value == value and abs(value) != float("inf")):
        return value
    return raw


@dataclass(frozen=True)
class _OpenedToml:
    text: str
    root: Node

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        edits: list[Edit] = [(p.node.start, p.node.end, _written(p.value)) for p in parts.puts]
        edits += [(r.member.name_start, r.member.name_end, toml_name(r.name)) for r in parts.renames]
        for parent, gone, new in parts.parents():
            how = parent.own[0] if isinstance(parent.own, tuple) else ""
            if how in ("array", "inline"):
                pieces = [_written(a.value) if a.name is None else f"{toml_name(a.name)} = {_written(a.value)}" for a in new]
                edits += flow_edits(self.text, parent, spans_of(parent), gone, pieces)
                continue
            if how == "blocks":
                edits += [self._without_block(parent, n, gone) for n in gone]
                if new:
                    edits.append(self._block(parent, [a.value for a in new]))
                continue
            for n in gone:
                member = (parent.members or ())[n]
                if member.whole == (0, 0):
                    raise SettingsFileError("A whole table can't be taken out of this file.", member.name_start)
                edits.append((*member.whole, ""))
            if new:
                edits.append(self._line(parent, [(a.name or "", a.value) for a in new]))
        return edits

    def _without_block(self, parent: Node, n: int, gone: set[int]) -> Edit:
        """A table of an array, with the blank lines before it; of those that go at the beginning with those behind them."""
        items = parent.items or ()
        one = items[n]
        if any(m.whole == (0, 0) for m in one.members or ()):
            raise SettingsFileError("It has tables of its own, so it can't be taken out of this file.", one.start)
        begin, following = one.own[2] if isinstance(one.own, tuple) else (one.start, one.end)
        if all(k in gone for k in range(n)):
            return one.start, following if n + 1 < len(items) else one.end, ""
        return begin, one.end, ""

    def _line(self, parent: Node, new: Sequence[tuple[str, Json]]) -> Edit:
        place = parent.own[1] if isinstance(parent.own, tuple) else -1
        if place < 0:
            says = "The table has no heading of its own in this file, so nothing can be put into it."
            raise SettingsFileError(says, parent.start)
        line = newline_of(self.text)
        members = [m for m in parent.members or () if m.whole != (0, 0)]
        indent = indent_at(self.text, members[-1].name_start) if members else ""
        written = "".join(f"{indent}{toml_name(name)} = {_written(value)}{line}" for name, value in new)
        if place > 0 and self.text[place - 1] != "\n":
            written = line + written[: -len(line)]
        return place, place, written

    def _block(self, parent: Node, new: Sequence[Json]) -> Edit:
        assert isinstance(parent.own, tuple)
        assert parent.items
        name, line = parent.own[1], newline_of(self.text)
        place = parent.items[-1].end
        written = ""
        for one in new:
            fields = one if isinstance(one, dict) else {}
            inner = "".join(f"{toml_name(k)} = {_written(v)}{line}" for k, v in fields.items())
            written += f"[[{name}]]{line}{inner}"
        before = self.text[:place]
        if before and not before.endswith("\n"):
            written = line + written
        if len(parent.items) > 1 and self.text[: parent.items[-1].start].endswith(line * 2) and not before.endswith(line * 2):
            written = line + written
        return place, place, written


def toml_name(name: str) -> str:
    return name if _BARE.fullmatch(name) else json.dumps(name, ensure_ascii=False)


def _written(value: Json) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        return json.dumps(value, ensure_ascii=False).replace("\x7f", "\\u007f")
    if isinstance(value, list):
        return f"[{', '.join(map(_written, value))}]"
    if isinstance(value, dict):
        return "{ " + ", ".join(f"{toml_name(k)} = {_written(v)}" for k, v in value.items()) + " }" if value else "{}"
    if value is None:
        raise SettingsFileError("TOML has no word for nothing.")
    return json.dumps(value)
