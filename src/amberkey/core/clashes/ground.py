"""What the parts of a setup stand on."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from amberkey.core.keys.codes import PAD_CODES
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.keyboard import Keyboard, ways_of
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.pad import pad_types
from amberkey.core.layouts.reach import Hand
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.programs.model import CaretPress, Program
from amberkey.core.tasks.model import Task, Tasks


@dataclass(frozen=True, eq=False)
class Ground:
    """What the parts of a setup stand on: the keyboard, the caret presses, the protected tasks, the documents that are open.

    One object for all setups that have the same, so that it can be part of a key.
    """

    platform: Platform
    keyboard: Keyboard
    numlock: bool
    mouse_hand: Hand | None
    open_documents: frozenset[str]
    system: Program | None
    tasks: Tasks
    today: datetime.date | None

    def pad_answers(self, program: Program) -> bool:
        """Whether the pad's keys answer to characters: where the program lets them, and they have digits now."""
        return program.pad_counts and (self.numlock or self.platform == "macos")

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
        return frozenset(self.layout.typing) | {s for s in pad if pad_types(s, self.layout, self.numlock)}

    @cached_property
    def protected(self) -> tuple[Task, ...]:
        """The protected tasks: nothing may take their presses silently."""
        return tuple(t for t in self.tasks.tasks if t.protected)

    @cached_property
    def protected_ids(self) -> frozenset[str]:
        """The ids of the protected tasks."""
        return frozenset(t.id for t in self.protected)
