"""The sheet of all commands: a row for each command of each program, as it is on the setup through which it is looked at."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, TypeAlias

from amberkey.core.catalogue.headings import plain_words
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.part import Part
from amberkey.core.inventory.seeking import Sought, Wording
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.profiles.effective import Arguments, EffectiveCommand
from amberkey.core.programs.model import Command, Program
from amberkey.core.tasks.model import Task, Tasks
from amberkey.core.tasks.neutral import neutral_tasks

State = Literal[
    "own key",
    "no key",
    "several keys",
    "clashing",
    "changed since the release",
    "risky",
    "from an add-on",
    "without a task",
    "same key twice",
    "can't be pressed",
]
Order = Literal["keys, as they lie", "name", "program", "group", "task", "people", "set by", "best first"]
Way: TypeAlias = tuple[Stroke, ...]
# How much a word counts by where it stands. The name counts whole.
_OTHER_WORD, _TASK, _TASKS_OTHER, _ABOUT, _PLACE = 0.9, 0.86, 0.8, 0.5, 0.45


@dataclass(frozen=True, eq=False, slots=True)
class Row:
    """A command (with the arguments of a template, if it is one) of a program, as it is on `setup`. `bindings`: its keys there;
    `people`: how many have the program; `order`: its place among the commands of its program."""

    id: str
    program: Program
    command: Command
    arguments: Arguments
    setup: str
    effective: EffectiveCommand
    bindings: tuple[Binding, ...]
    states: frozenset[State]
    clashes: tuple[str, ...]
    people: int
    order: int

    @property
    def layer(self) -> str:
        """The layer whose word holds."""
        return self.effective.now.layer


def row_id(program: str, command: str, arguments: Arguments = ()) -> str:
    """By what a row is known: `quaysheet/save`, and what a template is given in brackets behind it."""
    given = ", ".join(f"{name} {value}" for name, value in arguments)
    return f"{program}/{command}" + (f" [{given}]" if given else "")


@dataclass(frozen=True, eq=False)
class Sheet:
    """All rows through a lens, programs of most people first, systems last. `boards`: by setup, those that rows are seen on."""

    rows: tuple[Row, ...]
    boards: Mapping[str, Board]
    tasks: Tasks
    orders: dict[Order, Sequence[int]] = field(default_factory=dict, repr=False)
    """By order the place of each row in it, as far as somebody has asked."""

    @cached_property
    def systems(self) -> frozenset[str]:
        """The systems among the programs."""
        return frozenset(r.program.id for r in self.rows if r.program.kind == "system")

    @cached_property
    def programs(self) -> Mapping[str, str]:
        """The names of all programs by their ids."""
        return {r.program.id: r.program.name for r in self.rows}

    @cached_property
    def own(self) -> Sequence[int]:
        """The places of the rows that are of no system."""
        return [n for n, r in enumerate(self.rows) if r.program.id not in self.systems]

    def in_state(self, state: State) -> Sequence[int]:
        """The places of the rows in a state."""
        return self._by_state.get(state, ())

    @cached_property
    def _by_state(self) -> Mapping[State, list[int]]:
        found: dict[State, list[int]] = {}
        for n, row in enumerate(self.rows):
            for state in row.states:
                found.setdefault(state, []).append(n)
        return found

    @cached_property
    def by_id(self) -> Mapping[str, Row]:
        """The rows by their ids."""
        return {r.id: r for r in self.rows}

    @cached_property
    def _tasks_by_id(self) -> Mapping[str, Task]:
        return {t.id: t for t in self.tasks.tasks}

    def task(self, task_id: str | None) -> Task | None:
        """The task of that id, or None."""
        return self._tasks_by_id.get(task_id) if task_id is not None else None

    @cached_property
    def sought(self) -> Sought:
        """The rows by what they are called: in the program, by the task, in other words and languages."""
        words = _TaskWords(self.tasks)
        return Sought([tuple(_wordings(row, words)) for row in self.rows])

    def ways_of(self, shortcut: Shortcut) -> tuple[Way, ...]:
        """What the fingers do for a shortcut on the keyboards through which the sheet is seen, however programs read keys."""
        grounds = {(part.ground, part.reads, part.pad) for board in self.boards.values() for part in board.parts.values()}
        found: dict[Way, None] = {}
        for ground, reads, pad in grounds:
            found.update(dict.fromkeys(ways_of(shortcut.resolve(ground.platform), ground.keyboard, reads, pad).ways))
        return tuple(found)

    def with_press(self, way: Way) -> list[int]:
        """The places of the rows that have a key which is, or begins with, some strokes."""
        most = len(way)
        return [n for n, row in enumerate(self.rows) if any(w[:most] == way for b in row.bindings for w in b.ways)]


class _TaskWords:
    """What tasks are called: by the organisation, and in four languages where the neutral list has a task of that name."""

    def __init__(self, tasks: Tasks) -> None:
        called: dict[str, Task] = {}
        for one in neutral_tasks().tasks:
            for text in (one.id, one.name, *one.other_words):
                called.setdefault(plain_words(text), one)
        self._words: dict[str, tuple[str, tuple[str, ...]]] = {}
        for task in tasks.tasks:
            own = map(plain_words, (task.id, task.name, *task.other_words))
            known = next((called[text] for text in own if text in called), None)
            others = (*task.other_words, *((known.name, *known.other_words) if known else ()))
            self._words[task.id] = task.name, tuple(dict.fromkeys(others))

    def of(self, task: str | None) -> Iterator[Wording]:
        if task in self._words:
            name, others = self._words[task]
            yield Wording(name, _TASK)
            for other in others:
                yield Wording(other, _TASKS_OTHER)


def _wordings(row: Row, words: _TaskWords) -> Iterator[Wording]:
    command = row.command
    yield Wording(command.told_with(row.arguments), 1.0)
    for other in command.other_words:
        yield Wording(other, _OTHER_WORD)
    yield from words.of(command.task)
    yield Wording(row.program.name, _PLACE)
    if command.group:
        yield Wording(command.group, _PLACE)
    if command.description:
        yield Wording(command.description, _ABOUT)


def sheet_of(estate: Estate, lens: Iterable[str], released: Estate | None = None) -> Sheet:
    """All commands through some setups, each program as it is where the most people have it. `released`: what machines may be
    given, by which is told what was changed since."""
    through: dict[str, str] = {}
    setups = sorted((estate.setups[i] for i in lens), key=lambda s: (-s.people, s.id))
    for setup in setups:
        for program in estate.board(setup.id).setup.programs:
            through.setdefault(program.id, setup.id)
    people = {i: estate.people_of([s for s in setups if any(u.id == i for u in s.programs)]) for i in through}
    boards = {i: estate.board(i) for i in dict.fromkeys(through.values())}
    systems = {i for i, s in through.items() if boards[s].parts[i].program.kind == "system"}
    rows: list[Row] = []
    for program_id in sorted(through, key=lambda i: (i in systems, -people[i], i)):
        setup_id = through[program_id]
        before = released.board(setup_id).parts.get(program_id) if released and setup_id in released.setups else None
        clashes = _clashes_of(estate, setup_id, program_id)
        rows += _rows_of(boards[setup_id].parts[program_id], setup_id, people[program_id], before, clashes)
    return Sheet(tuple(rows), boards, estate.tasks)


def _clashes_of(estate: Estate, setup_id: str, program: str) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for clash in estate.clashes(setup_id):
        for binding in clash.parties:
            if binding.program.id == program:
                known = found.setdefault(binding.command.id, [])
                if clash.identity not in known:
                    known.append(clash.identity)
    return found


def _rows_of(part: Part, setup: str, people: int, before: Part | None, clashes: Mapping[str, list[str]]) -> Iterator[Row]:
    program = part.program
    twice = _twice(part)
    bound: dict[tuple[str, Arguments], list[Binding]] = {}
    for binding in part.bindings:
        bound.setdefault((binding.command.id, binding.arguments), []).append(binding)
    for order, one in enumerate(part.effective.commands):
        command = one.command
        bindings = tuple(bound.get((command.id, one.arguments), ()))
        yield Row(
            id=row_id(program.id, command.id, one.arguments),
            program=program,
            command=command,
            arguments=one.arguments,
            setup=setup,
            effective=one,
            bindings=bindings,
            states=frozenset(_states(program, one, bindings, before, command.id in clashes, twice)),
            clashes=tuple(clashes.get(command.id, ())),
            people=people,
            order=order,
        )


def _states(
    program: Program,
    one: EffectiveCommand,
    bindings: tuple[Binding, ...],
    before: Part | None,
    clashing: bool,
    twice: frozenset[Way],
) -> Iterator[State]:
    command = one.command
    if one.now.layer != DEFAULT:
        yield "own key"
    if not bindings:
        yield "no key"
    if len(bindings) > 1:
        yield "several keys"
    if clashing and program.kind != "system":
        yield "clashing"
    if before is not None and _keys_before(before, one) != {s for s, _ in one.now.shortcuts}:
        yield "changed since the release"
    if command.risky:
        yield "risky"
    if command.add_on is not None:
        yield "from an add-on"
    if command.task is None and program.kind != "system":
        yield "without a task"
    if any(w in twice for b in bindings for w in b.ways):
        yield "same key twice"
    if any(b.unreachable or b.refused for b in bindings):
        yield "can't be pressed"


def _keys_before(part: Part, one: EffectiveCommand) -> set[Shortcut]:
    place = part.effective.places.get((one.command.id, one.arguments))
    return {s for s, _ in part.effective.commands[place].now.shortcuts} if place is not None else set()


def _twice(part: Part) -> frozenset[Way]:
    """What makes keys of two commands whose scopes are one, or one within the other."""
    around = part.program.scope_tree.around
    by_way: dict[Way, list[Binding]] = {}
    for binding in part.bindings:
        if not binding.asleep and not binding.refused:
            for way in binding.ways:
                by_way.setdefault(way, []).append(binding)

    def meet(one: Binding, other: Binding) -> bool:
        if one.command.id == other.command.id:
            return False
        return one.scope == other.scope or one.scope in around[other.scope] or other.scope in around[one.scope]

    return frozenset(
        way for way, found in by_way.items() if any(meet(a, b) for n, a in enumerate(found) for b in found[n + 1 :])
    )
