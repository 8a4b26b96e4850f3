"""JSON: a list of objects at a path of names, edited by the spans of its text."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import cast

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.json_spans import Node, parse_spans
from amberkey.core.containers.port import Add, Change, Fields, Remove, SetField
from amberkey.core.documents.canonical import Json

_Edit = tuple[int, int, str]


class JsonText:
    def open(self, text: str, at: Sequence[str]) -> "_OpenedJson":
        """Finds the list at a path of member names. Raises SettingsFileError with the place of the fault."""
        node = parse_spans(text)
        where = ".".join(at) or "the file"
        for name in at:
            child = node.members.get(name) if node.members is not None else None
            if child is None:
                raise SettingsFileError(f"The file has no {where}; the program may never have been started.")
            node = child
        if node.items is None:
            raise SettingsFileError(f"{where} is not a list in this file.", node.start)
        return _OpenedJson(text, node, node.items)


@dataclass(frozen=True)
class _OpenedJson:
    text: str
    node: Node
    items: tuple[Node, ...]

    def entries(self) -> Sequence[Fields]:
        return [{name: cast(Json, node.plain()) for name, node in (item.members or {}).items()} for item in self.items]

    def edited(self, changes: Sequence[Change]) -> str:
        edits: list[_Edit] = []
        for change in changes:
            if isinstance(change, SetField):
                edits.append(self._field(change))
        gone = {c.entry for c in changes if isinstance(c, Remove)}
        added = [_written(c.fields) for c in changes if isinstance(c, Add)]
        if gone or added:
            edits.extend(self._of_the_list(gone, added))
        text = self.text
        for start, end, new in sorted(edits, reverse=True):
            text = text[:start] + new + text[end:]
        return text

    def _field(self, change: SetField) -> _Edit:
        node = self.items[change.entry]
        members = node.members or {}
        text = json.dumps(change.value, ensure_ascii=False)
        old = members.get(change.field)
        if old is not None:
            return old.start, old.end, text
        comma = ", " if members else ""
        return node.start + 1, node.start + 1, f"{json.dumps(change.field, ensure_ascii=False)}: {text}{comma}"

    def _of_the_list(self, gone: set[int], added: list[str]) -> list[_Edit]:
        """Cuts of whole items (with the comma that parts them from the one before, or after for the first) and additions."""
        items = self.items
        kept = [n for n in range(len(items)) if n not in gone]
        if not kept:
            return [(self.node.start, self.node.end, self._anew(added))]
        edits: list[_Edit] = []
        for n in sorted(gone):
            if n < kept[0]:
                edits.append((items[n].start, items[n + 1].start, ""))
            else:
                edits.append((items[n - 1].end, items[n].end, ""))
        if added:
            last = items[kept[-1]].end
            edits.append((last, last, "".join(f",{self._gap()}{a}" for a in added)))
        return edits

    def _gap(self) -> str:
        """What stands before an item where it follows another one; of a single item: before that."""
        if len(self.items) == 1:
            return self.text[self.node.start + 1 : self.items[0].start]
        return self.text[self.items[-2].end : self.items[-1].start].replace(",", "", 1)

    def _anew(self, added: list[str]) -> str:
        """The list where nothing of it stays."""
        if not added:
            return "[]"
        newline = "\r\n" if "\r\n" in self.text else "\n"
        line = self.text[self.text.rfind("\n", 0, self.node.start) + 1 : self.node.start]
        indent = line[: len(line) - len(line.lstrip(" \t"))]
        inner = f",{newline}{indent}  ".join(added)
        return f"[{newline}{indent}  {inner}{newline}{indent}]"


def _written(fields: Fields) -> str:
    return json.dumps(dict(fields), ensure_ascii=False)
