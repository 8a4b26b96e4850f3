"""Wrong documents and hostile sizes: refused with place and cure, or answered in reasonable time."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.errors import DocumentError, TooLarge
from amberkey.core.documents.reading import Limits, read_json
from amberkey.core.profiles.errors import MissingPart, UnfitPart
from tests.core.estates import read
from tests.core.scenes import command, office, program, scene

PROGRAM = office("windows", command("a", "window"))


def bound(keys, platform="windows"):
    return {"commands": [{"id": "a", "name": "A", "scope": "window", "defaults": {platform: [keys]}}]}


def faults(value):
    with pytest.raises(DocumentError) as caught:
        read(value)
    return " ".join(f.sentence() for f in caught.value.faults)


@pytest.mark.parametrize(
    "change, says",
    [
        ({"scopes": [{"id": "a", "name": "A", "parent": "b"}, {"id": "b", "name": "B", "parent": "a"}]}, "exactly one scope"),
        (
            {"scopes": [*PROGRAM["scopes"], {"id": "x", "name": "X", "parent": "y"}, {"id": "y", "name": "Y", "parent": "x"}]},
            "can't stand inside itself",
        ),
        ({"scopes": [*PROGRAM["scopes"], {"id": "page", "name": "Again", "parent": "window"}]}, "page stands twice"),
        ({"commands": [{"id": "a", "name": "A", "scope": "attic"}]}, "attic, which isn't there"),
        ({"commands": [{"id": "a", "name": "A", "scope": "window", "defaults": {"beos": ["F1"]}}]}, "'windows', 'macos' or"),
        (
            {"commands": [{"id": "a", "name": "A", "scope": "window", "defaults": {"windows": ["Hyper+F1"]}}]},
            "No key is called",
        ),
        ({"commands": [{"id": "a", "name": "A", "scope": "window", "defaults": {"windows": ["code:KeyQQ"]}}]}, "not the code"),
        ({"commands": [{"id": "a", "name": "A", "scope": "window", "defaults": {"windows": [["F8"] * 50]}}]}, "50 presses"),
        ({"on_prefix": {"wins": "nobody"}}, "on_prefix.wins"),
        ({"menus": [{"letter": "ab", "name": "File"}]}, "menus[0].letter"),
        ({"caret": [{"id": "x", "name": "x", "does": "moves", "unit": "word", "keys": ["F8", "A"]}]}, "single presses"),
        ({"takes": "all"}, "takes"),
    ],
)
def test_a_faulty_program_names_place_and_fault(change, says):
    assert says in faults({**PROGRAM, **change})


@pytest.mark.parametrize(
    "change, says",
    [
        ({"remaps": [{"key": "KeyQQ", "becomes": "KeyA"}]}, "KeyQQ is not the code"),
        ({"remaps": [{"key": "KeyA", "becomes": "KeyA"}]}, "becomes itself"),
        ({"remaps": [{"key": "KeyA", "becomes": "KeyB"}, {"key": "KeyA", "becomes": "KeyC"}]}, "stands twice"),
        (
            {
                "translations": [
                    {"program": "p", "platform": "windows", "keys": "F1", "becomes": "F1"},
                ]
            },
            "F1 becomes itself",
        ),
        (
            {"translations": [{"program": "p", "platform": "windows", "keys": ["F1", "F2"], "becomes": "F2"}]},
            "one press becomes one",
        ),
    ],
)
def test_a_faulty_profile_names_place_and_fault(change, says):
    assert says in faults({"format": "amberkey/profile@1", "id": "house", "name": "House", **change})


@pytest.mark.parametrize(
    "change, says",
    [
        ({"families": [{"id": "f", "name": "F", "step": "shift", "members": ["a", "lost"]}]}, "lost, which isn't there"),
        ({"tasks": [{"id": "a", "name": "A"}, {"id": "a", "name": "A"}]}, "stands twice"),
        (
            {
                "families": [
                    {"id": "f", "name": "F", "step": "shift", "members": ["a", "b"]},
                    {"id": "g", "name": "G", "step": "digit", "members": ["a", "b"]},
                ]
            },
            "a is in f and in g",
        ),
    ],
)
def test_faulty_tasks_name_place_and_fault(change, says):
    base = {"format": "amberkey/tasks@1", "id": "t", "name": "T", "tasks": [{"id": "a", "name": "A"}, {"id": "b", "name": "B"}]}
    assert says in faults({**base, **change})


@pytest.mark.parametrize(
    "setup, error, says",
    [
        ({"layout": "dvorkan"}, DocumentError, "^layout: .* Known are"),
        ({"layout": "de(mac)"}, DocumentError, "^layout: .* not one of Windows"),
        ({"body": "round"}, DocumentError, "^body: .* Known are"),
        ({"layers": ["attic"]}, MissingPart, "profile attic"),
        ({"programs": [{"id": "lost", "version": "1"}]}, MissingPart, "program lost 1"),
        (
            {"remote": {"name": "far", "presses": "kept", "system": {"id": "office", "version": "1"}}},
            UnfitPart,
            "is no system",
        ),
    ],
)
def test_a_setup_that_does_not_go_together_says_why(setup, error, says):
    with pytest.raises(error, match=says):
        scene("windows", PROGRAM, **setup).board("here")


def test_a_program_of_another_platform_is_refused():
    with pytest.raises(UnfitPart, match="doesn't run on Windows"):
        scene("windows", PROGRAM, program("macos", "notes", "office", [])).board("here")


def test_two_layers_that_remap_one_key_in_two_ways_are_told_apart_by_nearness():
    estate = scene("windows", PROGRAM, house={"remaps": [{"key": "CapsLock", "becomes": "Escape"}]})
    assert estate.board("here").ground.keyboard.remaps == {"CapsLock": "Escape"}


def test_very_many_bindings_on_one_stroke_are_answered():
    many = [command(f"do-{n}", "page", "F8") for n in range(20_000)]
    found = scene("windows", office("windows", *many)).clashes("here")
    assert len(found) == 19_999
    assert {c.holder.command.id for c in found} == {"do-0"}


def test_very_deep_scopes_are_answered():
    scopes = [{"id": "s-0", "name": "S"}]
    scopes += [{"id": f"s-{n}", "name": "S", "parent": f"s-{n - 1}", "takes_text": True} for n in range(1, 300)]
    commands = [command(f"do-{n}", f"s-{n}", "F8") for n in range(300)]
    estate = scene("windows", office("windows", *commands, scopes=scopes))
    assert estate.clashes("here") == []
    assert len(estate.meant("here")) == 299


@given(st.text(max_size=40), st.sampled_from(["[", "]", "{", "}", '"', "\\", '\\"', "a"]))
def test_any_text_is_read_as_json_or_refused_with_a_place(text, more):
    data = f"{more}{text}{more}".encode("utf-8", "surrogatepass")
    try:
        read_json(data)
    except DocumentError:
        with pytest.raises(DocumentError) as again:
            read_json(data)
        assert again.value.faults
    else:
        assert json.loads(data) is not None or data.strip() == b"null"


@pytest.mark.parametrize("text", ["[" * 50 + "]" * 50, '{"a":' * 40 + "1" + "}" * 40])
def test_deep_nesting_is_refused(text):
    with pytest.raises(TooLarge, match="nests deeper"):
        read_json(text.encode())
    assert read_json(b'{"[[[[[[[[[[[[[[[[[[[[[[[[[[[[": "}}}}\\"{{{{"}', Limits(depth=2))
