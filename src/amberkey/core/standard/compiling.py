"""Compiling a standard into the profile that lies under all others: the fewest entries that make every program agree.

What a layer above says by hand is never looked at nor changed: it goes before the compiled one as any nearer layer does.
"""

from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal, NamedTuple

from amberkey.core.clashes.board import keeps_from
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.ground import Ground
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Way, ways_of
from amberkey.core.profiles.model import Entry, Generated, Given, Profile, Reserved
from amberkey.core.profiles.setup import ProgramUsed
from amberkey.core.programs.model import Command, Program
from amberkey.core.standard.judging import why_it_cannot
from amberkey.core.standard.model import Line, MakesRoom, Standard
from amberkey.core.tasks.model import Task

LAYER = "standard"
"""The id of the compiled profile."""


class _Place(NamedTuple):
    """A version of a program before a keyboard; of a web program, how it is used and the browsers around it."""

    program: Program
    ground: Ground
    used: ProgramUsed | None
    browsers: tuple[Program, ...]

    @property
    def identity(self) -> tuple[object, ...]:
        return id(self.program), id(self.ground), self.used, *map(id, self.browsers)


@dataclass(eq=False)
class _InUse:
    """A program on a platform: where it is in use, by layout."""

    places: dict[str, tuple[_Place, ...]] = field(default_factory=dict)

    @cached_property
    def commands(self) -> Mapping[str, Command]:
        """By task, the command of the oldest version that has it: newer ones know it by that name too."""
        programs = {id(p.program): p.program for own in self.places.values() for p in own}
        found: dict[str, Command] = {}
        for program in sorted(programs.values(), key=lambda p: _numbers(p.version)):
            for task, command in program.commands_by_task.items():
                found.setdefault(task, command)
        return found

    @cached_property
    def by_id(self) -> Mapping[str, Command]:
        """Every command by its id and by those that it had, of the oldest version that has it."""
        programs = {id(p.program): p.program for own in self.places.values() for p in own}
        found: dict[str, Command] = {}
        for program in sorted(programs.values(), key=lambda p: _numbers(p.version)):
            for name, command in program.commands_by_id.items():
                found.setdefault(name, command)
        return found

    @property
    def card_only(self) -> bool:
        return any(p.program.card_only for own in self.places.values() for p in own)


def _numbers(version: str) -> tuple[int, ...]:
    return tuple(int(n) if n.isdigit() else 0 for n in version.split("."))


@dataclass(eq=False)
class Compiler:
    """Keeps what several standards over several states of an estate come to alike."""

    _known: dict[tuple[object, ...], tuple[tuple[object, ...], tuple[Entry, ...]]] = field(default_factory=dict)

    def compile(self, standard: Standard, estate: Estate, revision: str | None = None) -> Profile:
        """The profile that makes the programs of an estate follow a standard. `revision`: the digest that it is pinned to.

        Depends on the standard, the programs and the keyboards in use, and the day (exceptions run out); on no other profile.
        """
        entries: list[Entry] = []
        # Another thread may put its own in place meanwhile.
        before = self._known
        known: dict[tuple[object, ...], tuple[tuple[object, ...], tuple[Entry, ...]]] = {}
        today = estate.today
        for (platform, program_id), used in sorted(_in_use(estate).items()):
            if used.card_only:
                continue
            rulings = {layout: standard.rulings(platform, layout) for layout in used.places}
            places = [place for own in used.places.values() for place in own]
            rooms = standard.rooms(platform, program_id)
            ruled = {task for of_layout in rulings.values() for task in of_layout}
            entries += _of_rooms(rooms, used, ruled)
            things = [thing for place in places for thing in (place.program, place.ground, *place.browsers)]
            for task, command in used.commands.items():
                said = tuple([rulings[layout].get(task) for layout in used.places])
                if not any(said):
                    continue
                # Told apart by identity, so what they are is kept beside: a number alone would be given away again.
                of = (command, *things, *(thing for r in said if r for thing in (r.line, r.exempt.get(program_id))))
                room = rooms.get(command.id)
                key = (task, today, room, *(place.identity for place in places), *map(id, of), *map(bool, said))
                found = before.get(key)
                if found is None:
                    found = of, tuple(_entries(standard, estate, platform, program_id, used, command, task, room))
                known[key] = found
                entries += found[1]
        self._known = known
        return Profile(
            id=LAYER,
            name=standard.name,
            description="Compiled from the standard: change the standard, not this.",
            entries=tuple(entries),
            reserved=tuple(_reserved(standard, estate)),
            generated=Generated(standard=standard.id, revision=revision or standard.digest),
        ).normal()


def compile_standard(standard: Standard, estate: Estate, revision: str | None = None) -> Profile:
    """One standard compiled for one estate, see `Compiler`."""
    return Compiler().compile(standard, estate, revision)


def _in_use(estate: Estate) -> Mapping[tuple[Platform, str], _InUse]:
    found: dict[tuple[Platform, str], dict[str, dict[tuple[object, ...], _Place]]] = {}
    for setup_id, setup in estate.setups.items():
        board = estate.board(setup_id)
        for program_id, part in board.parts.items():
            if part.program.kind != "system":
                by_layout = found.setdefault((setup.works_on, program_id), {})
                browsers = tuple(b.program for b in board.browsers_of(part.program))
                place = _Place(part.program, part.ground, board.used(part.program) if browsers else None, browsers)
                by_layout.setdefault(setup.reads_by, {}).setdefault(place.identity, place)
    return {
        at: _InUse({layout: tuple(places.values()) for layout, places in sorted(by_layout.items())})
        for at, by_layout in found.items()
    }


def _of_rooms(rooms: Mapping[str, MakesRoom], used: _InUse, ruled: Container[str]) -> Iterator[Entry]:
    """The entries of commands that make room and stand for no task with a line."""
    for room in rooms.values():
        command = used.by_id.get(room.command)
        if command is not None and not (command.task in ruled and used.commands.get(command.task or "") is command):
            defaults = command.defaults_on(room.platform)
            given = tuple(Given(keys=s) for s in room.shortcuts)
            over = tuple(s for s in defaults if s not in room.shortcuts)
            yield Entry(program=room.program, command=command.id, platform=room.platform, shortcuts=given, over=over)


def _entries(
    standard: Standard,
    estate: Estate,
    platform: Platform,
    program_id: str,
    used: _InUse,
    command: Command,
    task: str,
    room: MakesRoom | None,
) -> Iterator[Entry]:
    """At most one for all layouts, and those for single layouts that are to have something else. A command that makes `room`
    has what it keeps instead of its defaults."""
    defaults = command.defaults_on(platform)
    kept = defaults if room is None else room.shortcuts
    plain = tuple(Given(keys=s) for s in kept)
    wanted: dict[str, _Wanted] = {}
    for layout, places in used.places.items():
        ruling = standard.rulings(platform, layout).get(task)
        exempt = ruling.exempt.get(program_id) if ruling else None
        if ruling is None or (exempt is not None and exempt.holds(estate.today)):
            wanted[layout] = _Wanted(ruling.line if ruling else None, plain, needed=room is not None, follows=False)
            continue
        need = _need(places, task, ruling.line.shortcut)
        value = plain if need == "cannot" else _given(ruling.line.shortcut, kept)
        needed = need == "entry" or room is not None
        wanted[layout] = _Wanted(ruling.line, value, needed=needed, follows=need != "cannot")
    general = next((w for w in wanted.values() if w.needed and w.line is not None and not w.line.layouts), None)
    if general is not None:
        yield _entry(general, platform, program_id, command, (), defaults)
    special: dict[tuple[Given, ...], tuple[_Wanted, list[str]]] = {}
    for layout, here in wanted.items():
        # Whoever agrees by himself agrees with the entry for all layouts as well, if it is his line.
        stays = not here.needed if general is None else here.line is general.line and here.follows
        if not stays and (general is None or here.value != general.value):
            special.setdefault(here.value, (here, []))[1].append(layout)
    for here, layouts in special.values():
        yield _entry(here, platform, program_id, command, tuple(layouts), defaults)


@dataclass(frozen=True, slots=True)
class _Wanted:
    """What a command is to have on a layout. `needed`: it doesn't have it by itself; `follows`: it is the line that it has."""

    line: Line | None
    value: tuple[Given, ...]
    needed: bool
    follows: bool


Need = Literal["nothing", "entry", "cannot"]


def _need(places: Iterable[_Place], task: str, shortcut: Shortcut) -> Need:
    """Whether a program on one layout presses a shortcut for a task by default, needs an entry for it, or can't have it.

    Where it can in one place and can't in another one, it gets the entry.
    """
    needs = {_need_at(place, task, shortcut) for place in places}
    return next(n for n in _STRONGEST if n in needs)


_STRONGEST: tuple[Need, ...] = ("entry", "cannot", "nothing")


def _need_at(place: _Place, task: str, shortcut: Shortcut) -> Need:
    program, ground = place.program, place.ground
    commands = program.all_by_task.get(task, ())
    if not commands:
        return "nothing"
    reads, pad = program.reads_on(ground.platform), ground.pad_answers(program)
    wanted, unreachable = ways_of(shortcut, ground.keyboard, reads, pad)
    defaults = (s for command in commands for s in command.defaults_on(ground.platform))
    if any(way in wanted for s in defaults for way in ways_of(s, ground.keyboard, reads, pad).ways):
        return "nothing"
    if why_it_cannot(program, shortcut, unreachable, ground.keyboard) or _keep(place, wanted):
        return "cannot"
    return "entry"


def _keep(place: _Place, ways: Iterable[Way]) -> bool:
    """Whether browsers by themselves keep every way of making a shortcut from a page that is used so.

    Judged on their defaults: a layer that changes a browser's keys, this one too, makes no difference to what is compiled.
    """
    ground = place.ground
    kept = {
        way[0]
        for browser in place.browsers
        for command in browser.commands
        if command.add_on is None and keeps_from(place.used, command, in_root=browser.scope(command.scope).parent is None)
        for shortcut in command.defaults_on(ground.platform)
        for way in ways_of(shortcut, ground.keyboard, browser.reads_on(ground.platform), ground.pad_answers(browser)).ways
    }
    return bool(kept) and all(any(stroke in kept for stroke in way) for way in ways)


def _given(shortcut: Shortcut, defaults: tuple[Shortcut, ...]) -> tuple[Given, ...]:
    """The standard's shortcut in the place of the first of the program's own; further ones stay."""
    return tuple(Given(keys=s) for s in dict.fromkeys((shortcut, *defaults[1:])))


def _entry(
    wanted: _Wanted,
    platform: Platform,
    program_id: str,
    command: Command,
    layouts: tuple[str, ...],
    defaults: tuple[Shortcut, ...],
) -> Entry:
    kept = {g.keys for g in wanted.value}
    over = tuple(s for s in defaults if s not in kept)
    return Entry(
        program=program_id,
        command=command.id,
        platform=platform,
        layouts=layouts,
        shortcuts=wanted.value,
        over=over,
        since=wanted.line.since if over and wanted.line is not None else None,
    )


def _reserved(standard: Standard, estate: Estate) -> Iterator[Reserved]:
    """The presses of protected tasks: no nearer layer may give them to anything else. A press that is a task's on some of the
    layouts in use only is reserved on these.
    """
    protected = {t.id: t for t in estate.tasks.tasks if t.protected}
    for platform in dict.fromkeys(line.platform for line in standard.lines):
        in_use = sorted({s.reads_by for s in estate.setups.values() if s.works_on == platform}) or [""]
        places: dict[Shortcut, list[tuple[str, Task]]] = {}
        for layout in in_use:
            for task_id, ruling in standard.rulings(platform, layout).items():
                keys = ruling.line.shortcut
                if task_id in protected and len(keys.presses) == 1:
                    places.setdefault(keys, []).append((layout, protected[task_id]))
        for keys, own in places.items():
            task = own[0][1]  # where two tasks share a press, findings tell
            layouts = tuple(layout for layout, one in own if one is task)
            everywhere = len(layouts) == len(in_use)
            yield Reserved(
                keys=keys,
                platform=platform,
                task=task.id,
                layouts=() if everywhere else layouts,
                reason=f"{task.name} has it {'everywhere' if everywhere else 'on these layouts'}",
            )


def with_layer(estate: Estate, layer: Profile) -> Estate:
    """The estate on a compiled standard: put under the other layers of every setup that doesn't stand on it yet.

    The estate itself where nothing would differ for it.
    """
    now = estate.profiles.get(layer.id)
    stands = all(layer.id in s.layers for s in estate.setups.values())
    if stands and now is not None and (now is layer or says_the_same(now, layer)):
        return estate
    if stands:
        return estate.with_profiles([layer])
    setups = {
        i: s if layer.id in s.layers else s.model_copy(update={"layers": (layer.id, *s.layers)})
        for i, s in estate.setups.items()
    }
    return replace(estate, setups=setups, profiles={**estate.profiles, layer.id: layer})


def says_the_same(one: Profile, other: Profile) -> bool:
    """Whether two compiled profiles do the same, whichever revision they are pinned to."""
    return one.entries == other.entries and one.reserved == other.reserved
