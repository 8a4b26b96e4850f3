"""`amberkey/organisation@1`: people, departments, roles, machines, what runs on them, who sits where."""

import datetime
from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field

from amberkey.core.documents.errors import Fault
from amberkey.core.documents.field import Id, MaybeText, Text
from amberkey.core.documents.model import Document, Flag, Value, Whole
from amberkey.core.documents.sections import seat_key, use_key
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.field import AnyName
from amberkey.core.profiles.setup import Assistive, InputMethod, ProgramUsed, Remote, TopRow
from amberkey.core.programs.model import ring_in
from amberkey.core.worth.assumptions import ASSUMED, Assumptions


class Department(Value):
    """A part of the organisation, alone or inside another one. `profiles` in order, the farthest first."""

    id: Id
    name: Text
    parent: Id | None = None
    profiles: tuple[Id, ...] = ()


class Role(Value):
    """What somebody does; a person may have two."""

    id: Id
    name: Text
    profiles: tuple[Id, ...] = ()


class Kit(Value):
    """Programs that are installed together on many machines, in the order in which they start."""

    id: Id
    name: Text
    programs: tuple[ProgramUsed, ...]


class Person(Value):
    """Somebody who signs in. `stands_for`: how many people share this sign-in. `retired`: the day from which nobody does.

    The id says nothing of who it is (see `pseudonyms`). `name`, and `known_as`, the id that other lists have for them, may be
    empty: a server keeps them apart from documents, so that they can be forgotten.
    """

    id: Id
    name: MaybeText = ""
    known_as: MaybeText = ""
    department: Id
    roles: tuple[Id, ...] = ()
    profiles: tuple[Id, ...] = ()
    stands_for: Annotated[Whole, Field(ge=1, le=10_000)] = 1
    mouse_hand: Literal["left", "right"] | None = None
    assistive: Assistive | None = None
    retired: datetime.date | None = None


class Machine(Value):
    """A staff machine. `layouts`: the installed ones, the one that it starts with first; people switch between them.
    `edition_version`: that of its edition (none: the newest); `displays`: how many it has; `top_row`: what it is without Fn.

    `programs` stand over those of the `kits`; of two kits with one program the later one counts.
    """

    id: Id
    name: Text
    platform: Platform
    edition: Text
    edition_version: Annotated[str, Field(max_length=40)] = ""
    displays: Annotated[Whole, Field(ge=1, le=16)] = 1
    input_method: InputMethod | None = None
    layouts: Annotated[tuple[AnyName, ...], Field(min_length=1, max_length=8)]
    body: AnyName
    numlock: Flag = True
    top_row: TopRow = "function keys"
    kits: tuple[Id, ...] = ()
    programs: tuple[ProgramUsed, ...] = ()
    profiles: tuple[Id, ...] = ()
    remote: Remote | None = None
    retired: datetime.date | None = None


class Seat(Value):
    """A person at a machine. `layout`: the one that they type on there; None: any that is installed."""

    person: Id
    machine: Id
    layout: AnyName | None = None

    @property
    def key(self) -> str:
        """What makes it the same seat in every revision: who sits at which machine."""
        return seat_key({"person": self.person, "machine": self.machine})


class RoleUse(Value):
    """How many times a week one person with a role uses a command."""

    role: Id
    program: Id
    command: Id
    weekly: Annotated[Whole, Field(ge=0, le=100_000)]

    @property
    def key(self) -> str:
        """What makes it the same use in every revision: role, program, command."""
        return use_key({"role": self.role, "program": self.program, "command": self.command})


class Organisation(Document):
    """`profiles`: those of everybody, the farthest first. `worth`: what is assumed where minutes are counted."""

    format: Literal["amberkey/organisation@1"] = "amberkey/organisation@1"
    id: Id
    name: Text
    profiles: tuple[Id, ...] = ()
    departments: tuple[Department, ...] = ()
    roles: tuple[Role, ...] = ()
    kits: tuple[Kit, ...] = ()
    people: tuple[Person, ...] = ()
    machines: tuple[Machine, ...] = ()
    seats: tuple[Seat, ...] = ()
    uses: tuple[RoleUse, ...] = ()
    worth: Assumptions = ASSUMED

    @cached_property
    def departments_by_id(self) -> Mapping[str, Department]:
        """The departments by their ids."""
        return {d.id: d for d in self.departments}

    @cached_property
    def roles_by_id(self) -> Mapping[str, Role]:
        """The roles by their ids."""
        return {r.id: r for r in self.roles}

    @cached_property
    def kits_by_id(self) -> Mapping[str, Kit]:
        """The kits by their ids."""
        return {k.id: k for k in self.kits}

    @cached_property
    def people_by_id(self) -> Mapping[str, Person]:
        """The people by their ids, retired ones too."""
        return {p.id: p for p in self.people}

    @cached_property
    def machines_by_id(self) -> Mapping[str, Machine]:
        """The machines by their ids, retired ones too."""
        return {m.id: m for m in self.machines}

    @cached_property
    def own_layers(self) -> frozenset[str]:
        """The profiles that are given to single people and to nobody else: what is in them says something of these people."""
        shared = {p for group in (self.departments, self.roles, self.machines) for one in group for p in one.profiles}
        return frozenset(p for person in self.people for p in person.profiles) - shared - set(self.profiles)

    def inward(self, department_id: str) -> tuple[Department, ...]:
        """A department and those around it, the outermost first."""
        found: list[Department] = []
        at: str | None = department_id
        while at is not None:
            found.append(self.departments_by_id[at])
            at = found[-1].parent
        return tuple(reversed(found))

    def programs_on(self, machine: Machine) -> tuple[ProgramUsed, ...]:
        """What is installed on a machine, in the order in which it starts."""
        found = {p.id: p for kit in machine.kits for p in self.kits_by_id[kit].programs}
        found |= {p.id: p for p in machine.programs}
        return tuple(found.values())

    def unsound(self) -> Iterator[Fault]:
        """Names of what isn't in the document, and departments that would stand inside themselves."""
        yield from self._missing()
        yield from self._circles()

    def _missing(self) -> Iterator[Fault]:
        """Names of what isn't in this document."""
        departments, roles, kits = self.departments_by_id, self.roles_by_id, self.kits_by_id
        for n, department in enumerate(self.departments):
            if department.parent is not None and department.parent not in departments:
                yield _no(f"departments[{n}].parent", "department", department.parent)
        for n, person in enumerate(self.people):
            if person.department not in departments:
                yield _no(f"people[{n}].department", "department", person.department)
            for m, role in enumerate(person.roles):
                if role not in roles:
                    yield _no(f"people[{n}].roles[{m}]", "role", role)
        for n, machine in enumerate(self.machines):
            for m, kit in enumerate(machine.kits):
                if kit not in kits:
                    yield _no(f"machines[{n}].kits[{m}]", "kit", kit)
        people, machines = self.people_by_id, self.machines_by_id
        for n, seat in enumerate(self.seats):
            if seat.person not in people:
                yield _no(f"seats[{n}].person", "person", seat.person)
            at = machines.get(seat.machine)
            if at is None:
                yield _no(f"seats[{n}].machine", "machine", seat.machine)
            elif seat.layout is not None and seat.layout not in at.layouts:
                where = f"{at.id} has no layout {seat.layout}; it has {', '.join(at.layouts)}."
                yield Fault(f"seats[{n}].layout", where, "Install it on the machine, or choose one of these.")
        for n, use in enumerate(self.uses):
            if use.role not in roles:
                yield _no(f"uses[{n}].role", "role", use.role)

    def _circles(self) -> Iterator[Fault]:
        ring = ring_in({d.id: d.parent for d in self.departments})
        if ring:
            n = next(n for n, d in enumerate(self.departments) if d.id == ring[0])
            told = " inside ".join((*ring, ring[0]))
            yield Fault(f"departments[{n}].parent", f"{told}: a department can't stand inside itself.", "Take one of them out.")


def _no(place: str, kind: str, name: str) -> Fault:
    return Fault(place, f"There is no {kind} {name}.", "Add it first, or check its spelling.")
