"""The text export of a desktop's settings store: sections that are folders, values in GVariant's text form.

A value is named by its whole way, folders and name with slashes between, so the root has one member for each setting.
`['<Super>l']` is a list of texts, `@as []` an empty one, `'x'` a text; whatever else stands there (numbers, pairs, maps) is one
text that is left alone. GVariant Text Format, GLib 2.74.
"""

import re
from collections import Counter
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, replace

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

_SECTION = re.compile(r"\[([^\[\]\r\n]+)\][ \t]*$")
_NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]*")
_TEXT = re.compile(r"'((?:[^'\\]++|\\.)*+)'|\"((?:[^\"\\]++|\\.)*+)\"")
_ESCAPE = re.compile(r"\\(?:u([0-9a-fA-F]{4})|U([0-9a-fA-F]{8})|(.))", re.DOTALL)
_LETTERS: Mapping[str, str] = {"n": "\n", "t": "\t", "r": "\r", "b": "\b", "f": "\f", "a": "\a", "v": "\v"}
_EMPTY = re.compile(r"(?:@as[ \t]*)?\[[ \t]*\]")
_GAP = re.compile(r"[ \t]*")


class Store:
    """`options`: none."""

    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedStore":
        counting = Counting()
        members: list[Member] = []
        folders: dict[str, _Folder] = {}
        folder, blank = "", -1
        for line in lines_of(text):
            body = text[line.start : line.end]
            if not body.strip(" \t") or body.startswith("#"):
                blank = line.start if not body.strip(" \t") else -1
                continue
            counting.one(line.start)
            section = _SECTION.match(body)
            if section:
                folder = section[1].strip("/")
                begins = blank if blank >= 0 else line.start
                known = folders.get(folder)
                folders[folder] = _Folder(begins, line.next, line.next, 0, once=known is None)
                blank = -1
                continue
            blank = -1
            name, sign, _ = body.partition("=")
            if not sign or not _NAME.fullmatch(name):
                raise SettingsFileError(f"{body[:40]!r} is neither a folder in brackets nor a name with a value.", line.start)
            if not folders:
                raise SettingsFileError("There is a setting before the first folder.", line.start)
            start = line.start + len(name) + 1
            node = _value(text, start, line.end, counting)
            way = f"{folder}/{name}" if folder else name
            members.append(Member(way, line.start, line.start + len(name), node, (line.start, line.next)))
            folders[folder] = replace(folders[folder], end=line.next, count=folders[folder].count + 1)
        return _OpenedStore(text, Node(0, len(text), members=tuple(members)), folders)


@dataclass(frozen=True, slots=True)
class _Folder:
    """Where a folder stands: from the blank line before its heading to behind its last setting; how many it has. `once`: it has
    one heading only."""

    start: int
    after_heading: int
    end: int
    count: int
    once: bool


def _value(text: str, start: int, end: int, counting: Counting) -> Node:
    """A list of texts, a text, or anything else as the text that it is."""
    raw = text[start:end]
    if _EMPTY.fullmatch(raw.strip(" \t")):
        return Node(start, end, items=())
    whole = _TEXT.fullmatch(raw)
    if whole:
        return Node(start, end, _plain(whole))
    if raw.startswith("["):
        items = _items(text, start + 1, end, counting)
        if items is not None:
            return Node(start, end, items=tuple(items))
    return Node(start, end, raw, own="other")


def _items(text: str, at: int, end: int, counting: Counting) -> list[Node] | None:
    """The texts of a list; None where it isn't one of texts."""
    found: list[Node] = []
    while True:
        at = _skip(text, at)
        one = _TEXT.match(text, at, end)
        if one is None:
            return None
        counting.one(at)
        found.append(Node(one.start(), one.end(), _plain(one)))
        at = _skip(text, one.end())
        if text[at : at + 1] == "]":
            return found if at + 1 == end else None
        if text[at : at + 1] != ",":
            return None
        at += 1


def _skip(text: str, at: int) -> int:
    found = _GAP.match(text, at)
    return found.end() if found else at


def _plain(found: re.Match[str]) -> str:
    def one(escape: re.Match[str]) -> str:
        code = escape[1] or escape[2]
        if code is None:
            return _LETTERS.get(escape[3], escape[3])
        number = int(code, 16)
        if number > 0x10FFFF or 0xD800 <= number <= 0xDFFF or number == 0:
            raise SettingsFileError(f"There is no character with the number {number}.", found.start() + escape.start())
        return chr(number)

    return _ESCAPE.sub(one, found[1] if found[1] is not None else found[2])


@dataclass(frozen=True)
class _OpenedStore:
    text: str
    root: Node
    folders: Mapping[str, _Folder]

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        if parts.renames:
            raise SettingsFileError("Settings of a store keep their names.")
        edits: list[Edit] = [(p.node.start, p.node.end, self._put(p.node, p.value)) for p in parts.puts]
        for parent, gone, new in parts.parents():
            if parent is not self.root:
                raise SettingsFileError("A list of a store is written whole.")
            added = [(a.name or "", a.value) for a in new]
            edits += [(*(parent.members or ())[n].whole, "") for n in gone]
            edits += self._emptied([(parent.members or ())[n].name for n in gone], {_folder(n) for n, _ in added})
            edits += self._added(added)
        return edits

    def _put(self, node: Node, value: Json) -> str:
        if node.own == "other":
            raise SettingsFileError("What stands there is neither a text nor a list of texts.", node.start)
        if (node.items is not None) != isinstance(value, list):
            raise SettingsFileError("A text and a list of texts can't take each other's place.", node.start)
        return _written(value)

    def _emptied(self, gone: Sequence[str], filled: Set[str]) -> list[Edit]:
        """The headings of folders of which nothing is left."""
        lost = Counter(map(_folder, gone))
        bare = [(f, self.folders[f]) for f, n in lost.items() if f not in filled and f in self.folders]
        return [(w.start, w.after_heading, "") for f, w in bare if w.once and w.count == lost[f]]

    def _added(self, new: Sequence[tuple[str, Json]]) -> list[Edit]:
        """New settings behind the last of their folder, in new folders at the end."""
        line = newline_of(self.text)
        by_folder: dict[str, list[str]] = {}
        for way, value in new:
            folder, _, name = way.rpartition("/")
            if not _NAME.fullmatch(name) or re.search(r"[\[\]\r\n]", folder):
                raise SettingsFileError(f"{way[:60]!r} can't be the name of a setting.")
            by_folder.setdefault(folder, []).append(f"{name}={_written(value)}{line}")
        edits: list[Edit] = []
        fresh: list[str] = []
        for folder, lines in by_folder.items():
            if folder in self.folders:
                place = self.folders[folder].end
                parted = "" if place == 0 or self.text[place - 1] in "\r\n" else line
                edits.append((place, place, parted + "".join(lines)))
            else:
                fresh.append(f"[{folder or '/'}]{line}{''.join(lines)}")
        if fresh:
            end = len(self.text)
            closed = not self.text or self.text[-1] in "\r\n"
            before = ("" if closed else line) + (line if self.text else "")
            edits.append((end, end, before + line.join(fresh)))
        return edits


def _folder(way: str) -> str:
    return way.rpartition("/")[0]


def _written(value: Json) -> str:
    if isinstance(value, list):
        return f"[{', '.join(_quoted(scalar_text(v)) for v in value)}]" if value else "@as []"
    return _quoted(scalar_text(value))


def _quoted(text: str) -> str:
    if "\0" in text:
        raise SettingsFileError("A store can't hold a character with the number 0.")
    escaped = text.replace("\\", "\\\\").replace("'", "\\'")
    for letter, sign in _LETTERS.items():
        escaped = escaped.replace(sign, f"\\{letter}")
    return f"'{escaped}'"
