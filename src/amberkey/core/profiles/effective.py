"""Effective settings: a program's defaults under the layers of a setup.

The nearest layer wins, entry by entry; within one layer an entry for the very layout beats one for all layouts.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.bodies import Body, load_body
from amberkey.core.layouts.layout import Layout, load_layout
from amberkey.core.profiles.errors import MissingPart
from amberkey.core.profiles.model import Entry, Profile, Setup
from amberkey.core.programs.model import Command, Program

DEFAULT = "default"


@dataclass(frozen=True, slots=True)
class Set:
    """One layer's word on a command: the shortcuts with the scopes they are live in."""

    layer: str
    shortcuts: tuple[tuple[Shortcut, str], ...]


@dataclass(frozen=True, slots=True)
class EffectiveCommand:
    """A command with what holds for it now, and what that hid, nearest first."""

    program: str
    command: Command
    now: Set
    hid: tuple[Set, ...]


@dataclass(frozen=True)
class ResolvedSetup:
    """A setup with everything it names at hand, and the effective settings of each of its programs."""

    setup: Setup
    layout: Layout
    body: Body
    programs: tuple[Program, ...]
    commands: Mapping[str, tuple[EffectiveCommand, ...]]

    def program(self, program_id: str) -> Program | None:
        return next((p for p in self.programs if p.id == program_id), None)


def resolve_setup(setup: Setup, programs: Mapping[tuple[str, str], Program], profiles: Mapping[str, Profile]) -> ResolvedSetup:
    """`programs` by (id, version), `profiles` by id. Raises MissingPart, UnknownLayout, UnknownBody."""
    found: list[Program] = []
    for used in setup.programs:
        program = programs.get((used.id, used.version))
        if program is None:
            raise MissingPart(setup.id, "program", f"{used.id} {used.version}")
        found.append(program)
    layers: list[Profile] = []
    for layer in setup.layers:
        profile = profiles.get(layer)
        if profile is None:
            raise MissingPart(setup.id, "profile", layer)
        layers.append(profile)
    chosen = [_entries_for(setup, profile) for profile in layers]
    return ResolvedSetup(
        setup=setup,
        layout=load_layout(setup.layout, setup.platform),
        body=load_body(setup.body),
        programs=tuple(found),
        commands={p.id: _effective(p, setup, list(zip(layers, chosen, strict=True))) for p in found},
    )


def _entries_for(setup: Setup, profile: Profile) -> dict[tuple[str, str], Entry]:
    found: dict[tuple[str, str], Entry] = {}
    for entry in profile.entries:
        if entry.platform != setup.platform or entry.arguments:
            continue
        if entry.layouts and setup.layout not in entry.layouts:
            continue
        at = (entry.program, entry.command)
        if at not in found or entry.layouts:
            found[at] = entry
    return found


def _effective(
    program: Program, setup: Setup, layers: list[tuple[Profile, dict[tuple[str, str], Entry]]]
) -> tuple[EffectiveCommand, ...]:
    result = []
    for command in program.commands:
        if command.editions and setup.edition not in command.editions:
            continue
        sets = [Set(DEFAULT, tuple((s, command.scope) for s in command.defaults_on(setup.platform)))]
        for profile, entries in layers:
            for name in (*command.was, command.id):
                entry = entries.get((program.id, name))
                if entry is not None:
                    sets.append(Set(profile.id, tuple((g.keys, g.scope or command.scope) for g in entry.shortcuts)))
        result.append(EffectiveCommand(program.id, command, sets[-1], tuple(reversed(sets[:-1]))))
    return tuple(result)
