"""People and machines as rows: worked out once for each state of the organisation, then searched, sorted and cut into pages."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from ninja import Schema

from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.layout import load_layout
from amberkey.core.organisation.deriving import Derived
from amberkey.core.organisation.model import Machine, Organisation, Person
from amberkey.server.library.documents import digests, parsed
from amberkey.server.workbench.estate import ORGANISATION, current_derived

Section = Literal["people", "machines"]


@dataclass(frozen=True, slots=True)
class TableRow:
    """A person or machine with what follows from the others. `cells` by column; `text` is searched."""

    item: Person | Machine
    cells: Mapping[str, str]
    sorts: Mapping[str, Any]
    text: str
    departments: frozenset[str]
    setups: tuple[str, ...]


class Wanted(Schema):
    """Which rows: all that are so. `words` must all stand somewhere in the row."""

    words: str = ""
    department: str = ""
    role: str = ""
    kit: str = ""
    profile: str = ""
    setup: str = ""
    platform: str = ""
    retired: bool = False


def table_of(section: Section) -> tuple[TableRow, ...]:
    """All rows of the organisation as it is now."""
    digest = digests().get(ORGANISATION, "")
    return _table(section, digest, current_derived()) if digest else ()


def chosen(rows: Iterable[TableRow], wanted: Wanted) -> list[TableRow]:
    words = wanted.words.casefold().split()

    def fits(row: TableRow) -> bool:
        item = row.item
        return (
            (item.retired is not None) == wanted.retired
            and all(word in row.text for word in words)
            and (not wanted.department or wanted.department in row.departments)
            and (not wanted.role or (isinstance(item, Person) and wanted.role in item.roles))
            and (not wanted.kit or (isinstance(item, Machine) and wanted.kit in item.kits))
            and (not wanted.platform or (isinstance(item, Machine) and wanted.platform == item.platform))
            and (not wanted.profile or wanted.profile in item.profiles)
            and (not wanted.setup or wanted.setup in row.setups)
        )

    return [row for row in rows if fits(row)]


def ordered(rows: list[TableRow], by: str, down: bool) -> list[TableRow]:
    """By a column, equal ones by name; one that isn't there leaves the order by name."""
    rows = sorted(rows, key=lambda r: r.sorts["name"])
    if rows and by in rows[0].sorts and by != "name":
        rows = sorted(rows, key=lambda r: r.sorts[by], reverse=down)
    elif down:
        rows.reverse()
    return rows


@lru_cache(maxsize=8)
def _table(section: Section, digest: str, derived: Derived) -> tuple[TableRow, ...]:
    organisation = parsed(digest)
    assert isinstance(organisation, Organisation)
    names = {i: s.name for i, s in derived.setups.items()}
    seats: dict[str, dict[str, None]] = {}
    for seat in organisation.seats:
        if section == "people":
            seats.setdefault(seat.person, {})[seat.machine] = None
        else:
            seats.setdefault(seat.machine, {})[seat.person] = None
    setups: dict[str, dict[str, None]] = {}
    for seated in derived.seated:
        setups.setdefault(seated.person if section == "people" else seated.machine, {})[seated.setup] = None
    make: Callable[..., TableRow] = _person if section == "people" else _machine
    items = organisation.people if section == "people" else organisation.machines
    return tuple(
        make(organisation, item, tuple(seats.get(item.id, ())), tuple(setups.get(item.id, ())), names) for item in items
    )


def _person(
    organisation: Organisation, person: Person, machines: tuple[str, ...], setups: tuple[str, ...], names: Mapping[str, str]
) -> TableRow:
    department = organisation.departments_by_id[person.department].name
    cells = {
        "name": person.name,
        "department": department,
        "roles": ", ".join(organisation.roles_by_id[r].name for r in person.roles),
        "people": str(person.stands_for),
        "at": ", ".join(organisation.machines_by_id[m].name for m in machines),
        "setups": "; ".join(names[s] for s in setups),
        "profiles": ", ".join(person.profiles),
    }
    around = frozenset(d.id for d in organisation.inward(person.department))
    return _row(person, cells, around, setups, {"people": person.stands_for})


def _machine(
    organisation: Organisation, machine: Machine, people: tuple[str, ...], setups: tuple[str, ...], names: Mapping[str, str]
) -> TableRow:
    seated = [organisation.people_by_id[p] for p in people]
    count = sum(p.stands_for for p in seated)
    cells = {
        "name": machine.name,
        "platform": f"{PLATFORM_NAMES[machine.platform]} {machine.edition}",
        "layouts": ", ".join(load_layout(i, machine.platform).name for i in machine.layouts),
        "body": load_body(machine.body).name,
        "kits": ", ".join(organisation.kits_by_id[k].name for k in machine.kits),
        "people": str(count),
        "at": ", ".join(p.name for p in seated),
        "setups": "; ".join(names[s] for s in setups),
        "profiles": ", ".join(machine.profiles),
    }
    around = frozenset(d.id for p in seated for d in organisation.inward(p.department))
    return _row(machine, cells, around, setups, {"people": count})


def _row(
    item: Person | Machine,
    cells: Mapping[str, str],
    departments: frozenset[str],
    setups: tuple[str, ...],
    numbers: Mapping[str, int],
) -> TableRow:
    sorts = {**{c: text.casefold() for c, text in cells.items()}, **numbers}
    return TableRow(item, cells, sorts, " ".join((item.id, *cells.values())).casefold(), departments, setups)
