"""Entries that change nothing, found and taken out without anything changing; and what changed keys come to."""

from hypothesis import given

from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.ways.remapped import remapped
from amberkey.core.ways.tidying import spare_entries
from tests.core.estates import drawings, put_up
from tests.core.scenes import command, entry, office, scene, system
from tests.core.test_laws_of_clashes import seldom
from tests.core.test_layers import layered

HERE = office("windows", command("quote", "page", "F2"), command("hold", "page", "F3"))


def spare(estate, profile):
    return {(s.entry.command, s.same_as) for s in spare_entries(estate, estate.profiles[profile])}


def test_what_the_maker_ships_and_what_lies_beneath_is_spare():
    house = {"entries": [entry("windows", "quote", "F6"), entry("windows", "hold", "F3")]}
    own = {"entries": [entry("windows", "quote", "F6")]}
    estate = layered("windows", house, own, program=HERE)
    assert spare(estate, "layer-0") == {("hold", DEFAULT)}
    assert spare(estate, "layer-1") == {("quote", "layer-0")}


def test_what_holds_others_back_or_says_otherwise_somewhere_stays():
    locked = {"entries": [entry("windows", "hold", "F3", locked=True)]}
    assert spare(layered("windows", locked, program=HERE), "layer-0") == set()
    back = {"entries": [entry("windows", "quote", "F2")]}
    assert spare(layered("windows", {"entries": [entry("windows", "quote", "F6")]}, back, program=HERE), "layer-1") == set()
    for_layout = {"entries": [entry("windows", "quote", "F2", layouts=["de"])]}
    assert spare(layered("windows", for_layout, program=HERE), "layer-0") == set()


def test_on_no_setup_only_the_makers_say_what_is_spare():
    estate = layered("windows", {"entries": [entry("windows", "hold", "F3"), entry("windows", "quote", "F9")]}, program=HERE)
    (here,) = estate.setups.values()
    alone = type(estate)({"here": here.model_copy(update={"layers": ()})}, estate.programs, estate.profiles)
    assert spare(alone, "layer-0") == {("hold", DEFAULT)}


def shortcuts(estate):
    return {
        (setup, c.program, c.command.id, c.arguments): frozenset(c.now.shortcuts)
        for setup in estate.setups
        for commands in estate.board(setup).setup.commands.values()
        for c in commands
        if not c.arguments
    }


@seldom
@given(drawings)
def test_without_what_is_spare_everybody_has_the_same_shortcuts(documents):
    estate = put_up(*documents)
    for profile in estate.profiles.values():
        gone = {s.entry.key for s in spare_entries(estate, profile)}
        if gone:
            kept = tuple(e for e in profile.entries if e.key not in gone)
            after = estate.with_profiles([profile.model_copy(update={"entries": kept})])
            assert shortcuts(after) == shortcuts(estate)


def test_changed_keys_tell_what_nothing_makes_and_what_is_easier():
    here = office("windows", command("quote", "page", "Control+Q"), command("hold", "page", "Control+F"))
    before = scene("windows", system("windows"), here)
    after = scene("windows", system("windows"), here, house={"remaps": [{"key": "KeyF", "becomes": "KeyQ"}]})
    found = remapped(before.board("here"), after.board("here"))
    assert found.unmade == ("KeyF",)
    assert [o.binding.command.id for o in found.easier] == ["quote"]
    assert [(o.binding.command.id, o.after) for o in found.harder] == [("hold", None)]
