"""What further layers keep nearer ones from: locked entries and reserved strokes."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Keyboard, ways_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Reading
from amberkey.core.profiles.model import Profile, Reserved
from amberkey.core.programs.model import Program

Hindrance = Literal["locked", "reserved"]


class Held(NamedTuple):
    """Why a layer's word doesn't count: which layer is against it, and by what. `reserved` where a press is."""

    by: str
    why: Hindrance
    reserved: Reserved | None = None


class _Reservation(NamedTuple):
    layer: str
    reserved: Reserved


class _Before(NamedTuple):
    """What is reserved before a layer: each with its strokes, and all of these."""

    each: tuple[tuple[_Reservation, frozenset[Stroke]], ...]
    strokes: frozenset[Stroke]


@dataclass(frozen=True, eq=False)
class Guard:
    """The reserved presses of some layers (the farthest first) on one keyboard."""

    keyboard: Keyboard
    layers: tuple[str, ...]
    reservations: tuple[_Reservation, ...]
    names: Mapping[str, str] = field(default_factory=dict, repr=False)
    """What the layers are called, by id."""
    _strokes: dict[tuple[object, ...], frozenset[Stroke]] = field(default_factory=dict, repr=False)
    _before: dict[tuple[object, ...], _Before] = field(default_factory=dict, repr=False)

    def in_program(self, program_id: str | None) -> tuple[_Reservation, ...]:
        """Those that hold in a program; None: those that hold everywhere."""
        return tuple(r for r in self.reservations if r.reserved.program in (None, program_id))

    def begins(self, shortcut: Shortcut, reads: Reading, pad: bool) -> frozenset[Stroke]:
        """The strokes with which the ways of making a shortcut begin."""
        key = (shortcut, reads, pad)
        found = self._strokes.get(key)
        if found is None:
            found = self._strokes[key] = frozenset(w[0] for w in ways_of(shortcut, self.keyboard, reads, pad).ways)
        return found

    def reserved_before(self, layer: str, program: Program | None) -> "_Before":
        """The presses that layers further than this one reserved, with their strokes as a program reads keys."""
        reads, pad = self._reading(program)
        key = (layer, program.id if program else None, reads, pad)
        found = self._before.get(key)
        if found is None:
            further = set(self.layers[: self.layers.index(layer)])
            own = [r for r in self.in_program(program.id if program else None) if r.layer in further]
            each = tuple((r, self.begins(r.reserved.keys, reads, pad)) for r in own)
            found = self._before[key] = _Before(each, frozenset(s for _, strokes in each for s in strokes))
        return found

    def against(
        self,
        layer: str,
        program: Program | None,
        task: str | None,
        shortcuts: Sequence[Shortcut],
        has: Sequence[Shortcut] = (),
    ) -> Held | None:
        """What keeps a layer from giving shortcuts to a command that does a task and `has` others already; None: nothing.

        `program` None stands for what is heard everywhere: a launcher.
        """
        reads, pad = self._reading(program)
        reserved = self.reserved_before(layer, program)
        wanted = {stroke for s in shortcuts for stroke in self.begins(s, reads, pad)} & reserved.strokes
        if not wanted:  # as nearly always
            return None
        wanted -= {stroke for s in has for stroke in self.begins(s, reads, pad)}
        for one, strokes in reserved.each:
            if (task is None or one.reserved.task != task) and not strokes.isdisjoint(wanted):
                return Held(one.layer, "reserved", one.reserved)
        return None

    def _reading(self, program: Program | None) -> tuple[Reading, bool]:
        platform = self.keyboard.layout.platform
        if program is None:
            return ("key" if platform == "windows" else "character"), False
        return program.reads_on(platform), program.pad_counts


def guard_of(layers: Sequence[Profile], keyboard: Keyboard) -> Guard | None:
    """The guard of some layers, the farthest first; None where nothing is reserved on this platform and layout."""
    platform, layout = keyboard.layout.platform, keyboard.layout.id
    found = tuple(_Reservation(p.id, r) for p in layers for r in p.reserved if r.holds_on(platform, layout))
    return Guard(keyboard, tuple(p.id for p in layers), found, {p.id: p.name for p in layers}) if found else None


def say_held(held: Held, names: Mapping[str, str]) -> str:
    """Why a word doesn't count, for people; `names` of profiles by id."""
    by = names.get(held.by, held.by)
    if held.reserved is None:
        return f"{by} locked it"
    because = f": {held.reserved.reason}" if held.reserved.reason else ""
    return f"{by} reserved {held.reserved.keys}{because}"
