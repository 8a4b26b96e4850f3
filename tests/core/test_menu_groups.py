"""Groups in menus: where they stand, what of the program's own can be hidden and moved, and the presses that reach them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.menu_groups import MenuGroup, levels, presses, why_not
from amberkey.core.ways.proposing import ways_out
from tests.core.estates import read
from tests.core.scenes import clashes, command, name, office, pressed, scene
from tests.core.test_several import done

BAR = {
    "id": "bar",
    "name": "Bar",
    "opened": {"windows": "Alt"},
    "groups": [
        {"id": "file", "name": "File", "letter": "F"},
        {"id": "looks", "name": "Looks", "letter": "L", "can_hide": True, "can_move": True},
        {"id": "rows", "name": "Rows", "letter": "R", "can_move": True},
    ],
}
STRIP = {"id": "strip", "name": "Strip", "groups": [], "takes_own": False}
COMMANDS = (command("stamp", "page"), command("split", "page"), command("hold", "panel"))


def program(**more):
    return read(office("windows", *COMMANDS, offers={"menus": [BAR, STRIP]}, **more))


def group(group_id="own", **more):
    base = {"program": "office", "id": group_id, "place": "bar"}
    return MenuGroup.model_validate(
        {**base, **({"name": "Own", "commands": ["stamp", "split"]} if group_id == "own" else {}), **more}
    )


def order(*groups, at=0):
    level = levels(program(), [("house", g) for g in groups])[at]
    return [g.id for g in level.groups], [g.id for g in level.hidden]


def test_groups_stand_where_they_are_put():
    assert order() == (["file", "looks", "rows"], [])
    assert order(group()) == (["file", "looks", "rows", "own"], [])
    assert order(group(after="top")) == (["own", "file", "looks", "rows"], [])
    assert order(group(after="file"), group("looks", hidden=True)) == (["file", "own", "rows"], ["looks"])
    assert order(group("rows", after="file")) == (["file", "rows", "looks"], [])
    assert order(group("rows", place="strip"), at=1) == (["rows"], [])
    assert order(group("rows", place="strip")) == (["file", "looks"], [])
    assert order(group("looks")) == (["file", "looks", "rows"], [])


@given(st.lists(st.sampled_from(["file", "looks", "rows", "own", "top", "gone"]), max_size=3))
def test_no_group_is_lost_wherever_others_are_put(afters):
    groups = [group(i, after=a) for i, a in zip(("own", "looks", "rows"), afters, strict=False)]
    found, hidden = order(*groups)
    assert sorted(found + hidden) == sorted(["file", "looks", "rows", *(["own"] if afters else [])])


def test_the_nearest_layer_says_where_a_group_stands():
    said = [("house", group(name="Far")), ("person", group(name="Near", commands=["hold"]))]
    (own,) = [g for g in levels(program(), said)[0].groups if g.id == "own"]
    assert (own.name, own.commands, own.layer) == ("Near", (("hold", "H"),), "person")


@pytest.mark.parametrize(
    ("said", "says"),
    [
        (group("file", hidden=True), "can't be hidden"),
        (group("file", after="top"), "can't be put elsewhere"),
        (group("file", place="strip"), "can't be put elsewhere"),
        (group("looks", name="Mine"), "keeps its name"),
        (group(place="strip"), "takes no groups"),
        (group(place="gone"), "has no menu place gone"),
        (group(name=""), "needs a name"),
    ],
)
def test_what_a_program_does_not_let_people_do(said, says):
    assert says in why_not(program(), said)
    assert order(said) == (["file", "looks", "rows"], [])


def test_letters_leave_those_of_the_program_alone():
    letters = {g.id: g.letter for g in levels(program(), [("house", group(name="Fares"))])[0].groups}
    assert letters == {"file": "F", "looks": "L", "rows": "R", "own": "A"}
    hidden = [("house", group(name="Links")), ("house", group("looks", hidden=True))]
    assert {g.id: g.letter for g in levels(program(), hidden)[0].groups}["own"] == "L"


def test_the_presses_in_turn():
    level = levels(program(), [("house", group())])[0]
    own = level.groups[-1]
    assert presses(level.place, own, dict(own.commands)["split"], "windows") == read_shortcut("Alt then O then P")
    assert presses(level.place, own, "S", "macos") is None
    held = level.place.model_copy(update={"with_letter": True})
    assert presses(held, own, "S", "windows") == read_shortcut("Alt+O then S")


def with_group(**more):
    said = group(**more).model_dump(mode="json", exclude_defaults=True)
    return scene("windows", office("windows", *COMMANDS, offers={"menus": [BAR]}), house={"menu_groups": [said]})


def test_a_command_of_a_group_runs_by_its_presses_and_takes_no_menu():
    estate = with_group()
    steps = pressed(estate, "Alt then O then S", "office/page")
    assert name(steps[-1].effect.binding) == "office/stamp"
    assert clashes(estate) == []


def test_a_command_that_is_gone_is_told_and_can_leave_the_group():
    estate = with_group(commands=["stamp", "gone"])
    assert clashes(estate) == [("orphan", "medium", None, "office/gone")]
    way = next(w for w in ways_out(estate, estate.groups()[0], "house") if w.kind == "take_off")
    after = done(estate, way.changes)
    assert after.clashes("here") == []
    assert after.profiles["house"].menu_groups[0].commands == ("stamp",)
