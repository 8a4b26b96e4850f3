"""Merrow Strait Ferries is whole: it fits together, is large and varied enough, and has the flaws that the work is about."""

import datetime
from collections import Counter
from functools import cache

import pytest

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.model import CLASH_KINDS
from amberkey.core.formats import read_any
from amberkey.core.organisation.checks import faults_in
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.reference import system_tables
from amberkey.core.tasks.families import is_whole
from amberkey.core.tasks.model import Tasks
from amberkey.demo.load import DOCUMENTS

TODAY = datetime.date(2026, 11, 25)
# Entries that name what isn't there, on purpose: a command that never was, one that an update took, one not yet there.
ORPHANS = {"tidewarden/watch-report", "hewer/clear-all", "folioform/greeting"}


@cache
def documents():
    return [*system_tables(), *(read_any(p.read_bytes()) for p in sorted(DOCUMENTS.glob("*.json")))]


def of(kind):
    return [d for d in documents() if isinstance(d, kind)]


@cache
def estate() -> Estate:
    programs = {(p.id, p.version): p for p in of(Program)}
    derived = derive(of(Organisation)[0], {p.id: p.name for p in programs.values()})
    profiles = {p.id: p for p in of(Profile)}
    return Estate(derived.setups, programs, profiles, of(Tasks)[0], TODAY, census=derived.census)


def made_up():
    """The newest version of each program of the organisation's own."""
    newest = {p.id: p for p in sorted(of(Program), key=lambda p: [int(n) for n in p.version.split(".") if n.isdigit()])}
    return [p for p in newest.values() if p.kind != "system"]


def test_it_fits_together():
    profiles = {p.id for p in of(Profile)}
    assert faults_in(of(Organisation)[0], estate().programs, profiles) == []


def test_it_has_the_size_of_an_organisation():
    (organisation,) = of(Organisation)
    assert (len(organisation.departments), len(organisation.machines)) == (5, 48)
    assert 55 <= len(organisation.people) <= 65
    assert len(made_up()) == 14
    assert 850 <= sum(len(p.commands) for p in made_up()) <= 950
    versions = Counter(p.id for p in of(Program) if p.kind != "system")
    assert sorted(versions.values()) == [1] * 11 + [2] * 3
    assert 140 <= len(of(Tasks)[0].tasks) <= 150


def test_its_machines_vary():
    setups = estate().setups.values()
    (organisation,) = of(Organisation)
    assert {s.platform for s in setups} == {"windows", "macos", "linux"}
    assert len({(s.platform, s.edition) for s in setups}) >= 6
    assert len({s.layout for s in setups}) >= 8
    assert len({s.body for s in setups}) >= 8
    assert any(len(m.layouts) > 1 for m in organisation.machines)
    assert any(p.stands_for > 1 for p in organisation.people)
    assert any(len(p.roles) == 2 for p in organisation.people)
    assert max(len(s.layers) for s in setups) == 4


def test_every_profile_is_somebodys_layer():
    used = {layer for s in estate().setups.values() for layer in s.layers}
    assert used == {p.id for p in of(Profile)}


def test_every_task_is_some_commands_and_every_task_of_a_command_is_there():
    tasks = {t.id for t in of(Tasks)[0].tasks}
    assert {c.task for p in made_up() for c in p.commands if c.task} == tasks


@pytest.mark.parametrize("program", made_up(), ids=lambda p: p.id)
def test_commands_are_written_as_a_person_would(program):
    names = [c.name for c in program.commands]
    assert len(set(names)) == len(names)
    for command in program.commands:
        assert command.group
        assert command.description.endswith(".")
        assert len(command.description.split()) >= 3
    assert sum(bool(c.other_words) for c in program.commands) >= 0.9 * len(names)
    ids = {c.id for c in program.commands}
    assert {c.closes for c in program.commands if c.closes} <= ids


def test_use_by_role_names_commands_that_are_there():
    commands = {(p.id, c.id) for p in of(Program) for c in p.commands}
    (organisation,) = of(Organisation)
    assert {(u.program, u.command) for u in organisation.uses} <= commands
    assert {u.role for u in organisation.uses} == {r.id for r in organisation.roles}


def test_nothing_is_an_orphan_but_what_is_meant_to_be():
    found = {
        f"{o.entry.program}/{o.entry.command}"
        for s in estate().setups
        for part in estate().board(s).parts.values()
        for o in part.effective.orphans
    }
    newest = {(p.id, name) for p in made_up() for c in p.commands for name in (c.id, *c.was)}
    assert {o for o in found if tuple(o.split("/")) not in newest} == ORPHANS


def test_every_kind_of_clash_is_there():
    assert {g.clash.kind for g in estate().groups()} == set(CLASH_KINDS)


def test_no_setup_is_free_of_clashes_and_none_drowns_in_them():
    counts = {s: len(estate().clashes(s)) for s in estate().setups}
    assert min(counts.values()) > 0
    assert max(counts.values()) < 200


def test_a_lock_and_a_reserved_press_are_in_somebodys_way():
    held = {
        r.held.why
        for s in estate().setups
        for part in estate().board(s).parts.values()
        for c in part.effective.commands
        for r in c.refused
    }
    assert held == {"locked", "reserved"}


def test_one_task_has_several_keys():
    keys = {}
    for program in made_up():
        for command in program.commands:
            if command.task and "windows" in program.platforms:
                keys.setdefault(command.task, set()).update(map(str, command.defaults_on("windows")))
    assert sum(len(k) > 2 for k in keys.values()) >= 10


def test_some_families_are_whole_and_some_are_broken():
    tasks = of(Tasks)[0]
    whole = Counter()
    for program in made_up():
        for family in tasks.families:
            commands = {t: next((c for c in program.commands if c.task == t), None) for t in family.members}
            shortcuts = {t: c.defaults_on(program.platforms[0]) for t, c in commands.items() if c is not None}
            if len(shortcuts) == len(family.members) and all(shortcuts.values()):
                whole[is_whole(family, {t: s[0] for t, s in shortcuts.items()}, tasks)] += 1
    assert whole[True] >= 10
    assert whole[False] >= 5


def test_some_openers_have_a_closer_some_a_toggle_and_some_nothing():
    openers = [(p, c) for p in made_up() for c in p.commands if c.opens]
    assert any(c.closes is None for _, c in openers)
    assert any(c.closes == c.id for _, c in openers)
    others = [(p, c) for p, c in openers if c.closes not in (None, c.id)]
    assert any(p.command(c.closes).defaults_on("windows") != c.defaults_on("windows") for p, c in others)


def test_the_two_versions_of_a_program_differ_in_each_way():
    programs = {(p.id, p.version): p for p in of(Program)}
    for old, new in ((("quaysheet", "7.1"), ("quaysheet", "7.2")), (("hewer", "11"), ("hewer", "12"))):
        before, after = programs[old], programs[new]
        assert {c.id for c in after.commands} - {c.id for c in before.commands}
        assert any(c.was and before.command(c.was[0]) for c in after.commands)
        assert any(
            (now := after.command(c.id)) and c.defaults_on("windows") != now.defaults_on("windows") for c in before.commands
        )


def test_what_is_used_less_gives_way_first():
    """Taking over is proposed first where the holder is known to be used less than the one that loses."""
    from amberkey.core.ways.proposing import ways_out
    from amberkey.core.ways.yielding import is_used_less

    group = next(
        g for g in estate().groups() if g.clash.subject.command.id == "print-the-manifest" and g.clash.kind == "system"
    )
    assert is_used_less(estate(), group)
    ways = ways_out(estate(), group, "house", 1)
    assert ways[0].kind == "take_over"
    assert any("times a week here" in r for r in ways[0].reasons)
