"""JSON, and JSON as programs write it for people: with comments and a comma behind the last item, where the file has them."""

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from json.decoder import scanstring  # type: ignore[attr-defined]

from amberkey.core.containers.errors import SettingsFileError
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
    whole_lines,
)
from amberkey.core.documents.canonical import Json

_GAP = re.compile(r"[ \t\r\n]*")
_GAP_AND_COMMENTS = re.compile(r"(?:[ \t\r\n]+|//[^\r\n]*|/\*.*?\*/)*", re.DOTALL)
_REST = re.compile(r"(?:[ \t]+|//[^\r\n]*|/\*[^\r\n]*?\*/)*")
_SCALAR = re.compile(r"-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][+-]?\d+)?|true|false|null")
_WORDS: Mapping[str, Json] = {"true": True, "false": False, "null": None}
_MOST_DIGITS = 400
_Spans = list[tuple[int, int]]


class JsonTree:
    """`comments`: whether comments and last commas are allowed."""

    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedJson":
        return _OpenedJson(text, _Parser(text, comments=options.get("comments") is True).whole())


class _Parser:
    def __init__(self, text: str, *, comments: bool) -> None:
        self.text = text
        self.comments = comments
        self.gap = _GAP_AND_COMMENTS if comments else _GAP
        self.begins_gap = " \t\r\n/" if comments else " \t\r\n"
        self.counting = Counting()

    def whole(self) -> Node:
        node, end = self.value(self.skip(0), 0)
        end = self.skip(end)
        if end != len(self.text):
            raise SettingsFileError("There is something after the end of the JSON.", end)
        return node

    def skip(self, at: int) -> int:
        if self.text[at : at + 1] not in self.begins_gap:  # most often nothing stands between
            return at
        found = self.gap.match(self.text, at)
        return found.end() if found else at

    def value(self, at: int, depth: int) -> tuple[Node, int]:
        self.counting.one(at)
        if depth > MAX_DEPTH:
            raise SettingsFileError(f"It nests deeper than {MAX_DEPTH} levels.", at)
        sign = self.text[at : at + 1]
        if sign == '"':
            value, end = self.string(at)
            return Node(at, end, value), end
        if sign == "[":
            return self.items(at, depth)
        if sign == "{":
            return self.members(at, depth)
        found = _SCALAR.match(self.text, at)
        if found is None:
            says = "This is not JSON: a value is missing here." if sign else "The JSON ends too early."
            raise SettingsFileError(says, at)
        word = found[0]
        if word in _WORDS:
            return Node(at, found.end(), _WORDS[word]), found.end()
        if len(word) > _MOST_DIGITS:
            raise SettingsFileError(f"A number has more than {_MOST_DIGITS} digits.", at)
        return Node(at, found.end(), json.loads(word)), found.end()

    def string(self, at: int) -> tuple[str, int]:
        try:
            value, end = scanstring(self.text, at + 1)
        except json.JSONDecodeError as error:
            raise SettingsFileError(f"This is not JSON: {error.msg}.", error.pos) from error
        return value, end

    def items(self, start: int, depth: int) -> tuple[Node, int]:
        found: list[Node] = []
        commas: list[int] = []
        at = self.skip(start + 1)
        while self.text[at : at + 1] != "]":
            node, at = self.value(at, depth + 1)
            found.append(node)
            at = self.comma(at, "]", commas)
        return Node(start, at + 1, items=tuple(found), own=tuple(commas)), at + 1

    def members(self, start: int, depth: int) -> tuple[Node, int]:
        found: list[Member] = []
        commas: list[int] = []
        at = self.skip(start + 1)
        while self.text[at : at + 1] != "}":
            if self.text[at : at + 1] != '"':
                raise SettingsFileError("A name in quotes is missing here.", at)
            name_start = at
            name, name_end = self.string(at)
            at = self.skip(name_end)
            if self.text[at : at + 1] != ":":
                raise SettingsFileError("A colon is missing here.", at)
            node, at = self.value(self.skip(at + 1), depth + 1)
            found.append(Member(name, name_start, name_end, node, (name_start, node.end)))
            at = self.comma(at, "}", commas)
        return Node(start, at + 1, members=tuple(found), own=tuple(commas)), at + 1

    def comma(self, at: int, closing: str, commas: list[int]) -> int:
        """Behind a comma, or at the closing sign. The place of the comma is noted, -1 where there is none."""
        at = self.skip(at)
        if self.text[at : at + 1] == closing:
            commas.append(-1)
            return at
        if self.text[at : at + 1] != ",":
            raise SettingsFileError(f"A comma or {closing} is missing here.", at)
        commas.append(at)
        after = self.skip(at + 1)
        if self.text[after : after + 1] == closing and not self.comments:
            raise SettingsFileError(f"There is a comma before {closing}.", at)
        return after


@dataclass(frozen=True)
class _OpenedJson:
    text: str
    root: Node

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        edits: list[Edit] = [(p.node.start, p.node.end, _written(p.value)) for p in parts.puts]
        edits += [(r.member.name_start, r.member.name_end, _written(r.name)) for r in parts.renames]
        for parent, gone, added in parts.parents():
            new = [_piece(a.name, a.value) for a in added]
            edits += self._of_children(parent, gone, new)
        return edits

    def _of_children(self, parent: Node, gone: set[int], new: list[str]) -> list[Edit]:
        spans = spans_of(parent)
        commas: tuple[int, ...] = parent.own if isinstance(parent.own, tuple) else ()
        kept = [n for n in range(len(spans)) if n not in gone]
        if not kept and new:
            first = [self._anew(parent, new, bool(spans))]
            return first if not spans else self._emptied(parent, spans, commas, "".join(e[2] for e in first)[1:-1])
        edits: list[Edit] = []
        if not kept:
            return self._emptied(parent, spans, commas, "") if gone else []
        for n in sorted(gone):
            edits += self._without(spans, commas, n, kept)
        if new:
            edits += self._behind(parent, spans, commas, kept[-1], new)
        return edits

    def _without(self, spans: _Spans, commas: tuple[int, ...], n: int, kept: list[int]) -> list[Edit]:
        """One child with the comma that parts it: from the one before, or, where none stays before it, from the one after."""
        start, end = spans[n]
        if n < kept[0] or (commas[n] >= 0 and n == len(spans) - 1):
            comma = commas[n]
            following = spans[n + 1][0] if n + 1 < len(spans) else comma + 1
            if n + 1 < len(spans) and not self.text[comma + 1 : following].strip() and not self.text[end:comma].strip():
                left, right = whole_lines(self.text, start, comma + 1)
                return [(left, right, "")] if (left, right) != (start, comma + 1) else [(start, following, "")]
            left, right = whole_lines(self.text, start, comma + 1) if not self.text[end:comma].strip() else (start, end)
            cut: list[Edit] = [(left, right, "")]
            return cut if right > comma else [*cut, (comma, comma + 1, "")]
        comma, before = commas[n - 1], spans[n - 1][1]
        if not self.text[before:comma].strip() and not self.text[comma + 1 : start].strip():
            return [(before, end, "")]
        left, right = whole_lines(self.text, start, end)
        return [(comma, comma + 1, ""), (left, right, "")]

    def _behind(self, parent: Node, spans: _Spans, commas: tuple[int, ...], last: int, new: list[str]) -> list[Edit]:
        """New children behind the last that stays, parted from it as children are parted here."""
        gap, end, comma = self._gap(parent, spans), spans[last][1], commas[last]
        closed = comma >= 0 and last == len(spans) - 1  # a comma stands behind it already
        place = self._line_of(comma + 1 if closed else end) if "\n" in gap else comma + 1 if closed else end
        if closed:
            return [(place, place, "".join(f"{gap}{piece}," for piece in new))]
        return [(end, end, ","), (place, place, f",{gap}".join(["", *new])[1:])]

    def _line_of(self, place: int) -> int:
        """Behind the comments that stand on the rest of a line."""
        found = _REST.match(self.text, place)
        end = found.end() if found else place
        return end if end == len(self.text) or self.text[end] in "\r\n" else place

    def _gap(self, parent: Node, spans: _Spans) -> str:
        """The blanks between two children; of a single one those before it."""
        if len(spans) > 1:
            between = self.text[spans[-2][1] : spans[-1][0]].replace(",", "", 1)
        else:
            between = self.text[parent.start + 1 : spans[0][0]] or " "
        if not between.strip(" \t\r\n"):
            return between
        indent = indent_at(self.text, spans[-1][0])
        return f"{newline_of(self.text)}{indent}" if "\n" in between else " "

    def _anew(self, parent: Node, new: list[str], stood: bool) -> Edit:
        """The children of a node that has none."""
        brackets = ("{", "}") if parent.members is not None else ("[", "]")
        line, indent = newline_of(self.text), indent_at(self.text, parent.start)
        inner = f",{line}{indent}  ".join(new)
        inside = self.text[parent.start + 1 : parent.end - 1]
        if inside.strip() and not stood:  # comments stay
            return parent.end - 1, parent.end - 1, f"{line}{indent}  {inner}{line}{indent}"
        return parent.start, parent.end, f"{brackets[0]}{line}{indent}  {inner}{line}{indent}{brackets[1]}"

    def _emptied(self, parent: Node, spans: _Spans, commas: tuple[int, ...], inside: str) -> list[Edit]:
        """All children gone, with something else in their place; comments among them stay."""
        edits: list[Edit] = []
        kept_comments = False
        at = parent.start + 1
        for n, (start, end) in enumerate(spans):
            kept_comments = kept_comments or bool(self.text[at:start].strip())
            at = commas[n] + 1 if commas[n] >= 0 else end
        kept_comments = kept_comments or bool(self.text[at : parent.end - 1].strip())
        if not kept_comments:
            return [(parent.start + 1, parent.end - 1, inside)]
        for n, (start, end) in enumerate(spans):
            left, right = whole_lines(self.text, start, end)
            edits.append((left, right, "") if commas[n] < 0 else (start, end, ""))
            if commas[n] >= 0:
                edits.append((commas[n], commas[n] + 1, ""))
        if inside:
            edits.append((parent.end - 1, parent.end - 1, inside.lstrip("\r\n") + ""))
        return edits


def _piece(name: str | None, value: Json) -> str:
    return _written(value) if name is None else f"{_written(name)}: {_written(value)}"


def _written(value: Json) -> str:
    return json.dumps(value, ensure_ascii=False)
