"""Shelves: what moving, adding and taking off change, what changes fewest, and what their keys meet."""

import itertools

from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.clashes.relearning import relearned_on
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.shelves import Shelf, at_the_end, changing_fewest, on_places, renumbered
from amberkey.core.programs.offers import ShelfPlaces
from amberkey.core.ways.proposing import ways_out
from tests.core.scenes import clashes, command, name, office, only, pressed, scene, system
from tests.core.test_layers import layered
from tests.core.test_several import done

ROW = {"id": "row", "name": "Row", "keys": {"windows": [["F9", str(n)] for n in range(1, 5)]}, "begin_chosen": True}
PLACES = ShelfPlaces.model_validate(ROW)
ORDERS = st.permutations(["a", "b", "c", "d"]).flatmap(lambda p: st.integers(0, 4).map(lambda n: tuple(p[:n])))


def shelf(*commands, **more):
    return {"program": "office", "shelf": "row", "commands": list(commands), **more}


def of(*commands, begin=None):
    return Shelf(program="office", shelf="row", commands=commands, begin=read_shortcut(begin) if begin else None)


def changes(before, after):
    """How many of those that stay have another key."""
    found = renumbered(PLACES, of(*before), of(*after), "windows")
    return sum(r.before is not None and r.after is not None for r in found)


@given(ORDERS, ORDERS)
def test_changed_and_changed_back_leaves_every_key(before, after):
    there, back = (renumbered(PLACES, of(*x), of(*y), "windows") for x, y in ((before, after), (after, before)))
    assert {(r.command, r.before, r.after) for r in there} == {(r.command, r.after, r.before) for r in back}
    assert renumbered(PLACES, of(*before), of(*before), "windows") == ()


@given(ORDERS, ORDERS)
def test_what_is_told_is_just_what_differs(before, after):
    was, now = on_places(PLACES, of(*before), "windows"), on_places(PLACES, of(*after), "windows")
    told = {r.command for r in renumbered(PLACES, of(*before), of(*after), "windows")}
    assert told == {c for c in was.keys() | now.keys() if was.get(c) != now.get(c)}


@given(ORDERS, ORDERS.filter(bool), st.data())
def test_no_order_of_the_same_commands_changes_fewer(before, after, data):
    about = data.draw(st.sampled_from([None, *after]))
    found = changing_fewest(before, after, about)
    assert sorted(found) == sorted(after)
    if about is not None:
        assert found.index(about) == after.index(about)
    allowed = [p for p in itertools.permutations(after) if about is None or p.index(about) == after.index(about)]
    assert changes(before, found) == min(changes(before, p) for p in allowed)


def test_moving_one_swaps_it_with_whoever_stands_there():
    assert changing_fewest(("a", "b", "c", "d"), ("d", "a", "b", "c"), "d") == ("d", "b", "c", "a")
    assert changing_fewest(("a", "b", "c", "d"), ("a", "c", "d")) == ("a", "d", "c")


def test_at_the_end_nobody_else_moves():
    assert at_the_end(("a", "b"), ("new", "a", "b"), "new") == ("a", "b", "new")
    assert changes(("a", "b"), at_the_end(("a", "b"), ("new", "a", "b"), "new")) == 0


def with_shelf(*commands, row=ROW, programs=(), house=None, **more):
    here = office(
        "windows",
        command("stamp", "page"),
        command("hold", "page"),
        command("other", "page"),
        offers={"shelves": [row]},
        **more,
    )
    return scene("windows", *programs, here, house={"shelves": [shelf(*commands)], **(house or {})})


def test_a_place_is_pressed_and_runs_its_command():
    estate = with_shelf("stamp", "hold")
    assert [name(o.effect.binding) for o in pressed(estate, "F9 then 2", "office/page")][-1:] == ["office/hold"]
    assert clashes(estate) == []


def test_the_key_of_a_place_clashes_like_any_other():
    taken = system("windows", command("lock", "everywhere", "F9"))
    clash = only(with_shelf("stamp", programs=(taken,)))
    assert (clash.kind, name(clash.holder), clash.loser.placed.by) == ("system_fixed", "system/lock", "place 1 of Row")


def test_a_reserved_press_is_refused_to_a_shelf_of_a_nearer_layer():
    here = office("windows", command("stamp", "page"), offers={"shelves": [ROW]})
    far = {"reserved": [{"keys": "F9", "platform": "windows", "reason": "It saves."}]}
    estate = layered("windows", far, {"shelves": [shelf("stamp")]}, program=here)
    (clash,) = estate.clashes("here")
    assert (clash.kind, clash.why) == ("cannot", "Layer 0 reserved F9: It saves.")


def test_places_behind_the_last_and_commands_that_are_gone_are_told():
    short = {**ROW, "keys": {"windows": [["F9", "1"]]}}
    found = with_shelf("stamp", "hold", "gone", row=short)
    told = {(c.kind, name(c.subject)): c.why for c in found.clashes("here")}
    assert told[("cannot", "office/hold")] == "Row ends at place 1, and this is place 2"
    assert told[("orphan", "office/gone")] == "Office has no command gone"


def test_a_shelf_begins_with_another_press_where_that_helps():
    taken = system("windows", command("lock", "everywhere", "F9"))
    estate = with_shelf("stamp", "hold", programs=(taken,))
    group = estate.groups()[0]
    way = next(w for w in ways_out(estate, group, "house") if w.kind == "begin")
    assert done(estate, way.changes).clashes("here") == []


def test_taking_one_off_moves_the_others_up():
    taken = system("windows", command("lock", "everywhere", "F9"))
    estate = with_shelf("stamp", "hold", programs=(taken,))
    group = next(g for g in estate.groups() if g.clash.loser.command.id == "stamp")
    way = next(w for w in ways_out(estate, group, "house") if w.kind == "take_off")
    assert done(estate, way.changes).profiles["house"].shelves[0].commands == ("hold",)


def test_who_has_a_shelf_relearns_the_keys_that_move_and_nothing_new():
    before, after = with_shelf("stamp", "hold"), with_shelf("hold", "stamp", "other")
    rows = relearned_on(before.board("here"), after.board("here"))
    told = {(r.command, r.before, r.after) for r in rows}
    assert told == {("Stamp (on a shelf)", "F9 then 1", "F9 then 2"), ("Hold (on a shelf)", "F9 then 2", "F9 then 1")}
    assert relearned_on(before.board("here"), with_shelf("stamp", "hold").board("here")) == ()
