"""What the parts of a setup stand on."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

from amberkey.core.keys.codes import PAD_CODES
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.keyboard import Keyboard, ways_of
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.pad import pad_types
from amberkey.core.layouts.reach import Hand
from amberkey.core.layouts.sides import plain
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.programs.model import CaretPress, Command, Condition, Program
from amberkey.core.tasks.model import Task, Tasks


class Here(NamedTuple):
    """What else is so in a setup: the conditions that hold, the version of its edition, and what is switched on or off, by the
    ids of programs and of what they switch."""

    holds: tuple[Condition, ...] = ()
    edition_version: str = ""
    on: frozenset[tuple[str, str]] = frozenset()
    off: frozenset[tuple[str, str]] = frozenset()


_CONDITION_WORDS: Mapping[Condition, str] = {
    "several layouts": "several layouts are installed",
    "input method": "an input method is on",
    "several displays": "there are several displays",
}


# Why something isn't live, and what would have to be so: the one is told of what is there, the other of what would be.
_OFF, _OFF_HERE = "it is off until somebody switches it on", "it is switched off here"
_ONLY_WHERE, _FROM, _GONE = "it counts only where ", "it is there from version ", "it is gone from version "


def would_if(asleep: str) -> str:
    """What would have to be so for something that isn't live, of the words that say why it isn't: "several layouts are
    installed", "somebody switches it on"."""
    if asleep == _OFF:
        return "somebody switches it on"
    if asleep == _OFF_HERE:
        return "it were not switched off here"
    if asleep.startswith(_ONLY_WHERE):
        return asleep.removeprefix(_ONLY_WHERE)
    if asleep.startswith(_FROM):
        return f"this were version {asleep.removeprefix(_FROM).removesuffix(' on')} or a later one"
    if asleep.startswith(_GONE):
        return f"this were a version before {asleep.removeprefix(_GONE).removesuffix(' on')}"
    return f"that were otherwise: {asleep}"


@dataclass(frozen=True, eq=False)
class Ground:
    """What the parts of a setup stand on: the keyboard, the caret presses, the protected tasks, the documents that are open.

    One object for all setups that have the same, so that it can be part of a key.
    """

    platform: Platform
    keyboard: Keyboard
    mouse_hand: Hand | None
    open_documents: frozenset[str]
    here: Here
    system: Program | None
    tasks: Tasks
    today: datetime.date | None

    def pad_answers(self, program: Program) -> bool:
        """Whether a program lets the pad's keys answer to characters; whether they have digits now is the keyboard's matter."""
        return program.pad_counts

    @property
    def numlock(self) -> bool:
        """Whether NumLock is on."""
        return self.keyboard.numlock

    def why_asleep(self, program: Program, command: Command, *, own: bool) -> str:
        """Why a command's shortcuts aren't live here, in words; empty where they are. `own`: some layer set them."""
        if command.document is not None and command.document not in self.open_documents:
            return f"it lives in {command.document}, which isn't open"
        at = (program.id, command.id)
        if at in self.here.off:
            return _OFF_HERE
        if command.off and at not in self.here.on:
            return _OFF
        missing = [_CONDITION_WORDS[c] for c in command.only_if if c not in self.here.holds]
        if missing:
            return f"{_ONLY_WHERE}{' and '.join(missing)}"
        why = program.why_not_in(command, self.here.edition_version)
        if why:
            return why
        switches = [s.name for s in program.switches if (program.id, s.id) in self.here.off] if own else ()
        return f"{switches[0]} is switched off, without which own shortcuts don't count" if switches else ""

    @property
    def layout(self) -> Layout:
        """The layout of its keyboard."""
        return self.keyboard.layout

    @cached_property
    def caret(self) -> Mapping[Stroke, CaretPress]:
        """The platform's caret presses, by stroke."""
        found: dict[Stroke, CaretPress] = {}
        for caret in self.system.caret if self.system else ():
            for way in ways_of(caret.keys.resolve(self.platform), self.keyboard, "key").ways:
                found.setdefault(way[0], caret)
        return found

    @cached_property
    def telling(self) -> frozenset[Stroke]:
        """The strokes that type something."""
        pad = (Stroke(c, held) for c in PAD_CODES for held in (frozenset[str](), frozenset({"Shift"}), frozenset({"Alt"})))
        found = frozenset(self.layout.typing) | {s for s in pad if pad_types(s, self.layout, self.numlock)}
        return found | {s for s in self.keyboard.sides if plain(s) in found}

    @cached_property
    def protected(self) -> tuple[Task, ...]:
        """The protected tasks: nothing may take their presses silently."""
        return tuple(t for t in self.tasks.tasks if t.protected)

    @cached_property
    def protected_ids(self) -> frozenset[str]:
        """The ids of the protected tasks."""
        return frozenset(t.id for t in self.protected)
