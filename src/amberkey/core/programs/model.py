"""`amberkey/program@1`: a program, its scopes and commands. The platforms themselves are programs of kind `system`."""

import unicodedata
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from amberkey.core.documents.model import Document, Value
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.strokes import Reading
from amberkey.core.programs.settings import SettingsFile

Id = Annotated[str, Field(pattern=r"^[a-z0-9]+(?:[-.][a-z0-9]+)*$", max_length=80)]


def _printable(text: str) -> str:
    if any(unicodedata.category(c) == "Cc" for c in text):
        raise ValueError("there is a control character in it; take it out")
    return text


Text = Annotated[str, Field(min_length=1, max_length=200), AfterValidator(_printable)]

Kind = Literal["system", "utility", "browser", "office", "developer", "web", "business"]
CommandKind = Literal["built-in", "add-on", "style", "symbol", "font", "text block", "macro", "launcher"]
Grip = Literal["fixed", "can be switched off", "can be reassigned"]


class Scope(Value):
    """A part of the program in which shortcuts are live. The one without a parent is the whole window."""

    id: Id
    name: Text
    parent: Id | None = None
    takes_text: bool = False


class Command(Value):
    """Something the program can do. `grip` says, for system entries, whether the system lets go of its shortcut."""

    id: Id
    name: Text
    was: tuple[Id, ...] = ()
    other_words: tuple[Text, ...] = ()
    description: str = ""
    group: str = ""
    kind: CommandKind = "built-in"
    scope: Id
    task: Id | None = None
    risky: bool = False
    closes: Id | None = None
    defaults: dict[Platform, tuple[ShortcutField, ...]] = Field(default_factory=dict)
    grip: Grip = "fixed"
    editions: tuple[Text, ...] = ()

    def defaults_on(self, platform: Platform) -> tuple[Shortcut, ...]:
        return tuple(s.resolve(platform) for s in self.defaults.get(platform, ()))


class ProgramLimits(Value):
    """What the program can't take."""

    sequence_length: Annotated[int, Field(ge=1, le=12)] = 1
    shortcuts_per_command: Annotated[int, Field(ge=1, le=99)] = 9
    bare_keys: bool = False
    refuses: tuple[ShortcutField, ...] = ()

    def why_not(self, shortcut: Shortcut) -> str | None:
        """Why the program can't take a shortcut, in words, or None."""
        if len(shortcut.presses) > self.sequence_length:
            return f"it takes at most {self.sequence_length} press{'es' if self.sequence_length > 1 else ''} in a row"
        if shortcut in self.refuses:
            return f"it refuses {shortcut}"
        if not self.bare_keys and _is_bare(shortcut.presses[0]):
            return "it takes no letter, digit or sign without a modifier"
        return None


def _is_bare(press: Press) -> bool:
    return press.key is not None and len(press.key) == 1 and not set(press.modifiers) - {"Shift"}


class Program(Document):
    format: Literal["amberkey/program@1"] = "amberkey/program@1"
    id: Id
    name: Text
    version: Text
    kind: Kind
    description: str = ""
    platforms: tuple[Platform, ...]
    reads_keys_by: dict[Platform, Reading] = Field(default_factory=dict)
    limits: ProgramLimits = Field(default_factory=ProgramLimits)
    scope_order: Literal["inner", "outer"] = "inner"
    on_tie: Literal["first", "last", "either"] = "either"
    takes_effect: Literal["at once", "on reload", "on restart"] = "at once"
    scopes: tuple[Scope, ...]
    commands: tuple[Command, ...]
    settings_file: SettingsFile | None = None

    def reads_on(self, platform: Platform) -> Reading:
        """How the program reads keys: Windows programs by key unless they say otherwise, others by character."""
        return self.reads_keys_by.get(platform, "key" if platform == "windows" else "character")

    def command(self, command_id: str) -> Command | None:
        """The command of that id, or the one that once had it."""
        for command in self.commands:
            if command.id == command_id or command_id in command.was:
                return command
        return None

    def scope(self, scope_id: str) -> Scope:
        return next(s for s in self.scopes if s.id == scope_id)

    def outward(self, scope_id: str) -> tuple[Scope, ...]:
        """The scope and those around it, innermost first."""
        found: list[Scope] = []
        at: str | None = scope_id
        while at is not None:
            scope = self.scope(at)
            found.append(scope)
            at = scope.parent
        return tuple(found)

    def text_is_taken_within(self, scope_id: str) -> Scope | None:
        """A scope that takes text at or inside the given one: there, its shortcuts are live while people type."""
        for scope in self.scopes:
            if scope.takes_text and any(s.id == scope_id for s in self.outward(scope.id)):
                return scope
        return None

    @model_validator(mode="after")
    def _whole(self) -> Self:
        ids = [s.id for s in self.scopes]
        _no_doubles(ids, "scopes")
        _no_doubles([c.id for c in self.commands], "commands")
        parents = {s.id: s.parent for s in self.scopes}
        if sum(p is None for p in parents.values()) != 1:
            raise ValueError("scopes: exactly one scope has no parent; it is the whole window")
        for scope in self.scopes:
            if scope.parent is not None and scope.parent not in parents:
                raise ValueError(f"scopes: {scope.id} stands in {scope.parent}, which isn't there")
            at, steps = scope.parent, 0
            while at is not None:
                at, steps = parents.get(at), steps + 1
                if steps > len(ids):
                    raise ValueError(f"scopes: {scope.id} stands inside itself")
        for n, command in enumerate(self.commands):
            if command.scope not in parents:
                raise ValueError(f"commands[{n}].scope: {command.id} names the scope {command.scope}, which isn't there")
        return self


def _no_doubles(ids: list[str], where: str) -> None:
    seen: set[str] = set()
    for n, one in enumerate(ids):
        if one in seen:
            raise ValueError(f"{where}[{n}].id: {one} stands twice")
        seen.add(one)
