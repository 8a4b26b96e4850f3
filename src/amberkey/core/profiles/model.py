"""`amberkey/profile@1`, `amberkey/setup@1` and `amberkey/decisions@1`."""

import datetime
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.compare.sections import entry_key
from amberkey.core.documents.model import Document, Value
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.model import Id, Text

LayoutId = Annotated[str, Field(max_length=40)]


class Given(Value):
    """A shortcut given to a command, in the command's own scope or in another one."""

    keys: ShortcutField
    scope: Id | None = None


class Entry(Value):
    """What a profile sets for one command. An empty list of shortcuts unbinds it; `over` is what it replaced."""

    program: Id
    command: Id
    arguments: dict[str, str | int] = Field(default_factory=dict)
    platform: Platform
    layouts: tuple[LayoutId, ...] = ()
    shortcuts: tuple[Given, ...]
    over: tuple[ShortcutField, ...] = ()

    @property
    def key(self) -> str:
        return entry_key(self.model_dump(mode="json"))

    @model_validator(mode="after")
    def _real_modifiers(self) -> Self:
        for given in self.shortcuts:
            if given.keys.resolve(self.platform) != given.keys:
                raise ValueError(f"shortcuts: {given.keys} has Main or Side in it; a profile holds real modifiers")
        return self


class Profile(Document):
    format: Literal["amberkey/profile@1"] = "amberkey/profile@1"
    id: Id
    name: Text
    description: str = ""
    entries: tuple[Entry, ...] = ()

    def normal(self) -> Self:
        return self.model_copy(update={"entries": tuple(sorted(self.entries, key=lambda e: e.key))})

    @model_validator(mode="after")
    def _no_doubles(self) -> Self:
        seen: set[str] = set()
        for n, entry in enumerate(self.entries):
            if entry.key in seen:
                raise ValueError(f"entries[{n}]: {entry.key} stands twice")
            seen.add(entry.key)
        return self


class ProgramUsed(Value):
    id: Id
    version: Text


class Setup(Document):
    """What the keyboard meets on a machine, and how many people and machines have exactly that."""

    format: Literal["amberkey/setup@1"] = "amberkey/setup@1"
    id: Id
    name: Text
    place: Text
    platform: Platform
    edition: Text
    layout: LayoutId
    body: Annotated[str, Field(max_length=40)]
    programs: tuple[ProgramUsed, ...]
    layers: tuple[Id, ...] = ()
    people: Annotated[int, Field(ge=0)]
    machines: Annotated[int, Field(ge=0)]


Severity = Literal["blocker", "high", "medium", "low"]
SEVERITIES: tuple[Severity, ...] = ("blocker", "high", "medium", "low")


class Allowance(Value):
    """A clash that someone accepted: why, until when, and how bad it was in which setups."""

    clash: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]
    says: Annotated[str, Field(max_length=600)]
    reason: Annotated[str, Field(min_length=3, max_length=600)]
    by: Text
    until: datetime.date | None = None
    severity: Severity
    setups: tuple[Id, ...]

    def holds(self, today: datetime.date, severity: Severity, setups: frozenset[str]) -> bool:
        """Whether it still covers the clash as it is now: not expired, not worse, in no further setup."""
        if self.until is not None and today > self.until:
            return False
        return SEVERITIES.index(severity) >= SEVERITIES.index(self.severity) and setups <= set(self.setups)


class Decisions(Document):
    format: Literal["amberkey/decisions@1"] = "amberkey/decisions@1"
    id: Id
    name: Text
    allowances: tuple[Allowance, ...] = ()

    def normal(self) -> Self:
        return self.model_copy(update={"allowances": tuple(sorted(self.allowances, key=lambda a: a.clash))})

    @model_validator(mode="after")
    def _no_doubles(self) -> Self:
        if len({a.clash for a in self.allowances}) != len(self.allowances):
            raise ValueError("allowances: one clash is allowed twice")
        return self


def shortcuts_of(entry: Entry) -> tuple[Shortcut, ...]:
    return tuple(g.keys for g in entry.shortcuts)
