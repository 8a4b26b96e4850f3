"""What an upgrade means for everybody whose setups have the old version: worked out on the estate as it would be."""

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.model import Entry
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Command, Program
from amberkey.core.standard.model import Standard
from amberkey.core.upgrading.changes import Changes, Renamed


@dataclass(frozen=True, slots=True)
class OwnEntry:
    """What a profile says of a command, that the upgrade touches."""

    profile: str
    entry: Entry
    command: Command


@dataclass(frozen=True, slots=True)
class Surprise:
    """A press that people have in their fingers and that does something else now, or nothing (`now` None), as their keyboards
    word it."""

    keys: str
    was: Command
    now: Command | None
    setups: tuple[Setup, ...]
    people: int


@dataclass(frozen=True, slots=True)
class Meaning:
    """`setups`: those that would upgrade. `spare`: entries that say what the new default says; `orphans`: whose command is
    gone. `follow`, `lost`: tasks that the standard has a key for and that the new version does and the old one didn't, or the
    other way round."""

    setups: tuple[Setup, ...]
    people: int
    after: Estate
    spare: tuple[OwnEntry, ...]
    orphans: tuple[OwnEntry, ...]
    surprises: tuple[Surprise, ...]
    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    follow: tuple[str, ...]
    lost: tuple[str, ...]


def accepted(changes: Changes, taken: Collection[str] | None = None) -> Program:
    """The new version with proposed renamings said in it (`taken`: the old ids of those that are; None: all), so that what was
    set for the old commands holds for the new ones."""
    more: dict[str, list[str]] = {}
    for one in changes.renamed:
        if not one.known and (taken is None or one.old.id in taken):
            more.setdefault(one.new.id, []).append(one.old.id)
    if not more:
        return changes.new
    commands = tuple(
        c.model_copy(update={"was": tuple(sorted({*c.was, *more[c.id]}))}) if c.id in more else c for c in changes.new.commands
    )
    return changes.new.model_copy(update={"commands": commands})


def meaning_of(estate: Estate, changes: Changes, new: Program, standard: Standard | None = None) -> Meaning:
    """What the upgrade means. `new`: the new version as it would be kept, see `accepted`."""
    old = changes.old
    upgrading = {i: s for i, s in estate.setups.items() if any((u.id, u.version) == (old.id, old.version) for u in s.programs)}
    after = replace(
        estate,
        setups={i: _upgraded(s, old, new) if i in upgrading else s for i, s in estate.setups.items()},
        programs={**estate.programs, (old.id, old.version): old, (new.id, new.version): new},
    )
    solves, makes = after.new_in(estate, upgrading), estate.new_in(after, upgrading)
    both = {_told(g, changes.same) for g in solves} & {_told(g, {}) for g in makes}
    ruled = {line.task for line in standard.lines} if standard is not None else set()
    was, now = ({c.task for c in p.commands if c.task is not None and not c.retired} for p in (old, new))
    return Meaning(
        setups=tuple(upgrading.values()),
        people=estate.people_of(upgrading.values()),
        after=after,
        spare=tuple(_spare(estate, old, new, upgrading)),
        orphans=tuple(_orphans(estate, old, new, upgrading)),
        surprises=_surprises(estate, after, new, upgrading),
        solves=tuple(g for g in solves if _told(g, changes.same) not in both),
        makes=tuple(g for g in makes if _told(g, {}) not in both),
        follow=tuple(sorted((now - was) & ruled)),
        lost=tuple(sorted((was - now) & ruled)),
    )


def _told(group: Group, same: Mapping[str, str]) -> tuple[object, ...]:
    """What makes two clashes the same where a command has another id: the ids of the new version."""
    parties = frozenset((b.program.id, same.get(b.command.id, b.command.id), b.scope) for b in group.clash.parties)
    return group.clash.kind, group.clash.stroke, parties


def _upgraded(setup: Setup, old: Program, new: Program) -> Setup:
    used = tuple(
        u.model_copy(update={"version": new.version}) if (u.id, u.version) == (old.id, old.version) else u
        for u in setup.programs
    )
    return setup.model_copy(update={"programs": used})


def _entries(estate: Estate, program: str, setups: Mapping[str, Setup]) -> Iterator[tuple[str, Entry]]:
    """The entries for a program in the layers of some setups."""
    layers = dict.fromkeys(layer for setup in setups.values() for layer in setup.layers)
    for layer in layers:
        if layer in estate.profiles:
            for entry in estate.profiles[layer].all_entries:
                if entry.program == program:
                    yield layer, entry


def _spare(estate: Estate, old: Program, new: Program, setups: Mapping[str, Setup]) -> Iterator[OwnEntry]:
    for layer, entry in _entries(estate, old.id, setups):
        command, before = new.command(entry.command), old.command(entry.command)
        if command is None or command.retired or entry.arguments or entry.locked:
            continue
        said = tuple(g.keys for g in entry.shortcuts)
        elsewhere = any(g.scope is not None for g in entry.shortcuts)
        before_said = before.defaults_on(entry.platform) if before is not None else None
        if not elsewhere and command.defaults_on(entry.platform) == said != before_said:
            yield OwnEntry(layer, entry, command)


def _orphans(estate: Estate, old: Program, new: Program, setups: Mapping[str, Setup]) -> Iterator[OwnEntry]:
    for layer, entry in _entries(estate, old.id, setups):
        before, command = old.command(entry.command), new.command(entry.command)
        if before is not None and not before.retired and (command is None or command.retired):
            yield OwnEntry(layer, entry, before)


def _surprises(estate: Estate, after: Estate, new: Program, setups: Mapping[str, Setup]) -> tuple[Surprise, ...]:
    found: dict[tuple[Shortcut, str, str | None], tuple[str, Command, Command | None, list[Setup]]] = {}
    known: dict[tuple[int, int], list[tuple[Shortcut, Command, Command | None]]] = {}
    for setup_id, setup in sorted(setups.items(), key=lambda s: -s[1].people):  # told in the words of most people
        board, then = estate.board(setup_id), after.board(setup_id)
        before, part = board.parts.get(new.id), then.parts.get(new.id)
        if before is None or part is None:
            continue
        key = (id(before), id(part))
        if key not in known:
            known[key] = [*_otherwise(before, part)]
        for shortcut, was, now in known[key]:
            at = (shortcut, was.id, now.id if now else None)
            found.setdefault(at, (say_shortcut(shortcut, board), was, now, []))[3].append(setup)
    surprises = (Surprise(keys, was, now, tuple(having), estate.people_of(having)) for keys, was, now, having in found.values())
    return tuple(sorted(surprises, key=lambda s: (-s.people, s.keys, s.was.id)))


def _otherwise(before: Part, part: Part) -> Iterator[tuple[Shortcut, Command, Command | None]]:
    """The presses of a part that do something else in another one, or nothing; a command under another id is the same one."""
    then = _first(part)
    scopes = {s.name: s.id for s in part.program.scopes}
    seen: set[tuple[str, Shortcut]] = set()
    for (scope, way), binding in _first(before).items():
        around = part.program.outward(scopes[scope]) if scope in scopes else (part.program.root,)
        now = next((then[s.name, way].command for s in around if (s.name, way) in then), None)
        was = binding.command
        same = part.program.command(was.id)
        if now is not None and now.id in (was.id, same.id if same else was.id):
            continue
        if (was.id, binding.shortcut) not in seen:
            seen.add((was.id, binding.shortcut))
            yield binding.shortcut, was, now


def _first(part: Part) -> dict[tuple[str, tuple[Stroke, ...]], Binding]:
    """By scope and strokes, the first live binding that has them."""
    found: dict[tuple[str, tuple[Stroke, ...]], Binding] = {}
    for binding in part.bindings:
        if not binding.asleep and not binding.refused:
            scope = part.program.scope(binding.scope).name
            for way in binding.ways[:1]:
                found.setdefault((scope, way), binding)
    return found


def proposed(changes: Changes) -> tuple[Renamed, ...]:
    """The renamings that the new version doesn't say itself."""
    return tuple(one for one in changes.renamed if not one.known)
