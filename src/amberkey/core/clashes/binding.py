"""Binding: a shortcut in effect. Whose, in which scope, from which layer, and the strokes that make it."""

import json
from dataclasses import dataclass
from typing import Literal, get_args

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Way
from amberkey.core.profiles.effective import DEFAULT, Arguments
from amberkey.core.profiles.placing import Placed
from amberkey.core.programs.model import Command, Program

Station = Literal[
    "remap",
    "input_method",
    "guarded",
    "intercept",
    "system",
    "browser_keeps",
    "program",
    "menu",
    "browser",
    "system_last",
    "text",
]
STATIONS: tuple[Station, ...] = get_args(Station)
"""In the order in which a press passes them."""
# Programs that stand for what a setup has beside its programs.
LAUNCHERS = "launchers"
ASSISTIVE = "assistive"
TRANSLATIONS = "translations"
INPUT_METHOD = "input-method"
REMAPS = "remaps"
MENUS = "menus"
ABBREVIATIONS = "abbreviations"


@dataclass(slots=True, eq=False)
class Binding:
    """Two are the same only if they are one object. Not frozen, since setups have thousands of them; nobody changes one.

    `ways`: each way of making the shortcut, as one stroke per press; empty where it is out of reach. `order`: its place among
    the commands of its program. `unreachable` and `refused` say why no stroke makes it, or why the program can't take it;
    `asleep` why it isn't live here. `placed`: where it is placed, of a key that comes of that and not of an entry.
    """

    program: Program
    command: Command
    arguments: Arguments
    scope: str
    shortcut: Shortcut
    layer: str
    order: int
    ways: tuple[Way, ...]
    unreachable: str = ""
    refused: str = ""
    asleep: str = ""
    placed: Placed | None = None
    _participant: str = ""

    @property
    def participant(self) -> str:
        """Program, command, scope, shortcut as written and arguments: what it is in the identity of a clash."""
        if not self._participant:
            parts = [self.program.id, self.command.id, self.scope, str(self.shortcut)]
            if self.arguments:
                parts.append(json.dumps(self.arguments, separators=(",", ":"), ensure_ascii=False))
            if self.placed is not None:  # the same key may be an entry's too
                parts.append(self.placed.section)
            self._participant = "\x1f".join(parts)
        return self._participant

    @property
    def called(self) -> str:
        """What it is called in sentences: its command with its arguments, and where that is placed if its key comes of it."""
        name = self.command.told_with(self.arguments) if self.arguments else self.command.name
        return f"{name} ({self.placed.by})" if self.placed is not None and self.placed.by else name

    @property
    def live(self) -> bool:
        """Whether it can run at all: some way makes it, its program takes it, and nothing lays it to sleep."""
        return bool(self.ways) and not self.refused and not self.asleep

    @property
    def scope_name(self) -> str:
        """The name of its scope, as the program calls it."""
        return self.program.scope(self.scope).name if self.program.has_scope(self.scope) else self.scope

    @property
    def source(self) -> str:
        """Where its press was read, in a few words; empty where its program names no sources, or a layer set the press."""
        return self.program.told_source(self.command.cited) if self.layer == DEFAULT else ""

    @property
    def everywhere(self) -> bool:
        """Whether it is a hotkey: taken before any program hears of it."""
        kind = self.program.kind
        return kind == "system" or (kind == "utility" and self.program.scope(self.scope).parent is None)

    @property
    def station(self) -> Station:
        """The station at which it is asked for its press."""
        if self.program.kind == "system":
            if self.command.secure:
                return "guarded"
            return "system_last" if self.command.grip == "programs go first" else "system"
        if self.everywhere:
            if self.program.id == INPUT_METHOD:
                return "input_method"
            return "intercept" if self.program.takes_by == "intercept" else "system"
        return "menu" if self.program.id == MENUS else "program"

    @property
    def owner(self) -> tuple[str, ...]:
        """Whose it is when hotkeys compete: its program's; of launchers and translations each is its own."""
        program = self.program.id
        return (program, self.command.id) if program in (LAUNCHERS, TRANSLATIONS) else (program,)

    def same_command(self, other: "Binding") -> bool:
        """Whether another binding is of the same command with the same arguments."""
        return self.program.id == other.program.id and self.command.id == other.command.id and self.arguments == other.arguments
