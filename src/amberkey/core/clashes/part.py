"""A part of the board: every binding of one program laid out by stroke.

Setups that have the same program, settings, layout and body share one part, and what was found within it.
"""

import datetime
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import repeat
from operator import attrgetter
from typing import cast

from amberkey.core.clashes.binding import MENUS, Binding
from amberkey.core.clashes.ground import Ground
from amberkey.core.clashes.model import Clash
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Reading
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand, EffectiveProgram, Orphan, Retired
from amberkey.core.programs.limits import refusals
from amberkey.core.programs.model import CaretPress, Command, MenuLetter, Program
from amberkey.core.tasks.model import Task

Index = dict[Stroke, list[Binding]]
_BY_ORDER = attrgetter("order")


@dataclass(eq=False)
class Part:
    """`first` has the live bindings by the first stroke of each way, `later` by the strokes after it."""

    effective: EffectiveProgram
    ground: Ground
    bindings: list[Binding]
    first: Index = field(default_factory=dict)
    later: Index = field(default_factory=dict)
    several: list[list[Binding]] = field(default_factory=list)
    """The bindings of commands that have more than one."""
    since: "Since | None" = None
    """What it differs in from the program without any layer, where it was made from that."""
    within: list[Clash] | None = None
    """The clashes among the program's own bindings, once somebody has asked for them."""
    meant: list[Clash] | None = None
    """The shadows among them that its maker meant, likewise."""

    @property
    def program(self) -> Program:
        """The program that is laid out."""
        return self.effective.program

    @cached_property
    def caret(self) -> Mapping[Stroke, CaretPress]:
        """The caret presses that this program's text fields know."""
        exceptions = {
            way[0] for s in self.program.caret_exceptions for way in ways_of(s, self.ground.keyboard, self.reads).ways
        }
        return {s: c for s, c in self.ground.caret.items() if s not in exceptions} if exceptions else self.ground.caret

    @cached_property
    def telling(self) -> frozenset[Stroke]:
        """The strokes at which even a binding that shares them with nobody can clash."""
        return self.ground.telling | self.caret.keys() | self.protected.keys() | self.retired.keys() | self.menus.keys()

    @property
    def pad(self) -> bool:
        """Whether the numeric pad answers to the signs on its keys in this program."""
        return self.ground.pad_answers(self.program)

    @cached_property
    def reads(self) -> Reading:
        """What the program goes by on this platform: character, key or position."""
        return self.program.reads_on(self.ground.platform)

    @cached_property
    def protected(self) -> Mapping[Stroke, tuple[Task, ...]]:
        """The strokes of the protected tasks that this program has."""
        has = {c.task for c in self.program.commands if c.task}
        return self.strokes_of_tasks(t for t in self.ground.protected if t.id in has)

    def strokes_of_tasks(self, tasks: Iterable[Task]) -> Mapping[Stroke, tuple[Task, ...]]:
        """The strokes that the usual presses of some tasks are, as this program reads keys."""
        found: dict[Stroke, tuple[Task, ...]] = {}
        for task in tasks:
            for shortcut in task.usual_on(self.ground.platform):
                for way in ways_of(shortcut, self.ground.keyboard, self.reads, self.pad).ways:
                    if len(way) == 1:
                        found[way[0]] = (*found.get(way[0], ()), task)
        return found

    @cached_property
    def retired(self) -> Mapping[Stroke, tuple[Binding, ...]]:
        """The strokes that were given up a short while ago, with the bindings that they were."""
        return self.retired_of(self.effective.retired)

    @cached_property
    def given_up(self) -> Mapping[str, datetime.date]:
        """The day on which a command gave up a key, by command."""
        return {r.command.id: r.since for r in self.effective.retired}

    def retired_of(self, retired: Iterable[Retired]) -> Mapping[Stroke, tuple[Binding, ...]]:
        """Those of some retired shortcuts whose overlap holds today, by stroke, as the bindings that they were."""
        today = self.ground.today
        found: dict[Stroke, tuple[Binding, ...]] = {}
        for one in retired:
            if today is None or not one.since <= today < one.until:
                continue
            ways = ways_of(one.shortcut, self.ground.keyboard, self.reads, self.pad).ways
            binding = Binding(
                *(self.program, one.command, (), one.command.scope, one.shortcut, one.layer, 0, ways),
                asleep=f"given up on {one.since.isoformat()}",
            )
            for way in ways:
                found[way[0]] = (*found.get(way[0], ()), binding)
        return found

    @cached_property
    def strokes(self) -> frozenset[Stroke]:
        """Every stroke of every way of a live binding."""
        return frozenset((*self.first, *self.later))

    @cached_property
    def menus(self) -> Mapping[Stroke, Binding]:
        """What Alt and a menu's letter open, by stroke, on platforms that have such letters: as bindings of a stand-in."""
        if self.ground.platform == "macos" or not self.program.menus:
            return {}
        opened = [("menu-bar", "the menu bar", Press.of(("Alt",)))]
        opened += [(f"menu-{n}", f"the menu {m.name}", _letter(m)) for n, m in enumerate(self.program.menus)]
        commands = tuple(Command(id=i, name=name, scope=self.program.root.id) for i, name, _ in opened)
        program = _menus_of(self.program, commands)
        found: dict[Stroke, Binding] = {}
        for (_, _, press), command in zip(opened, commands, strict=True):
            shortcut = Shortcut((press,))
            ways = ways_of(shortcut, self.ground.keyboard, "key").ways
            for way in ways[:1]:
                found.setdefault(way[0], Binding(program, command, (), command.scope, shortcut, DEFAULT, 0, ways))
        return found

    @cached_property
    def asleep(self) -> Mapping[Stroke, tuple[Binding, ...]]:
        """Bindings that would have a stroke and aren't live, for saying why."""
        found: dict[Stroke, tuple[Binding, ...]] = {}
        for binding in self.bindings:
            if binding.asleep:
                for way in binding.ways:
                    found[way[0]] = (*found.get(way[0], ()), binding)
        return found

    @cached_property
    def cleared(self) -> Mapping[Stroke, tuple[tuple[Command, str], ...]]:
        """Default shortcuts that a layer took away, with the layer that did."""
        found: dict[Stroke, tuple[tuple[Command, str], ...]] = {}
        for one in self.effective.commands:
            if not one.hid:
                continue
            kept = {s for s, _ in one.now.shortcuts}
            for shortcut, _ in one.hid[-1].shortcuts:
                if shortcut not in kept:
                    for way in ways_of(shortcut, self.ground.keyboard, self.reads, self.pad).ways:
                        found[way[0]] = (*found.get(way[0], ()), (one.command, one.now.layer))
        return found

    def with_commands(
        self, changed: Mapping[int, EffectiveCommand], effective: EffectiveProgram, ground: Ground | None = None
    ) -> "Patched":
        """This part with some commands (by their place) in another state; what they don't touch is shared. `ground`: another
        one on which all of this part would be laid out alike."""
        ground = ground or self.ground
        gone: list[Binding] = []
        come: list[Binding] = []
        for place, command in changed.items():
            old = self.effective.commands[place]
            gone += [b for b in self.commanded(old.command.id) if b.arguments == old.arguments]
            come += bindings_of(command, self.program, ground, place)
        replaced = effective.placed != self.effective.placed
        if replaced:
            gone += [b for b in self.bindings if b.placed is not None]
            come += placed_bindings(effective, ground)
        lost = set(map(id, gone))
        bindings = [b for b in self.bindings if b.order not in changed and not (replaced and b.placed is not None)]
        if come:
            bindings += come
            bindings.sort(key=_BY_ORDER)
        part = Part(effective, ground, bindings, dict(self.first), dict(self.later))
        for index in (part.first, part.later):
            for stroke in {s for b in gone for way in b.ways for s in way} & index.keys():
                rest = [b for b in index[stroke] if id(b) not in lost]
                if rest:
                    index[stroke] = rest
                else:
                    del index[stroke]
        touched = {s for b in come for way in b.ways for s in way}
        for index in (part.first, part.later):
            for stroke in touched & index.keys():
                index[stroke] = [*index[stroke]]
        _enter(come, part.first, part.later)
        part.several = [own for own in self.several if id(own[0]) not in lost]
        for place in changed:
            own = [b for b in come if b.order == place]
            if len(own) > 1:
                part.several.append(own)
        for stroke in touched & part.first.keys():
            part.first[stroke].sort(key=_BY_ORDER)
        for name in ("caret", "protected", "reads", "menus"):  # these come of the program alone
            if name in self.__dict__:
                part.__dict__[name] = self.__dict__[name]
        return Patched(part, gone, come)

    def commanded(self, command_id: str) -> list[Binding]:
        """The bindings of a command, in the order of its shortcuts."""
        return self.by_command.get(command_id, [])

    @cached_property
    def by_command(self) -> Mapping[str, list[Binding]]:
        """The bindings by the id of their command; without those that come of where it is placed."""
        found: dict[str, list[Binding]] = {}
        for binding in self.bindings:
            if binding.placed is None:
                found.setdefault(binding.command.id, []).append(binding)
        return found


@dataclass(frozen=True, slots=True)
class Since:
    """What a part differs in from its `base`: the bindings that went and came."""

    base: Part
    gone: list[Binding]
    come: list[Binding]


@dataclass(frozen=True, slots=True)
class Patched:
    """A part in another state, with the bindings that went and came."""

    part: Part
    gone: list[Binding]
    come: list[Binding]


# Programs before so many keyboards keep what they are there without any layer; the earliest goes first.
_KEPT = 128


def lay_out(effective: EffectiveProgram, ground: Ground) -> Part:
    """Lay every binding of a program out by stroke. Where layers say little of it, only that is laid out: the rest is shared by
    all setups that have the program before such a keyboard."""
    changed = effective.changed
    if changed is None or 2 * len(changed) > len(effective.commands):
        return _laid_out(effective, ground)
    base = _base(effective, ground)
    patched = base.with_commands({n: effective.commands[n] for n in changed}, effective, ground)
    patched.part.since = Since(base, patched.gone, patched.come)
    return patched.part


def _base(effective: EffectiveProgram, ground: Ground) -> Part:
    """The program without any layer. It stands on a ground of its own that has the same keyboard, conditions, system and tasks,
    which is all that its bindings and what clashes among them depend on."""
    program = effective.program
    key = (id(effective.plain), ground.keyboard, ground.here, ground.open_documents, id(ground.system), id(ground.tasks))
    found = program.laid.get(key)
    if found is None:
        found = _laid_out(EffectiveProgram(program, effective.plain, (), ()), ground)
        program.laid[key] = found
        while len(program.laid) > _KEPT:
            program.laid.pop(next(iter(program.laid)), None)
    return cast(Part, found)


def _laid_out(effective: EffectiveProgram, ground: Ground) -> Part:
    part = Part(effective, ground, [])
    program, keyboard, bindings = effective.program, ground.keyboard, part.bindings
    reads, pad = part.reads, part.pad
    asking = {c.id for c in program.commands} if ground.here.off else program.asking
    for order, one in enumerate(effective.commands):
        layer, shortcuts, _ = one.now
        if len(shortcuts) == 1 and layer is DEFAULT and one.command.id not in asking:  # as nearly all are
            ((shortcut, scope),) = shortcuts
            ways, unreachable = ways_of(shortcut, keyboard, reads, pad)
            bindings.append(Binding(program, one.command, (), scope, shortcut, layer, order, ways, unreachable))
        elif shortcuts:
            own = list(bindings_of(one, program, ground, order))
            bindings.extend(own)
            if len(own) > 1:
                part.several.append(own)
    bindings.extend(placed_bindings(effective, ground))
    _enter(bindings, part.first, part.later)
    return part


def _enter(bindings: Iterable[Binding], first: Index, later: Index) -> None:
    for binding in bindings:
        if not binding.ways or binding.refused or binding.asleep:
            continue
        ways = binding.ways
        if len(ways) == 1 and len(ways[0]) == 1:  # as nearly all are
            stroke = ways[0][0]
            if stroke in first:
                first[stroke].append(binding)
            else:
                first[stroke] = [binding]
            continue
        for stroke in dict.fromkeys(way[0] for way in ways):
            first.setdefault(stroke, []).append(binding)
        for stroke in dict.fromkeys(s for way in ways for s in way[1:]):
            later.setdefault(stroke, []).append(binding)


def bindings_of(effective: EffectiveCommand, program: Program, ground: Ground, order: int) -> Iterator[Binding]:
    """The bindings of one command as its effective settings have them."""
    command, (layer, shortcuts, _) = effective.command, effective.now
    reads, pad = program.reads_on(ground.platform), ground.pad_answers(program)
    asleep = ground.why_asleep(program, command, own=layer != DEFAULT)
    why_refused = refusals(program, tuple([s for s, _ in shortcuts]), ground.keyboard) if layer != DEFAULT else repeat("")
    for (shortcut, scope), refused in zip(shortcuts, why_refused, strict=False):
        ways, unreachable = ways_of(shortcut, ground.keyboard, reads, pad)
        yield Binding(
            *(program, command, effective.arguments, scope, shortcut, layer, order, ways, unreachable, refused, asleep)
        )


def placed_bindings(effective: EffectiveProgram, ground: Ground) -> Iterator[Binding]:
    """The bindings that come of where commands are placed, and of macros. They stand behind those of commands."""
    program, keyboard = effective.program, ground.keyboard
    reads, pad = program.reads_on(ground.platform), ground.pad_answers(program)
    for order, one in enumerate(effective.placed, len(effective.commands)):
        if one.lost:
            continue
        refused = one.refused
        if one.own and not refused:
            refused = next(iter(refusals(program, (one.shortcut,), keyboard)))
        ways, unreachable = ways_of(one.shortcut, keyboard, reads, pad) if one.shortcut.presses else ((), "")
        asleep = ground.why_asleep(program, one.command, own=True)
        yield Binding(
            *(program, one.command, (), one.scope, one.shortcut, one.layer, order, ways, unreachable, refused, asleep, one)
        )


def _letter(menu: MenuLetter) -> Press:
    return Press.of(("Alt",), case_of_key(menu.letter))


def _menus_of(program: Program, commands: tuple[Command, ...]) -> Program:
    """The stand-in whose commands are the menus of a program."""
    return program.model_copy(
        update={"id": MENUS, "commands": commands, "menus": (), "name": f"The menu bar of {program.name}", "kind": "office"}
    )


def placeholder(orphan: Orphan, effective: EffectiveProgram | None, platform: Platform) -> Binding:
    """A binding that stands for an entry whose program, command or scope isn't there."""
    entry = orphan.entry
    program = effective.program if effective else _stand_in(entry.program, platform)
    command = program.command(entry.command) or _stand_in(entry.program, platform, entry.command).commands[0]
    given = entry.shortcuts[0] if entry.shortcuts else None
    scope = program.root.id
    if given is not None and given.scope is not None:
        scope = given.scope
    elif program.has_scope(command.scope):
        scope = command.scope
    shortcut = given.keys if given else Shortcut(())
    arguments = tuple(sorted(entry.arguments.items()))
    return Binding(program, command, arguments, scope, shortcut, orphan.layer, 0, (), asleep=orphan.what)


def _stand_in(program_id: str, platform: Platform, command_id: str = "command") -> Program:
    return Program.model_validate(
        {
            "id": program_id,
            "name": program_id,
            "version": "?",
            "kind": "business",
            "platforms": [platform],
            "scopes": [{"id": "window", "name": "Window"}],
            "commands": [{"id": command_id, "name": command_id, "scope": "window"}],
        }
    )
