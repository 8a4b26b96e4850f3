"""Free shortcuts for a command, easiest and likeliest first.

Candidates are all strokes that platform, layouts and bodies have and the program takes; of one that has
sequences already, also those that begin as these do. One is free where nobody is asked before it, nothing in reach of the
command's scope has it or begins with it, it isn't awkward, and it takes nothing from people: in every setup asked about.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass
from functools import lru_cache
from heapq import nsmallest
from itertools import chain, combinations

from amberkey.core.clashes.alone import awkward_on, why_awkward
from amberkey.core.clashes.before import strokes_taken_before
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.part import Part
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.keyboard import Keyboard, Way, ways_of
from amberkey.core.layouts.reach import Hand, Reach, reach_of_sequence
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Made, Reading, strokes_of
from amberkey.core.programs.limits import why_not
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
    *("ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Home", "End", "PageUp", "PageDown", "Insert"),
)
# What a likeness is worth, on the scale of reach.
_SAME_KEY, _SAME_MODIFIERS, _FIRST_LETTER, _SAME_ELSEWHERE, _FAMILY = 6, 3, 5, 8, 4
# On macOS Control alone moves the caret in every text field; elsewhere Alt alone opens menus. Neither is proposed.
_NEVER: dict[Platform, frozenset[tuple[str, ...]]] = {
    "macos": frozenset({("Control",), ("Control", "Shift")}),
    "windows": frozenset({("Alt",)}),
    "linux": frozenset({("Alt",)}),
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

    @property
    def is_sequence(self) -> bool:
        """Whether several presses in a row are wanted."""
        return self.old is not None and len(self.old.presses) > 1

    @classmethod
    def of(cls, binding: Binding) -> "Wish":
        """The wish for another shortcut in the place of a binding's."""
        return cls(binding.program, binding.command, binding.scope, binding.shortcut if binding.shortcut.presses else None)


def candidates_for(wish: Wish | Binding, boards: Sequence[Board], most: int = 3) -> list[Candidate]:
    """The best free shortcuts for a command, in all the given setups (of one platform)."""
    wish = Wish.of(wish) if isinstance(wish, Binding) else wish
    likeness = _Likeness(wish, boards)
    best = nsmallest(most, _free_ones(wish, boards, likeness), key=lambda found: found[:2])
    return [Candidate(s, r, cost, (*likeness.reasons(s), *r.flags)) for cost, _, s, r in best]


def free_for(wish: Wish, boards: Sequence[Board]) -> Callable[[Shortcut], bool]:
    """Tells of a shortcut whether it is free for a command in all the given setups."""
    places = _places(wish, boards)
    return lambda shortcut: all(p.takes(shortcut) and p.free(shortcut) for p in places)


def _places(wish: Wish, boards: Sequence[Board]) -> "list[_Place]":
    """Setups that meet candidates alike stand there once."""
    return list({(id(b.part_of(wish.program.id)), b.taken): _Place(b, wish) for b in boards}.values())


def _free_ones(wish: Wish, boards: Sequence[Board], likeness: "_Likeness") -> Iterator[tuple[int, int, Shortcut, Reach]]:
    """(cost, order, shortcut, reach on the worst of the keyboards) of everything that is free everywhere."""
    first, *others = _places(wish, boards)
    singles = (
        (shortcut, reach)
        for shortcut, (way, reach) in first.thinkable.items()
        if way[0] not in first.blocked and shortcut != wish.old and first.takes(shortcut)
    )
    sequences = ((s, r) for s in _sequences(wish, first) if (r := first.free(s)) is not None)
    found = False
    for order, (shortcut, reach) in enumerate(chain(singles, sequences)):
        if found and len(shortcut.presses) > 1 and not wish.is_sequence:
            return  # where a single press is free, nobody asks for more of them
        worst = reach
        for place in others:
            here = place.free(shortcut)
            if here is None or not place.takes(shortcut):
                break
            worst = max(worst, here, key=lambda r: r.score)
        else:
            found = True
            yield worst.score - likeness.worth(shortcut), order, shortcut, worst


class _Place:
    """A setup as candidates for a wish meet it."""

    def __init__(self, board: Board, wish: Wish) -> None:
        program = wish.program
        self.board = board
        self.part = part = board.part_of(program.id)
        self.thinkable = thinkable_on(part)
        around = {s.id for s in program.outward(wish.scope)}
        within = {s.id for s in program.scopes if wish.scope in program.scope_tree.around[s.id]}
        self.in_reach = around | within
        self.task = wish.command.task
        self.text = takes_text(program, wish.scope)
        self.blocked = self._blocked()

    def takes(self, shortcut: Shortcut) -> bool:
        """Whether the program can take a shortcut on this keyboard."""
        return not why_not(self.part.program, shortcut, self.part.ground.keyboard)

    def _blocked(self) -> Set[Stroke]:
        """The strokes with which no shortcut for the wish may begin."""
        board, part = self.board, self.part
        found = {s for s, bucket in part.first.items() if any(b.scope in self.in_reach for b in bucket)}
        found |= spoken_for(board, part, frozenset(way[0] for way, _ in self.thinkable.values()), text=self.text)
        found |= reserved_for_others(board, part, self.task)
        for browser in board.browsers_of(part.program):
            found |= browser.first.keys()
        return found

    def free(self, shortcut: Shortcut) -> Reach | None:
        """How far it is, if nobody has it here and nothing is taken from people."""
        known = self.thinkable.get(shortcut)
        if known is not None:
            way, reach = known
            return None if way[0] in self.blocked else reach
        part = self.part
        ways = ways_of(shortcut, part.ground.keyboard, part.reads, part.pad).ways
        if len(ways) != 1 or any(why_awkward(s, part) for s in ways[0]):
            return None
        way, keyboard = ways[0], part.ground.keyboard
        beside = [b for b in part.first.get(way[0], ()) if b.scope in self.in_reach]
        if way[0] in self.blocked and not (beside and len(way) > 1):
            return None
        if any(_begins(w, way) or _begins(way, w) for b in beside for w in b.ways):
            return None
        if strokes_taken_before(self.board, part, frozenset(way)):
            return None
        return reach_of_sequence(way, keyboard.body, keyboard.remaps, part.ground.mouse_hand)


def takes_text(program: Program, scope: str) -> bool:
    """Whether a command that is live in a scope can take a press from people who write."""
    return program.kind in ("system", "utility") or bool(program.texts_within(scope))


def spoken_for(board: Board, part: Part, strokes: Set[Stroke], *, text: bool) -> set[Stroke]:
    """The strokes that a new shortcut of a program can't begin with, whatever its own commands have: menus, hotkeys, presses
    that the system keeps, those of protected tasks and those lately given up; with `text` also what people write and move with.
    `strokes`: those asked about where answering for all would be too much; more may be given back."""
    found: set[Stroke] = set()
    for owner in board.menus_of(part):
        found |= owner.menus.keys()
    found |= board.last.keys() | board.chains.keys()
    if text and board.composer is not None:
        found |= board.composer.composing
    # The press of a protected task is never proposed, not even where the program has no such command of its own.
    found |= board.taken | part.strokes_of_tasks(part.ground.protected).keys() | part.retired.keys()
    found |= strokes_taken_before(board, part, strokes)
    if text:
        found |= part.ground.telling | part.caret.keys()
    return found


def reserved_for_others(board: Board, part: Part, task: str | None) -> set[Stroke]:
    """The strokes that some layer reserved in a program, but for this very task."""
    guard = board.setup.guard
    if guard is None:
        return set()
    program = part.program
    found: set[Stroke] = set()
    for one in guard.in_program(program.id):
        if task is None or one.reserved.task != task:
            found |= guard.begins(one.reserved.keys, part.reads, program.pad_counts)
    return found


def thinkable_on(part: Part) -> Mapping[Shortcut, tuple[Way, Reach]]:
    """Every single press that a program can be asked for with on its keyboard without stretching, with its way and reach."""
    return _thinkable(part.ground.keyboard, part.ground.mouse_hand, part.reads, part.pad)


def _begins(one: Way, other: Way) -> bool:
    return other[: len(one)] == one


@lru_cache(maxsize=256)
def _thinkable(keyboard: Keyboard, mouse_hand: Hand | None, reads: Reading, pad: bool) -> Mapping[Shortcut, tuple[Way, Reach]]:
    """Every single press that a keyboard can ask for without stretching, with its way and reach, in a fixed order."""
    layout = keyboard.layout
    plain = {t for t, places in layout.places.items() if places[0][1] == 0 and len(t) == 1 and not t.isspace()}
    found: dict[Shortcut, tuple[Way, Reach]] = {}
    for count in range(3):
        for held in combinations(_MODIFIERS[layout.platform], count):
            if held in _NEVER[layout.platform]:
                continue
            for key in (*sorted({case_of_key(c) for c in plain}), *_NAMED):
                if len(key) == 1 and (not held or held == ("Shift",)):
                    continue
                shortcut = _single(held, key)
                ways = ways_of(shortcut, keyboard, reads, pad).ways
                made = strokes_of(shortcut.presses[0], layout, reads, pad)
                if len(ways) != 1 or not isinstance(made, Made) or made.derived or awkward_on(ways[0][0], keyboard):
                    continue
                found[shortcut] = ways[0], reach_of_sequence(ways[0], keyboard.body, keyboard.remaps, mouse_hand)
    return found


@lru_cache(maxsize=8192)
def _single(held: tuple[str, ...], key: str) -> Shortcut:
    """One object for the same press on all keyboards: sets of them are held against each other without looking inside."""
    return Shortcut((Press(held, key),))


def _sequences(wish: Wish, place: _Place) -> Iterator[Shortcut]:
    """Sequences that begin as others of the program do."""
    limits = wish.program.limits
    if limits.sequence_length < 2:
        return
    for beginning in _beginnings(place):
        for key in "ABCDEFGHIJKLMNOPQRSTUVWXYZ":
            for held in ((), beginning.modifiers):
                shortcut = Shortcut((beginning, Press(held, key)))
                if shortcut != wish.old and place.takes(shortcut):
                    yield shortcut


def _beginnings(place: _Place) -> list[Press]:
    """The presses with which sequences of the program begin already, where the command can be reached."""
    found = {
        b.shortcut.presses[0]: None
        for b in {id(b): b for bucket in place.part.later.values() for b in bucket}.values()
        if b.scope in place.in_reach and b.shortcut.presses[0].modifiers
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

    def worth(self, shortcut: Shortcut) -> int:
        """What the likenesses of a candidate count, on the scale of reach."""
        return sum(worth for worth, _ in self._of(shortcut))

    def reasons(self, shortcut: Shortcut) -> tuple[str, ...]:
        return tuple(says for _, says in self._of(shortcut))

    def _of(self, shortcut: Shortcut) -> Iterator[tuple[int, str]]:
        old, new = self.old, shortcut.presses[-1]
        if old is not None and new.key == old.key:
            yield _SAME_KEY, "same key as before"
        elif old is not None and new.modifiers == old.modifiers:
            yield _SAME_MODIFIERS, "same modifiers as before"
        initial = self.initials.get(new.key or "")
        if initial:
            yield _FIRST_LETTER, f"first letter of {initial}"
        if shortcut in self.elsewhere:
            yield _SAME_ELSEWHERE, f"the same as in {self.elsewhere[shortcut]}"
        if new.modifiers in self.family:
            yield _FAMILY, f"keeps the shape of {self.family[new.modifiers]}"
