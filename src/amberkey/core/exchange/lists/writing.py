"""The organisation as rows of a sheet: reading what was written changes nothing."""

from collections.abc import Iterator, Mapping

from amberkey.core.exchange.lists.columns import COLUMNS, Column, ListKind
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.organisation.model import Machine, Organisation, Person


def columns_out(kind: ListKind, *, names: bool = True) -> tuple[Column, ...]:
    """The columns of a list; without `names`, those that say who somebody is are left out."""
    return tuple(c for c in COLUMNS[kind] if names or kind != "people" or c.id != "name")


def heads_of(kind: ListKind, *, names: bool = True) -> tuple[str, ...]:
    """The headings of a list, in the order of its columns."""
    return tuple(c.title for c in columns_out(kind, names=names))


def rows_of(kind: ListKind, organisation: Organisation, *, names: bool = True) -> Iterator[tuple[str, ...]]:
    """One row of text for each item, in the order of the columns."""
    cells: Iterator[Mapping[str, str]]
    if kind == "people":
        seats: dict[str, list[str]] = {}
        for seat in organisation.seats:
            seats.setdefault(seat.person, []).append(seat.machine)
        cells = (_person(p, seats.get(p.id, [])) for p in organisation.people)
    elif kind == "machines":
        cells = (_machine(m) for m in organisation.machines)
    else:
        cells = (
            {"role": u.role, "program": u.program, "command": u.command, "weekly": str(u.weekly)} for u in organisation.uses
        )
    for one in cells:
        yield tuple(one[c.id] for c in columns_out(kind, names=names))


def _person(person: Person, machines: list[str]) -> Mapping[str, str]:
    return {
        "id": person.id,
        "name": person.name,
        "department": person.department,
        "roles": "; ".join(person.roles),
        "stands_for": str(person.stands_for),
        "machines": "; ".join(machines),
        "retired": person.retired.isoformat() if person.retired else "",
    }


def _machine(machine: Machine) -> Mapping[str, str]:
    return {
        "id": machine.id,
        "name": machine.name,
        "platform": PLATFORM_NAMES[machine.platform],
        "edition": machine.edition,
        "layouts": "; ".join(machine.layouts),
        "body": machine.body,
        "kits": "; ".join(machine.kits),
        "programs": "; ".join(f"{p.id} {p.version}" for p in machine.programs),
        "numlock": "yes" if machine.numlock else "no",
        "profiles": "; ".join(machine.profiles),
        "retired": machine.retired.isoformat() if machine.retired else "",
    }
