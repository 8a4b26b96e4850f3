"""Changing many people or machines at once: what the same wish makes of each of them."""

import datetime
from collections.abc import Iterable, Mapping
from typing import cast

from amberkey.core.compare.operations import Operation, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.organisation.model import Machine, Organisation, Person
from amberkey.server.organisation.tables import Section
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema


class VersionIn(Schema):
    program: str
    version: str


class Wish(Schema):
    """What shall be so afterwards; what isn't given stays as it is. Some of it is for people only, some for machines only."""

    department: str | None = None
    add_roles: list[str] = []
    drop_roles: list[str] = []
    edition: str | None = None
    layouts: list[str] | None = None
    body: str | None = None
    numlock: bool | None = None
    add_kits: list[str] = []
    drop_kits: list[str] = []
    version: VersionIn | None = None
    add_profiles: list[str] = []
    drop_profiles: list[str] = []
    retired: bool | None = None


_ANY = frozenset({"add_profiles", "drop_profiles", "retired"})
_FOR: Mapping[Section, frozenset[str]] = {
    "people": frozenset({"department", "add_roles", "drop_roles", "add_profiles", "drop_profiles", "retired"}),
    "machines": frozenset(
        {
            "edition",
            "layouts",
            "body",
            "numlock",
            "add_kits",
            "drop_kits",
            "version",
            "add_profiles",
            "drop_profiles",
            "retired",
        }
    ),
}


def operations_for(
    section: Section, ids: Iterable[str], wish: Wish, organisation: Organisation, today: datetime.date
) -> list[Operation]:
    """The operations on each of some items; none for those that are so already. Raises Problem for a wish that isn't theirs."""
    asked = {name for name, value in wish.model_dump().items() if value not in (None, [])}
    if not asked:
        raise Problem(400, "Nothing is asked to change.", cure="Choose what shall be so for all of them.")
    foreign = sorted(asked - _FOR[section])
    if foreign:
        raise Problem(400, f"{section.title()} have no {foreign[0].replace('_', ' ')}.")
    items: Mapping[str, Person | Machine] = organisation.people_by_id if section == "people" else organisation.machines_by_id
    found = []
    for item_id in ids:
        before = items.get(item_id)
        if before is None:
            raise Problem(409, f"{item_id[:60]} is not there any more.", cure="Choose again.")
        after = _person(before, wish) if isinstance(before, Person) else _machine(before, wish, organisation)
        profiles = _changed(after.profiles, wish.add_profiles, wish.drop_profiles)
        retired = after.retired if wish.retired is None else (after.retired or today) if wish.retired else None
        after = after.model_copy(update={"profiles": profiles, "retired": retired})
        if after != before:
            found.append(operation(section, item_id, _json(before), _json(after)))
    return found


def _person(person: Person, wish: Wish) -> Person:
    department = person.department if wish.department is None else wish.department
    return person.model_copy(
        update={"department": department, "roles": _changed(person.roles, wish.add_roles, wish.drop_roles)}
    )


def _machine(machine: Machine, wish: Wish, organisation: Organisation) -> Machine:
    kits = _changed(machine.kits, wish.add_kits, wish.drop_kits)
    update: dict[str, object] = {"kits": kits}
    for name in ("edition", "body", "numlock"):
        value = getattr(wish, name)
        if value is not None:
            update[name] = value
    if wish.layouts is not None:
        update["layouts"] = tuple(wish.layouts)
    if wish.version is not None:
        update["programs"] = _updated(machine, wish.version, organisation)
    return machine.model_copy(update=update)


def _updated(machine: Machine, version: VersionIn, organisation: Organisation) -> tuple[object, ...]:
    """The machine's own programs, with one in another version: only where the machine has that program at all."""
    now = next((p for p in organisation.programs_on(machine) if p.id == version.program), None)
    if now is None or now.version == version.version:
        return machine.programs
    own = now.model_copy(update={"version": version.version})
    if any(p.id == version.program for p in machine.programs):
        return tuple(own if p.id == version.program else p for p in machine.programs)
    return (*machine.programs, own)


def _changed(now: tuple[str, ...], add: list[str], drop: list[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys([*(n for n in now if n not in drop), *add]))


def _json(item: Person | Machine) -> Json:
    return cast(Json, item.model_dump(mode="json", exclude_defaults=True))
