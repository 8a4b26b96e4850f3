"""What layers say over each other: the nearest wins, unless a further one locked the entry or reserved the press."""

import pytest

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.without import without_layer
from amberkey.core.documents.errors import DocumentError
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.guard import say_held
from amberkey.core.ways.candidates import candidates_for
from amberkey.core.ways.proposing import assign
from tests.core.estates import read
from tests.core.scenes import PLATFORMS, SCOPES, command, entry, office, scene

COMMANDS = (command("quote", "window", "F6", task="quote"), command("save", "window", "F7"), command("sort", "panel", "F9"))


def layered(platform, *profiles, program=None, **setup) -> Estate:
    """A setup under several profiles, the farthest first, each given by its sections."""
    estate = scene(platform, program or office(platform, *COMMANDS), **setup)
    found = {
        f"layer-{n}": {"format": "amberkey/profile@1", "id": f"layer-{n}", "name": f"Layer {n}"} for n in range(len(profiles))
    }
    read_ones = {i: read({**base, **sections}) for (i, base), sections in zip(found.items(), profiles, strict=True)}
    here = estate.setups["here"].model_copy(update={"layers": tuple(read_ones)})
    return Estate({"here": here}, estate.programs, read_ones, estate.tasks, estate.today)


def now(estate, name="quote"):
    found = next(c for c in estate.board("here").setup.commands["office"] if c.command.id == name)
    return found.now.layer, [str(s) for s, _ in found.now.shortcuts], found


@pytest.mark.parametrize("platform", PLATFORMS)
def test_the_nearest_layer_wins(platform):
    estate = layered(platform, {"entries": [entry(platform, "quote", "F2")]}, {"entries": [entry(platform, "quote", "F3")]})
    layer, keys, found = now(estate)
    assert (layer, keys) == ("layer-1", ["F3"])
    assert [s.layer for s in found.hid] == ["layer-0", "default"]


@pytest.mark.parametrize("platform", PLATFORMS)
def test_a_locked_entry_is_not_for_nearer_layers(platform):
    locked = {"entries": [entry(platform, "quote", "F2", locked=True)]}
    estate = layered(platform, locked, {"entries": [entry(platform, "quote", "F3")]}, {"entries": [entry(platform, "quote")]})
    layer, keys, found = now(estate)
    assert (layer, keys) == ("layer-0", ["F2"])
    assert [(r.said.layer, r.held.by, r.held.why) for r in found.refused] == [
        ("layer-1", "layer-0", "locked"),
        ("layer-2", "layer-0", "locked"),
    ]
    assert say_held(found.refused[0].held, {"layer-0": "House"}) == "House locked it"


def test_further_layers_are_not_bound_by_a_lock():
    locked = {"entries": [entry("linux", "quote", "F3", locked=True)]}
    assert now(layered("linux", {"entries": [entry("linux", "quote", "F2")]}, locked))[:2] == ("layer-1", ["F3"])


@pytest.mark.parametrize("platform", PLATFORMS)
def test_a_reserved_press_is_given_to_nothing_else_by_nearer_layers(platform):
    reserved = {"reserved": [{"keys": "F2", "platform": platform, "reason": "for the quay bell"}]}
    estate = layered(platform, reserved, {"entries": [entry(platform, "quote", "F2"), entry(platform, "save", "F3")]})
    layer, keys, found = now(estate)
    assert (layer, keys) == ("default", ["F6"])
    assert say_held(found.refused[0].held, {"layer-0": "House"}) == "House reserved F2: for the quay bell"
    assert now(estate, "save")[:2] == ("layer-1", ["F3"])


def test_another_spelling_of_a_reserved_press_is_reserved_too():
    reserved = {"reserved": [{"keys": "Control+/", "platform": "windows"}]}
    estate = layered("windows", reserved, {"entries": [entry("windows", "quote", "Control+Shift+7")]}, layout="de", body="iso")
    assert now(estate)[0] == "default"
    estate = layered("windows", reserved, {"entries": [entry("windows", "quote", "Control+Shift+7")]}, layout="us", body="ansi")
    assert now(estate)[0] == "layer-1"


@pytest.mark.parametrize("layout, layer", [("de", "default"), ("us", "layer-1")])
def test_a_press_may_be_reserved_on_some_layouts_only(layout, layer):
    reserved = {"reserved": [{"keys": "F2", "platform": "windows", "layouts": ["de", "se"]}]}
    estate = layered("windows", reserved, {"entries": [entry("windows", "quote", "F2")]}, layout=layout)
    assert now(estate)[0] == layer


def test_a_sequence_that_begins_with_a_reserved_press_takes_it_too():
    reserved = {"reserved": [{"keys": "F2", "platform": "linux"}]}
    assert now(layered("linux", reserved, {"entries": [entry("linux", "quote", ["F2", "Q"])]}))[0] == "default"
    assert now(layered("linux", reserved, {"entries": [entry("linux", "quote", ["Control+Q", "F2"])]}))[0] == "layer-1"


def test_the_task_that_a_press_is_reserved_for_may_have_it():
    reserved = {"reserved": [{"keys": "F2", "platform": "linux", "task": "quote"}]}
    both = {"entries": [entry("linux", "quote", "F2"), entry("linux", "save", "F2")]}
    estate = layered("linux", reserved, both)
    assert (now(estate)[0], now(estate, "save")[0]) == ("layer-1", "default")


def test_who_has_a_reserved_press_already_may_keep_it():
    own = {"reserved": [{"keys": "F2", "platform": "linux"}], "entries": [entry("linux", "quote", "F2")]}
    estate = layered("linux", own, {"entries": [entry("linux", "quote", "F2", "F4")]})
    assert now(estate)[:2] == ("layer-1", ["F2", "F4"])


def test_a_press_reserved_in_one_program_is_free_in_others():
    reserved = {"reserved": [{"keys": "F2", "platform": "linux", "program": "elsewhere"}]}
    assert now(layered("linux", reserved, {"entries": [entry("linux", "quote", "F2")]}))[0] == "layer-1"


def test_a_launcher_on_a_reserved_press_doesnt_count():
    start = [{"id": "start", "name": "Start", "runs": "it", "shortcuts": {"linux": ["Control+Alt+Q"]}}]
    reserved = {"reserved": [{"keys": "Control+Alt+Q", "platform": "linux"}]}
    assert layered("linux", reserved, {"launchers": start}).board("here").setup.launchers == ()
    assert len(layered("linux", {"launchers": start}, reserved).board("here").setup.launchers) == 1


def test_reserved_presses_are_never_proposed():
    estate = layered("linux", {})
    wanted = estate.board("here").bindings_of("office", "save")[0]
    first = candidates_for(wanted, [estate.board("here")], 1)[0].shortcut
    estate = layered("linux", {"reserved": [{"keys": str(first), "platform": "linux"}]})
    wanted = estate.board("here").bindings_of("office", "save")[0]
    assert first not in [c.shortcut for c in candidates_for(wanted, [estate.board("here")], 50)]


def test_what_is_assigned_lands_in_the_layer_that_locked():
    locked = {"entries": [entry("linux", "quote", "F2", locked=True)]}
    estate = layered("linux", locked, {})
    changes, _ = assign(estate, ("office", "quote"), "here", ((read_shortcut("F4"), None),), "layer-1")
    assert set(changes) == {"layer-0"}
    assert changes["layer-0"][0].after["locked"] is True


@pytest.mark.parametrize("keys", [["F2", "F3"], "Main+Q"])
def test_only_single_real_presses_are_reserved(keys):
    with pytest.raises(DocumentError, match="reserved"):
        read({"format": "amberkey/profile@1", "id": "p", "name": "P", "reserved": [{"keys": keys, "platform": "linux"}]})


def test_taking_a_layer_away_tells_what_would_change():
    estate = layered(
        "linux", {"entries": [entry("linux", "quote", "F2")]}, {"entries": [entry("linux", "sort", "F2", scope="window")]}
    )
    told = without_layer(estate, "here", "layer-1")
    assert [(a.command.id, [str(s) for s, _ in b.now.shortcuts]) for a, b in told.commands] == [("sort", ["F9"])]
    assert [c.kind for c in told.solves] == ["same_scope"]
    assert told.makes == ()
    assert len(without_layer(estate, "here", "layer-0").commands) == 1


def test_commands_of_an_add_on_are_there_where_it_is_installed():
    scopes = {"scopes": SCOPES, "add_ons": [{"id": "tides", "name": "Tides"}]}
    program = office("linux", command("tide", "window", "F6", add_on="tides"), command("save", "window", "F7"), **scopes)
    bare = scene("linux", program)
    full = scene("linux", program, used={"office": {"add_ons": ["tides"]}})
    assert [c.command.id for c in bare.board("here").setup.commands["office"]] == ["save"]
    assert [c.command.id for c in full.board("here").setup.commands["office"]] == ["tide", "save"]


def test_a_command_of_an_unknown_add_on_is_refused():
    with pytest.raises(DocumentError, match="add-on tides"):
        read(office("linux", command("tide", "window", "F6", add_on="tides")))


def test_states_of_an_estate_share_what_nothing_has_changed_in():
    estate = layered("linux", {"entries": [entry("linux", "quote", "F2")]}, {})
    estate.clashes("here")
    same = {i: read(p.to_json()) for i, p in estate.profiles.items()}
    again = Estate(estate.setups, estate.programs, same, estate.tasks, estate.today, estate.shared)
    assert again.board("here") is estate.board("here")
    changed = same | {"layer-1": read({**same["layer-1"].to_json(), "entries": [entry("linux", "save", "F3")]})}
    other = Estate(estate.setups, estate.programs, changed, estate.tasks, estate.today, estate.shared)
    assert other.board("here") is not estate.board("here")
    assert other.board("here").parts["system"] is estate.board("here").parts["system"]
    estate.shared.prune(())
    assert estate.shared.boards == {}
    assert estate.shared.parts == {}
