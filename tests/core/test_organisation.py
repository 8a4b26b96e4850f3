"""Who sits where, which layers apply and why, and the setups that follow."""

import random
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.errors import DocumentError
from amberkey.core.organisation.checks import faults_in
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.layers import layers_of, say_because
from amberkey.core.profiles.setup import grain_of
from amberkey.core.programs.reference import system_tables
from tests.core.organisations import SYSTEMS, drawn, machine, organisation, read

drawings = st.integers(0, 2**31).map(lambda number: drawn(random.Random(number)))
PROGRAMS = {(p.id, p.version): p for p in system_tables()}
PROFILES = ("house", "harbour", "control", "pilot", "clerk", "ada", "kiosk", "own")


def places(value: dict) -> list[str]:
    with pytest.raises(DocumentError) as caught:
        read(value)
    return [f.place for f in caught.value.faults]


def test_layers_go_from_everybody_to_the_person():
    found = read(organisation(machines=[machine("one", profiles=["kiosk"])], seats=[]))
    layers = layers_of(found, found.people_by_id["ada"], found.machines_by_id["one"])
    assert [layer.profile for layer in layers] == ["house", "harbour", "control", "pilot", "clerk", "kiosk", "ada"]
    assert [say_because(layer.because[0]) for layer in layers] == [
        "to everybody",
        "to all of Harbour",
        "to all of Control room",
        "to the role Pilot",
        "to the role Clerk",
        "to the machine One",
        "to Ada alone",
    ]


def test_a_profile_that_applies_twice_stands_once_at_its_nearest_place():
    found = read(organisation(profiles=["pilot", "house"]))
    layers = layers_of(found, found.people_by_id["ada"], found.machines_by_id["one"])
    assert [layer.profile for layer in layers] == ["house", "harbour", "control", "pilot", "clerk", "ada"]
    twice = next(layer for layer in layers if layer.profile == "pilot")
    assert [b.through for b in twice.because] == ["everybody", "role"]


def test_the_order_of_a_persons_roles_is_theirs():
    people = [{"id": "ada", "name": "Ada", "department": "control", "roles": ["clerk", "pilot"]}]
    found = read(organisation(people=people, seats=[]))
    layers = layers_of(found, found.people_by_id["ada"], found.machines_by_id["one"])
    assert [layer.profile for layer in layers][-2:] == ["clerk", "pilot"]


@given(drawings)
def test_seats_with_one_setup_agree_in_all_that_the_keyboard_meets(value):
    found = read(value)
    derived = derive(found)
    for seat in derived.seated:
        setup = derived.setups[seat.setup]
        person, at = found.people_by_id[seat.person], found.machines_by_id[seat.machine]
        assert (setup.platform, setup.layout, setup.body) == (at.platform, seat.layout, at.body)
        assert setup.programs == found.programs_on(at)
        assert setup.layers == tuple(layer.profile for layer in layers_of(found, person, at))


@given(drawings)
def test_no_two_setups_are_equal_and_no_two_have_one_name(value):
    setups = list(derive(read(value)).setups.values())
    bare = [s.model_copy(update={"id": "x", "name": "x", "place": "x", "people": 0, "machines": 0}) for s in setups]
    assert all(one != other for n, one in enumerate(bare) for other in bare[:n])
    assert len({s.name for s in setups}) == len(setups)


@given(drawings, st.data())
def test_everybody_is_counted_once_in_however_many_setups(value, data):
    found = read(value)
    derived = derive(found)
    chosen = data.draw(st.sets(st.sampled_from(sorted(derived.setups)))) if derived.setups else set()
    people = {s.person for s in derived.seated if s.setup in chosen}
    assert derived.census.people_in(chosen) == sum(found.people_by_id[p].stands_for for p in people)
    assert derived.census.machines_in(chosen) == len({s.machine for s in derived.seated if s.setup in chosen})


@given(drawings)
def test_every_installed_layout_is_met_unless_the_seat_says_which(value):
    found = read(value)
    met = {(s.person, s.machine): set() for s in derive(found).seated}
    for seat in derive(found).seated:
        met[seat.person, seat.machine].add(seat.layout)
    for seat in found.seats:
        installed = set(found.machines_by_id[seat.machine].layouts)
        assert met[seat.person, seat.machine] == ({seat.layout} if seat.layout else installed)


@given(drawings)
def test_setups_dont_depend_on_the_order_of_the_document(value):
    turned = {**value, **{k: value[k][::-1] for k in ("machines", "people", "seats", "departments")}}
    assert derive(read(turned)).setups == derive(read(value)).setups


def test_the_retired_have_no_setup():
    value = organisation()
    value["people"][1]["retired"] = "2026-11-01"
    assert {s.person for s in derive(read(value)).seated} == {"ada"}
    value["machines"][0]["retired"] = "2026-11-01"
    assert derive(read(value)).setups == {}


def test_a_name_says_what_is_plain_and_what_tells_two_apart():
    value = organisation(
        people=[{"id": p, "name": p.title(), "department": "harbour"} for p in ("ada", "bo", "cy")],
        machines=[machine("one"), machine("two", edition="Home"), machine("three", body="iso-no-pad")],
        seats=[{"person": p, "machine": m} for p, m in (("ada", "one"), ("bo", "two"), ("cy", "three"))],
    )
    assert sorted(s.name for s in derive(read(value)).setups.values()) == [
        "Windows, German keyboard, Harbour, Home",
        "Windows, German keyboard, Harbour, Pro",
        "Windows, German keyboard, no pad, Harbour",
    ]


def test_an_update_of_a_program_leaves_the_grain_of_a_setup():
    now = list(derive(read(organisation(machines=[machine("one"), machine("two")]))).setups)
    other = [machine("one", edition="Later"), machine("two", edition="Later")]
    later = list(derive(read(organisation(machines=other))).setups)
    assert set(now) & set(later) == set()
    assert set(map(grain_of, now)) == set(map(grain_of, later))


def test_uses_a_week_are_those_of_all_who_have_the_role():
    value = organisation(uses=[{"role": "pilot", "program": "quay", "command": "save", "weekly": 12}])
    value["people"][1]["roles"] = ["pilot"]
    derived = derive(read(value))
    assert derived.census.uses_a_week("quay", "save", derived.setups) == 12 * (1 + 5)
    assert derived.census.uses_a_week("quay", "save", derived.setups_of(person="ada")) == 12
    assert derived.census.uses_a_week("quay", "open", derived.setups) is None


def test_every_fault_of_a_document_is_told_with_its_place():
    value = organisation()
    value["people"] += [{"id": "ada", "name": "Ada", "department": "nowhere", "roles": ["pilot", "cook"]}]
    value["machines"] += [machine("two"), machine("three", kits=["none"])]
    value["seats"] += [{"person": "zoe", "machine": "nine"}, {"person": "desk", "machine": "one", "layout": "jp"}]
    value["departments"][0]["parent"] = "control"
    assert sorted(places(value)) == [
        "departments[0].parent",
        "machines[2]",
        "machines[3].kits[0]",
        "people[2]",
        "people[2].department",
        "people[2].roles[1]",
        "seats[2].machine",
        "seats[2].person",
        "seats[3].layout",
    ]


def test_a_circle_of_departments_is_told_as_one():
    value = organisation()
    value["departments"][0]["parent"] = "control"
    with pytest.raises(DocumentError, match=re.escape("harbour inside control inside harbour")):
        read(value)


def test_a_machine_without_a_keyboard_is_refused():
    value = organisation()
    value["machines"][0]["layouts"] = []
    del value["machines"][1]["body"]
    assert places(value) == ["machines[0].layouts", "machines[1].body"]


def test_what_isnt_there_is_told_for_every_machine_that_has_it():
    odd = [{"id": "windows", "version": "3"}, {"id": "nothing", "version": "1"}]
    value = organisation(
        machines=[machine("one", layouts=["xx"], body="round"), machine("two", programs=odd), machine("three", programs=odd)],
        profiles=["house", "gone"],
    )
    faults = faults_in(read(value), PROGRAMS, PROFILES)
    assert [f.place for f in faults] == [
        "profiles[1]",
        "machines[0].layouts[0]",
        "machines[0].body",
        *("machines[1].programs[0]", "machines[1].programs[1]", "machines[1].programs"),
        *("machines[2].programs[0]", "machines[2].programs[1]", "machines[2].programs"),
    ]
    assert all(f.cure for f in faults)


def test_a_sound_organisation_has_no_fault():
    assert faults_in(read(organisation()), PROGRAMS, PROFILES) == []


STRANGE = [
    ({"layouts": ["de", "klingon"]}, "machines[0].layouts[1]", "klingon"),
    ({"layouts": ["us(mac)"]}, "machines[0].layouts[0]", "not one of Windows"),
    ({"body": "round"}, "machines[0].body", "round"),
    ({"top_row": "special keys"}, "machines[0].top_row", "function keys only"),
    (
        {"remote": {"name": "Far", "presses": "kept", "platform": "macos", "system": {"id": "macos", "version": "26"}}},
        "machines[0].remote.layout",
        "de",
    ),
]


@pytest.mark.parametrize("own, place, says", STRANGE)
def test_who_sits_at_a_keyboard_that_nobody_knows_has_no_setup_and_the_fault_tells_where(own, place, says):
    found = read(organisation(machines=[machine("one", **own), machine("two")]))
    assert {s.person for s in derive(found).seated} == {"desk"}
    faults = {f.place: f.says for f in faults_in(found, PROGRAMS, PROFILES)}
    assert says in faults[place]


def test_the_far_system_must_be_one_of_the_far_platform():
    far = {"name": "Far", "presses": "kept", "platform": "macos", "layout": "de(mac)"}
    for system, says in (
        ({"id": "macos", "version": "0"}, "no program"),
        (dict(zip(("id", "version"), SYSTEMS["linux"], strict=True)), "no system of macOS"),
    ):
        found = read(organisation(machines=[machine("one", remote={**far, "system": system}), machine("two")]))
        (fault,) = [f for f in faults_in(found, PROGRAMS, PROFILES) if f.place == "machines[0].remote.system"]
        assert says in fault.says


def test_what_a_machine_says_of_its_keys_makes_a_setup_of_its_own():
    method = {"name": "Threadpen", "takes": ["Control+Space"]}
    says = [{}, {"edition_version": "24H2"}, {"displays": 2}, {"input_method": method}, {"numlock": False}]
    machines = [machine(f"m{n}", **own) for n, own in enumerate(says)]
    machines.append(machine("m5", body="iso-laptop", top_row="special keys"))
    seats = [{"person": "ada", "machine": m["id"]} for m in machines]
    derived = derive(read(organisation(machines=machines, seats=seats)))
    by_machine = {s.machine: derived.setups[s.setup] for s in derived.seated}
    assert len({s.id for s in by_machine.values()}) == len(machines)
    assert by_machine["m2"].has == ("several displays",)
    assert by_machine["m3"].input_method.name == "Threadpen"
    assert by_machine["m5"].top_row == "special keys"
    assert len({s.name for s in by_machine.values()}) == len(machines)


def test_ids_of_setups_outlive_fields_that_documents_get_later():
    """Allowances and addresses name these ids; what says nothing new must not change one."""
    used = [{"id": "windows", "version": "11"}, {"id": "x", "version": "1", "add_ons": ["b"]}]
    remote = {"name": "Far", "presses": "kept", "system": used[0]}
    found = read(organisation(machines=[machine("one", remote=remote, programs=used), machine("two")]))
    assert set(derive(found).setups) == {"windows-de-iso-clerk-b413.802005", "windows-de-iso-harbour-0c77.76f304"}
