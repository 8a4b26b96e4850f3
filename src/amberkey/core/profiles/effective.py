"""Effective settings of one program: its defaults under the entries of some layers.

The nearest layer wins, entry by entry, unless a further one locked the entry or reserved the stroke; within one layer an entry
for the very layout beats one for all layouts.
"""

import datetime
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple, TypeAlias, cast

from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.profiles.guard import Guard, Held
from amberkey.core.profiles.model import Entry, LayerEntries
from amberkey.core.profiles.placing import Placed, placed_in
from amberkey.core.programs.model import Command, Program

__all__ = ["DEFAULT", "Arguments", "EffectiveCommand", "EffectiveProgram", "Orphan", "Refused", "Retired", "Set"]
Arguments: TypeAlias = tuple[tuple[str, str | int], ...]


class Set(NamedTuple):
    """One layer's word on a command: the shortcuts with the scopes they are live in, and since when."""

    layer: str
    shortcuts: tuple[tuple[Shortcut, str], ...]
    since: datetime.date | None = None


class Refused(NamedTuple):
    """What a layer said in vain, and what was against it."""

    said: Set
    held: Held


class EffectiveCommand(NamedTuple):
    """A command (with the arguments of a template, if it is one), what holds for it now, and what that hid, nearest first.

    `refused`: what nearer layers said in vain, since a further one locked the command or reserved the press.
    """

    program: str
    command: Command
    now: Set
    hid: tuple[Set, ...]
    arguments: Arguments = ()
    refused: tuple[Refused, ...] = ()


@dataclass(frozen=True, slots=True)
class Orphan:
    """An entry that names what isn't there: `what` says which, in words."""

    entry: Entry
    layer: str
    what: str


@dataclass(frozen=True, slots=True)
class Retired:
    """A key that a command gave up on a day, and the last day on which it should not mean something else."""

    command: Command
    shortcut: Shortcut
    layer: str
    since: datetime.date
    until: datetime.date


@dataclass(frozen=True, eq=False)
class EffectiveProgram:
    """Everything that one program does with keys for some layers, layout and platform."""

    program: Program
    commands: tuple[EffectiveCommand, ...]
    orphans: tuple[Orphan, ...]
    retired: tuple[Retired, ...]
    plain: tuple[EffectiveCommand, ...] = ()
    """The same commands where no layer says anything."""
    changed: tuple[int, ...] | None = None
    """The places of those that layers say something of; None where the commands don't stand at the places of `plain`."""
    placed: tuple[Placed, ...] = ()
    """Keys that come of where layers place commands, and of macros."""

    @cached_property
    def by_task(self) -> Mapping[str, EffectiveCommand]:
        """By task, the command that stands for it: the first that does it and is there. Templates don't count."""
        found: dict[str, EffectiveCommand] = {}
        for one in self.commands:
            task = one.command.task
            if task is not None and task not in found and not one.arguments:
                found[task] = one
        return found

    @cached_property
    def all_by_task(self) -> Mapping[str, tuple[EffectiveCommand, ...]]:
        """By task, all commands that do it and are there, in their order. Templates don't count."""
        found: dict[str, list[EffectiveCommand]] = {}
        for one in self.commands:
            if one.command.task is not None and not one.arguments:
                found.setdefault(one.command.task, []).append(one)
        return {task: tuple(commands) for task, commands in found.items()}

    @cached_property
    def places(self) -> Mapping[tuple[str, Arguments], int]:
        """Where a command with its arguments stands among `commands`."""
        return {(c.command.id, c.arguments): n for n, c in enumerate(self.commands)}


def effective_program(
    program: Program,
    platform: Platform,
    edition: str,
    layers: Sequence[LayerEntries],
    add_ons: tuple[str, ...] = (),
    guard: Guard | None = None,
) -> EffectiveProgram:
    """A program's commands under the given layers, the farthest first."""
    by_command: dict[tuple[str, Arguments], list[tuple[LayerEntries, Entry]]] = {}
    orphans: list[Orphan] = []
    for layer in layers:
        for entry in layer.entries:
            command = program.command(entry.command)
            if command is None:
                orphans.append(Orphan(entry, layer.layer, f"{program.name} has no command {entry.command}"))
                continue
            why = f"{command.name} is retired in {program.name}" if command.retired else command.why_not_with(entry.arguments)
            if why:
                orphans.append(Orphan(entry, layer.layer, why))
                continue
            gone = [g.scope for g in entry.shortcuts if g.scope is not None and not program.has_scope(g.scope)]
            if gone:
                orphans.append(Orphan(entry, layer.layer, f"{program.name} has no scope {gone[0]}"))
            arguments = tuple(sorted(entry.arguments.items())) if entry.arguments else ()
            by_command.setdefault((command.id, arguments), []).append((layer, entry))
    plain, places = _plain(program, platform, edition, add_ons)
    placed = placed_in(program, platform, layers, guard)
    if not any(arguments for _, arguments in by_command):
        changed = sorted(places[command_id] for command_id, _ in by_command if command_id in places)
        own = list(plain)
        gave_up: list[Retired] = []
        for place in changed:
            command = plain[place].command
            said = by_command[command.id, ()]
            own[place] = effective_command(program, command, (), platform, said, guard, plain[place].now)
            gave_up.extend(retired_by(command, own[place], said))
        now = tuple(own) if changed else plain
        return EffectiveProgram(program, now, tuple(orphans), tuple(gave_up), plain, tuple(changed), placed)
    templates: dict[str, list[Arguments]] = {}
    for command_id, arguments in by_command:
        if arguments:
            templates.setdefault(command_id, []).append(arguments)
    touched = {command_id for command_id, _ in by_command}
    commands: list[EffectiveCommand] = []
    retired: list[Retired] = []
    for one in plain:
        command = one.command
        if command.id not in touched:
            commands.append(one)
            continue
        for arguments in ((), *templates.get(command.id, ())):
            words = by_command.get((command.id, arguments), ())
            commands.append(effective_command(program, command, arguments, platform, words, guard))
            if words:
                retired.extend(retired_by(command, commands[-1], words))
    return EffectiveProgram(program, tuple(commands), tuple(orphans), tuple(retired), placed=placed)


class _Plain(NamedTuple):
    """The commands of a program where no layer says anything, and by their ids where they stand."""

    commands: tuple[EffectiveCommand, ...]
    places: Mapping[str, int]


def _plain(program: Program, platform: Platform, edition: str, add_ons: tuple[str, ...]) -> _Plain:
    """The commands with their defaults, as every setup has them that sets none."""
    key = (platform, edition, add_ons)
    found = program.plain.get(key)
    if found is None:
        there = [c for c in program.commands if program.is_there(c, edition, add_ons)]
        commands = tuple([effective_command(program, command, (), platform, ()) for command in there])
        found = program.plain[key] = _Plain(commands, {c.id: n for n, c in enumerate(there)})
    return cast(_Plain, found)


def effective_command(
    program: Program,
    command: Command,
    arguments: Arguments,
    platform: Platform,
    said: Sequence[tuple[LayerEntries, Entry]],
    guard: Guard | None = None,
    shipped: Set | None = None,
) -> EffectiveCommand:
    """One command under what some layers said of it, the farthest first. `shipped`: what it is without any, where that is known
    already."""
    now = shipped
    if now is None:
        now = Set(DEFAULT, () if arguments else tuple([(s, command.scope) for s in command.defaults_on(platform)]))
    if not said:
        return EffectiveCommand(program.id, command, now, (), arguments)
    if command.was:  # in one layer, an entry under the present name counts over one under an old name
        order = {layer.layer: n for n, (layer, _) in enumerate(said)}
        said = sorted(said, key=lambda s: (order[s[0].layer], s[1].command == command.id))
    hid: list[Set] = []
    refused: list[Refused] = []
    locked = ""
    for layer, entry in said:
        word = _set(layer.layer, entry, command, program)
        held = Held(locked, "locked") if locked and locked != layer.layer else None
        if held is None and guard is not None:
            has = [s for s, _ in now.shortcuts]
            held = guard.against(layer.layer, program, command.task, [s for s, _ in word.shortcuts], has)
        if held is not None:
            refused.append(Refused(word, held))
            continue
        hid.append(now)
        now = word
        locked = layer.layer if entry.locked else locked
    return EffectiveCommand(program.id, command, now, tuple(reversed(hid)), arguments, tuple(refused))


def _set(layer: str, entry: Entry, command: Command, program: Program) -> Set:
    own = command.scope  # which its program has
    given = [(g.keys, g.scope or own) for g in entry.shortcuts if g.scope is None or program.has_scope(g.scope)]
    return Set(layer, tuple(given), entry.since)


def retired_by(command: Command, effective: EffectiveCommand, said: Sequence[tuple[LayerEntries, Entry]]) -> Iterator[Retired]:
    """The keys that a command gave up by dated entries."""
    kept = {shortcut for shortcut, _ in effective.now.shortcuts}
    vain = {r.said.layer for r in effective.refused}
    for layer, entry in said:
        if entry.since is None or layer.layer in vain:
            continue
        until = entry.since + datetime.timedelta(days=layer.overlap_days)
        for shortcut in entry.over:
            if shortcut not in kept:
                yield Retired(command, shortcut, layer.layer, entry.since, until)
