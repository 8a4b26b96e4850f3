"""JSON text with the place of every value, so that single values can be replaced and all else stays byte for byte.

Positions are in characters of the text. Duplicate names: the last one counts, as programs read it.
"""

import json
from dataclasses import dataclass
from json.decoder import scanstring  # type: ignore[attr-defined]

from amberkey.core.containers.errors import SettingsFileError

_BLANK = " \t\r\n"
MAX_DEPTH = 200


@dataclass(frozen=True)
class Node:
    """A value and where it stands. `items` for lists, `members` for objects (name to value, names as read)."""

    start: int
    end: int
    value: object = None
    items: tuple["Node", ...] | None = None
    members: dict[str, "Node"] | None = None

    def plain(self) -> object:
        """The value as `json.loads` would give it, without places."""
        if self.items is not None:
            return [n.plain() for n in self.items]
        if self.members is not None:
            return {k: n.plain() for k, n in self.members.items()}
        return self.value


def parse_spans(text: str) -> Node:
    """Raises SettingsFileError with the position of the fault."""
    node, position = _value(text, _skip(text, 0), 0)
    position = _skip(text, position)
    if position != len(text):
        raise SettingsFileError("There is something after the end of the JSON.", position)
    return node


def _skip(text: str, position: int) -> int:
    while position < len(text) and text[position] in _BLANK:
        position += 1
    return position


def _value(text: str, start: int, depth: int) -> tuple[Node, int]:
    if depth > MAX_DEPTH:
        raise SettingsFileError(f"It nests deeper than {MAX_DEPTH} levels.", start)
    if start >= len(text):
        raise SettingsFileError("The JSON ends too early.", start)
    if text[start] == "[":
        return _list(text, start, depth)
    if text[start] == "{":
        return _object(text, start, depth)
    try:
        value, end = json.JSONDecoder().raw_decode(text, start)
    except json.JSONDecodeError as error:
        raise SettingsFileError(f"This is not JSON: {error.msg}.", error.pos) from error
    return Node(start, end, value), end


def _list(text: str, start: int, depth: int) -> tuple[Node, int]:
    items: list[Node] = []
    position = _skip(text, start + 1)
    if text[position : position + 1] == "]":
        return Node(start, position + 1, items=()), position + 1
    while True:
        node, position = _value(text, position, depth + 1)
        items.append(node)
        position = _skip(text, position)
        sign = text[position : position + 1]
        if sign == "]":
            return Node(start, position + 1, items=tuple(items)), position + 1
        if sign != ",":
            raise SettingsFileError("A comma or ] is missing here.", position)
        position = _skip(text, position + 1)


def _object(text: str, start: int, depth: int) -> tuple[Node, int]:
    members: dict[str, Node] = {}
    position = _skip(text, start + 1)
    if text[position : position + 1] == "}":
        return Node(start, position + 1, members={}), position + 1
    while True:
        if text[position : position + 1] != '"':
            raise SettingsFileError("A name in quotes is missing here.", position)
        try:
            name, position = scanstring(text, position + 1)
        except json.JSONDecodeError as error:
            raise SettingsFileError(f"This is not JSON: {error.msg}.", error.pos) from error
        position = _skip(text, position)
        if text[position : position + 1] != ":":
            raise SettingsFileError("A colon is missing here.", position)
        node, position = _value(text, _skip(text, position + 1), depth + 1)
        members[name] = node
        position = _skip(text, position)
        sign = text[position : position + 1]
        if sign == "}":
            return Node(start, position + 1, members=members), position + 1
        if sign != ",":
            raise SettingsFileError("A comma or } is missing here.", position)
        position = _skip(text, position + 1)
