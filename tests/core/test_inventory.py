"""The sheet of all commands: states, filters, orders, groups, and what resetting gives back."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from amberkey.core.clashes.estate import Estate
from amberkey.core.compare.operations import JsonDocument, apply
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.inventory.bringing import bring
from amberkey.core.inventory.choosing import Asked, as_keys, chosen, counts
from amberkey.core.inventory.free_keys import Narrowed, free_keys
from amberkey.core.inventory.resetting import reset, reset_profile
from amberkey.core.inventory.rows import Row, sheet_of
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.ways.candidates import Candidate
from tests.core.estates import drawings, put_up
from tests.core.seen import whole_example, whole_sheet


def rows(asked: Asked) -> list[Row]:
    return [s.row for s in chosen(whole_sheet(), asked) if s.row is not None]


def with_operations(estate: Estate, operations) -> Estate:
    profiles = dict(estate.profiles)
    for layer, changes in operations.items():
        document: JsonDocument = profiles[layer].to_json()
        profiles[layer] = read_document(apply(document, list(changes)), FORMATS)
    return Estate(estate.setups, estate.programs, profiles, estate.tasks, estate.today)


def test_every_program_stands_through_the_setup_of_most_people_that_has_it():
    estate = whole_example()
    for row in whole_sheet().rows:
        having = [s for s in estate.setups.values() if any(u.id == row.program.id for u in s.programs)]
        assert estate.setups[row.setup].people == max(s.people for s in having)
        assert row.people == estate.people_of(having)


def test_states_are_what_they_say():
    for row in whole_sheet().rows:
        assert ("no key" in row.states) == (not row.bindings)
        assert ("several keys" in row.states) == (len(row.bindings) > 1)
        assert ("own key" in row.states) == (row.layer != DEFAULT)
        assert ("risky" in row.states) == row.command.risky
        assert ("clashing" in row.states) <= bool(row.clashes)
        assert ("can't be pressed" in row.states) == any(b.unreachable or b.refused for b in row.bindings)


def test_same_key_twice_needs_another_command_with_it():
    twice = [r for r in whole_sheet().rows if "same key twice" in r.states]
    assert twice
    for row in twice:
        ways = {w for b in row.bindings for w in b.ways}
        board = whole_sheet().boards[row.setup]
        others = (b for b in board.parts[row.program.id].bindings if b.command.id != row.command.id)
        assert any(ways.intersection(b.ways) for b in others)


def test_changed_since_the_release_is_what_the_released_estate_has_otherwise():
    estate = whole_example()
    layer = next(r.layer for r in whole_sheet().rows if r.layer != DEFAULT)
    before = with_operations(estate, reset_profile(estate, whole_sheet().rows, layer).operations)
    sheet = sheet_of(estate, estate.setups, before)
    changed = [r for r in sheet.rows if "changed since the release" in r.states]
    assert changed
    assert all(layer in {s.layer for s in (r.effective.now, *r.effective.hid)} for r in changed)
    assert not any("changed since the release" in r.states for r in sheet_of(estate, estate.setups, estate).rows)


def test_counts_are_what_asking_for_each_finds():
    found = counts(whole_sheet().rows)
    for what in ("state", "group", "task", "layer", "kind", "scope"):
        for value, many in found[what].items():
            assert len(rows(Asked(**{what: value}))) == many, (what, value)
    for program, many in found["program"].items():
        assert len(rows(Asked(programs=(program,)))) == many


def test_systems_are_left_out_but_for_whoever_asks_for_a_press_or_for_them():
    assert not any(r.program.kind == "system" for r in rows(Asked()))
    ways = whole_sheet().ways_of(read_shortcut("alt f4"))
    assert any(r.program.kind == "system" for r in rows(Asked(ways=ways)))
    assert any(r.program.kind == "system" for r in rows(Asked(words="alt f4")))
    assert all(r.program.id == "windows" for r in rows(Asked(programs=("windows",))))


def test_a_shortcut_that_nobody_has_finds_nothing():
    assert rows(Asked(words="ctrl alt shift f11")) == []


def test_a_press_finds_those_that_have_it_or_begin_with_it():
    sheet = whole_sheet()
    long = next(r for r in sheet.rows if r.program.kind != "system" and any(len(w) > 1 for b in r.bindings for w in b.ways))
    way = next(w for b in long.bindings for w in b.ways if len(w) > 1)
    assert long in rows(Asked(ways=(way[:1],), programs=(long.program.id,)))
    assert long in rows(Asked(ways=(way,), programs=(long.program.id,)))
    for row in rows(Asked(ways=(way,))):
        assert any(w[: len(way)] == way for b in row.bindings for w in b.ways)


def test_keys_as_they_lie_go_from_the_top_left_key_by_key_and_end_with_those_without():
    sheet = whole_sheet()

    def lies(row: Row):
        way = next((w for b in row.bindings for w in b.ways), None)
        key = sheet.boards[row.setup].ground.keyboard.body.key(way[0].code) if way and way[0].code else None
        return (key.y, key.x) if key else (99, 99)

    places = [lies(r) for r in rows(Asked(order="keys, as they lie"))]
    assert places == sorted(places)
    assert not any(b.ways for b in rows(Asked(order="keys, as they lie"))[-1].bindings)


@pytest.mark.parametrize("order", ["name", "program", "group", "task", "people", "set by", "keys, as they lie"])
def test_no_order_loses_a_row(order):
    assert sorted(r.id for r in rows(Asked(order=order))) == sorted(r.id for r in rows(Asked()))


def test_groups_have_heads_and_fold():
    shown = chosen(whole_sheet(), Asked(by_groups=True))
    heads = [s.head for s in shown if s.head]
    assert sum(h.rows for h in heads) == len(rows(Asked()))
    assert len({h.id for h in heads}) == len(heads)
    closed = chosen(whole_sheet(), Asked(by_groups=True, closed=frozenset({heads[0].id})))
    assert [s.head.closed for s in closed if s.head][:2] == [True, False]
    assert len(closed) == len(shown) - heads[0].rows


@pytest.mark.parametrize(
    "words, keys",
    [("ctrl s", "Control+S"), ("F8", "F8"), ("print", None), ("delete", None), ("a", None), ("close tab", None), ("f80", None)],
)
def test_words_that_are_keys(words, keys):
    assert as_keys(words) == (read_shortcut(keys) if keys else None)


def test_a_reset_says_what_stays_and_why():
    sheet = whole_sheet()
    found = reset(whole_example(), sheet.rows, "the default")
    touched = {r.row.id for r in found.returns} | {row.id for row, _ in found.stays}
    assert touched == {r.id for r in sheet.rows if r.layer != DEFAULT or any(s.layer != DEFAULT for s in r.effective.hid)}
    assert all(why for _, why in found.stays)


@given(drawings, st.sampled_from(["what is beneath", "the default"]), st.randoms(use_true_random=False))
@settings(max_examples=60, deadline=None)
def test_after_a_reset_what_it_promised_holds(drawing, to, rnd):
    estate = put_up(*drawing)
    setup = rnd.choice(sorted(estate.setups))
    sheet = sheet_of(estate, [setup])
    own = [r for r in sheet.rows if r.layer != DEFAULT and rnd.random() < 0.7]
    found = reset(estate, own, to)
    after = sheet_of(with_operations(estate, found.operations), [setup]) if found.operations else sheet
    for one in found.returns:
        if not one.row.effective.refused:  # a nearer layer's word that was in vain may count again
            assert tuple(k for k, _ in after.by_id[one.row.id].effective.now.shortcuts) == one.after
    for row_id in sheet.by_id.keys() - {r.row.id for r in found.returns}:
        assert after.by_id[row_id].effective.now.shortcuts == sheet.by_id[row_id].effective.now.shortcuts


def test_the_order_by_whoever_set_it_has_the_defaults_last():
    layers = [r.layer for r in rows(Asked(order="set by"))]
    assert layers == sorted(layers, key=lambda layer: (layer == DEFAULT, layer))
    assert layers[0] != DEFAULT


def test_counts_leave_nothing_out():
    own = [r for r in whole_sheet().rows if r.program.kind != "system"]
    found = counts(whole_sheet().rows)
    assert found["state"].keys() == {s for r in own for s in r.states}
    assert sum(found["layer"].values()) == sum(found["kind"].values()) == len(own)
    assert sum(found["program"].values()) == len(whole_sheet().rows)


def test_clashes_of_a_row_are_those_of_its_own_command_and_systems_are_not_blamed():
    estate = whole_example()
    for row in whole_sheet().rows:
        parties = {c.identity: {(b.program.id, b.command.id) for b in c.parties} for c in estate.clashes(row.setup)}
        mine = {i for i, found in parties.items() if (row.program.id, row.command.id) in found}
        assert set(row.clashes) == mine
        assert ("clashing" in row.states) == (bool(mine) and row.program.kind != "system")
        assert ("without a task" in row.states) == (row.command.task is None and row.program.kind != "system")


def small(commands: list[dict], entries: list[dict] = (), layouts: list[dict] = ()) -> Estate:
    """One setup on a German keyboard with a program whose cells lie in its window, and two layers."""
    program = {
        "format": "amberkey/program@1",
        "id": "tally",
        "name": "Tally",
        "version": "1",
        "kind": "office",
        "platforms": ["linux", "windows"],
        "scopes": [
            {"id": "window", "name": "Window"},
            {"id": "cells", "name": "Cells", "parent": "window"},
            {"id": "panel", "name": "Panel", "parent": "window"},
        ],
        "commands": commands,
    }
    setup = {
        "format": "amberkey/setup@1",
        "id": "desk",
        "name": "Desk",
        "place": "at a desk",
        "platform": "linux",
        "edition": "GNOME",
        "layout": "de",
        "body": "iso",
        "people": 9,
        "machines": 9,
        "layers": ["house", "desk"],
        "programs": [{"id": "tally", "version": "1"}],
    }
    house, desk = (
        {"format": "amberkey/profile@1", "id": i, "name": i.title(), "entries": list(e)}
        for i, e in (("house", entries), ("desk", layouts))
    )
    read = {d["id"]: read_document(d, FORMATS) for d in (program, setup, house, desk) if d is not setup}
    profiles = {"house": read["house"], "desk": read["desk"]}
    return Estate({"desk": read_document(setup, FORMATS)}, {("tally", "1"): read["tally"]}, profiles)


def command(name: str, keys: str, scope: str = "window") -> dict:
    return {"id": name, "name": name.title(), "scope": scope, "defaults": {"linux": [keys]}}


def entry(name: str, keys: str, **more) -> dict:
    return {"program": "tally", "command": name, "platform": "linux", "shortcuts": [{"keys": keys}], **more}


@pytest.mark.parametrize(
    "scopes, twice",
    [(("window", "window"), True), (("window", "cells"), True), (("cells", "window"), True), (("cells", "panel"), False)],
)
def test_the_same_key_twice_counts_where_one_place_lies_in_the_other(scopes, twice):
    estate = small([command("one", "F8", scopes[0]), command("other", "F8", scopes[1]), command("third", "F9")])
    states = {r.command.id: "same key twice" in r.states for r in sheet_of(estate, ["desk"]).rows}
    assert states == {"one": twice, "other": twice, "third": False}


def test_a_reset_touches_only_what_it_is_told_and_what_counts_here():
    house = [entry("one", "F2"), entry("other", "F3", locked=True), entry("one", "F4", platform="windows")]
    desk = [entry("one", "F5"), entry("third", "F6", layouts=["us"]), entry("third", "F7", layouts=["de"])]
    estate = small([command("one", "F8"), command("other", "F9"), command("third", "F10")], house, desk)
    found = {r.command.id: r for r in sheet_of(estate, ["desk"]).rows}
    (one,) = reset(estate, [found["one"]], "what is beneath").returns
    assert ([*map(str, one.before)], [*map(str, one.after)], one.layers) == (["F5"], ["F2"], ("desk",))
    (one,) = reset(estate, [found["one"]], "the default").returns
    assert ([*map(str, one.after)], one.layers) == (["F8"], ("desk", "house"))
    (one,) = reset(estate, [found["one"]], "the default", {"house"}).returns
    assert one.layers == ("house",)
    third = reset(estate, [found["third"]], "the default").operations["desk"]
    assert [("de" in o.key, "us" in o.key) for o in third] == [(True, False)]
    locked = reset(estate, [found["other"]], "the default")
    assert (locked.returns, [why for _, why in locked.stays]) == ((), ["House locks it"])


def test_a_whole_profile_is_reset_but_for_what_is_locked_on_every_platform():
    house = [entry("one", "F2"), entry("other", "F3", locked=True), entry("one", "F4", platform="windows")]
    estate = small([command("one", "F8"), command("other", "F9")], house)
    found = reset_profile(estate, sheet_of(estate, ["desk"]).rows, "house")
    assert (len(found.operations["house"]), found.unseen, len(found.returns), len(found.stays)) == (2, 1, 1, 1)
    left = with_operations(estate, found.operations).profiles["house"].entries
    assert [(e.command, e.locked) for e in left] == [("other", True)]


def test_free_keys_are_what_they_are_narrowed_down_to():
    estate = small([command("save", "F8"), command("other", "F9")])
    sheet = sheet_of(estate, ["desk"])
    row, boards = sheet.by_id["tally/save"], [sheet.boards["desk"]]
    body = boards[0].ground.keyboard.body

    def keys(**narrowed) -> list[Candidate]:
        return free_keys(row, boards, Narrowed(**narrowed), 500)

    everything = keys()
    assert [c.cost for c in everything] == sorted(c.cost for c in everything)
    assert not {"F8", "F9"} & {str(c.shortcut) for c in everything}
    assert {str(c.shortcut).split("+")[-1] for c in keys(first_letter=True)} == {"S"}
    assert all(len(c.shortcut.presses[0].modifiers) == 2 for c in keys(modifiers=2))
    left = keys(hand="left hand")
    assert left
    assert all("left hand" in c.reach.flags for c in left)
    for name, code in (("home row", "KeyA"), ("digits", "Digit1"), ("function keys", "F1")):
        found = keys(row=name)
        assert found
        ways = [ways_of(c.shortcut, boards[0].ground.keyboard, "character").ways for c in found]
        assert {body.key(w[0][0].code).y for w in ways} == {body.key(code).y}
    assert len(free_keys(row, boards, Narrowed(), 3)) == 3


def test_bringing_takes_what_holds_and_leaves_what_may_not_go():
    house = [entry("one", "F2"), entry("other", "F3", locked=True)]
    estate = small([command("one", "F8"), command("other", "F9"), command("third", "F10")], house, [entry("one", "F5")])
    sheet = sheet_of(estate, ["desk"])
    found = bring(estate, sheet.rows, "house")
    assert [r.command.id for r in found.rows] == ["one"]
    assert [why for _, why in found.stays] == ["it is there already", "no layer says anything of it"]
    after = with_operations(estate, found.operations)
    assert after.profiles["desk"].entries == ()
    assert [[*map(str, (g.keys for g in e.shortcuts))] for e in after.profiles["house"].entries] == [["F5"], ["F3"]]
    now = sheet_of(after, ["desk"]).by_id["tally/one"]
    assert (now.layer, [str(k) for k, _ in now.effective.now.shortcuts]) == ("house", ["F5"])
    in_a_set = small([command("one", "F8")], [], [])
    sets = [{"id": "lent", "name": "Lent", "entries": [entry("one", "F6")]}]
    desk = read_document({"format": "amberkey/profile@1", "id": "desk", "name": "Desk", "sets": sets}, FORMATS)
    in_a_set = replace(in_a_set, profiles={**in_a_set.profiles, "desk": desk})
    (why,) = [w for _, w in bring(in_a_set, sheet_of(in_a_set, ["desk"]).rows, "house").stays]
    assert why == "a set of Desk says it, and sets are taken as a whole"
    # The other way everything but what is locked; what the nearer layer says is not overwritten by what it hid.
    other_way = bring(estate, sheet.rows, "desk")
    assert (other_way.rows, [why for _, why in other_way.stays][1]) == ((), "House locks it")
