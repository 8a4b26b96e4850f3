"""What a machine says of itself, held against what the organisation's list says of it."""

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from typing import Literal

from amberkey.core.organisation.model import Machine
from amberkey.core.programs.model import Program

Part = Literal["edition", "layouts"]


@dataclass(frozen=True, slots=True)
class Reported:
    """In the system's own words: what the edition is called, and the layouts that are installed."""

    edition: str = ""
    layouts: tuple[str, ...] = ()


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
) -> list[Contradicted]:
    """What of a machine's own account contradicts the list. `tables`: the system tables of its platform; `layout_of`: the id of
    the layout that a system's name for one means."""
    found = []
    edition = _edition(machine, reported.edition, tables)
    if edition is not None:
        found.append(edition)
    layouts = _layouts(machine, reported.layouts, layout_of)
    if layouts is not None:
        found.append(layouts)
    return found


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
