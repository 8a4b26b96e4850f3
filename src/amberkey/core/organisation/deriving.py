"""Setups from the organisation: every person at every machine on every layout that they may type on, equal ones once."""

import hashlib
import json
import re
from collections import Counter
from collections.abc import Callable, Container, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import chain
from typing import Literal, NamedTuple

from amberkey.core.organisation.census import Census, Tally
from amberkey.core.organisation.checks import keyboard_faults
from amberkey.core.organisation.layers import layers_of
from amberkey.core.organisation.model import Machine, Organisation, Person, Seat
from amberkey.core.organisation.naming import Told, name_setups, say_some
from amberkey.core.profiles.setup import ProgramUsed, Setup


class Seated(NamedTuple):
    """A person at a machine on a layout, and the setup that follows."""

    person: str
    machine: str
    layout: str
    setup: str


@dataclass(frozen=True, eq=False)
class Derived:
    """`setups` by id, those of most people first; `seated` in the order of the seats."""

    setups: Mapping[str, Setup]
    seated: tuple[Seated, ...]
    census: Census
    departments: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    """The departments of those who have a setup, by its id."""
    personal: frozenset[str] = frozenset()
    """The setups that say something of a person: of hands or health, or of what somebody has set for themselves."""

    def setups_of(self, *, person: str | None = None, machine: str | None = None) -> tuple[str, ...]:
        """The setups of a person, of a machine, or of both together; each once."""
        if machine is not None:
            found = self._at_machine.get(machine, ())
        else:
            found = self.seated if person is None else self._of_person.get(person, ())
        return tuple(dict.fromkeys(s.setup for s in found if person in (None, s.person)))

    def setups_in(self, organisation: Organisation, departments: Container[str]) -> frozenset[str]:
        """The setups that people of some departments have, or of a department inside one of these."""
        inside = {d.id for d in organisation.departments if any(a.id in departments for a in organisation.inward(d.id))}
        return frozenset(setup for setup, own in self.departments.items() if not inside.isdisjoint(own))

    @cached_property
    def _at_machine(self) -> Mapping[str, Sequence[Seated]]:
        return _by(self.seated, lambda s: s.machine)

    @cached_property
    def _of_person(self) -> Mapping[str, Sequence[Seated]]:
        return _by(self.seated, lambda s: s.person)


def _by(seated: Iterable[Seated], what: Callable[[Seated], str]) -> Mapping[str, Sequence[Seated]]:
    found: dict[str, list[Seated]] = {}
    for one in seated:
        found.setdefault(what(one), []).append(one)
    return found


HELPER = "Personal helper"
"""What a person's assistive program is called wherever a setup is told of: which one it is stands with the person alone."""
NOBODY = Derived({}, (), Census(Tally({}, ()), Tally({}, ())))


@dataclass(eq=False)
class _Found:
    """A setup being derived, with who and what has it."""

    machine: Machine
    person: Person
    layout: str
    running: "_Running"
    layers: tuple[str, ...]
    id: str = ""
    people: dict[str, int] = field(default_factory=dict)
    machines: set[str] = field(default_factory=set)
    departments: dict[str, None] = field(default_factory=dict)
    roles: dict[tuple[str, ...], None] = field(default_factory=dict)
    """Each combination once; so are the kits."""
    kits: dict[tuple[str, ...], None] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class _Running:
    """What runs on machines: one object for all that have the same."""

    programs: tuple[ProgramUsed, ...]
    digest: str


class _Deriving:
    """What is worked out once for all seats that agree in it. Of thousands of machines and people most are alike, so each is
    asked only which of the few alike it is."""

    def __init__(self, organisation: Organisation) -> None:
        self.organisation = organisation
        self.found: dict[tuple[object, ...], _Found] = {}
        self._running: dict[tuple[object, ...], _Running] = {}
        self._same: dict[tuple[ProgramUsed, ...], _Running] = {}
        self._alike: dict[tuple[object, ...], int] = {}
        self._at: dict[tuple[int, int, str | None], tuple[tuple[str, _Found], ...]] = {}

    def setups_at(self, seat: Seat, person: Person, machine: Machine) -> tuple[tuple[str, _Found], ...]:
        """The layouts of a seat, each with the setup that follows; none where the keyboard isn't known."""
        alike = self._alike
        whom = (person.department, person.roles, person.profiles, person.mouse_hand, person.assistive)
        # Two tuples, since one alone would have to be hashed whole for every person of a machine.
        what = (
            *(machine.platform, machine.edition, machine.edition_version, machine.layouts, machine.body, machine.numlock),
            *(machine.remote, machine.kits, machine.programs, machine.profiles, machine.displays > 1),
            *(machine.input_method, machine.top_row),
        )
        key = (alike.setdefault(whom, len(alike)), alike.setdefault(what, len(alike)), seat.layout)
        known = self._at.get(key)
        if known is None:
            known = self._at[key] = tuple(self._setups_at(seat, person, machine))
        return known

    def _setups_at(self, seat: Seat, person: Person, machine: Machine) -> Iterator[tuple[str, _Found]]:
        # Whether its layouts and its body are known. Where they aren't, the faults of the organisation tell it.
        if any(keyboard_faults(machine)):
            return
        running = self._running_on(machine)
        layers = tuple(layer.profile for layer in layers_of(self.organisation, person, machine))
        for layout in (seat.layout,) if seat.layout is not None else machine.layouts:
            key: tuple[object, ...] = (
                *(machine.platform, machine.edition, layout, machine.body, machine.numlock, machine.remote, running),
                *(machine.edition_version, _has(machine), machine.input_method, machine.top_row),
                *(layers, person.mouse_hand, person.assistive),
            )
            one = self.found.get(key)
            if one is None:
                one = self.found[key] = _Found(machine, person, layout, running, layers)
            one.departments[person.department] = None
            one.roles[person.roles] = None
            one.kits[machine.kits] = None
            yield layout, one

    def _running_on(self, machine: Machine) -> _Running:
        key = (machine.kits, machine.programs)
        found = self._running.get(key)
        if found is None:
            programs = self.organisation.programs_on(machine)
            found = self._same.get(programs)
            if found is None:
                found = self._same[programs] = _Running(programs, _digest([p.told for p in programs], 6))
            self._running[key] = found
        return found


def derive(organisation: Organisation, program_names: Mapping[str, str] | None = None) -> Derived:
    """The setups in use. Retired people and machines have none, nor have machines whose keyboard nobody knows;
    `program_names` by id are for telling setups apart."""
    deriving = _Deriving(organisation)
    people, machines = organisation.people_by_id, organisation.machines_by_id
    placed: list[tuple[Seat, str, _Found]] = []
    for seat in organisation.seats:
        person, machine = people[seat.person], machines[seat.machine]
        if person.retired is not None or machine.retired is not None:
            continue
        for layout, one in deriving.setups_at(seat, person, machine):
            one.people[person.id] = person.stands_for
            one.machines.add(machine.id)
            placed.append((seat, layout, one))
    setups: dict[str, Setup] = {}
    told: dict[str, Told] = {}
    for one in deriving.found.values():
        setup = _setup(organisation, one)
        one.id = setup.id
        setups[setup.id] = setup
        told[setup.id] = _told(organisation, one)
    names = name_setups(setups, told, program_names or {})
    setups = {i: s.model_copy(update={"name": names[i][:200]}) for i, s in setups.items()}
    seated = tuple(Seated(seat.person, seat.machine, layout, one.id) for seat, layout, one in placed)
    order = sorted(setups, key=lambda i: (-setups[i].people, i))
    departments = {one.id: tuple(one.departments) for one in deriving.found.values()}
    personal = frozenset(one.id for one in deriving.found.values() if _is_personal(organisation, one))
    return Derived({i: setups[i] for i in order}, seated, _census(organisation, seated), departments, personal)


def _is_personal(organisation: Organisation, found: _Found) -> bool:
    person = found.person
    own = not organisation.own_layers.isdisjoint(found.layers)
    return own or person.mouse_hand is not None or person.assistive is not None


def _told(organisation: Organisation, found: _Found) -> Told:
    # Names of setups stand in records, titles and lists: what is a person's own matter is said in no other way than this.
    own = ["own settings"] if _is_personal(organisation, found) else []
    own += [f"{found.machine.name}'s own"] if found.machine.profiles else []
    roles = [organisation.roles_by_id[r] for r in dict.fromkeys(chain.from_iterable(found.roles))]
    return Told(
        departments=tuple(organisation.departments_by_id[d].name for d in found.departments),
        roles=tuple(r.name for r in roles if r.profiles),
        kits=tuple(organisation.kits_by_id[k].name for k in dict.fromkeys(chain.from_iterable(found.kits))),
        own=tuple(own),
    )


def _setup(organisation: Organisation, found: _Found) -> Setup:
    machine, person = found.machine, found.person
    names = tuple(organisation.departments_by_id[d].name for d in found.departments)
    return Setup(
        id=_id(found),
        name="?",
        place=say_some(names, "departments"),
        platform=machine.platform,
        edition=machine.edition,
        edition_version=machine.edition_version,
        has=_has(machine),
        input_method=machine.input_method,
        layout=found.layout,
        body=machine.body,
        programs=found.running.programs,
        layers=found.layers,
        people=sum(found.people.values()),
        machines=len(found.machines),
        numlock=machine.numlock,
        top_row=machine.top_row,
        mouse_hand=person.mouse_hand,
        assistive=person.assistive and person.assistive.model_copy(update={"name": HELPER}),
        remote=machine.remote,
    )


def _has(machine: Machine) -> tuple[Literal["several layouts", "several displays"], ...]:
    layouts: tuple[Literal["several layouts"], ...] = ("several layouts",) if len(machine.layouts) > 1 else ()
    displays: tuple[Literal["several displays"], ...] = ("several displays",) if machine.displays > 1 else ()
    return (*layouts, *displays)


def _id(found: _Found) -> str:
    """An id that lasts: its grain (see `grain_of`) from what seldom changes, and behind a point the edition, the programs
    and their versions."""
    machine, person = found.machine, found.person
    nearest = next((i for i in reversed(found.layers) if i not in person.profiles), "plain")
    remote = machine.remote.told if machine.remote else "None"
    grain = _digest([*found.layers, str(machine.numlock), str(person.mouse_hand), str(person.assistive), remote], 4)
    seldom = [machine.edition_version, *_has(machine), machine.input_method.name if machine.input_method else ""]
    seldom.append("" if machine.top_row == "function keys" else machine.top_row)
    rest = _digest([machine.edition, found.running.digest, *filter(None, seldom)], 6)
    words = "-".join((machine.platform, found.layout, machine.body, nearest[:30]))
    return f"{re.sub(r'[^a-z0-9]+', '-', words.lower()).strip('-')}-{grain}.{rest}"


def _digest(parts: Iterable[str], digits: int) -> str:
    return hashlib.sha256(json.dumps(list(parts)).encode()).hexdigest()[:digits]


def _census(organisation: Organisation, seated: Iterable[Seated]) -> Census:
    of_people: dict[str, frozenset[str]] = {}
    of_machines: dict[str, frozenset[str]] = {}
    alone: dict[str, frozenset[str]] = {}  # most people and most machines have one setup, and few of those differ
    for person_id, machine_id, _, setup in seated:
        one = alone.get(setup)
        if one is None:
            one = alone[setup] = frozenset({setup})
        for found, at in ((of_people, person_id), (of_machines, machine_id)):
            known = found.setdefault(at, one)
            if known is not one:
                found[at] = known | one
    by_setups: dict[frozenset[str], int] = {}
    by_role: dict[str, dict[frozenset[str], int]] = {}
    for person_id, where in of_people.items():
        person = organisation.people_by_id[person_id]
        by_setups[where] = by_setups.get(where, 0) + person.stands_for
        for role in person.roles:
            weights = by_role.setdefault(role, {})
            weights[where] = weights.get(where, 0) + person.stands_for
    weekly: dict[tuple[str, str], dict[str, int]] = {}
    for use in organisation.uses:
        weekly.setdefault((use.program, use.command), {})[use.role] = use.weekly
    return Census(
        Tally.of(by_setups),
        Tally.of(Counter(of_machines.values())),
        {role: Tally.of(weights) for role, weights in by_role.items()},
        weekly,
    )
