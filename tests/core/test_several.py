"""Several clashes at once, tasks that move in all their programs, layers in which a decision can be kept, what makers meant."""

import dataclasses

from hypothesis import given

from amberkey.core.clashes.estate import Estate
from amberkey.core.compare.operations import apply
from amberkey.core.documents.model import read_document
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.model import Profile
from amberkey.core.ways.landing import landings
from amberkey.core.ways.proposing import assign, ways_out
from amberkey.core.ways.several import settle
from amberkey.core.ways.task_moving import task_move
from tests.core.estates import TODAY, drawings, put_up, read
from tests.core.scenes import SCOPES, command, entry, office, program, scene, system
from tests.core.test_laws_of_clashes import seldom

LOCK = command("lock", "everywhere", "Meta+L")
TASKS = {"tasks": [{"id": "jump", "name": "Jump"}]}


def done(estate, operations):
    """The estate with the operations applied to the documents themselves, nothing shared with the old one."""
    profiles = {
        i: read_document(apply(p.to_json(), operations.get(i, ())), {"amberkey/profile@1": Profile})
        for i, p in estate.profiles.items()
    }
    return Estate(estate.setups, estate.programs, profiles, estate.tasks, TODAY)


def identities(estate):
    return {(g.clash.identity, s.id) for g in estate.groups() for s in g.setups}


def two_that_want_one_key():
    """Two commands whose best free key is the same: both lose Win+L, which they have in scopes that never meet."""
    scopes = [*SCOPES, {"id": "list", "name": "List", "parent": "window"}]
    here = office("windows", command("jump", "list", "Meta+L"), command("join", "panel", "Meta+L"), scopes=scopes)
    return scene("windows", system("windows", LOCK), here)


def test_two_clashes_settled_at_once_never_take_the_same_press():
    estate = two_that_want_one_key()
    found = settle(estate, estate.groups(), lambda _: "house")
    assert [s.way.kind for s in found.settled] == ["move", "move"]
    after = done(estate, found.operations)
    assert after.clashes("here") == []
    assert len(found.solves) == 2
    assert found.makes == ()


def test_a_clash_that_one_before_solves_is_left_alone():
    here = office("windows", command("a", "page", "F8"), command("b", "page", "F8"), command("c", "page", "F8"), on_tie="first")
    estate = scene("windows", here)
    groups = [g for g in estate.groups() if g.clash.kind == "same_scope"]
    assert len(groups) == 2  # a keeps b and c from running
    found = settle(estate, groups, lambda _: "house", ("take_over",))
    assert all(s.why for s in found.settled)  # without a, b keeps c from running
    twice = settle(estate, [groups[0], groups[0]], lambda _: "house")
    assert [s.why for s in twice.settled] == ["", "those before it solve it"]
    assert len(twice.operations["house"]) == 1


def test_what_nothing_helps_is_said_and_changes_nothing():
    card = office("windows", command("jump", "page", "Meta+L"), card_only=True)
    estate = scene("windows", system("windows", LOCK), card)
    found = settle(estate, estate.groups(), lambda _: "house")
    assert [(s.way, bool(s.why)) for s in found.settled] == [(None, True)]
    assert (found.operations, found.people) == ({}, 0)


@seldom
@given(drawings)
def test_settling_promises_what_the_saved_documents_come_to(documents):
    """What is solved and made is what two whole computations differ by."""
    estate = put_up(*documents)
    found = settle(estate, estate.groups()[:3], lambda _: "house")
    after = done(estate, found.operations)
    before, then = identities(estate), identities(after)
    assert {(g.clash.identity, s.id) for g in found.solves for s in g.setups} == before - then
    assert {(g.clash.identity, s.id) for g in found.makes for s in g.setups} == then - before


def offices_with_one_task(**of_sheet):
    here = office("windows", command("jump", "page", "Meta+L", task="jump"))
    sheet = program("windows", "sheet", "office", [command("hop", "page", "Meta+L", task="jump")], **of_sheet)
    other = program("windows", "other", "office", [command("leap", "page", "F7", task="jump")])
    return scene("windows", system("windows", LOCK), here, sheet, other, tasks=TASKS)


def of_office(estate):
    return next(g for g in estate.groups() if g.clash.subject.program.id == "office")


def test_a_task_moves_in_every_program_that_had_the_old_key():
    estate = offices_with_one_task()
    found = task_move(estate, of_office(estate), read_shortcut("Control+Shift+J"), "house")
    assert found is not None
    assert [f.binding.program.id for f in found.moves] == ["sheet"]
    assert [(f.binding.program.id, f.why_not) for f in found.stays] == [("other", "has F7 for it")]
    assert len(found.way.consequences.solves) == 2
    after = done(estate, found.way.changes)
    assert after.clashes("here") == []
    keys = {b.program.id: str(b.shortcut) for b in after.board("here").bindings if b.command.task}
    assert keys == {"office": "Control+Shift+J", "sheet": "Control+Shift+J", "other": "F7"}


def test_a_program_that_cannot_take_the_key_stays_and_says_why():
    estate = offices_with_one_task(limits={"bare_keys": True, "refuses": ["Control+Shift+J"]})
    found = task_move(estate, of_office(estate), read_shortcut("Control+Shift+J"), "house")
    assert found is not None
    assert found.moves == ()
    assert any(f.binding.program.id == "sheet" and f.why_not.startswith("can't take it") for f in found.stays)


def test_a_command_without_a_task_moves_no_task():
    estate = two_that_want_one_key()
    assert task_move(estate, estate.groups()[0], read_shortcut("F9"), "house") is None


def with_layers(estate, **layers):
    """The estate with more setups, each a copy of `here` on other layers."""
    here = estate.setups["here"]
    setups = {"here": here} | {i: here.model_copy(update={"id": i, "name": i, "layers": names}) for i, names in layers.items()}
    names = {n for s in setups.values() for n in s.layers}
    profiles = {n: read({"format": "amberkey/profile@1", "id": n, "name": n.capitalize()}) for n in names}
    return dataclasses.replace(estate, setups=setups, profiles={**profiles, **estate.profiles})


def test_each_layer_says_how_many_copies_it_reaches():
    estate = with_layers(two_that_want_one_key(), sales=("house", "sales"), alone=("alone",))
    (group, _) = estate.groups()
    found = {x.profile: (len(x.copies), len(x.others)) for x in landings(estate, group, "sales")}
    assert found == {"house": (2, 0), "sales": (1, 0)}
    moved = estate.with_profiles(
        [done(estate, assign(estate, ("office", "jump"), "here", ((read_shortcut("F9"), None),), "house")[0]).profiles["house"]]
    )
    left = next(g for g in moved.groups() if g.clash.subject.command.id == "jump")
    assert [s.id for s in left.setups] == ["alone"]
    assert [(len(x.copies), len(x.others)) for x in landings(moved, left, "alone")] == [(1, 0)]


def test_a_nearer_layer_keeps_a_decision_for_itself():
    house = {"entries": [entry("windows", "jump", "Meta+L")]}
    here = office("windows", command("jump", "page", "F7"))
    estate = with_layers(scene("windows", system("windows", LOCK), here, house=house), sales=("house", "sales"))
    group = next(g for g in estate.groups())
    mine = dataclasses.replace(group, setups=tuple(sorted(group.setups, key=lambda s: s.id != "sales")))
    near = next(w for w in ways_out(estate, mine, "sales") if w.kind == "move")
    far = next(w for w in ways_out(estate, mine, "house") if w.kind == "move")
    assert (list(near.changes), [s.id for s in near.consequences.remains]) == (["sales"], ["here"])
    assert (list(far.changes), far.consequences.remains) == (["house"], ())


def two_defaults():
    here = office("windows", command("outer", "window", "F9"), command("inner", "page", "F9"))
    return scene("windows", here)


def test_what_a_maker_meant_can_be_decided_all_the_same():
    estate = two_defaults()
    assert estate.clashes("here") == []
    (group,) = estate.meant_groups()
    assert group.clash.may_be_meant
    way = next(w for w in ways_out(estate, group, "house") if w.kind == "move")
    assert [g.clash.identity for g in way.consequences.solves] == [group.clash.identity]
    assert done(estate, way.changes).meant("here") == []


def test_a_maker_meant_nothing_that_others_set():
    house = {"entries": [entry("windows", "inner", "F9")]}
    here = office("windows", command("outer", "window", "F9"), command("inner", "page"))
    (clash,) = scene("windows", here, house=house).clashes("here")
    assert not clash.may_be_meant
    taken = scene("windows", system("windows", LOCK), office("windows", command("jump", "page", "Meta+L")))
    assert not taken.clashes("here")[0].may_be_meant


def test_new_since_tells_the_setups_in_which_it_is_new():
    before = with_layers(two_that_want_one_key(), sales=("house", "sales"))
    sales = read({"format": "amberkey/profile@1", "id": "sales", "name": "Sales", "entries": [entry("windows", "jump", "F10")]})
    after = before.with_profiles([sales])
    assert [g.clash.kind for g in before.new_in(after)] == []
    (back,) = [g for g in after.new_in(before) if g.clash.subject.command.id == "jump"]
    assert [s.id for s in back.setups] == ["sales"]
