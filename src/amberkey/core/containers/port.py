"""What a container can do, whatever its format.

A container finds the entries that a file keeps in one place, each with named fields, and gives the text with some of them
changed. It knows nothing of shortcuts: what fields mean says the description of the file. The laws that every container keeps
are in `tests/core/test_containers.py`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol

from amberkey.core.documents.canonical import Json

Fields = Mapping[str, Json]


@dataclass(frozen=True, slots=True)
class SetField:
    """Give a field of the entry at a place (counted from 0) a value; one that isn't there is added."""

    entry: int
    field: str
    value: Json


@dataclass(frozen=True, slots=True)
class Remove:
    """Take the entry at a place out."""

    entry: int


@dataclass(frozen=True, slots=True)
class Add:
    """Put a new entry behind all others."""

    fields: Fields


Change = SetField | Remove | Add


class Opened(Protocol):
    """A text whose entries were found."""

    def entries(self) -> Sequence[Fields]:
        """The entries in their order; what stands among them and is no entry has no fields."""

    def edited(self, changes: Sequence[Change]) -> str:
        """The text with some changes made, all else character for character as it was. Places are those of `entries`; no
        field is changed twice, and none of an entry that is removed."""


class Container(Protocol):
    def open(self, text: str, at: Sequence[str]) -> Opened:
        """The entries that stand at a path of names. Raises SettingsFileError with the place of the fault."""
