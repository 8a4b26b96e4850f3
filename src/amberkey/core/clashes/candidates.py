"""Free shortcuts for a command, easiest and likeliest first.

Candidates are all strokes that platform, layouts and bodies have and the program takes; of one that has
sequences already, also those that begin as these do. One is free where nobody is asked before it, nothing in reach of the
command's scope has it or begins with it, it isn't awkward, and it takes nothing from people: in every setup asked about.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

from amberkey.core.clashes.before import strokes_taken_before
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.within import why_awkward
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.keyboard import Way, ways_of
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.reach import Reach, reach_of_sequence
from amberkey.core.layouts.strokes import Made, strokes_of
from amberkey.core.layouts.typing import types
from amberkey.core.programs.model import Command, Program
from amberkey.core.tasks.model import Family

# Windows and Linux desktops keep Meta for themselves, more of it with each version.
_MODIFIERS: dict[Platform, tuple[str, ...]] = {
    "windows": ("Control", "Alt", "Shift"),
    "linux": ("Control", "Alt", "Shift"),
    "macos": ("Control", "Alt", "Shift", "Meta"),
}
_NAMED = (
    *(f"F{n}" for n in range(1, 13)),
    *("ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Home", "End", "PageUp", "PageDown", "Insert", "Enter", "Space"),
)
# What a likeness is worth, on the scale of reach.
_SAME_KEY, _SAME_MODIFIERS, _FIRST_LETTER, _SAME_ELSEWHERE, _FAMILY = 6, 3, 5, 8, 4
# On macOS Control alone moves the caret in every text field, so it is never proposed there.
_NEVER: dict[Platform, frozenset[tuple[str, ...]]] = {
    "macos": frozenset({("Control",), ("Control", "Shift")}),
    "windows": frozenset(),
    "linux": frozenset(),
}


@dataclass(frozen=True, slots=True)
class Candidate:
    shortcut: Shortcut
    reach: Reach
    cost: int
    reasons: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Wish:
    """What a shortcut is looked for: a command of a program in a scope, in place of an old one (None: it has none)."""

    program: Program
    command: Command
    scope: str
    old: Shortcut | None

    @classmethod
    def of(cls, binding: Binding) -> "Wish":
        return cls(binding.program, binding.command, binding.scope, binding.shortcut if binding.shortcut.presses else None)


def candidates_for(wish: Wish | Binding, boards: Sequence[Board], most: int = 3) -> list[Candidate]:
    """The best free shortcuts for a command, in all the given setups (of one platform)."""
    wish = Wish.of(wish) if isinstance(wish, Binding) else wish
    grounds = [_Place.of(board, wish) for board in boards]
    likeness = _Likeness(wish, boards)
    ranked = []
    for shortcut in _thinkable(wish, boards, grounds):
        ways = []
        for place in grounds:
            way = place.free(shortcut)
            if way is None:
                break
            ways.append(way)
        else:
            ranked.append(_rank(shortcut, ways, boards, likeness))
    ranked.sort(key=lambda c: (c.cost, str(c.shortcut)))
    return ranked[:most]


@dataclass(frozen=True, slots=True)
class _Place:
    """A setup as a candidate meets it."""

    board: Board
    part: Part
    wish: Wish
    in_reach: frozenset[str]
    text: bool

    @classmethod
    def of(cls, board: Board, wish: Wish) -> "_Place":
        program = wish.program
        part = board.parts[program.id]
        around = {s.id for s in program.outward(wish.scope)}
        within = {s.id for s in program.scopes if any(o.id == wish.scope for o in program.outward(s.id))}
        everywhere = program.kind in ("system", "utility")
        return cls(board, part, wish, frozenset(around | within), everywhere or bool(program.texts_within(wish.scope)))

    def free(self, shortcut: Shortcut) -> Way | None:
        """The one way of making the shortcut here, if nobody has it."""
        part = self.part
        ways = ways_of(shortcut, part.ground.keyboard, part.reads, part.program.pad_counts).ways
        if len(ways) != 1:
            return None
        way = ways[0]
        for binding in part.first.get(way[0], ()):
            if binding.scope in self.in_reach and any(_begins(w, way) or _begins(way, w) for w in binding.ways):
                return None
        first = way[0]
        if first in part.protected or first in part.retired:
            return None
        if self.text and (types(first, part.ground.layout, part.ground.numlock) is not None or first in part.caret):
            return None
        browser = self.board.browser_of(part.program)
        if browser is not None and first in browser.first:
            return None
        for stroke in way:
            if stroke in self.board.taken or why_awkward(stroke, part):
                return None
        if strokes_taken_before(self.board, part, frozenset(way)):
            return None
        made = strokes_of(shortcut.presses[-1], part.ground.layout, part.reads, part.program.pad_counts)
        return way if isinstance(made, Made) and not made.derived else None


def _begins(one: Way, other: Way) -> bool:
    return other[: len(one)] == one


def _thinkable(wish: Wish, boards: Sequence[Board], places: Sequence[_Place]) -> Iterator[Shortcut]:
    """Everything that could be asked for, in a fixed order; what the program can't take is left out."""
    platform = boards[0].ground.platform
    characters = _plain_characters({b.ground.layout for b in boards})
    keys = [*sorted({case_of_key(c) for c in characters}), *_NAMED]
    never = _NEVER[platform]
    limits = wish.program.limits
    for count in range(3):
        for held in combinations(_MODIFIERS[platform], count):
            if held in never:
                continue
            for key in keys:
                if len(key) == 1 and (not held or held == ("Shift",)):
                    continue
                shortcut = Shortcut((Press(held, key),))
                if shortcut != wish.old and not limits.why_not(shortcut):
                    yield shortcut
    if limits.sequence_length > 1:
        for beginning in _beginnings(places[0]):
            for key in keys:
                if len(key) == 1 and key.isalnum():
                    yield Shortcut((beginning, Press((), key)))
                    yield Shortcut((beginning, Press(beginning.modifiers, key)))


def _plain_characters(layouts: set[Layout]) -> set[str]:
    """The characters that a bare key types on every one of some layouts."""
    found: set[str] | None = None
    for layout in layouts:
        own = {t for t, places in layout.places.items() if places[0][1] == 0 and len(t) == 1 and not t.isspace()}
        found = own if found is None else found & own
    return found or set()


def _beginnings(place: _Place) -> list[Press]:
    """The presses with which sequences of the program begin already, where the command can be reached."""
    found = {
        b.shortcut.presses[0]: None
        for b in place.part.bindings
        if len(b.shortcut.presses) > 1 and b.live and b.scope in place.in_reach and b.shortcut.presses[0].modifiers
    }
    return list(found)[:3]


class _Likeness:
    """What makes a candidate easy to remember, worked out once for all candidates."""

    def __init__(self, wish: Wish, boards: Sequence[Board]) -> None:
        self.old = wish.old.presses[-1] if wish.old else None
        self.initials: dict[str, str] = {}
        for word in wish.command.name.split():
            if len(word) > 3:
                self.initials.setdefault(word[:1].upper(), word)
        self.elsewhere: dict[Shortcut, str] = {}
        self.family: dict[tuple[str, ...], str] = {}
        task = wish.command.task
        if task is None:
            return
        family = boards[0].setup.tasks.family_of(task)
        for part in boards[0].parts.values():
            for binding in part.bindings if part.program.kind != "system" else ():
                if binding.command.task == task and part.program.id != wish.program.id:
                    self.elsewhere.setdefault(binding.shortcut, part.program.name)
                elif self._is_kin(binding, family, wish):
                    self.family.setdefault(binding.shortcut.presses[-1].modifiers, family.name if family else "")

    @staticmethod
    def _is_kin(binding: Binding, family: Family | None, wish: Wish) -> bool:
        return (
            family is not None
            and binding.program.id == wish.program.id
            and binding.command.task in family.members
            and binding.command.id != wish.command.id
            and len(binding.shortcut.presses) == 1
        )


def _rank(shortcut: Shortcut, ways: Sequence[Way], boards: Sequence[Board], likeness: _Likeness) -> Candidate:
    reaches = []
    for way, board in zip(ways, boards, strict=True):
        ground = board.ground
        reaches.append(reach_of_sequence(way, ground.keyboard.body, ground.keyboard.remaps, ground.mouse_hand))
    reach = max(reaches, key=lambda r: r.score)
    cost = reach.score
    reasons = []
    old, new = likeness.old, shortcut.presses[-1]
    if old is not None and new.key == old.key:
        cost -= _SAME_KEY
        reasons.append("same key as before")
    elif old is not None and new.modifiers == old.modifiers:
        cost -= _SAME_MODIFIERS
        reasons.append("same modifiers as before")
    initial = likeness.initials.get(new.key or "")
    if initial:
        cost -= _FIRST_LETTER
        reasons.append(f"first letter of {initial}")
    elsewhere = likeness.elsewhere.get(shortcut)
    if elsewhere:
        cost -= _SAME_ELSEWHERE
        reasons.append(f"the same as in {elsewhere}")
    family = likeness.family.get(new.modifiers)
    if family:
        cost -= _FAMILY
        reasons.append(f"keeps the shape of {family}")
    return Candidate(shortcut, reach, cost, (*reasons, *reach.flags))


def is_free(shortcut: Shortcut, wish: Wish, boards: Sequence[Board]) -> bool:
    """Whether a shortcut is free for a command in all the given setups."""
    return not wish.program.limits.why_not(shortcut) and all(_Place.of(b, wish).free(shortcut) for b in boards)
