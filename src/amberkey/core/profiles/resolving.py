"""Putting a setup together: every document that it names, and what follows from its layers."""

from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, NamedTuple

from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.layouts.bodies import Body, load_body, with_special_row
from amberkey.core.layouts.errors import RemapError
from amberkey.core.layouts.keyboard import Keyboard, keyboard_of, sides_in
from amberkey.core.layouts.layout import Layout, load_layout
from amberkey.core.layouts.remaps import Remaps, check_remaps
from amberkey.core.layouts.sides import NO_SIDES, Sides
from amberkey.core.profiles.abbreviations import Abbreviation, in_effect
from amberkey.core.profiles.effective import (
    EffectiveCommand,
    EffectiveProgram,
    Orphan,
    effective_program,
)
from amberkey.core.profiles.errors import MissingPart, UnfitPart
from amberkey.core.profiles.guard import Guard, guard_of
from amberkey.core.profiles.input_methods import presses_of
from amberkey.core.profiles.macros import Macro
from amberkey.core.profiles.menu_groups import MenuGroup
from amberkey.core.profiles.model import Arranged, Entry, Launcher, Profile, Translation
from amberkey.core.profiles.preferences import Preference, Preferred, preferred
from amberkey.core.profiles.setup import ProgramUsed, Setup
from amberkey.core.profiles.shelves import Shelf
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import NO_TASKS, Tasks

Arranging = Literal["shelves", "menu_groups", "macros"]
Programs = Mapping[tuple[str, str], Program]
# One program under some entries, by everything that it depends on.
Cache = dict[tuple[object, ...], EffectiveProgram]


@dataclass(frozen=True, eq=False)
class ResolvedSetup:
    """A setup with everything it names at hand.

    `effective` by program id, in the order in which the programs start. `launchers`, `translations` and `orphans` with the
    layer that has them. `far` is the far machine's system in a remote session; `keyboard` is as the programs read it there, and
    `near` as this machine's own system does (without such a session the same).
    """

    setup: Setup
    keyboard: Keyboard
    near: Keyboard
    effective: Mapping[str, EffectiveProgram]
    launchers: tuple[tuple[Launcher, str], ...]
    translations: tuple[tuple[Translation, str], ...]
    orphans: tuple[Orphan, ...]
    far: EffectiveProgram | None
    tasks: Tasks
    guard: Guard | None = None
    remapped_by: Mapping[str, str] = field(default_factory=dict)
    """By the code of a remapped key, the layer that says so."""
    abbreviations: tuple[tuple[Abbreviation, str], ...] = ()
    """Those in effect, with the layer that has them."""
    preferences_said: tuple[tuple[str, tuple[Preference, ...]], ...] = ()
    """By layer, the farthest first, what each says of preferences."""
    arranged_said: Mapping[str, tuple[tuple[str, Arranged], ...]] = field(default_factory=dict)
    """By program and layer, the farthest first, what each arranges."""

    @property
    def layout(self) -> Layout:
        """The layout of its keyboard."""
        return self.keyboard.layout

    @property
    def body(self) -> Body:
        """The body of its keyboard."""
        return self.keyboard.body

    @property
    def remaps(self) -> Remaps:
        """The remaps of its keyboard."""
        return self.keyboard.remaps

    @property
    def programs(self) -> tuple[Program, ...]:
        """The documents of the programs that the setup has, the system among them."""
        return tuple(e.program for e in self.effective.values())

    def program(self, program_id: str) -> Program | None:
        """The program with that id, or None where the setup has none."""
        found = self.effective.get(program_id)
        return found.program if found else None

    @cached_property
    def _systems(self) -> tuple[tuple[Program, str, str], ...]:
        """The tables of this machine's system and of the far one's, with the edition and version that the setup names."""
        here = [(p, self.setup.edition, self.setup.edition_version) for p in self.programs if p.kind == "system"][:1]
        remote = self.setup.remote
        there = [(self.far.program, remote.edition or _there(self.setup).edition, "")] if self.far and remote else []
        return (*here, *there)

    @cached_property
    def version(self) -> str:
        """The version of this machine's edition, by which its table's entries are told; empty: the newest."""
        table = next((t for t in self._systems if t[0].id in self.effective), None)
        return table[0].read_edition(*table[1:]).version if table else ""

    @cached_property
    def far_version(self) -> str:
        """The same of the far machine in a remote session; of this one where there is none."""
        if self.far is None:
            return self.version
        return self._systems[-1][0].read_edition(*self._systems[-1][1:]).version

    @property
    def unknown(self) -> tuple[str, ...]:
        """What no data here knows of the setup, in sentences: an edition that no entry of its system's table names."""
        found = []
        for table, named, version in self._systems:
            read = table.read_edition(named, version)
            if table.known_editions and named and not read.known:
                known = ", ".join(e.name for e in table.known_editions)
                found.append(
                    f"{table.name} {table.version} knows no edition {named}; it knows {known}. "
                    f"Only what holds in all editions is judged."
                )
        return tuple(found)

    def nearest(self, program_id: str, section: Arranging) -> list[tuple[Shelf | MenuGroup | Macro, str]]:
        """What layers arrange in a program, of each item the nearest layer's word, with the layer."""
        found: dict[str, tuple[Shelf | MenuGroup | Macro, str]] = {}
        for layer, arranged in self.arranged_said.get(program_id, ()):
            items: tuple[Shelf | MenuGroup | Macro, ...] = getattr(arranged, section)
            found.update({item.key: (item, layer) for item in items})
        return list(found.values())

    def preferences(self, program_id: str) -> tuple[Preferred, ...]:
        """The preferences of a program in effect."""
        program = self.effective[program_id].program
        return preferred(program, self.setup.works_on, self.preferences_said) if program.offers.preferences else ()

    @cached_property
    def commands(self) -> Mapping[str, tuple[EffectiveCommand, ...]]:
        """By program id, the effective settings of its commands."""
        return {i: e.commands for i, e in self.effective.items()}


def resolve_setup(
    setup: Setup,
    programs: Programs,
    profiles: Mapping[str, Profile],
    tasks: Tasks = NO_TASKS,
    cache: Cache | None = None,
) -> ResolvedSetup:
    """`programs` by (id, version), `profiles` by id. `cache` keeps what several setups share.

    Raises MissingPart, UnfitPart, UnknownLayout, LayoutNotThere, UnknownBody.
    """
    layers = []
    for layer in setup.layers:
        profile = profiles.get(layer)
        if profile is None:
            raise MissingPart(setup.id, "profile", layer)
        layers.append(profile)
    cache = {} if cache is None else cache
    layout, body, remaps = load_layout(setup.reads_by, setup.works_on), load_body(setup.body), _remaps(setup, layers)
    if setup.top_row == "special keys":
        body = with_special_row(body)
    found = [_find(setup, used, programs) for used in setup.programs]
    found += [_find(setup, setup.remote.system, programs, far=True)] if setup.remote else []
    keyboard = keyboard_of(layout, body, remaps, setup.numlock, _sides(setup, layout, layers, found))
    near = keyboard
    if (setup.platform, setup.layout) != (setup.works_on, setup.reads_by):
        near = keyboard_of(load_layout(setup.layout, setup.platform), body, remaps, setup.numlock, NO_SIDES, keyboard)
    guard = guard_of(layers, keyboard)
    effective: dict[str, EffectiveProgram] = {}
    for used in setup.programs:
        program = _find(setup, used, programs)
        here = program.kind == "system"
        at = _At(setup.platform, setup.layout, setup.edition) if here else _there(setup)
        effective[program.id] = _effective(
            program, at, layers, cache, used.add_ons, None if here and near is not keyboard else guard
        )
    far = None
    if setup.remote is not None:
        table = _find(setup, setup.remote.system, programs, far=True)
        if table.kind != "system":
            raise UnfitPart(setup.id, table.id, f"{table.name} is no system, so no far machine can run on it.")
        far = _effective(table, _there(setup), layers, cache, (), guard)
    known = {program_id for program_id, _ in programs}
    return ResolvedSetup(
        setup=setup,
        keyboard=keyboard,
        near=near,
        effective=effective,
        launchers=launchers_in_effect({p.id: p.launchers for p in layers}, setup.works_on, guard),
        translations=translations_in_effect({p.id: p.translations for p in layers}, setup.works_on, effective, guard),
        orphans=tuple(
            Orphan(e, p.id, f"there is no program {e.program}")
            for p in layers
            for e in (*p.all_entries, *_arranged_in_vain(p, setup.works_on, known))
            if e.platform == setup.works_on and e.program not in known
        ),
        far=far,
        tasks=tasks,
        guard=guard,
        remapped_by={r.key: p.id for p in layers for r in p.remaps},
        abbreviations=_abbreviations(layers, effective),
        arranged_said={
            i: tuple((p.id, p.arranged[i]) for p in layers if i in p.arranged)
            for i in effective
            if any(i in p.arranged for p in layers)
        },
        preferences_said=tuple((p.id, p.preferences) for p in layers if p.preferences),
    )


def _arranged_in_vain(profile: Profile, platform: Platform, known: Container[str]) -> Iterator[Entry]:
    """What stands for the items of a profile that arrange something in a program that isn't there."""
    for program, arranged in profile.arranged.items():
        if program not in known:
            names = [s.shelf for s in arranged.shelves] + [g.id for g in arranged.menu_groups]
            names += [m.id for m in arranged.macros] + [p.preference for p in arranged.preferences]
            for name in names:
                yield Entry(program=program, command=name, platform=platform, shortcuts=())


def _abbreviations(layers: Iterable[Profile], programs: Container[str]) -> tuple[tuple[Abbreviation, str], ...]:
    """The abbreviations of some layers that any program of a setup is served by."""
    found = in_effect((p.id, p.abbreviations) for p in layers)
    return tuple((a, layer) for a, layer in found if not a.programs or any(i in programs for i in a.programs))


def _sides(setup: Setup, layout: Layout, layers: Iterable[Profile], programs: Iterable[Program]) -> Sides:
    """The strokes that anything in a setup tells apart by the side of a modifier: hardly ever any."""
    method = setup.input_method
    presses = {p for sided in (*(p.sided for p in layers), *(p.sided for p in programs)) for p in sided}
    if method is not None:
        presses.update(p for shortcuts in presses_of(method, setup.works_on) for s in shortcuts for p in s.presses)
    return sides_in(presses, layout) if presses else NO_SIDES


class _At(NamedTuple):
    """The machine on which a program runs: this one, or the far one of a remote session."""

    platform: Platform
    layout: str
    edition: str


def _there(setup: Setup) -> _At:
    """The machine on which the programs run."""
    edition = setup.remote.edition if setup.remote else ""
    same = setup.works_on == setup.platform
    return _At(setup.works_on, setup.reads_by, edition or (setup.edition if same else ""))


def _find(setup: Setup, used: ProgramUsed, programs: Programs, *, far: bool = False) -> Program:
    program = programs.get((used.id, used.version))
    if program is None:
        raise MissingPart(setup.id, "program", f"{used.id} {used.version}")
    platform = setup.works_on if far or program.kind != "system" else setup.platform
    if platform not in program.platforms:
        where = PLATFORM_NAMES[platform]
        raise UnfitPart(setup.id, used.id, f"{program.name} doesn't run on {where}. Take it out, or choose another platform.")
    return program


def _effective(
    program: Program, at: _At, layers: list[Profile], cache: Cache, add_ons: tuple[str, ...], guard: Guard | None
) -> EffectiveProgram:
    said = tuple(p.said_of(program.id, at.platform, at.layout) for p in layers)
    said = tuple(s for s in said if s.entries or s.arranged)
    edition = program.read_edition(at.edition).name if program.known_editions else ""
    add_ons = tuple(sorted(a.id for a in program.add_ons if a.id in add_ons)) if program.add_ons else ()
    words = tuple((s.layer, s.overlap_days, s.mark) for s in said)
    # What is reserved matters to a program only where some layer says something of it.
    held = guard if said and guard is not None and guard.in_program(program.id) else None
    guarded = (held.keyboard, tuple((r.layer, r.reserved) for r in held.in_program(program.id))) if held else ()
    key = (id(program), at.platform, edition, add_ons, words, guarded)
    found = cache.get(key)
    if found is None or found.program is not program:
        found = cache[key] = effective_program(program, at.platform, edition, said, add_ons, held)
    return found


def _remaps(setup: Setup, layers: list[Profile]) -> dict[str, str]:
    nearest = {r.key: r.becomes for p in layers for r in p.remaps}
    try:
        return check_remaps(nearest.items())
    except RemapError as error:
        raise UnfitPart(setup.id, "remaps", str(error)) from error


def launchers_in_effect(
    said: Mapping[str, Iterable[Launcher]], platform: Platform, guard: Guard | None
) -> tuple[tuple[Launcher, str], ...]:
    """The nearest layer's word for each launcher, with the layer; `said` by layer, the farthest first.

    One whose press a further layer reserved doesn't count.
    """
    found: dict[str, tuple[Launcher, str]] = {}
    for layer, launchers in said.items():
        for launcher in launchers:
            wanted = [s.resolve(platform) for s in launcher.shortcuts.get(platform, ())]
            if guard is None or guard.against(layer, None, None, wanted) is None:
                found[launcher.id] = (launcher, layer)
    return tuple(found.values())


def translations_in_effect(
    said: Mapping[str, Iterable[Translation]],
    platform: Platform,
    effective: Mapping[str, EffectiveProgram],
    guard: Guard | None,
) -> tuple[tuple[Translation, str], ...]:
    """The nearest layer's word for each press; those of programs that the setup doesn't have are left out."""
    found: dict[str, tuple[Translation, str]] = {}
    for layer, translations in said.items():
        for one in translations:
            if one.platform != platform or one.program not in effective:
                continue
            if guard is None or guard.against(layer, effective[one.program].program, None, [one.keys]) is None:
                found[one.key] = (one, layer)
    return tuple(found.values())
