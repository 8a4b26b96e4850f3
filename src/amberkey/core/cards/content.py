"""What stands on a card: keys that work at the desks that it is for, each once, and none without saying where it doesn't."""

import datetime
from collections import Counter
from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from types import MappingProxyType

from amberkey.core.cards.learning import Lesson, lessons, weeks
from amberkey.core.cards.model import Card, CardLine, CardPart, Key
from amberkey.core.cards.wish import CardWish
from amberkey.core.cards.words import word
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.part import Part
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import caps_of_press, words_of
from amberkey.core.layouts.caps import printed_on
from amberkey.core.organisation.deriving import Derived
from amberkey.core.profiles.effective import Arguments
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Command, Program
from amberkey.core.worth.seconds import with_keys, without_key
from amberkey.core.worth.weighing import losers, uses_of

_HURRY = ("undo", "close", "close-document", "close-tab", "quit-program", "show-help", "help")
"""Tasks, in the order in which they stand."""
_LOCK = ("lock", "plasma.lock", "xfce.locks-the-screen", "gnome.screensaver", "cinnamon.screensaver")
"""Of systems, what locks the screen: their other keys are taught by nobody's card."""
_PLACES = ("shelves", "macros")
"""Sections of a profile that give keys to commands by where these stand."""
_MENUS = ("menu_groups",)
"""The section whose letters reach a command through a menu: what stands on a card where nothing shorter works."""
_NAMED = 2
"""So many places are named; of more it is said how many."""


@dataclass(slots=True)
class _Row:
    """A command over the desks: by its working shortcuts the setups that have just these, and the setups where others take its
    keys."""

    program: Program
    command: Command
    arguments: Arguments
    works: dict[tuple[Shortcut, ...], list[Setup]] = field(default_factory=dict)
    lost: list[Setup] = field(default_factory=list)

    @property
    def id(self) -> str:
        given = ", ".join(f"{name} {value}" for name, value in self.arguments)
        return f"{self.program.id}/{self.command.id}" + (f" [{given}]" if given else "")


def setups_for(estate: Estate, wish: CardWish, derived: Derived) -> tuple[str, ...]:
    """The setups that a card is for, those of most people first. `derived`: who has which."""
    found = [s for s in estate.setups.values() if s.works_on == wish.platform and s.reads_by == wish.layout]
    if wish.of == "department":
        found = [s for s in found if wish.who in derived.departments.get(s.id, ())]
    elif wish.of == "person":
        own = derived.setups_of(person=wish.who or "")
        found = [s for s in found if s.id in own]
    elif wish.of == "role":
        tally = estate.census.roles.get(wish.who or "") if estate.census is not None else None
        found = [s for s in found if tally is not None and tally.within(frozenset({s.id}))]
    return tuple(s.id for s in sorted(found, key=lambda s: (-s.people, s.id)))


def card_of(
    estate: Estate,
    wish: CardWish,
    setups: Sequence[str],
    before: Mapping[str, Sequence[str]] | None = None,
    since: datetime.date | None = None,
    people: int | None = None,
    moves: Mapping[str, Mapping[str, datetime.date]] = MappingProxyType({}),
) -> Card:
    """The card for some setups (see `setups_for`), none of which may be missing. `before`: what held for the same people when
    they were handed the last one, on the day `since`. `people`: how many get it, if not all who have these setups.
    `moves`: of commands, by their ids on cards, the days on which setups get these keys, where they don't have them yet (see
    `moved`)."""
    boards = [estate.board(i) for i in setups]
    rows = _rows(estate, boards)
    teller = _Teller(estate, wish, boards, moves)
    lines = teller.merged([line for row in rows.values() for line in teller.line(row)])
    taken = "another command or program takes its key: decide that first"
    left_out = [(row.id, teller.name(row), taken) for row in rows.values() if _is_lost(row)]
    left_out += [(line.id, line.name, "left out on purpose") for line in lines if line.id in wish.left_out]
    open_lines = [line for line in lines if line.id not in wish.left_out]
    stood = {row.id: tuple(str(s) for s in _main(row)) for row in rows.values()}
    parts = []
    hurry = teller.hurry(open_lines) if wish.hurry else []
    changed = teller.changed(rows, before, since) if wish.changed and before is not None and since is not None else []
    apart = {line.id for line in hurry}
    # What people get on a date they have to learn by then, whatever it is worth.
    first = {v.id for v in open_lines if v.on and wish.pace}
    best = [v for v in open_lines if v.id not in apart and (v.id in first or (v.minutes > 0 and not teller.is_usual(v)))]
    best = sorted(best, key=lambda v: (v.id not in first, -v.minutes, v.name))[: wish.most]
    if best and wish.pace:
        parts += teller.weeks(best, changed)
    elif best:
        parts.append(CardPart(word("worth", wish.language), tuple(best), learned=True))
    if changed:
        parts.append(CardPart(word("changed", wish.language, day=since), tuple(changed)))
    if hurry:
        parts.append(CardPart(word("hurry", wish.language), tuple(hurry)))
    parts += teller.whole(open_lines, wish.whole)
    people = people if people is not None else estate.people_of(estate.setups[i] for i in setups)
    return Card(tuple(parts), tuple(left_out), stood, tuple(setups), people)


def changed_since(estate: Estate, setups: Sequence[str], stood: Mapping[str, Sequence[str]]) -> tuple[str, ...]:
    """The commands, by their ids on cards, that have other keys for most of some people than when they were handed a card, on
    which `stood` what held then. Commands that are new or gone don't count."""
    rows = _rows(estate, [estate.board(i) for i in setups])
    return tuple(i for i, row in rows.items() if i in stood and tuple(map(str, _main(row))) != tuple(stood[i]))


def moved(before: Estate, after: Estate, setup: str) -> tuple[str, ...]:
    """The commands, by their ids on cards, that have keys for a setup in two states of an estate, and other ones after."""
    if setup not in before.setups or setup not in after.setups:
        return ()
    old, new = (_rows(estate, [estate.board(setup)]) for estate in (before, after))
    return tuple(i for i, row in new.items() if i in old and _main(row) and _main(old[i]) not in ((), _main(row)))


def _rows(estate: Estate, boards: Iterable[Board]) -> dict[str, _Row]:
    found: dict[str, _Row] = {}
    # Desks may have several versions of a program: a command that was renamed in between is one line all the same.
    newer = {(p.id, old): c for p in estate.programs.values() for c in p.commands for old in c.was}
    for board in boards:
        setup = board.setup.setup
        lost = losers(estate.clashes(setup.id))
        for part in board.parts.values():
            placed, by_letters = _placed(part, _PLACES), _placed(part, _MENUS)
            commands = [(one.command, one.arguments) for one in part.effective.commands]
            known = {command.id for command, arguments in commands if not arguments}
            commands += [(own[0].command, ()) for of, own in {**by_letters, **placed}.items() if of not in known]
            for command, arguments in commands:
                if part.program.kind == "system" and command.id not in _LOCK:
                    continue
                row = _Row(part.program, newer.get((part.program.id, command.id), command), arguments)
                row = found.setdefault(row.id, row)
                own = [b for b in part.commanded(command.id) if b.arguments == arguments]
                live = [b for b in (*own, *(placed.get(command.id, ()) if not arguments else ())) if b.live]
                works = _working(live, lost)
                taken = len(works) < len(live)
                if not works and not arguments:
                    works = _working(by_letters.get(command.id, ()), lost)
                row.works.setdefault(works, []).append(setup)
                if taken:
                    row.lost.append(setup)
    return found


def _working(bindings: Iterable[Binding], lost: Container[object]) -> tuple[Shortcut, ...]:
    """The keys that nobody takes away."""
    return tuple(dict.fromkeys(b.shortcut for b in bindings if b.live and b.participant not in lost))


def _placed(part: Part, sections: Container[str]) -> Mapping[str, list[Binding]]:
    """By command, the keys that people press because of where it is placed: those of some sections of profiles."""
    found: dict[str, list[Binding]] = {}
    for binding in part.bindings:
        if binding.placed is not None and binding.placed.section in sections and not binding.placed.lost:
            found.setdefault(binding.command.id, []).append(binding)
    return found


def _main(row: _Row) -> tuple[Shortcut, ...]:
    """The keys that hold for most of those who have the command."""
    return max(row.works, key=lambda keys: (sum(s.people for s in row.works[keys]), bool(keys), str(keys)), default=())


def _is_lost(row: _Row) -> bool:
    return bool(row.lost) and not any(row.works)


class _Teller:
    """Lines of a card in its language, on the keyboard of its people."""

    def __init__(
        self, estate: Estate, wish: CardWish, boards: Sequence[Board], moves: Mapping[str, Mapping[str, datetime.date]]
    ) -> None:
        self.estate, self.wish, self.boards, self.moves = estate, wish, boards, moves
        self.layout = boards[0].ground.layout if boards else None
        self._keys: dict[Shortcut, Key] = {}

    def key(self, shortcut: Shortcut) -> Key:
        known = self._keys.get(shortcut)
        if known is None:
            known = self._keys[shortcut] = self._told(shortcut)
        return known

    def _told(self, shortcut: Shortcut) -> Key:
        language = self.layout.language if self.layout else "en"
        printed = printed_on(self.layout) if self.layout else None
        caps = tuple(tuple(caps_of_press(p, self.wish.platform, language, printed=printed)) for p in shortcut.presses)
        return Key(str(shortcut), words_of(shortcut, self.wish.platform, language, printed=printed), caps)

    def keys(self, shortcuts: Iterable[Shortcut]) -> tuple[Key, ...]:
        return tuple(self.key(s) for s in shortcuts)

    def name(self, row: _Row) -> str:
        told = row.command.told_with(row.arguments, self.wish.language)
        return told[:1].upper() + told[1:]

    def line(self, row: _Row) -> Iterable[CardLine]:
        """The line of a command; none where nobody has a key for it that works."""
        main = _main(row) or max((k for k in row.works if k), key=lambda k: sum(s.people for s in row.works[k]), default=())
        if not main:
            return
        without = {s.id: s for keys, setups in row.works.items() if not keys for s in setups} | {s.id: s for s in row.lost}
        notes = [self.word("not at", names=self.places([*without.values()]))] if without else []
        for keys, setups in row.works.items():
            if keys and keys != main:
                said = f" {self.word('or')} ".join(k.words for k in self.keys(keys))
                since = self.since(row, setups)
                notes.append(" ".join((self.word("elsewhere", keys=said, names=self.places(setups)), *since)))
        days = self.moves.get(row.id, {})
        on = min((days[s.id] for s in row.works.get(main, ()) if s.id in days), default=None)
        notes = [*self.since(row, row.works.get(main, ())), *notes]
        minutes, known = self.worth(row, main)
        line = CardLine(row.id, self.name(row), self.keys(main), (row.program.name,), tuple(notes), (), minutes, known)
        yield replace(line, on=on.isoformat() if on is not None else "")

    def since(self, row: _Row, setups: Sequence[Setup]) -> list[str]:
        """From when some setups have the keys of a command, where they get them on a date: a note for each day."""
        days = self.moves.get(row.id, {})
        on: dict[datetime.date, list[Setup]] = {}
        for setup in setups:
            if setup.id in days:
                on.setdefault(days[setup.id], []).append(setup)
        if [len(own) for own in on.values()] == [len(setups)]:
            return [self.word("from day", day=next(iter(on)))]
        return [self.word("from day at", day=day, names=self.places(on[day])) for day in sorted(on)]

    def worth(self, row: _Row, keys: Sequence[Shortcut]) -> tuple[float, bool]:
        setups = row.works.get(tuple(keys), [])
        board = self.estate.board(setups[0].id)
        part = board.parts[row.program.id]
        names = (row.command.id, *row.command.was)
        own = [b for i in names for b in part.commanded(i) if b.arguments == row.arguments]
        placed = _placed(part, (*_PLACES, *_MENUS)) if not row.arguments else {}
        own += [b for i in names for b in placed.get(i, ())]
        own = [b for b in own if b.shortcut in keys]
        seconds = with_keys(own, part.ground, self.estate.assumed)
        uses, known = uses_of(self.estate, row.program.id, row.command.id, setups)
        spared = without_key(row.command, self.estate.assumed) - seconds if seconds is not None else 0.0
        return spared * uses / 60, known

    def merged(self, lines: Sequence[CardLine]) -> list[CardLine]:
        """Lines of one task with the same keys and notes stand once: everywhere, or with the programs that have it so."""
        tasks = self.estate.tasks
        by_task: dict[str, list[CardLine]] = {}
        for line in lines:
            by_task.setdefault(self._tasks.get(line.id, line.id), []).append(line)
        found = []
        for own, group in by_task.items():
            alike: dict[tuple[object, ...], list[CardLine]] = {}
            for line in group:
                alike.setdefault((tuple(k.text for k in line.keys), line.notes), []).append(line)
            task = tasks.task(own)
            for same in alike.values():
                if task is None:
                    found += same
                    continue
                programs = tuple(dict.fromkeys(p for line in same for p in line.programs))
                others = [p for p in self._offering[own] if p not in programs]
                nearly = len(programs) > _NAMED and 0 < len(others) <= _NAMED
                but = self.word("not in", names=", ".join(others)) if nearly else ""
                everywhere = nearly or (len(programs) > 1 and not others)
                name = task.names.get(self.wish.language, task.name)
                known = all(line.known for line in same)
                minutes = sum(line.minutes for line in same)
                which = own if len(alike) == 1 else f"{own} {same[0].keys[0].text}"
                one = replace(same[0], id=which, name=name, minutes=minutes, known=known)
                found.append(replace(one, programs=programs, everywhere=everywhere, but=but))
        return found

    @cached_property
    def _tasks(self) -> Mapping[str, str]:
        """By the ids of rows, the tasks that they do."""
        known = {t.id for t in self.estate.tasks.tasks}
        return {
            f"{program}/{one.command.id}": one.command.task
            for board in self.boards
            for program, part in board.parts.items()
            for one in part.effective.commands
            if one.command.task in known and not one.arguments
        }

    @cached_property
    def _offering(self) -> Mapping[str, tuple[str, ...]]:
        """By task, the programs by name that have a command for it, whether a key of it works or not."""
        found: dict[str, dict[str, None]] = {}
        for row, task in self._tasks.items():
            program = row.partition("/")[0]
            if program not in self._systems:
                found.setdefault(task, {})[self._names[program]] = None
        return {task: tuple(names) for task, names in found.items()}

    def is_usual(self, line: CardLine) -> bool:
        """Whether everybody has its key in the fingers: it is the one that its task has wherever there are computers."""
        task = self.estate.tasks.task(line.id.split(" ")[0])
        usual = {str(s) for s in task.usual_on(self.wish.platform)} if task is not None else set()
        return any(key.text in usual for key in line.keys)

    def weeks(self, lines: Sequence[CardLine], changed: Sequence[CardLine]) -> list[CardPart]:
        """The same as weeks of learning."""
        moved = {key.text: line.name for line in changed for key in line.old}
        learned = weeks(lessons(lines, self.estate.tasks, moved), self.wish.pace)

        def told(lesson: Lesson) -> Iterator[CardLine]:
            was = (self.word("was lately", name=lesson.was),) if lesson.was else ()
            yield from (replace(line, notes=(*was, *line.notes)) for line in lesson.lines)

        own = (tuple(line for lesson in week for line in told(lesson)) for week in learned)
        return [CardPart(self.word("week", number=n), lines, learned=True) for n, lines in enumerate(own, 1)]

    def hurry(self, lines: Sequence[CardLine]) -> list[CardLine]:
        """What people need when something is stuck, in its own order; locking the screen last."""

        def place(line: CardLine) -> int | None:
            own = line.id.split(" ")[0]
            if own in _HURRY:
                return _HURRY.index(own)
            return len(_HURRY) if own.partition("/")[2] in _LOCK and own.partition("/")[0] in self._systems else None

        found = [(at, line) for line in lines if (at := place(line)) is not None]
        return [
            replace(line, everywhere=line.everywhere or at == len(_HURRY)) for at, line in sorted(found, key=lambda f: f[0])
        ]

    @cached_property
    def _systems(self) -> set[str]:
        return {i for b in self.boards for i, p in b.parts.items() if p.program.kind == "system"}

    def changed(self, rows: Mapping[str, _Row], before: Mapping[str, Sequence[str]], since: datetime.date) -> list[CardLine]:
        """What had keys when the last card was handed out and has others now, with what the old ones do."""
        found = []
        for row_id, row in rows.items():
            old, now = before.get(row_id, ()), tuple(str(s) for s in _main(row))
            gone = [text for text in old if text not in now]
            if not old or not gone:
                continue
            shortcuts = [read_shortcut(text) for text in gone]
            notes = [self.does_now(row, s) for s in shortcuts]
            if not now:
                notes.insert(0, self.word("no key"))
            line = CardLine(
                row.id, self.name(row), self.keys(_main(row)), (row.program.name,), tuple(notes), self.keys(shortcuts)
            )
            found.append(line)
        return found

    def does_now(self, row: _Row, old: Shortcut) -> str:
        """What an old key does now, in the same program, at the desk of most people."""
        keys = self.key(old).words
        board = next((b for b in self.boards if row.program.id in b.parts), None)
        if board is not None:
            lost = losers(self.estate.clashes(board.setup.setup.id))
            for binding in board.parts[row.program.id].bindings:
                if binding.shortcut == old and binding.live and binding.participant not in lost:
                    command = binding.command
                    name = command.told_with(binding.arguments, self.wish.language)
                    return self.word("does now", keys=keys, name=name)
        return self.word("does nothing", keys=keys)

    def whole(self, lines: Sequence[CardLine], how: str) -> list[CardPart]:
        """Everything, by program or by task; by program each line stands in each of its programs."""
        if how == "by task":
            return [CardPart(self.word("by task"), tuple(sorted(lines, key=lambda v: v.name.casefold())))] if lines else []
        if how != "by program":
            return []
        names = Counter(p.program.name for b in self.boards for p in b.parts.values() if p.program.kind != "system")
        parts = []
        for name in sorted(names, key=lambda n: (-names[n], n)):
            own = [replace(v, everywhere=True, but="") for v in lines if name in v.programs]
            if own:
                parts.append(CardPart(name, tuple(sorted(own, key=lambda v: v.name.casefold()))))
        return parts

    @cached_property
    def _names(self) -> Mapping[str, str]:
        return {i: p.program.name for b in self.boards for i, p in b.parts.items()}

    def places(self, setups: Sequence[Setup]) -> str:
        names = list(dict.fromkeys(s.place or s.name for s in setups))
        return ", ".join(names) if len(names) <= _NAMED else self.word("others", many=len(names))

    def word(self, which: str, **given: object) -> str:
        return word(which, self.wish.language, **given)
