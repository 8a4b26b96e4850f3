"""Macros and preferences: what a program takes of them, what they meet, and which layer's word counts."""

import pytest
from pydantic import ValidationError

from amberkey.core.profiles.macros import Macro, faults_of, say_macro, why_not
from amberkey.core.profiles.preferences import Preference, preferred
from amberkey.core.profiles.preferences import why_not as why_no_preference
from amberkey.core.programs.offers import PreferencePlace
from amberkey.core.ways.proposing import ways_out
from tests.core.estates import read
from tests.core.scenes import clashes, command, name, office, pressed, scene
from tests.core.test_several import done

RULES = {"kept_in": ["document", "person"], "replay": ["from the caret"], "longest": 12, "plain": True, "reserved": ["Auto"]}
PLACES = [
    {"id": "size", "name": "Size", "kind": "number", "default": 10, "least": 8, "most": 20, "unit": "points"},
    {"id": "theme", "name": "Theme", "kind": "choice", "default": "light", "choices": ["light", "dark"]},
    {"id": "moves", "name": "Moves", "kind": "yes or no", "default": True},
    {"id": "dates", "name": "Dates", "kind": "date form", "default": "Y-M-D"},
    {"id": "mac", "name": "Mac only", "kind": "text", "default": "", "platforms": ["macos"]},
]
COMMANDS = (command("stamp", "page", "F8"), command("hold", "page"))


def program(platform="windows"):
    made = office(platform, *COMMANDS, offers={"macros": RULES, "preferences": PLACES})
    return read({**made, "platforms": ["windows", "macos"]})


def macro(**more):
    base = {
        "program": "office",
        "id": "m",
        "name": "Twice",
        "steps": [{"runs": "stamp"}, {"types": "one\ntwo"}, {"presses": "F2"}],
    }
    return {**base, **more}


@pytest.mark.parametrize(
    ("said", "says"),
    [
        ({"kept": "machine"}, "keeps macros in a document or with the person, not with the machine"),
        ({"replay": "at a fixed place"}, "replays macros from the caret only"),
        ({"name": "AUTO"}, "keeps for itself"),
        ({"name": "Two words"}, "letters, digits and _ only"),
        ({"name": "A" * 13}, "at most 12 characters"),
        ({}, ""),
    ],
)
def test_what_a_program_takes_of_a_macro(said, says):
    found = why_not(program(), Macro.model_validate(macro(**said)))
    assert (says in found) if says else found == ""


@pytest.mark.parametrize(
    "wrong",
    [
        {"steps": []},
        {"steps": [{}]},
        {"steps": [{"runs": "stamp", "types": "x"}]},
        {"steps": [{"types": "x", "arguments": {"a": 1}}]},
        {"kept": "document"},
        {"document": "A sheet"},
        {"shortcuts": {"windows": ["Main+K"]}},
    ],
)
def test_what_no_macro_can_be(wrong):
    with pytest.raises(ValidationError):
        Macro.model_validate(macro(**wrong))


def test_what_is_wrong_with_steps_is_told_by_their_numbers():
    gone = {**command("gone", "page"), "retired": True}
    known = read(office("windows", *COMMANDS, gone, offers={"macros": RULES}))
    steps = [{"runs": "stamp"}, {"runs": "gone"}, {"runs": "nothing"}]
    found = faults_of(Macro.model_validate(macro(steps=steps)), known)
    assert found == ["step 2 runs gone, which Office doesn't have", "step 3 runs nothing, which Office doesn't have"]
    assert why_not(read(office("windows", *COMMANDS)), Macro.model_validate(macro())) == "Office has no macros"


def test_a_macro_reads_as_sentences():
    says = say_macro(Macro.model_validate(macro()), program(), "windows")
    assert says == "At the caret: Run Stamp; Type “one ⏎ two”; Press F2."


def with_macro(**more):
    here = office("windows", *COMMANDS, offers={"macros": RULES})
    return scene("windows", here, house={"macros": [macro(**more)]}, open_documents=["Open"])


def test_a_macro_runs_by_its_key_and_only_while_its_document_is_open():
    estate = with_macro(shortcuts={"windows": ["F6"]})
    assert name(pressed(estate, "F6", "office/panel")[0].effect.binding) == "office/macro.m"
    shut = with_macro(shortcuts={"windows": ["F6"]}, kept="document", document="Shut")
    assert pressed(shut, "F6", "office/panel")[0].effect.binding is None
    opened = with_macro(shortcuts={"windows": ["F6"]}, kept="document", document="Open")
    assert name(pressed(opened, "F6", "office/panel")[0].effect.binding) == "office/macro.m"


def test_a_macro_that_meets_a_command_is_told_and_gets_a_free_key():
    estate = with_macro(shortcuts={"windows": ["F8"]})
    assert clashes(estate) == [("shadow", "medium", "office/stamp", "office/macro.m")]
    way = next(w for w in ways_out(estate, estate.groups()[0], "house") if w.kind == "move" and w.subject.placed)
    after = done(estate, way.changes)
    assert after.clashes("here") == []
    assert after.profiles["house"].macros[0].shortcuts["windows"] == (way.shortcut,)


@pytest.mark.parametrize("more", [{"steps": [{"runs": "gone"}]}, {"name": "Auto"}, {"program": "elsewhere"}])
def test_a_macro_that_can_not_be_is_told(more):
    assert [c[0] for c in clashes(with_macro(**more))] == ["orphan"]


def preference(name, value, **more):
    return Preference.model_validate({"program": "office", "preference": name, "value": value, **more})


@pytest.mark.parametrize(
    ("place", "value", "says"),
    [
        *(("size", 21, "between 8 and 20"), ("size", "12", "whole number"), ("size", True, "whole number"), ("size", 20, "")),
        *(("theme", "blue", "one of light, dark"), ("theme", "dark", ""), ("moves", 1, "yes or no"), ("moves", False, "")),
        *(("dates", "D/M/Y", ""), ("dates", "D/M", "made of D, M and Y"), ("gone", 1, "has no preference gone")),
    ],
)
def test_what_a_preference_can_be(place, value, says):
    found = why_no_preference(program(), preference(place, value))
    assert (says in found) if says else found == ""


def in_effect(*layers, platform="windows"):
    said = [(f"layer-{n}", own) for n, own in enumerate(layers)]
    return {p.place.id: p for p in preferred(program(), platform, said)}


def test_the_nearest_layer_says_a_preference_unless_one_is_locked():
    far, near = preference("size", 12), preference("size", 14)
    found = in_effect([far], [near])["size"]
    assert (found.value, found.layer, found.hid) == (14, "layer-1", (("layer-0", 12), ("default", 10)))
    locked = in_effect([preference("size", 12, locked=True)], [near])["size"]
    assert (locked.value, locked.layer, locked.refused) == (12, "layer-0", (("layer-1", 14, "layer-0"),))


def test_a_word_for_the_platform_beats_one_for_all_and_nonsense_counts_for_nothing():
    both = [preference("size", 12), preference("size", 15, platform="macos")]
    assert in_effect(both)["size"].value == 12
    assert in_effect(both, platform="macos")["size"].value == 15
    assert in_effect([preference("size", 99)])["size"].layer == "default"
    assert "mac" not in in_effect([])


def test_a_preference_that_can_not_be_is_told():
    here = office("windows", *COMMANDS, offers={"preferences": PLACES})
    house = {"preferences": [{"program": "office", "preference": "size", "value": 99}]}
    estate = scene("windows", here, house=house)
    (clash,) = estate.clashes("here")
    assert (clash.kind, clash.why) == ("orphan", "Size is between 8 and 20")
    way = next(w for w in ways_out(estate, estate.groups()[0], "house") if w.kind == "take_off")
    assert done(estate, way.changes).clashes("here") == []


@pytest.mark.parametrize(
    "wrong",
    [
        {"kind": "choice", "default": "x"},
        {"kind": "text", "default": "x", "unit": "points"},
        {"kind": "number", "default": 3, "least": 4},
        {"kind": "text", "default": "x", "choices": ["x"]},
    ],
)
def test_what_no_preference_place_can_be(wrong):
    with pytest.raises(ValidationError):
        PreferencePlace.model_validate({"id": "a", "name": "A", **wrong})
