"""People and machines as rows: worked out once for each state of the organisation, then searched, sorted and cut into pages."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.layout import load_layout
from amberkey.core.organisation.deriving import Derived
from amberkey.core.organisation.model import Machine, Organisation, Person, Seat
from amberkey.server.estate import ORGANISATION, current_derived
from amberkey.server.library.documents import digests
from amberkey.server.library.models import Document
from amberkey.server.library.names import Stamp, names_stamp, organisation_named
from amberkey.server.people.sight import sees_personal
from amberkey.server.schema import Schema

Section = Literal["people", "machines"]


@dataclass(frozen=True, slots=True)
class TableRow:
    """A person or machine with what follows from the others. `cells` by column. `text` is searched, and `own_text` by who may
    see what people have for themselves."""

    item: Person | Machine
    cells: Mapping[str, str]
    sorts: Mapping[str, Any]
    text: str
    own_text: str
    departments: frozenset[str]
    setups: Mapping[str, str]
    """Names of the setups that follow, by id."""
    seats: tuple[tuple[Seat, str, tuple[str, ...]], ...]
    """Where the person sits, or who sits at the machine, with the name of the other side and the machine's layouts."""


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
    names = tuple(Document.objects.filter(format="amberkey/profile@1", deleted_at=None).values_list("doc_id", "name"))
    return _table(section, (digest, names_stamp()), current_derived(), names) if digest else ()


def chosen(rows: Iterable[TableRow], wanted: Wanted) -> list[TableRow]:
    words = wanted.words.casefold().split()
    sees = sees_personal()

    def fits(row: TableRow) -> bool:
        item = row.item
        return (
            (item.retired is not None) == wanted.retired
            and all(word in row.text or (sees and word in row.own_text) for word in words)
            and (not wanted.department or wanted.department in row.departments)
            and (not wanted.role or (isinstance(item, Person) and wanted.role in item.roles))
            and (not wanted.kit or (isinstance(item, Machine) and wanted.kit in item.kits))
            and (not wanted.platform or (isinstance(item, Machine) and wanted.platform == item.platform))
            and (not wanted.profile or (wanted.profile in item.profiles and sees))
            and (not wanted.setup or wanted.setup in row.setups)
        )

    return [row for row in rows if fits(row)]


def ordered(rows: list[TableRow], by: str, down: bool) -> list[TableRow]:
    """By a column, equal ones by name; one that isn't there leaves the order by name."""
    rows = sorted(rows, key=lambda r: r.sorts["name"])
    if rows and by in rows[0].sorts and by != "name" and (by != "profiles" or sees_personal()):
        rows = sorted(rows, key=lambda r: r.sorts[by], reverse=down)
    elif down:
        rows.reverse()
    return rows


@lru_cache(maxsize=8)
def _table(
    section: Section, state: tuple[str, Stamp], derived: Derived, profiles: tuple[tuple[str, str], ...]
) -> tuple[TableRow, ...]:
    organisation = organisation_named(*state)
    names = {i: s.name for i, s in derived.setups.items()}
    named = dict(profiles)
    seats: dict[str, list[Seat]] = {}
    for seat in organisation.seats:
        seats.setdefault(seat.person if section == "people" else seat.machine, []).append(seat)
    setups: dict[str, dict[str, None]] = {}
    for seated in derived.seated:
        setups.setdefault(seated.person if section == "people" else seated.machine, {})[seated.setup] = None
    make: Callable[..., TableRow] = _person if section == "people" else _machine
    items = organisation.people if section == "people" else organisation.machines
    return tuple(
        make(organisation, i, tuple(seats.get(i.id, ())), {s: names[s] for s in setups.get(i.id, ())}, named) for i in items
    )


def _person(
    organisation: Organisation,
    person: Person,
    seats: tuple[Seat, ...],
    setups: Mapping[str, str],
    profiles: Mapping[str, str],
) -> TableRow:
    department = organisation.departments_by_id[person.department].name
    cells = {
        "name": person.name,
        "department": department,
        "roles": ", ".join(organisation.roles_by_id[r].name for r in person.roles),
        "people": str(person.stands_for),
        "at": ", ".join(organisation.machines_by_id[s.machine].name for s in seats),
        "setups": "; ".join(setups.values()),
        "profiles": ", ".join(profiles[p] for p in person.profiles),
    }
    around = frozenset(d.id for d in organisation.inward(person.department))
    placed = tuple((s, (at := organisation.machines_by_id[s.machine]).name, at.layouts) for s in seats)
    return TableRow(
        person, cells, _sorts(cells, person.stands_for), _text(person, cells), _own_text(cells), around, setups, placed
    )


def _machine(
    organisation: Organisation,
    machine: Machine,
    seats: tuple[Seat, ...],
    setups: Mapping[str, str],
    profiles: Mapping[str, str],
) -> TableRow:
    seated = [organisation.people_by_id[s.person] for s in seats]
    count = sum(p.stands_for for p in seated)
    cells = {
        "name": machine.name,
        "platform": f"{PLATFORM_NAMES[machine.platform]} {machine.edition}",
        "layouts": ", ".join(load_layout(i, machine.platform).name for i in machine.layouts),
        "body": load_body(machine.body).name,
        "kits": ", ".join(organisation.kits_by_id[k].name for k in machine.kits),
        "people": str(count),
        "at": ", ".join(p.name for p in seated),
        "setups": "; ".join(setups.values()),
        "profiles": ", ".join(profiles[p] for p in machine.profiles),
    }
    around = frozenset(d.id for p in seated for d in organisation.inward(p.department))
    placed = tuple((s, p.name, machine.layouts) for s, p in zip(seats, seated, strict=True))
    return TableRow(machine, cells, _sorts(cells, count), _text(machine, cells) + _own_text(cells), "", around, setups, placed)


def _sorts(cells: Mapping[str, str], people: int) -> dict[str, Any]:
    return {**{c: text.casefold() for c, text in cells.items()}, "people": people}


def _text(item: Person | Machine, cells: Mapping[str, str]) -> str:
    return " ".join((item.id, *(text for c, text in cells.items() if c != "profiles"))).casefold()


def _own_text(cells: Mapping[str, str]) -> str:
    return f" {cells['profiles'].casefold()}"
