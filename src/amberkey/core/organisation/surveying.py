"""What people have set for themselves, found in their settings files: who has it, and for which layer it would be something.

An own change is a command's shortcuts in somebody's file that are neither the program's defaults nor what their layers give
them. It is proposed for the widest profile of whose people, as far as their files were seen, at least half have it and at least
three; else it stays with each who has it.
"""

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from amberkey.core.documents.canonical import Json, canonical_bytes, digest_of
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.organisation.layers import layers_of
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.effective import EffectiveCommand
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.programs.model import Program

FEWEST = 3
SHARE = 0.5


@dataclass(frozen=True, slots=True)
class FromFile:
    """What a person's file says of a program, where that isn't the default: by the id of a command."""

    person: str
    program: str
    platform: Platform
    said: Mapping[str, tuple[Shortcut, ...]]


@dataclass(frozen=True, slots=True)
class LayerShare:
    """How many of those who have a profile, and whose files were seen, have a change."""

    profile: str
    having: int
    seen: int


@dataclass(frozen=True, slots=True)
class OwnChange:
    """What some people have set for themselves. `people`: their ids, in order. `layers`: the profiles that they share, the
    widest first; `proposed`: the one that it would be something for, "" where it is each one's own."""

    program: str
    platform: Platform
    command: str
    shortcuts: tuple[Shortcut, ...]
    people: tuple[str, ...]
    layers: tuple[LayerShare, ...]
    proposed: str

    @property
    def id(self) -> str:
        """16 hexadecimal digits that name it, whoever has it."""
        said = [self.program, self.platform, self.command, *(s.to_document() for s in self.shortcuts)]
        return digest_of(canonical_bytes(cast(Json, said)))[:16]


def not_default(
    program: Program, platform: Platform, said: Mapping[str, tuple[Shortcut, ...]]
) -> dict[str, tuple[Shortcut, ...]]:
    """Of what a file says, by the program's commands, what isn't as the program ships."""
    found = {}
    for command_id, shortcuts in said.items():
        command = program.command(command_id)
        if command is not None and frozenset(shortcuts) != frozenset(command.defaults_on(platform)):
            found[command.id] = shortcuts
    return found


def own_changes(
    seen: Iterable[FromFile], setups: Mapping[str, Sequence[ResolvedSetup]], organisation: Organisation
) -> list[OwnChange]:
    """The own changes of people, those that most have first.

    `setups`: by person, what holds for them on each of their setups, in order: the first on which the program runs counts.
    """
    having: dict[tuple[str, Platform, str, tuple[Shortcut, ...]], set[str]] = {}
    reached: dict[tuple[str, Platform], set[str]] = {}
    for one in seen:
        given = _given(setups.get(one.person, ()), one.program, one.platform)
        if given is None:
            continue
        reached.setdefault((one.program, one.platform), set()).add(one.person)
        for command_id, shortcuts in one.said.items():
            effective = given.get(command_id)
            if effective is None or frozenset(shortcuts) == frozenset(s for s, _ in effective.now.shortcuts):
                continue
            having.setdefault((one.program, one.platform, command_id, shortcuts), set()).add(one.person)
    profiles = _profiles_by_person(organisation)
    found = []
    for (program, platform, command_id, shortcuts), people in having.items():
        layers = _layers(people, reached[program, platform], profiles)
        proposed = next((s.profile for s in layers if s.having >= FEWEST and s.having >= SHARE * s.seen), "")
        found.append(OwnChange(program, platform, command_id, shortcuts, tuple(sorted(people)), layers, proposed))
    return sorted(found, key=lambda c: (-len(c.people), c.program, c.platform, c.command, c.id))


def _given(setups: Sequence[ResolvedSetup], program: str, platform: Platform) -> dict[str, EffectiveCommand] | None:
    for setup in setups:
        if setup.setup.works_on == platform and program in setup.commands:
            return {one.command.id: one for one in setup.commands[program]}
    return None


def _profiles_by_person(organisation: Organisation) -> dict[str, tuple[str, ...]]:
    """The profiles of each person that others may have too, the widest first: everybody's, the departments', the roles'."""
    found: dict[str, dict[str, None]] = {}
    for seat in organisation.seats:
        person, machine = organisation.people_by_id[seat.person], organisation.machines_by_id[seat.machine]
        for layer in layers_of(organisation, person, machine):
            if any(b.through in ("everybody", "department", "role") for b in layer.because):
                found.setdefault(person.id, {})[layer.profile] = None
    return {person: tuple(layers) for person, layers in found.items()}


def _layers(
    people: Collection[str], reached: Collection[str], profiles: Mapping[str, tuple[str, ...]]
) -> tuple[LayerShare, ...]:
    seen = Counter(p for person in reached for p in profiles.get(person, ()))
    having = Counter(p for person in people for p in profiles.get(person, ()))
    order = {p: n for layers in profiles.values() for n, p in enumerate(layers)}
    shares = [LayerShare(p, having[p], seen[p]) for p in having]
    return tuple(sorted(shares, key=lambda s: (-s.seen, order[s.profile], s.profile)))


def with_change(profile: Profile, change: OwnChange, program: Program) -> Profile:
    """A profile that says what a change says, in place of what it said of that command for all layouts."""
    command = program.command(change.command)
    default = tuple(command.defaults_on(change.platform)) if command is not None else ()
    entries, placed = [], False
    for entry in profile.entries:
        same = (entry.program, entry.command, entry.platform) == (change.program, change.command, change.platform)
        if not same or entry.layouts or entry.arguments:
            entries.append(entry)
        elif not placed:
            entries.append(entry.model_copy(update={"shortcuts": _as_given(change)}))
            placed = True
    if not placed:
        entries.append(
            Entry(
                program=change.program,
                command=change.command,
                platform=change.platform,
                shortcuts=_as_given(change),
                over=default,
            )
        )
    return profile.model_copy(update={"entries": tuple(entries)})


def _as_given(change: OwnChange) -> tuple[Given, ...]:
    return tuple(Given(keys=s) for s in change.shortcuts)
