"""What a proposal stands on: the programs in use where they are used, their commands, and what each has now.

Everything is read from boards, so that no rule of the engine is said again.
"""

import math
from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from amberkey.core.clashes.alone import alone
from amberkey.core.clashes.before import clashes_before
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.within import clashes_within, on_stroke
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Keyboard, Way, ways_of
from amberkey.core.layouts.reach import NOT_HERE, Hand, reach_of_sequence
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Reading
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Command, Program
from amberkey.core.proposing.question import Question
from amberkey.core.standard.compiling import LAYER, Compiler, with_layer
from amberkey.core.standard.judging import why_it_cannot
from amberkey.core.standard.model import Standard
from amberkey.core.ways.candidates import reserved_for_others, spoken_for, takes_text, thinkable_on

NOT_ASKED = frozenset({"system"})
"""Kinds of programs whose keys nobody chooses here."""


@dataclass(eq=False)
class Hearing:
    """How shortcuts are heard before one keyboard by programs that read it alike: one object for all of them."""

    keyboard: Keyboard
    reads: Reading
    pad: bool
    mouse_hand: Hand | None
    thinkable: dict[int, Mapping[Shortcut, Way]] = field(default_factory=dict, init=False, repr=False)
    """By the identity of a program: the single presses that can be asked for."""
    _ways: dict[Shortcut, tuple[tuple[Way, ...], str]] = field(default_factory=dict, init=False, repr=False)
    _reach: dict[Shortcut, int] = field(default_factory=dict, init=False, repr=False)

    def ways(self, shortcut: Shortcut) -> tuple[tuple[Way, ...], str]:
        """The strokes that make a shortcut, and why none do."""
        found = self._ways.get(shortcut)
        if found is None:
            ways, unreachable = ways_of(shortcut, self.keyboard, self.reads, self.pad)
            found = self._ways[shortcut] = ways, unreachable
        return found

    def reach(self, shortcut: Shortcut) -> int:
        """How far a shortcut is, at its easiest."""
        found = self._reach.get(shortcut)
        if found is None:
            body, remaps = self.keyboard.body, self.keyboard.remaps
            scores = [reach_of_sequence(w, body, remaps, self.mouse_hand).score for w in self.ways(shortcut)[0]]
            found = self._reach[shortcut] = min(scores, default=NOT_HERE)
        return found


@dataclass(eq=False)
class Hearings:
    """All keyboards before which one shortcut is pressed, and how far it is on the worst of them."""

    each: tuple[Hearing, ...]
    _reach: dict[Shortcut, int] = field(default_factory=dict, init=False, repr=False)

    def reach(self, shortcut: Shortcut) -> int:
        """How far a shortcut is where it is farthest; 0 where nobody presses it."""
        found = self._reach.get(shortcut)
        if found is None:
            found = self._reach[shortcut] = max((h.reach(shortcut) for h in self.each), default=0)
        return found


@dataclass(eq=False)
class Place:
    """A program as some setups have it alike: before the same keyboard, under the same layers, among the same hotkeys.

    `part` has what holds without any line of the standard, `now` what holds with the present ones. `people` over all of
    `setups`: who has two of them is asked twice.
    """

    part: Part
    now: Part
    board: Board
    setups: tuple[Setup, ...]
    people: int
    hearing: "Hearing"
    taken_now: frozenset[Stroke]
    """What hotkeys take with the present lines."""

    @cached_property
    def program(self) -> Program:
        """The program, in the version that it has here."""
        return self.part.program

    @cached_property
    def takes_from_all(self) -> bool:
        """Whether what it takes is taken from every program: such a program follows a line with a key of its own only."""
        return self.program.kind == "utility"

    @property
    def layout(self) -> str:
        """The layout that it is read by."""
        return self.setups[0].reads_by

    def ways(self, shortcut: Shortcut) -> tuple[Way, ...]:
        """The strokes that make a shortcut here."""
        return self.hearing.ways(shortcut)[0]

    def why_not(self, shortcut: Shortcut) -> str:
        """Why the program can't be given a shortcut here, in words; empty where it can."""
        return why_it_cannot(self.program, shortcut, self.hearing.ways(shortcut)[1], self.part.ground.keyboard)

    @cached_property
    def thinkable(self) -> Mapping[Shortcut, Way]:
        """The single presses that can be asked for here, with the way of each."""
        found = self.hearing.thinkable.get(id(self.program))
        if found is None:
            found = {s: way for s, (way, _) in thinkable_on(self.part).items() if not self.why_not(s)}
            self.hearing.thinkable[id(self.program)] = found
        return found

    def spoken_for(self, scope: str) -> frozenset[Stroke]:
        """The strokes that nothing new may begin with in a scope, whatever the program's own commands have."""
        text = takes_text(self.program, scope)
        found = self._spoken_for.get(text)
        if found is None:
            strokes = frozenset(way[0] for way, _ in thinkable_on(self.part).values())
            found = self._spoken_for[text] = self.taken_now | spoken_for(self.board, self.part, strokes, text=text)
        return found

    @cached_property
    def _spoken_for(self) -> dict[bool, frozenset[Stroke]]:
        return {}

    def reserved(self, task: str | None) -> frozenset[Stroke]:
        """The strokes that a layer reserved for something else than a task."""
        found = self._reserved.get(task)
        if found is None:
            found = self._reserved[task] = frozenset(reserved_for_others(self.board, self.part, task))
        return found

    @cached_property
    def _reserved(self) -> dict[str | None, frozenset[Stroke]]:
        return {}

    @cached_property
    def browsers(self) -> tuple[Part, ...]:
        """The browsers in which it runs."""
        return tuple(self.board.browsers_of(self.program))

    def alone(self, binding: Binding) -> list[Clash]:
        """The clashes that a binding has here with everybody but the program's own commands."""
        found: list[Clash] = list(alone(self.part, binding))
        if binding.live:
            before = list(clashes_before(self.board, self.part, [binding]))
            found += before
            if not before:
                for stroke in dict.fromkeys(way[0] for way in binding.ways):
                    found += on_stroke(self.part, stroke, [binding], {})
        return found

    @cached_property
    def within(self) -> tuple[Clash, ...]:
        """The clashes of the program's own commands with each other, without any line."""
        return _between(self.part)

    @cached_property
    def within_now(self) -> tuple[Clash, ...]:
        """The same with the present lines."""
        return _between(self.now)


def _between(part: Part) -> tuple[Clash, ...]:
    if part.within is None:
        part.within = clashes_within(part)
    return tuple(c for c in part.within if c.loser is not None and c.holder is not None)


@dataclass(eq=False)
class Post:
    """A command of a program on the platform, in all its versions: under the oldest one's id. `task`: the one that it stands
    for in the standard; None for a command that no line speaks of. `layouts`: the layouts that it is asked for; if empty, all
    that have no line of their own. `excepted`: somebody let it off the line."""

    program: str
    command: Command
    task: str | None
    layouts: tuple[str, ...]
    places: list[Place] = field(default_factory=list)
    excepted: bool = False
    factor: int = 1
    lacking: int = 0
    """People whose version of the program hasn't the command: whatever is said of it is said in vain there."""
    among: tuple[str, ...] = ()
    """Where it is asked for all layouts without a line of their own: which these are here, if others have one."""

    @property
    def name(self) -> str:
        """What it is called where something is told of it, and in what order it stands."""
        return f"{self.program}/{self.command.id}" + (f" for {', '.join(self.layouts)}" if self.layouts else "")

    def in_place(self, place: Place) -> Command:
        """The command in the version that a place has. Only for places of its own."""
        found = place.program.command(self.command.id)
        assert found is not None
        return found

    def bindings(self, place: Place) -> list[Binding]:
        """What it has in a place without any line, in the order of its keys."""
        return [b for b in place.part.commanded(self.in_place(place).id) if not b.arguments]

    def now(self, place: Place) -> list[Binding]:
        """What it has in a place as the standard is."""
        return [b for b in place.now.commanded(self.in_place(place).id) if not b.arguments]

    def is_own(self, place: Place) -> bool:
        """Whether somebody set it by hand in a place, so that no line reaches it."""
        index = place.part.effective.places.get((self.in_place(place).id, ()))
        return index is not None and place.part.effective.commands[index].now.layer not in (DEFAULT, LAYER)

    @cached_property
    def free(self) -> tuple[Place, ...]:
        """The places in which a line reaches it."""
        return tuple(p for p in self.places if not self.is_own(p) and not p.program.card_only)

    def weight(self, places: Iterable[Place]) -> int:
        """People times how much the command is used."""
        return self.factor * sum(p.people for p in places)


@dataclass(eq=False)
class Ground:
    """All places and posts of a platform. `base`: the estate without any line of it and of those chosen beside it, `now`: with
    those of `standard`."""

    question: Question
    estate: Estate
    standard: Standard
    base: Estate
    now: Estate
    places: tuple[Place, ...]
    posts: tuple[Post, ...]

    def hearings(self, places: Iterable[Place]) -> Hearings:
        """The keyboards of some places: one object for the same ones."""
        own = {id(p.hearing): p.hearing for p in places}
        found = self._hearings.get(frozenset(own))
        if found is None:
            found = self._hearings[frozenset(own)] = Hearings(tuple(own.values()))
        return found

    @cached_property
    def _hearings(self) -> dict[frozenset[int], Hearings]:
        return {}

    @cached_property
    def of_task(self) -> Mapping[tuple[str, tuple[str, ...]], list[Post]]:
        """The posts by task and layouts."""
        found: dict[tuple[str, tuple[str, ...]], list[Post]] = {}
        for post in self.posts:
            if post.task is not None:
                found.setdefault((post.task, post.layouts), []).append(post)
        return found

    @cached_property
    def _having(self) -> Mapping[tuple[Platform, str], list[Setup]]:
        found: dict[tuple[Platform, str], list[Setup]] = {}
        for _, setup in sorted(self.base.setups.items()):
            used = (self.base.programs.get((p.id, p.version)) for p in setup.programs)
            for task in {t for p in used if p is not None for t in p.commands_by_task}:
                found.setdefault((setup.works_on, task), []).append(setup)
        return found

    def people_having(self, platform: Platform, task: str) -> int:
        """The people of a platform in one of whose programs a task can be done."""
        key = (platform, task)
        if key not in self._people_having:
            self._people_having[key] = self.base.people_of(self._having.get(key, ()))
        return self._people_having[key]

    @cached_property
    def _people_having(self) -> dict[tuple[Platform, str], int]:
        return {}

    @cached_property
    def _by_part(self) -> Mapping[int, list[Place]]:
        found: dict[int, list[Place]] = {}
        for place in self.places:
            found.setdefault(id(place.part), []).append(place)
        return found

    def place_of(self, part: Part, beside: Place) -> Place | None:
        """The place of another program in the setups of a place; None where its keys aren't asked for."""
        mine = {s.id for s in beside.setups}
        return next((p for p in self._by_part.get(id(part), ()) if any(s.id in mine for s in p.setups)), None)

    @cached_property
    def at(self) -> Mapping[int, list[Post]]:
        """The posts of each place, by the identity of the place."""
        found: dict[int, list[Post]] = {}
        for post in self.posts:
            for place in post.places:
                found.setdefault(id(place), []).append(post)
        return found


def _without_lines(standard: Standard, platforms: Container[Platform]) -> Standard:
    """A standard without its lines of some platforms, and without what makes room for them."""
    lines = tuple(v for v in standard.lines if v.platform not in platforms)
    rooms = tuple(v for v in standard.makes_room if v.platform not in platforms)
    return standard.model_copy(update={"lines": lines, "makes_room": rooms}).normal()


def ground_of(question: Question, estate: Estate, standard: Standard, compiler: Compiler | None = None) -> Ground:
    """Read an estate as it is without the lines of a platform, and as it is with them."""
    return grounds_of(question, estate, standard, compiler)[0]


def grounds_of(question: Question, estate: Estate, standard: Standard, compiler: Compiler | None = None) -> tuple[Ground, ...]:
    """The same for each platform of a question, over the same two estates: without the lines of any of them, and with all."""
    compiler = compiler or Compiler()
    base = with_layer(estate, compiler.compile(_without_lines(standard, question.platforms), estate))
    now = with_layer(base, compiler.compile(standard, base))
    found = []
    for own in map(question.on, question.platforms):
        places = tuple(_places(own, base, now))
        found.append(Ground(own, estate, standard, base, now, places, tuple(_posts(own, estate, standard, places))))
    return tuple(found)


def _places(question: Question, base: Estate, now: Estate) -> Iterator[Place]:
    found: dict[tuple[object, ...], tuple[Board, Part, Part, frozenset[Stroke], list[Setup]]] = {}
    for setup_id, setup in sorted(base.setups.items()):
        if setup.works_on != question.platform:
            continue
        board, after = base.board(setup_id), now.board(setup_id)
        for program_id, part in board.parts.items():
            if part.program.kind in NOT_ASKED or program_id not in after.parts:
                continue
            then = after.parts[program_id]
            key = (id(part), id(then), after.taken, *_among(board, part))
            found.setdefault(key, (board, part, then, after.taken, []))[4].append(setup)
    heard: dict[tuple[object, ...], Hearing] = {}
    for board, part, then, taken, setups in found.values():
        people = sum(base.people_of([s]) for s in setups)
        ground = part.ground
        hearing = Hearing(ground.keyboard, part.reads, part.pad, ground.mouse_hand)
        alike = (id(ground.keyboard), part.reads, part.pad, ground.mouse_hand)
        yield Place(part, then, board, tuple(setups), people, heard.setdefault(alike, hearing), taken)


def _among(board: Board, part: Part) -> tuple[object, ...]:
    """What is asked before and after a program on a board: boards that have the same meet its keys alike."""
    guard = board.setup.guard
    return (
        board.taken,
        frozenset(board.last),
        frozenset(board.chains),
        frozenset(s for program, s in board.translations if program == part.program.id),
        frozenset(board.kept_from(part.program)),
        tuple(id(b) for b in board.browsers_of(part.program)),
        board.composer.composing if board.composer else None,
        board.assistive.ways[0][0].code if board.assistive else None,
        guard.in_program(part.program.id) if guard else (),
        board.used(part.program) if part.program.kind == "web" else None,
    )


def _posts(question: Question, estate: Estate, standard: Standard, places: Sequence[Place]) -> Iterator[Post]:
    by_program: dict[str, list[Place]] = {}
    for place in places:
        by_program.setdefault(place.program.id, []).append(place)
    groups = _layouts(question, estate, standard, by_program)
    for program_id, own in sorted(by_program.items()):
        versions = sorted({id(p.program): p.program for p in own}.values(), key=lambda p: _numbers(p.version))
        commands: dict[str, Command] = {}
        standing: dict[str, str] = {}
        for program in versions:
            for command in program.commands:
                known = next((i for i in (command.id, *command.was) if i in commands), None)
                if known is None:
                    commands[command.id] = command
            for task, command in program.commands_by_task.items():
                standing.setdefault(task, next((i for i in (command.id, *command.was) if i in commands), command.id))
        for command in commands.values():
            stands_for = command.task if standing.get(command.task or "") == command.id else None
            split = groups.get(stands_for, ())
            with_own = {layout for layouts in split for layout in layouts}
            for layouts in ((), *split):
                post = Post(program_id, command, stands_for, layouts)
                here = [p for p in own if (p.layout in layouts if layouts else p.layout not in with_own)]
                if with_own and not layouts:
                    post.among = tuple(sorted({p.layout for p in here}))
                for place in here:
                    if place.program.command(command.id) is None:
                        post.lacking += place.people
                    elif _is_there(place, command):
                        post.places.append(place)
                if post.places:
                    post.factor = _factor(post, estate, question)
                    post.excepted = stands_for is not None and any(
                        (e := standard.exempt(stands_for, program_id, question.platform, p.layout)) is not None
                        and e.holds(estate.today)
                        for p in post.places
                    )
                    yield post


def _is_there(place: Place, command: Command) -> bool:
    found = place.program.command(command.id)
    return found is not None and (found.id, ()) in place.part.effective.places


def _layouts(
    question: Question, estate: Estate, standard: Standard, places: Mapping[str, Sequence[Place]]
) -> Mapping[str | None, tuple[tuple[str, ...], ...]]:
    """By task, the groups of layouts that are asked for by themselves: those for which the standard has lines of their own, and
    those on which a key can't be made that is settled for the task. `places`: by program."""
    found: dict[str | None, list[tuple[str, ...]]] = {}
    for line in standard.lines:
        if line.platform == question.platform and line.layouts:
            found.setdefault(line.task, []).append(line.layouts)
    for task_id, key in sorted(settled_keys(question, estate, standard).items()):
        with_own = {layout for layouts in found.get(task_id, ()) for layout in layouts}
        makes: dict[str, bool] = {}
        for place in (p for own in places.values() for p in own if task_id in p.program.commands_by_task):
            if place.layout not in with_own:
                makes[place.layout] = makes.get(place.layout, False) or bool(place.ways(key))
        without = tuple(sorted(layout for layout, can in makes.items() if not can))
        if without and any(makes.values()):
            found.setdefault(task_id, []).append(without)
    return {task: tuple(sorted(groups)) for task, groups in found.items()}


def settled_keys(question: Question, estate: Estate, standard: Standard) -> Mapping[str, Shortcut]:
    """The key that each task has whatever is chosen, if it has one: pinned, kept or protected, for all layouts."""
    found: dict[str, Shortcut] = {}
    for task in estate.tasks.tasks:
        lines = [v for v in standard.lines_of(task.id, question.platform) if not v.layouts]
        usual = task.usual_on(question.platform)
        if task.id in question.pins:
            found[task.id] = question.pins[task.id]
        elif (task.protected or task.id in question.kept) and lines:
            found[task.id] = lines[0].shortcut
        elif task.protected and usual:
            found[task.id] = usual[0]
    return found


def _factor(post: Post, estate: Estate, question: Question) -> int:
    """1 + floor(log2(1 + uses a week)) by one person."""
    setups = {s.id: s for p in post.places for s in p.setups}
    people = estate.people_of(setups.values())
    uses: float = question.weights.uses_assumed
    if estate.census is not None and people:
        known = estate.census.uses_a_week(post.program, post.command.id, setups)
        uses = uses if known is None else known / people
    return 1 + math.floor(math.log2(1 + uses))


def _numbers(version: str) -> tuple[int, ...]:
    return tuple(int(n) if n.isdigit() else 0 for n in version.split("."))
