"""Putting a setup together: every document that it names, and what follows from its layers."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.layouts.bodies import Body, load_body
from amberkey.core.layouts.errors import RemapError
from amberkey.core.layouts.layout import Layout, load_layout
from amberkey.core.layouts.remaps import Remaps, check_remaps
from amberkey.core.profiles.effective import (
    EffectiveCommand,
    EffectiveProgram,
    LayerEntries,
    Orphan,
    effective_program,
    entries_of,
)
from amberkey.core.profiles.errors import MissingPart, UnfitPart
from amberkey.core.profiles.model import Launcher, Profile, ProgramUsed, Setup, Translation
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import NO_TASKS, Tasks

Programs = Mapping[tuple[str, str], Program]
# One program under some entries, by everything that it depends on; the value keeps the entries alive, whose ids are in the key.
Cache = dict[tuple[object, ...], tuple[EffectiveProgram, tuple[LayerEntries, ...]]]


@dataclass(frozen=True, eq=False)
class ResolvedSetup:
    """A setup with everything it names at hand.

    `effective` by program id, in the order in which the programs start. `launchers`, `translations` and `orphans` with the
    layer that has them. `far` is the far machine's system in a remote session.
    """

    setup: Setup
    layout: Layout
    body: Body
    remaps: Remaps
    effective: Mapping[str, EffectiveProgram]
    launchers: tuple[tuple[Launcher, str], ...]
    translations: tuple[tuple[Translation, str], ...]
    orphans: tuple[Orphan, ...]
    far: EffectiveProgram | None
    tasks: Tasks

    @property
    def programs(self) -> tuple[Program, ...]:
        return tuple(e.program for e in self.effective.values())

    def program(self, program_id: str) -> Program | None:
        found = self.effective.get(program_id)
        return found.program if found else None

    @cached_property
    def commands(self) -> Mapping[str, tuple[EffectiveCommand, ...]]:
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
    effective: dict[str, EffectiveProgram] = {}
    for used in setup.programs:
        program = _find(setup, used, programs)
        effective[program.id] = _effective(program, setup, layers, cache)
    far = None
    if setup.remote is not None:
        table = _find(setup, setup.remote.system, programs)
        if table.kind != "system":
            raise UnfitPart(setup.id, table.id, f"{table.name} is no system, so no far machine can run on it.")
        far = _effective(table, setup, layers, cache)
    known = {program_id for program_id, _ in programs}
    return ResolvedSetup(
        setup=setup,
        layout=load_layout(setup.layout, setup.platform),
        body=load_body(setup.body),
        remaps=_remaps(setup, layers),
        effective=effective,
        launchers=tuple({v.id: (v, p.id) for p in layers for v in p.launchers}.values()),
        translations=_translations(setup, layers, effective),
        orphans=tuple(
            Orphan(e, p.id, f"there is no program {e.program}")
            for p in layers
            for (program_id, platform), entries in p.by_program.items()
            if platform == setup.platform and program_id not in known
            for e in entries
        ),
        far=far,
        tasks=tasks,
    )


def _find(setup: Setup, used: ProgramUsed, programs: Programs) -> Program:
    program = programs.get((used.id, used.version))
    if program is None:
        raise MissingPart(setup.id, "program", f"{used.id} {used.version}")
    if setup.platform not in program.platforms:
        where = PLATFORM_NAMES[setup.platform]
        raise UnfitPart(setup.id, used.id, f"{program.name} doesn't run on {where}. Take it out, or choose another platform.")
    return program


def _effective(program: Program, setup: Setup, layers: list[Profile], cache: Cache) -> EffectiveProgram:
    said = tuple(entries_of(p, program.id, setup.platform, setup.layout) for p in layers)
    said = tuple(s for s in said if s.entries)
    edition = setup.edition if program.knows_editions else ""
    ids = tuple((s.layer, s.overlap_days, *map(id, s.entries)) for s in said)
    key = (id(program), setup.platform, edition, ids)
    found = cache.get(key)
    if found is None or found[0].program is not program:
        found = cache[key] = (effective_program(program, setup.platform, edition, said), said)
    return found[0]


def _remaps(setup: Setup, layers: list[Profile]) -> dict[str, str]:
    nearest = {r.key: r.becomes for p in layers for r in p.remaps}
    try:
        return check_remaps(nearest.items())
    except RemapError as error:
        raise UnfitPart(setup.id, "remaps", str(error)) from error


def _translations(
    setup: Setup, layers: list[Profile], effective: Mapping[str, EffectiveProgram]
) -> tuple[tuple[Translation, str], ...]:
    """The nearest layer's word for each press; those of programs that the setup doesn't have are left out."""
    nearest = {t.key: (t, p.id) for p in layers for t in p.translations if t.platform == setup.platform}
    return tuple((t, layer) for t, layer in nearest.values() if t.program in effective)
