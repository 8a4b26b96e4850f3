"""A container that keeps its entries in memory, for tests: what any real one has to come to, without spans or a format.

Its text is the canonical JSON of everything, so it leaves nothing as it was but the values.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import cast

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.port import Add, Change, Fields, Remove, SetField
from amberkey.core.documents.canonical import Json, canonical_bytes
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.reading import read_json


class InMemory:
    def open(self, text: str, at: Sequence[str]) -> "_OpenedInMemory":
        try:
            root = read_json(text.encode())
        except DocumentError as error:
            raise SettingsFileError(str(error)) from error
        value = root
        for name in at:
            if not isinstance(value, dict) or name not in value:
                raise SettingsFileError(f"The file has no {'.'.join(at)}.")
            value = value[name]
        if not isinstance(value, list):
            raise SettingsFileError(f"{'.'.join(at)} is not a list in this file.")
        return _OpenedInMemory(root, value)


@dataclass(frozen=True)
class _OpenedInMemory:
    root: Json
    items: list[Json]
    """A part of the root."""

    def entries(self) -> Sequence[Fields]:
        return [dict(item) if isinstance(item, dict) else {} for item in self.items]

    def edited(self, changes: Sequence[Change]) -> str:
        before = list(self.items)
        after: list[Json] = [dict(i) if isinstance(i, dict) else i for i in before]
        for change in changes:
            if isinstance(change, SetField):
                cast(dict[str, Json], after[change.entry])[change.field] = change.value
        gone = {c.entry for c in changes if isinstance(c, Remove)}
        self.items[:] = [item for n, item in enumerate(after) if n not in gone]
        self.items.extend(dict(c.fields) for c in changes if isinstance(c, Add))
        text = canonical_bytes(self.root).decode()
        self.items[:] = before
        return text
