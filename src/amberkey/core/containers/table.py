"""Tables of texts: a row a line, with a separator and quotes; and lines that follow a template with holes."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import (
    Change,
    Counting,
    Edit,
    Member,
    Node,
    in_parts,
    lines_of,
    newline_of,
    scalar_text,
)
from amberkey.core.documents.canonical import Json


class Table:
    """`separator` (a comma unless said), `quote` (a double one; empty: none), `comments`: what begins a line that is none.

    `header` (true unless said): whether the first row names the columns; without it they are called 1, 2 and so on.
    """

    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedTable":
        separator = str(options.get("separator") or ",")
        quote = str(options.get("quote", '"') or "")
        header = options.get("header") is not False
        comments = str(options.get("comments") or "")
        counting = Counting()
        names: list[str] = []
        rows: list[Node] = []
        at = 0
        while at < len(text):
            start = at
            cells, at = _row(text, at, separator, quote)
            line = text[start:at].strip()
            if not line or (comments and line.startswith(tuple(comments))):
                continue
            if header and not names:
                names = [str(c.value) for c in cells]
                continue
            for cell in cells:
                counting.one(cell.start)
            called = [names[n] if n < len(names) else str(n + 1) for n in range(len(cells))]
            members = tuple(Member(name, c.start, c.start, c) for name, c in zip(called, cells, strict=True))
            rows.append(Node(start, at, members=members))
        columns = names or [str(n + 1) for n in range(max((len(r.members or ()) for r in rows), default=0))]
        return _OpenedTable(text, Node(0, len(text), items=tuple(rows)), separator, quote, tuple(columns))


def _row(text: str, at: int, separator: str, quote: str) -> tuple[list[Node], int]:
    """The cells of a row, and where the next one begins. Raises SettingsFileError for a quote that is never closed."""
    cells: list[Node] = []
    while True:
        if quote and text.startswith(quote, at):
            cell, at = _quoted(text, at, quote)
        else:
            end = at
            while end < len(text) and text[end] not in "\r\n" and not text.startswith(separator, end):
                end += 1
            cell, at = Node(at, end, text[at:end]), end
        cells.append(cell)
        if text.startswith(separator, at):
            at += len(separator)
            continue
        if at >= len(text):
            return cells, at
        if text.startswith("\r\n", at):
            return cells, at + 2
        if text[at] in "\r\n":
            return cells, at + 1
        raise SettingsFileError("There is something between a closing quote and the separator.", at)


def _quoted(text: str, at: int, quote: str) -> tuple[Node, int]:
    start, parts = at, []
    at += 1
    while True:
        end = text.find(quote, at)
        if end < 0:
            raise SettingsFileError("A quote is never closed.", start)
        parts.append(text[at:end])
        if not text.startswith(quote, end + 1):
            return Node(start, end + 1, quote.join(parts), own="quoted"), end + 1
        at = end + 2


@dataclass(frozen=True)
class _OpenedRows:
    """What tables and lines have in common: rows that are cut and added whole, each with a line of its own."""

    text: str
    root: Node
    names: ClassVar[str]

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        if parts.renames:
            raise SettingsFileError(self.names)
        edits: list[Edit] = [(p.node.start, p.node.end, self._put(p.node, p.value)) for p in parts.puts]
        rows = self.root.items or ()
        for _, gone, new in parts.parents():
            edits += [(rows[n].start, rows[n].end, "") for n in gone]
            if new:
                edits.append(self._behind([a.value for a in new]))
        return edits

    def _behind(self, new: list[Json]) -> Edit:
        rows = self.root.items or ()
        line = newline_of(self.text)
        place = rows[-1].end if rows else len(self.text)
        written = "".join(self._row(one if isinstance(one, dict) else {}) + line for one in new)
        if place > 0 and self.text[place - 1] not in "\r\n":
            written = line + written[: -len(line)]
        return place, place, written

    def _put(self, node: Node, value: Json) -> str:
        raise NotImplementedError

    def _row(self, fields: Mapping[str, Json]) -> str:
        raise NotImplementedError


@dataclass(frozen=True)
class _OpenedTable(_OpenedRows):
    separator: str
    quote: str
    columns: tuple[str, ...]
    names = "The columns of a table have their names from its first row."

    def _put(self, node: Node, value: Json) -> str:
        return self._cell(value, quoted=node.own == "quoted")

    def _row(self, fields: Mapping[str, Json]) -> str:
        unknown = sorted(fields.keys() - set(self.columns))
        if unknown:
            raise SettingsFileError(f"The table has no column {unknown[0][:40]}.")
        cells = [self._cell(fields.get(c, ""), quoted=self._is_quoted(n)) for n, c in enumerate(self.columns)]
        return self.separator.join(cells)

    def _is_quoted(self, column: int) -> bool:
        rows = self.root.items or ()
        members = rows[-1].members if rows else None
        return bool(members and column < len(members) and members[column].node.own == "quoted")

    def _cell(self, value: Json, *, quoted: bool) -> str:
        text = scalar_text(value)
        needs = bool(re.search(r"[\r\n]", text)) or self.separator in text or (bool(self.quote) and text.startswith(self.quote))
        if not (needs or quoted):
            return text
        if not self.quote:
            raise SettingsFileError(f"{text[:40]!r} can't stand in this table, which has no quotes.")
        return self.quote + text.replace(self.quote, self.quote * 2) + self.quote


_HOLE = re.compile(r"\{([a-z_]+)(:rest)?\}")


class Lines:
    """`template`: a line with holes, as in `on {context}: {command:rest} <- {keys}`; a hole is a word, `:rest` lets it hold
    blanks. Lines that are otherwise are left alone."""

    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedLines":
        template = str(options.get("template") or "")
        pattern = _pattern(template)
        counting = Counting()
        rows: list[Node] = []
        for line in lines_of(text):
            found = pattern.fullmatch(text[line.start : line.end])
            if found is None:
                continue
            counting.one(line.start)
            holes = [_hole_at(line.start, found, name) for name in pattern.groupindex]
            rows.append(Node(line.start, line.next, members=tuple(holes)))
        return _OpenedLines(text, Node(0, len(text), items=tuple(rows)), template, pattern)


def _hole_at(start: int, found: re.Match[str], name: str) -> Member:
    begin, end = start + found.start(name), start + found.end(name)
    return Member(name, begin, begin, Node(begin, end, found[name]))


def _pattern(template: str) -> re.Pattern[str]:
    """A template as a pattern. Raises SettingsFileError for one that has no holes, one twice, or two side by side."""
    parts: list[str] = [r"[ \t]*"]
    at = 0
    seen: set[str] = set()
    for found in _HOLE.finditer(template):
        literal = template[at : found.start()]
        if found[1] in seen:
            raise SettingsFileError(f"The template has {{{found[1]}}} twice.")
        if seen and not literal:
            raise SettingsFileError(f"Nothing stands between {{{found[1]}}} and the hole before it.")
        seen.add(found[1])
        what = ".*?" if found[2] else r"[^ \t]*?"
        parts += [_literal(literal), f"(?P<{found[1]}>{what})"]
        at = found.end()
    if not seen:
        raise SettingsFileError("The template has no holes; write them as {command} and {keys}.")
    return re.compile("".join((*parts, _literal(template[at:]), r"[ \t]*")))


def _literal(text: str) -> str:
    return r"[ \t]+".join(map(re.escape, re.split(r"[ \t]+", text)))


@dataclass(frozen=True)
class _OpenedLines(_OpenedRows):
    template: str
    pattern: re.Pattern[str]
    names = "The holes of a line have their names from the template."

    def _put(self, node: Node, value: Json) -> str:
        return _hole(value)

    def _row(self, fields: Mapping[str, Json]) -> str:
        filled = _HOLE.sub(lambda m: _hole(fields.get(m[1], "")), self.template)
        again = self.pattern.fullmatch(filled)
        if again is None or any(again[name] != str(fields.get(name, "")) for name in self.pattern.groupindex):
            raise SettingsFileError(f"{filled[:60]!r} would be read as something else.")
        return filled


def _hole(value: Json) -> str:
    text = scalar_text(value)
    if "\n" in text or "\r" in text:
        raise SettingsFileError(f"{text[:40]!r} doesn't fit into a line.")
    return text
