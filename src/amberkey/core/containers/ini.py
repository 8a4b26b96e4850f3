"""INI: sections of named texts, with comments; and properties, which is one section with escapes and lines that go on.

A section is a member of the root with members of its own; what stands before the first section are members of the root.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import (
    Change,
    Counting,
    Edit,
    Line,
    Member,
    Node,
    in_parts,
    indent_at,
    lines_of,
    newline_of,
    scalar_text,
)
from amberkey.core.documents.canonical import Json

_SECTION = re.compile(r"[ \t]*\[([^\]\r\n]*)\][ \t]*(?:[;#].*)?$")
_QUOTES = "\"'"


class Ini:
    """`separators`: what parts a name from its value, the first is written (= and : unless said); `comments`: what begins a
    comment (; and # unless said)."""

    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedIni":
        separators = str(options.get("separators") or "=:")
        comments = str(options.get("comments") or ";#")
        counting = Counting()
        sections: list[tuple[str, int, int, int, list[Member]]] = []
        loose: list[Member] = []
        for line in lines_of(text):
            body = text[line.start : line.end]
            stripped = body.strip(" \t")
            if not stripped or stripped[0] in comments:
                continue
            counting.one(line.start)
            found = _SECTION.match(body)
            if found:
                sections.append((found[1], line.start + found.start(1), line.start + found.end(1), line.next, []))
                continue
            member = _pair(text, line, separators)
            if member is None:
                raise SettingsFileError(f"{stripped[:40]!r} is neither a section nor a name with a value.", line.start)
            (sections[-1][4] if sections else loose).append(member)
        members = list(loose)
        for name, start, end, after, own in sections:
            whole_end = own[-1].whole[1] if own else after
            node = Node(after, whole_end, members=tuple(own), own=(separators[0], after))
            members.append(Member(name, start, end, node, (0, 0)))
        return _OpenedIni(text, Node(0, len(text), members=tuple(members), own=(separators[0], None)))


def _pair(text: str, line: Line, separators: str) -> Member | None:
    body = text[line.start : line.end]
    at = next((n for n, c in enumerate(body) if c in separators), -1)
    if at < 0:
        return None
    name = body[:at]
    start = line.start + len(name) - len(name.lstrip(" \t"))
    value = body[at + 1 :]
    value_start = line.start + at + 1 + len(value) - len(value.lstrip(" \t"))
    value_end = max(value_start, line.start + at + 1 + len(value.rstrip(" \t")))
    node = Node(value_start, value_end, text[value_start:value_end])
    bare = name.strip(" \t")
    return Member(bare, start, start + len(bare), node, (line.start, line.next))


@dataclass(frozen=True)
class _OpenedIni:
    text: str
    root: Node

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        edits: list[Edit] = [(p.node.start, p.node.end, _value(p.value)) for p in parts.puts]
        edits += [(r.member.name_start, r.member.name_end, _name(r.name)) for r in parts.renames]
        for parent, gone, new in parts.parents():
            members = parent.members or ()
            edits += [(*members[n].whole, "") for n in gone]
            if new:
                edits.append(self._behind(parent, [(a.name or "", a.value) for a in new]))
        return edits

    def _behind(self, parent: Node, new: list[tuple[str, Json]]) -> Edit:
        members = [m for m in parent.members or () if m.node.is_scalar]
        line = newline_of(self.text)
        if members:
            last = members[-1]
            place = last.whole[1]
            between = self.text[last.name_end : last.node.start]
            indent = indent_at(self.text, last.name_start)
        else:
            separator, after = parent.own if isinstance(parent.own, tuple) else ("=", None)
            place = after if after is not None else 0
            between, indent = str(separator), ""
        if not between.strip(" \t"):
            between = "="
        written = "".join(f"{indent}{_name(n)}{between}{_value(v)}{line}" for n, v in new)
        if place > 0 and self.text[place - 1] not in "\r\n":
            written = line + written[: -len(line)]
        return place, place, written


def _name(name: str) -> str:
    if not name or name != name.strip() or re.search(r"[\r\n=:\[]|^[;#]", name):
        raise SettingsFileError(f"{name[:40]!r} can't be a name in an INI file.")
    return name


def _value(value: Json) -> str:
    text = scalar_text(value)
    if "\n" in text or "\r" in text or text != text.strip(" \t"):
        raise SettingsFileError(f"{text[:40]!r} can't be a value in an INI file.")
    return text
