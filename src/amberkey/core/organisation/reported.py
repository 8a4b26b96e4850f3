"""What a machine says of itself, held against what the organisation's list says of it."""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from amberkey.core.organisation.model import Machine
from amberkey.core.profiles.setup import ProgramUsed
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.model import Program

Part = Literal["edition", "layouts", "programs"]


@dataclass(frozen=True, slots=True)
class Reported:
    """In the system's own words: what the edition is called, the layouts that are installed, the versions of programs by their
    names."""

    edition: str = ""
    layouts: tuple[str, ...] = ()
    programs: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Installed:
    """A program that the list has on a machine. `known`: the versions of it that there are here."""

    name: str
    used: ProgramUsed
    known: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Contradicted:
    """A part that the list has otherwise. `taken`: the machine as it would be with what was said; None where nobody knows what
    that means."""

    part: Part
    listed: str
    said: str
    taken: Machine | None


def contradictions(
    machine: Machine,
    reported: Reported,
    tables: Collection[Program],
    layout_of: Callable[[str], str | None],
    installed: Sequence[Installed] = (),
) -> list[Contradicted]:
    """What of a machine's own account contradicts the list. `tables`: the system tables of its platform; `layout_of`: the id of
    the layout that a system's name for one means; `installed`: the programs that the list has there."""
    found = []
    edition = _edition(machine, reported.edition, tables)
    if edition is not None:
        found.append(edition)
    layouts = _layouts(machine, reported.layouts, layout_of)
    if layouts is not None:
        found.append(layouts)
    programs = _programs(machine, reported.programs, installed)
    if programs is not None:
        found.append(programs)
    return found


def _programs(machine: Machine, said: Mapping[str, str], installed: Sequence[Installed]) -> Contradicted | None:
    """A version is the listed one where it begins with its numbers: 7.2.14 is 7.2. Of those that are known here the one with
    most numbers is taken that it begins with."""
    other = [one for one in installed if said.get(one.name) and not _begins(said[one.name], one.used.version)]
    if not other:
        return None
    taken: dict[str, ProgramUsed] = {}
    for one in other:
        fitting = [v for v in one.known if _begins(said[one.name], v)]
        if fitting:
            version = max(fitting, key=lambda v: (len(figures_of(v)), v))
            taken[one.used.id] = one.used.model_copy(update={"version": version})
    rest = [p for p in machine.programs if p.id not in taken]
    after = machine.model_copy(update={"programs": (*rest, *taken.values())}) if len(taken) == len(other) else None
    listed = ", ".join(f"{one.name} {one.used.version}" for one in other)
    return Contradicted("programs", listed, ", ".join(f"{one.name} {said[one.name]}" for one in other), after)


def _begins(said: str, version: str) -> bool:
    figures = figures_of(version)
    return bool(figures) and figures_of(said)[: len(figures)] == figures


def _edition(machine: Machine, said: str, tables: Collection[Program]) -> Contradicted | None:
    table = next((t for t in tables if t.platforms == (machine.platform,)), None)
    if not said or table is None:
        return None
    listed, read = table.read_edition(machine.edition, machine.edition_version), table.read_edition(said)
    other_version = bool(machine.edition_version and read.version and read.version != listed.version)
    if read.known and read.name == listed.name and not other_version:
        return None
    version = read.version if machine.edition_version else ""
    taken = machine.model_copy(update={"edition": read.name, "edition_version": version}) if read.known else None
    return Contradicted("edition", f"{machine.edition} {machine.edition_version}".strip(), said, taken)


def _layouts(machine: Machine, said: Sequence[str], layout_of: Callable[[str], str | None]) -> Contradicted | None:
    if not said:
        return None
    read = [layout_of(name) for name in said]
    known = tuple(dict.fromkeys(i for i in read if i is not None))
    if None not in read and set(known) == set(machine.layouts):
        return None
    if len(known) < len(set(read)) and set(machine.layouts) <= set(known):
        return None  # what nobody knows stands beside what the list has
    # The one that it starts with stays first where it is still installed.
    first = [i for i in machine.layouts if i in known]
    order = (*first, *(i for i in known if i not in first))
    taken = machine.model_copy(update={"layouts": order[:8]}) if None not in read else None
    return Contradicted("layouts", ", ".join(machine.layouts), ", ".join(said), taken)
