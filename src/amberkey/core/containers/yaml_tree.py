"""YAML: read by PyYAML's composer, whose marks are the places. Anchors are read; what stands under an alias is never changed.

Nothing is constructed, so tags run nothing, and an alias isn't followed into lists and maps, so none grow out of each other.
"""

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import yaml

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.flow import flow_edits
from amberkey.core.containers.tree import (
    MAX_DEPTH,
    Append,
    Change,
    Counting,
    Edit,
    Member,
    Node,
    in_parts,
    newline_of,
    spans_of,
)
from amberkey.core.documents.canonical import Json

_TAGS = "tag:yaml.org,2002:"
_TRUE = frozenset({"true", "yes", "on"})
_PLAIN = re.compile(r"[A-Za-z_][A-Za-z0-9_.+/-]*")
_RESERVED = frozenset({"y", "n", "yes", "no", "on", "off", "true", "false", "null", "nan"})
_MOST_DIGITS = 400
_QUICK: Any = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
"""PyYAML's reader in C where it is there: ten times as quick as the one in Python, and with the same marks."""
_BRACKETS = re.compile(r"[\[{]")
_BEFORE = re.compile(r"^[ \t]*(?:[-?:] *)*", re.MULTILINE)


def _refuse_deep(text: str) -> None:
    """Raises SettingsFileError where it nests deeper than any file is read, which composing would overflow the stack over.
    Only a text that may nest so deep is gone through for it, event by event, and no further than that."""
    in_blocks = max((len(found[0]) for found in _BEFORE.finditer(text)), default=0)
    if in_blocks + sum(1 for _ in _BRACKETS.finditer(text)) <= MAX_DEPTH:
        return
    depth = 0
    for event in yaml.parse(text, Loader=_QUICK):
        depth += isinstance(event, yaml.CollectionStartEvent) - isinstance(event, yaml.CollectionEndEvent)
        if depth > MAX_DEPTH + 1:
            mark = event.start_mark
            raise SettingsFileError(f"It nests deeper than {MAX_DEPTH} levels.", mark.index if mark else None)


class YamlTree:
    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedYaml":
        try:
            _refuse_deep(text)
            documents = list(yaml.compose_all(text, Loader=_QUICK))
        except SettingsFileError:
            raise
        except yaml.MarkedYAMLError as error:
            mark = error.problem_mark or error.context_mark
            says = f"This is not YAML: {error.problem or error.context}."
            raise SettingsFileError(says, mark.index if mark else None) from error
        except (yaml.YAMLError, RecursionError, ValueError) as error:
            raise SettingsFileError("This is not YAML, or it holds something that can't be read.") from error
        if len(documents) > 1:
            raise SettingsFileError("There are several documents in it, and one is expected.", documents[1].start_mark.index)
        if not documents or documents[0] is None:
            return _OpenedYaml(text, Node(len(text), len(text)))
        return _OpenedYaml(text, _Building(text).node(documents[0], 0))


class _Building:
    def __init__(self, text: str) -> None:
        self.text = text
        self.counting = Counting()
        self.seen: set[int] = set()

    def node(self, one: yaml.Node, depth: int) -> Node:
        start, end = one.start_mark.index, one.end_mark.index
        self.counting.one(start)
        if depth > MAX_DEPTH:
            raise SettingsFileError(f"It nests deeper than {MAX_DEPTH} levels.", start)
        again = id(one) in self.seen
        self.seen.add(id(one))
        if isinstance(one, yaml.ScalarNode):
            style = one.style or ""
            if style in ("|", ">"):
                end = start + len(self.text[start:end].rstrip(" \t\r\n"))
            return Node(start, end, _scalar(one), own="alias" if again else style or "plain")
        if again:
            return Node(start, end, None, own="alias")
        if isinstance(one, yaml.SequenceNode):
            items = tuple(self.node(v, depth + 1) for v in one.value)
            return Node(start, _end(items, end, one.flow_style), items=items, own="flow" if one.flow_style else "block")
        assert isinstance(one, yaml.MappingNode)
        members = []
        for key, value in one.value:
            if not isinstance(key, yaml.ScalarNode):
                raise SettingsFileError("A name in it is a list or a map.", key.start_mark.index)
            node = self.node(value, depth + 1)
            name_start, name_end = key.start_mark.index, key.end_mark.index
            whole_end = name_end if node.own == "alias" else max(node.end, name_end)
            members.append(Member(str(key.value), name_start, name_end, node, (name_start, whole_end)))
        ends = tuple(Node(m.whole[0], m.whole[1]) for m in members)
        return Node(start, _end(ends, end, one.flow_style), members=tuple(members), own="flow" if one.flow_style else "block")


def _end(parts: tuple[Node, ...], end: int, flow: bool | None) -> int:
    """Where a collection ends: a block one where its last part does, not at whatever comes next."""
    return parts[-1].end if parts and not flow else end


def _scalar(one: yaml.ScalarNode) -> Json:
    kind, text = one.tag.removeprefix(_TAGS), str(one.value)
    if kind == "null":
        return None
    if kind == "bool":
        return text.lower() in _TRUE
    if kind == "int" and len(text) <= _MOST_DIGITS:
        try:
            return int(text.replace("_", ""), 0)
        except ValueError:
            return text
    return text


@dataclass(frozen=True)
class _OpenedYaml:
    text: str
    root: Node

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        edits: list[Edit] = [self._put(p.node, p.value) for p in parts.puts]
        edits += [(r.member.name_start, r.member.name_end, yaml_scalar(r.name)) for r in parts.renames]
        for parent, gone, new in parts.parents():
            if parent.own == "alias":
                raise SettingsFileError("It stands under an alias, so changing it would change other places too.")
            edits += self._children(parent, gone, new)
        return edits

    def _put(self, node: Node, value: Json) -> Edit:
        if node.own == "alias":
            raise SettingsFileError("It stands under an alias, so changing it would change other places too.")
        if node.own == "'" and isinstance(value, str) and value.isprintable():
            return node.start, node.end, "'" + value.replace("'", "''") + "'"
        written = _quoted(value) if node.own == '"' and isinstance(value, str) else yaml_scalar(value)
        blank = " " if node.start == node.end and node.start > 0 and self.text[node.start - 1] == ":" else ""
        return node.start, node.end, blank + written

    def _children(self, parent: Node, gone: set[int], new: list[Append]) -> list[Edit]:
        pieces = [yaml_scalar(a.value) if a.name is None else f"{yaml_scalar(a.name)}: {yaml_scalar(a.value)}" for a in new]
        if parent.is_scalar:
            if parent.value is not None:
                raise SettingsFileError("There is a text where entries should stand.", parent.start)
            inner = ", ".join(pieces)
            written = f"[{inner}]" if new[0].name is None else f"{{{inner}}}"
            blank = " " if parent.start > 0 and self.text[parent.start - 1] not in " \n" else ""
            return [(parent.start, parent.end, blank + written + ("" if parent.start else newline_of(self.text)))]
        spans = spans_of(parent)
        if parent.own == "flow":
            return flow_edits(self.text, parent, spans, gone, pieces)
        if len(gone) == len(spans):
            empty = ("[", "]") if parent.items is not None else ("{", "}")
            # Deeper than it stood: a list may stand as far left as the name that has it, brackets may not.
            return [(parent.start, parent.end, f"  {empty[0]}{', '.join(pieces)}{empty[1]}")]
        edits = [self._without(parent, spans, n) for n in sorted(gone)]
        return [*edits, self._behind(parent, spans, new)] if new else edits

    def _without(self, parent: Node, spans: list[tuple[int, int]], n: int) -> Edit:
        start, end = spans[n]
        if parent.items is not None:
            start = self.text.rindex("-", 0, start) if not self._dash_at(start) else start
        line = self.text.rfind("\n", 0, start) + 1
        if self.text[line:start].strip(" "):  # the first one stands behind a dash
            return start, spans[n + 1][0] if n + 1 < len(spans) else end, ""
        return line, self._line_end(end), ""

    def _dash_at(self, place: int) -> bool:
        return self.text[place] == "-" and self.text[place + 1 : place + 2] in (" ", "\n", "\r", "")

    def _behind(self, parent: Node, spans: list[tuple[int, int]], new: list[Append]) -> Edit:
        line = newline_of(self.text)
        first = parent.start if parent.items is not None else spans[0][0]
        indent = " " * (first - self.text.rfind("\n", 0, first) - 1)
        place = self._line_end(spans[-1][1])
        written = "".join(f"{indent}{self._piece(a, indent)}{line}" for a in new)
        if place > 0 and self.text[place - 1] != "\n":
            written = line + written[: -len(line)]
        return place, place, written

    def _piece(self, one: Append, indent: str) -> str:
        if one.name is not None:
            return f"{yaml_scalar(one.name)}: {yaml_scalar(one.value)}"
        if isinstance(one.value, dict) and one.value:
            fields = [f"{yaml_scalar(k)}: {yaml_scalar(v)}" for k, v in one.value.items()]
            return "- " + f"{newline_of(self.text)}{indent}  ".join(fields)
        return f"- {yaml_scalar(one.value)}"

    def _line_end(self, at: int) -> int:
        end = self.text.find("\n", at)
        return len(self.text) if end < 0 else end + 1


def yaml_scalar(value: Json) -> str:
    """A value as it can stand anywhere, within a flow too."""
    if isinstance(value, str):
        return value if _PLAIN.fullmatch(value) and value.lower() not in _RESERVED else _quoted(value)
    if isinstance(value, list):
        return f"[{', '.join(map(yaml_scalar, value))}]"
    if isinstance(value, dict):
        return "{" + ", ".join(f"{yaml_scalar(k)}: {yaml_scalar(v)}" for k, v in value.items()) + "}"
    return json.dumps(value)


def _quoted(value: Json) -> str:
    text = str(value)
    return json.dumps(text, ensure_ascii=not text.isprintable())
