"""Which profiles apply to a person at a machine, in which order, and why."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from amberkey.core.organisation.model import Machine, Organisation, Person

Through = Literal["everybody", "department", "role", "machine", "person"]


class Because(NamedTuple):
    """Through whom or what a profile applies."""

    through: Through
    id: str
    name: str


class Layer(NamedTuple):
    """A profile that applies, and every reason for it."""

    profile: str
    because: tuple[Because, ...]


def layers_of(organisation: Organisation, person: Person, machine: Machine) -> tuple[Layer, ...]:
    """The layers of a person at a machine, the farthest first: everybody, the departments from the outermost inward, the
    roles in the person's order, the machine, the person. A profile that applies in several ways stands at its nearest place.
    """
    found: dict[str, tuple[Because, ...]] = {}
    for profile, because in _applying(organisation, person, machine):
        found[profile] = (*found.pop(profile, ()), because)
    return tuple(Layer(profile, because) for profile, because in found.items())


def _applying(organisation: Organisation, person: Person, machine: Machine) -> Iterator[tuple[str, Because]]:
    for profile in organisation.profiles:
        yield profile, Because("everybody", organisation.id, organisation.name)
    for department in organisation.inward(person.department):
        for profile in department.profiles:
            yield profile, Because("department", department.id, department.name)
    for role_id in person.roles:
        role = organisation.roles_by_id[role_id]
        for profile in role.profiles:
            yield profile, Because("role", role.id, role.name)
    for profile in machine.profiles:
        yield profile, Because("machine", machine.id, machine.name)
    for profile in person.profiles:
        yield profile, Because("person", person.id, person.name)


def say_because(because: Because) -> str:
    """Why a layer applies, in words that go on from "applies "."""
    match because.through:
        case "everybody":
            return "to everybody"
        case "department":
            return f"to all of {because.name}"
        case "role":
            return f"to the role {because.name}"
        case "machine":
            return f"to the machine {because.name}"
        case "person":
            return f"to {because.name} alone"
