"""`amberkey/profile@1`: a settings document for some people."""

import datetime
from collections.abc import Iterable, Mapping
from functools import cached_property
from typing import Annotated, Literal, NamedTuple, Self, cast

from pydantic import AfterValidator, Field, TypeAdapter, model_validator

from amberkey.core.documents.canonical import Json, digest_of
from amberkey.core.documents.field import Id, Text
from amberkey.core.documents.model import Document, Flag, Value, Whole, as_set, no_doubles
from amberkey.core.documents.sections import entry_key, reserved_key, translation_key
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, sided_in
from amberkey.core.layouts.errors import RemapError
from amberkey.core.layouts.field import LayoutId
from amberkey.core.layouts.remaps import check_remaps
from amberkey.core.profiles.abbreviations import Abbreviation
from amberkey.core.profiles.macros import Macro
from amberkey.core.profiles.menu_groups import MenuGroup
from amberkey.core.profiles.preferences import Preference
from amberkey.core.profiles.shelves import Shelf

KeyCode = Annotated[str, Field(max_length=40)]
Layouts = Annotated[tuple[LayoutId, ...], AfterValidator(as_set)]
"""Some layouts; none stands for all."""


class Given(Value):
    """A shortcut given to a command, in the command's own scope or in another one."""

    keys: ShortcutField
    scope: Id | None = None


class Entry(Value):
    """What a profile sets for one command. An empty list of shortcuts unbinds it; `over` is what it replaced, `since` when.

    `locked`: no nearer layer may set this command otherwise.
    """

    program: Id
    command: Id
    arguments: dict[str, str | Whole] = Field(default_factory=dict)
    platform: Platform
    layouts: Layouts = ()
    shortcuts: tuple[Given, ...]
    over: tuple[ShortcutField, ...] = ()
    since: datetime.date | None = None
    locked: Flag = False

    @cached_property
    def key(self) -> str:
        """What makes it the same entry in every revision: program, command, arguments, platform, layouts."""
        return entry_key(
            {
                "program": self.program,
                "command": self.command,
                "platform": self.platform,
                "arguments": cast(Json, self.arguments),
                "layouts": list(self.layouts),
            }
        )

    @property
    def subject(self) -> tuple[object, ...]:
        """What it sets, whatever the layout: program, command, platform, arguments."""
        return self.program, self.command, self.platform, tuple(sorted(self.arguments.items()))

    @model_validator(mode="after")
    def _real_modifiers(self) -> Self:
        for given in self.shortcuts:
            if given.keys.resolve(self.platform) != given.keys:
                raise ValueError(f"shortcuts: {given.keys} has Main or Side in it; a profile holds real modifiers")
        return self


class Arranged(Value):
    """What a profile arranges in a program beside the shortcuts of its commands."""

    shelves: tuple[Shelf, ...] = ()
    menu_groups: tuple[MenuGroup, ...] = ()
    macros: tuple[Macro, ...] = ()
    preferences: tuple[Preference, ...] = ()


class LayerEntries(NamedTuple):
    """One layer's entries for one program, of which those for other layouts are gone already.

    `arranged`: what else it says of the program's keys. `mark` is a digest of all of it: equal words have equal marks, in
    whichever revision of the profile they stand.
    """

    layer: str
    entries: tuple[Entry, ...]
    overlap_days: int
    mark: str = ""
    arranged: Arranged | None = None


_ENTRIES: TypeAdapter[tuple[Entry, ...]] = TypeAdapter(tuple[Entry, ...])


def for_layout(entries: tuple[Entry, ...], layout_id: str) -> tuple[Entry, ...]:
    """Those of some entries that hold on a layout: an entry for the very layout beats the one for all layouts."""
    if not any(e.layouts for e in entries):
        return entries
    own = {(e.command, tuple(e.arguments.items())) for e in entries if layout_id in e.layouts}
    return tuple(
        e for e in entries if layout_id in e.layouts or not (e.layouts or (e.command, tuple(e.arguments.items())) in own)
    )


class Launcher(Value):
    """A program or address that a shortcut starts from anywhere. It runs code on staff machines: data until approved."""

    id: Id
    name: Text
    runs: Text
    shortcuts: dict[Platform, tuple[ShortcutField, ...]] = Field(default_factory=dict)


class Remap(Value):
    """A key that acts as another one (W3C codes), before everything else."""

    key: KeyCode
    becomes: KeyCode


class Translation(Value):
    """In a program's window (in one of its scopes), this press becomes that one before the program hears of it; or it `closes`
    the window, or `starts` a launcher, by its id.

    All happen in one step: what a press became is not translated again, so two presses can change places.
    """

    program: Id
    scope: Id | None = None
    platform: Platform
    keys: ShortcutField
    becomes: ShortcutField | None = None
    closes: Flag = False
    starts: Id | None = None

    @property
    def key(self) -> str:
        """What makes it the same translation in every revision: press, program, scope, platform."""
        return translation_key(self.model_dump(mode="json"))

    @model_validator(mode="after")
    def _real(self) -> Self:
        if (self.becomes is not None) + self.closes + (self.starts is not None) != 1:
            raise ValueError("becomes: a press becomes another one, closes the window, or starts a launcher: one of these")
        for name, shortcut in (("keys", self.keys), ("becomes", self.becomes or self.keys)):
            if len(shortcut.presses) != 1:
                raise ValueError(f"{name}: {shortcut} is a sequence; one press becomes one press")
            if shortcut.resolve(self.platform) != shortcut:
                raise ValueError(f"{name}: {shortcut} has Main or Side in it; a profile holds real modifiers")
        if self.keys == self.becomes:
            raise ValueError(f"becomes: {self.keys} becomes itself; take the translation out")
        return self


class Reserved(Value):
    """A press that no nearer layer may give to anything else: in one program, or in all.

    `layouts`: it is reserved on these only, if it names any. `task`: commands that do this task may have it all the same.
    Judged by stroke, so another spelling of it is reserved too.
    """

    keys: ShortcutField
    platform: Platform
    program: Id | None = None
    task: Id | None = None
    layouts: Layouts = ()
    reason: Annotated[str, Field(max_length=600)] = ""

    @property
    def key(self) -> str:
        """What makes it the same reserved press in every revision: press, program, platform, layouts."""
        return reserved_key(self.model_dump(mode="json"))

    def holds_on(self, platform: Platform, layout: str) -> bool:
        """Whether the press is reserved on a platform with a layout."""
        return self.platform == platform and (not self.layouts or layout in self.layouts)

    @model_validator(mode="after")
    def _real(self) -> Self:
        if len(self.keys.presses) != 1:
            raise ValueError(f"keys: {self.keys} is a sequence; single presses are reserved")
        if self.keys.resolve(self.platform) != self.keys:
            raise ValueError(f"keys: {self.keys} has Main or Side in it; a profile holds real modifiers")
        return self


class Generated(Value):
    """What a profile was compiled from: the standard, and the digest of its revision. Nobody edits such a profile by hand."""

    standard: Id
    revision: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class NamedSet(Value):
    """Entries that came together and can be taken off together, for instance another program's shortcuts.

    The profile's own entries go before them.
    """

    id: Id
    name: Text
    entries: tuple[Entry, ...]

    @model_validator(mode="after")
    def _whole(self) -> Self:
        no_doubles("entries", (e.key for e in self.entries))
        return self


def _by_program(entries: Iterable[Entry]) -> Mapping[tuple[str, Platform], tuple[Entry, ...]]:
    found: dict[tuple[str, Platform], list[Entry]] = {}
    for entry in entries:
        found.setdefault((entry.program, entry.platform), []).append(entry)
    return {at: tuple(those) for at, those in found.items()}


class Profile(Document):
    """`overlap_days`: how long a key that was given up should not mean something else."""

    format: Literal["amberkey/profile@1"] = "amberkey/profile@1"
    id: Id
    name: Text
    description: str = ""
    entries: tuple[Entry, ...] = ()
    launchers: tuple[Launcher, ...] = ()
    remaps: tuple[Remap, ...] = ()
    translations: tuple[Translation, ...] = ()
    reserved: tuple[Reserved, ...] = ()
    sets: tuple[NamedSet, ...] = ()
    shelves: tuple[Shelf, ...] = ()
    menu_groups: tuple[MenuGroup, ...] = ()
    abbreviations: tuple[Abbreviation, ...] = ()
    macros: tuple[Macro, ...] = ()
    preferences: tuple[Preference, ...] = ()
    generated: Generated | None = None
    overlap_days: Annotated[Whole, Field(ge=0, le=3650)] = 90

    @property
    def all_entries(self) -> tuple[Entry, ...]:
        """The profile's own entries and those of its sets, whether others go before them or not."""
        return (*self.entries, *(e for one in self.sets for e in one.entries))

    @cached_property
    def sided(self) -> frozenset[Press]:
        """The presses of this document that say which of two modifier keys is held."""
        entries = (g.keys for e in self.all_entries for g in e.shortcuts)
        launchers = (s for v in self.launchers for shortcuts in v.shortcuts.values() for s in shortcuts)
        translations = (s for t in self.translations for s in (t.keys, t.becomes) if s is not None)
        macros = (s for m in self.macros for shortcuts in m.shortcuts.values() for s in shortcuts)
        begins = (s.begin for s in self.shelves if s.begin is not None)
        return sided_in((*entries, *launchers, *translations, *macros, *begins, *(r.keys for r in self.reserved)))

    @cached_property
    def by_program(self) -> Mapping[tuple[str, Platform], tuple[Entry, ...]]:
        """The profile's own entries for one program on one platform."""
        return _by_program(self.entries)

    @cached_property
    def sets_by_program(self) -> tuple[Mapping[tuple[str, Platform], tuple[Entry, ...]], ...]:
        """For each set its entries for one program on one platform."""
        return tuple(_by_program(one.entries) for one in self.sets)

    def beside(self, own: tuple[Entry, ...], program: str, platform: Platform, layout: str) -> tuple[Entry, ...]:
        """Own entries for a program that hold on a layout, with those of the sets for what neither these nor an earlier set say
        anything of there."""
        if not self.sets:
            return own
        found = list(own)
        for entries in self.sets_by_program:
            said = {e.subject for e in found}
            here = for_layout(entries.get((program, platform), ()), layout)
            found += sorted((e for e in here if e.subject not in said), key=lambda e: e.key)
        return tuple(found)

    @cached_property
    def by_command(self) -> Mapping[tuple[str, str, Platform], tuple[Entry, ...]]:
        """The profile's own entries for one command (by the name that they use) on one platform."""
        found: dict[tuple[str, str, Platform], list[Entry]] = {}
        for entry in self.entries:
            found.setdefault((entry.program, entry.command, entry.platform), []).append(entry)
        return {at: tuple(entries) for at, entries in found.items()}

    def said_of(self, program_id: str, platform: Platform, layout_id: str) -> LayerEntries:
        """What it says of a program on a platform and layout."""
        key = (program_id, platform, layout_id)
        known = self._said.get(key)
        if known is None:
            own = for_layout(self.by_program.get((program_id, platform), ()), layout_id)
            found = self.beside(own, program_id, platform, layout_id)
            arranged = self.arranged.get(program_id)
            told = _ENTRIES.dump_json(found) + (arranged.model_dump_json().encode() if arranged else b"")
            mark = digest_of(told)[:20] if found or arranged else ""
            known = self._said[key] = LayerEntries(self.id, found, self.overlap_days, mark, arranged)
        return known

    @cached_property
    def arranged(self) -> Mapping[str, Arranged]:
        """What it arranges in each program, by the program's id; nothing for those in which it arranges nothing."""
        programs = {s.program for s in self.shelves} | {g.program for g in self.menu_groups}
        programs |= {m.program for m in self.macros} | {p.program for p in self.preferences}
        return {
            program: Arranged(
                shelves=tuple(s for s in self.shelves if s.program == program),
                menu_groups=tuple(g for g in self.menu_groups if g.program == program),
                macros=tuple(m for m in self.macros if m.program == program),
                preferences=tuple(p for p in self.preferences if p.program == program),
            )
            for program in sorted(programs)
        }

    @cached_property
    def _said(self) -> dict[tuple[str, Platform, str], LayerEntries]:
        return {}

    def normal(self) -> Self:
        """The entries of its sets are kept in order too."""
        sets = tuple(one.model_copy(update={"entries": tuple(sorted(one.entries, key=lambda e: e.key))}) for one in self.sets)
        return super(Profile, self.model_copy(update={"sets": sets})).normal()

    @model_validator(mode="after")
    def _whole(self) -> Self:
        try:
            check_remaps((r.key, r.becomes) for r in self.remaps)
        except RemapError as error:
            raise ValueError(f"remaps: {error}") from error
        return self
