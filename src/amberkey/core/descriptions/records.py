"""The records of a settings file: where it has them, and what stands in each at the places that its description names."""

import codecs
import re
from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple, cast

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.ini import Ini
from amberkey.core.containers.json_tree import JsonTree
from amberkey.core.containers.properties import Properties
from amberkey.core.containers.store import Store
from amberkey.core.containers.table import Lines, Table
from amberkey.core.containers.toml_tree import TomlTree
from amberkey.core.containers.tree import Container, Member, Node, Opened
from amberkey.core.containers.xml_tree import XmlTree
from amberkey.core.containers.yaml_tree import YamlTree
from amberkey.core.descriptions.described import ContainerName, Described
from amberkey.core.documents.canonical import Json

CONTAINERS: Mapping[ContainerName, Container] = {
    "json": JsonTree(),
    "yaml": YamlTree(),
    "toml": TomlTree(),
    "xml": XmlTree(),
    "ini": Ini(),
    "properties": Properties(),
    "table": Table(),
    "lines": Lines(),
    "store": Store(),
}
MOST_BYTES = 4 * 1024 * 1024
MOST_LINES = 150_000
MARKS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"))


class Wanted(NamedTuple):
    """A command as the file calls it, and what its context says there ("" where the file has none)."""

    command: str
    context: str = ""


@dataclass(eq=False)
class Record:
    """A place of the file where a command has keys: its node, its member (where it has a name), its parent and its place there,
    and what the way to it said."""

    parent: Node
    place: int
    node: Node
    member: Member | None
    holes: Mapping[str, str]

    def slot(self, locator: str) -> Node | Member | None:
        """The node of a locator, or the member whose name it is; None where there is none."""
        if locator == "name":
            return self.member
        if locator == "value":
            return self.node
        if "/" not in locator:
            return self.node.get(locator)
        at: Node | None = self.node
        for name in locator.split("/"):
            at = at.get(name) if at is not None else None
        return at

    def text(self, locator: str) -> str | None:
        """The text at a locator; None where there is none."""
        if locator.startswith("{"):
            return self.holes.get(locator[1:-1])
        slot = self.slot(locator)
        if isinstance(slot, Member):
            return slot.name
        if slot is None or not slot.is_scalar or slot.value is None:
            return None
        return slot.value if isinstance(slot.value, str) else str(slot.value).lower()


@dataclass
class File:
    """A file that was opened. `places`: the nodes in which records stand, with what the way there said."""

    mark: bytes
    encoding: str
    opened: Opened
    how: Described
    places: list[tuple[Node, Mapping[str, str]]] = field(default_factory=list)

    def records(self) -> Sequence[Record]:
        """The records in the file's order."""
        return self._records

    def named(self) -> Sequence[tuple[Record, Wanted]]:
        """The records of commands, each with which it is."""
        return self._named

    @cached_property
    def _named(self) -> tuple[tuple[Record, Wanted], ...]:
        return tuple((r, what) for r in self._records if (what := what_of(r, self.how)) is not None)

    @cached_property
    def _records(self) -> tuple[Record, ...]:
        return tuple(self._found())

    def _found(self) -> Iterator[Record]:
        for place, holes in self.places:
            if place.items is not None:
                for n, item in enumerate(place.items):
                    yield Record(place, n, item, None, holes)
            for n, member in enumerate(place.members or ()):
                if self.how.record is None or member.name == self.how.record:
                    yield Record(place, n, member.node, member, holes)

    @cached_property
    def _ends(self) -> list[int]:
        return [found.start() for found in re.finditer("\n", self.opened.text)]

    def line(self, place: int) -> int:
        """The line of a place in the text, counted from 1."""
        return bisect_right(self._ends, place - 1) + 1


def open_file(data: bytes, how: Described) -> File:
    if len(data) > MOST_BYTES:
        raise SettingsFileError(f"The file has {len(data) // 1048576} MB, and {MOST_BYTES // 1048576} MB is the most.")
    mark, encoding = next(((m, e) for m, e in MARKS if data.startswith(m)), (b"", how.encoding))
    try:
        text = data[len(mark) :].decode(encoding)
    except UnicodeDecodeError as error:
        raise SettingsFileError(
            f"The file is not written in {encoding}: byte {error.start + len(mark)} can't be read."
        ) from error
    if "\0" in text:
        raise SettingsFileError("There is a character with the number 0 in it, so it is no text file.", text.index("\0"))
    if max(text.count("\n"), text.count("\r")) > MOST_LINES:
        raise SettingsFileError(f"The file has more than {MOST_LINES:,} lines.")
    options = cast(Mapping[str, Json], how.options.model_dump(exclude_none=True))
    file = File(mark, encoding, CONTAINERS[how.container].open(text, options), how)
    file.places = list(_places(file.opened.root, how.at, {}))
    wrong = next((node for node, _ in file.places if node.is_scalar and node.value is not None), None)
    if wrong is not None:
        raise SettingsFileError(f"{place_in_words(how)} is neither a list nor a map in this file.", wrong.start)
    unnamed = how.record is None and {"name", "value"}.isdisjoint((how.command, how.keys.at))
    wrong = next((node for node, _ in file.places if node.members), None) if unnamed else None
    if wrong is not None:
        raise SettingsFileError(f"{place_in_words(how)} is not a list in this file.", wrong.start)
    return file


def place_in_words(how: Described) -> str:
    """Where records stand, in a few words."""
    return "/".join(how.at) or "the file"


def _places(node: Node, at: Sequence[str], holes: Mapping[str, str]) -> Iterator[tuple[Node, Mapping[str, str]]]:
    if not at:
        yield node, holes
        return
    step, rest = at[0], at[1:]
    prefix, hole, suffix = _hole_of(step)
    for member in node.members or ():
        if hole is not None:
            if len(member.name) >= len(prefix + suffix) and member.name.startswith(prefix) and member.name.endswith(suffix):
                said = member.name[len(prefix) : len(member.name) - len(suffix)]
                yield from _places(member.node, rest, {**holes, hole: said})
        elif step in ("*", member.name):
            yield from _places(member.node, rest, holes)
    for item in node.items or ():
        if step == "*":
            yield from _places(item, rest, holes)


def _hole_of(step: str) -> tuple[str, str | None, str]:
    """What stands before a hole in a step, its name, and what stands behind it."""
    begin, end = step.find("{"), step.find("}")
    if begin < 0 or end < begin:
        return step, None, ""
    return step[:begin], step[begin + 1 : end], step[end + 1 :]


def what_of(record: Record, how: Described) -> Wanted | None:
    """Which command a record is of; None for what is none of ours."""
    if any(record.text(at) != text for at, text in how.only.items()):
        return None
    command = record.text(how.command)
    if command is None:
        return None
    return Wanted(command, (record.text(how.context) or "") if how.context is not None else "")
