"""Properties: names and texts, one a line unless a line goes on behind a backslash, with escapes. # and ! begin comments."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

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

_ESCAPED = {"t": "\t", "n": "\n", "r": "\r", "f": "\f"}
_ESCAPE = re.compile(r"\\(?:u([0-9a-fA-F]{4})|(\r\n|[\r\n])[ \t\f]*|(.))|\\$", re.DOTALL)


class Properties:
    """`ascii`: letters beyond ASCII are written as escapes."""

    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedProperties":
        counting = Counting()
        members: list[Member] = []
        lines = lines_of(text)
        n = 0
        while n < len(lines):
            first = lines[n]
            end, after = first.end, first.next
            body = text[first.start : end].lstrip(" \t\f")
            if body and body[0] not in "#!":
                while _goes_on(text[first.start : end]) and n + 1 < len(lines):
                    n += 1
                    end, after = lines[n].end, lines[n].next
                counting.one(first.start)
                members.append(_pair(text, first.start, end, after))
            n += 1
        return _OpenedProperties(text, Node(0, len(text), members=tuple(members)), options.get("ascii") is True)


def _goes_on(line: str) -> bool:
    return (len(line) - len(line.rstrip("\\"))) % 2 == 1


def _pair(text: str, start: int, end: int, after: int) -> Member:
    at = start
    while at < end and text[at] in " \t\f":
        at += 1
    name_start = at
    while at < end and text[at] not in " \t\f=:":
        at += 2 if text[at] == "\\" else 1
    name_end = min(at, end)
    while at < end and text[at] in " \t\f":
        at += 1
    if at < end and text[at] in "=:":
        at += 1
        while at < end and text[at] in " \t\f":
            at += 1
    at = min(at, end)
    node = Node(at, end, _read(text[at:end], at))
    return Member(_read(text[name_start:name_end], name_start), name_start, name_end, node, (start, after))


def _read(raw: str, place: int) -> str:
    def one(found: re.Match[str]) -> str:
        code, line, sign = found[1], found[2], found[3]
        if code:
            return chr(int(code, 16))
        if line is not None or sign is None:
            return ""
        if sign == "u":
            raise SettingsFileError("\\u needs four hexadecimal digits.", place + found.start())
        return _ESCAPED.get(sign, sign)

    read = _ESCAPE.sub(one, raw)
    try:  # two halves of one letter
        return read.encode("utf-16", "surrogatepass").decode("utf-16")
    except UnicodeDecodeError as error:
        raise SettingsFileError("There is half of a letter in it.", place) from error


@dataclass(frozen=True)
class _OpenedProperties:
    text: str
    root: Node
    ascii: bool

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        edits: list[Edit] = [(p.node.start, p.node.end, self._value(p.value)) for p in parts.puts]
        edits += [(r.member.name_start, r.member.name_end, self._name(r.name)) for r in parts.renames]
        for parent, gone, new in parts.parents():
            members = parent.members or ()
            edits += [(*members[n].whole, "") for n in gone]
            if new:
                edits.append(self._behind(members, [(a.name or "", a.value) for a in new]))
        return edits

    def _behind(self, members: tuple[Member, ...], new: list[tuple[str, Json]]) -> Edit:
        line = newline_of(self.text)
        place = members[-1].whole[1] if members else len(self.text)
        between = self.text[members[-1].name_end : members[-1].node.start] if members else "="
        written = "".join(f"{self._name(n)}{between or '='}{self._value(v)}{line}" for n, v in new)
        if place > 0 and self.text[place - 1] not in "\r\n":
            written = line + written[: -len(line)]
        return place, place, written

    def _name(self, name: str) -> str:
        if not name:
            raise SettingsFileError("A name can't be empty in a properties file.")
        return re.sub(r"[ =:#!\\]", lambda m: "\\" + m[0], self._escaped(name))

    def _value(self, value: Json) -> str:
        written = self._escaped(scalar_text(value).replace("\\", "\\\\"))
        return re.sub(r"^[ =:]", lambda m: "\\" + m[0], written)

    def _escaped(self, text: str) -> str:
        for letter, sign in _ESCAPED.items():
            text = text.replace(sign, "\\" + letter)
        if not self.ascii:
            return text
        units = text.encode("utf-16-be")
        pairs = (int.from_bytes(units[n : n + 2]) for n in range(0, len(units), 2))
        return "".join(chr(u) if u < 128 else f"\\u{u:04x}" for u in pairs)
