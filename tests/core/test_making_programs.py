"""Programs made by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.errors import DocumentError
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.programs.making import blank_program, like, new_version, read_keys, with_commands, write_keys
from tests.core.scenes import command, entry, office, scene

PRESSES = st.sampled_from(
    ["Control+S", "F12", "Control+,", "Control+;", ",", ";", "Alt+Shift+Plus", "Meta+-", "Control+O", "R"]
)
SHORTCUTS = st.lists(PRESSES, min_size=1, max_size=2).map(lambda p: read_shortcut(" then ".join(p)))


@given(st.lists(SHORTCUTS, max_size=4, unique=True))
def test_keys_that_are_written_are_read_as_the_same(shortcuts):
    assert read_keys(write_keys(shortcuts)) == tuple(shortcuts)


@pytest.mark.parametrize("text", ["Ctrl+S or F12", "ctrl s; f12", "Strg+S, F12", "Control+S\nF12", "Ctrl+S or F12 or Ctrl+S"])
def test_keys_are_read_as_people_write_them(text):
    assert list(map(str, read_keys(text))) == ["Control+S", "F12"]


def program(*commands):
    return with_commands(blank_program("Tide Ledger", "1.0", "business", ["windows", "linux"], ()), commands)


def test_commands_get_ids_from_their_names_and_no_two_the_same():
    made = program({"name": "Größe ändern"}, {"name": "Grösse andern"}, {"name": "Save", "keys": {"windows": "Ctrl+S or F2"}})
    assert [c.id for c in made.commands] == ["grosse-andern", "grosse-andern-2", "save"]
    assert list(map(str, made.commands[2].defaults_on("windows"))) == ["Control+S", "F2"]
    assert made.commands[2].scope == "window"


def test_a_renamed_command_is_found_by_its_old_id_and_keeps_the_rest():
    made = program({"name": "Save", "keys": {"windows": "Ctrl+S"}, "risky": True})
    now = with_commands(made, [{"id": "save", "name": "Keep"}])
    assert (now.commands[0].id, now.commands[0].was, now.commands[0].risky) == ("keep", ("save",), True)
    assert now.command("save") is now.commands[0]
    back = with_commands(now, [{"id": "keep", "name": "Save"}, {"name": "Keep"}])
    assert [c.id for c in back.commands] == ["save-2", "keep-2"]  # the ids that mean something else already stay theirs
    assert back.command("save") is back.commands[0]


def test_keys_that_say_the_same_stay_as_the_document_has_them():
    made = program({"name": "Save", "keys": {"windows": "Main+S", "linux": "Main+S or F2"}})
    same = with_commands(made, [{"id": "save", "name": "Save", "keys": {"windows": "Ctrl+S", "linux": "ctrl s; F2"}}])
    assert same == made
    other = with_commands(made, [{"id": "save", "name": "Save", "keys": {"windows": "Ctrl+S", "linux": "F2"}}])
    assert {p: list(map(str, s)) for p, s in other.commands[0].defaults.items()} == {"windows": ["Main+S"], "linux": ["F2"]}


def test_an_id_that_somebody_chose_stays():
    made = program({"name": "Save"})
    chosen = made.model_copy(update={"commands": (made.commands[0].model_copy(update={"id": "cmd.17"}),)})
    assert with_commands(chosen, [{"id": "cmd.17", "name": "Keep"}]).commands[0].id == "cmd.17"


@pytest.mark.parametrize(
    "given, place, says",
    [
        ({"name": " "}, "commands[0].name", "no name"),
        ({"id": "gone", "name": "Gone"}, "commands[0].id", "no command gone"),
        ({"name": "Save", "keys": {"windows": "Ctrl+Nonsense"}}, "commands[0].keys.windows", "'Ctrl+Nonsense' on Windows"),
        ({"name": "Save", "keys": {"macos": "Cmd+S"}}, "commands[0].keys.macos", "isn't there on macOS"),
        ({"name": "Save", "scope": "attic"}, "commands[0].scope", "which isn't there"),
        ({"name": "Save", "kind": "nonsense"}, "commands[0].kind", ""),
    ],
)
def test_a_fault_is_told_with_its_row(given, place, says):
    with pytest.raises(DocumentError) as caught:
        program(given)
    faults = [f.sentence() for f in caught.value.faults]
    assert any(place in f and says in f for f in faults), faults


def test_two_names_that_come_to_one_id_are_told_apart():
    with pytest.raises(DocumentError, match=r"Tide-Ledger would be called tide-ledger in files"):
        blank_program("Tide-Ledger", "1.0", "office", ["windows"], {"tide-ledger"})


def test_a_program_like_another_has_its_commands_and_nothing_of_where_they_were_read():
    made = program({"name": "Save", "keys": {"linux": "Ctrl+S"}})
    copy = like(made, "Wave Ledger", "2", {made.id})
    assert (copy.id, copy.version) == ("wave-ledger", "2")
    assert [c.id for c in copy.commands] == ["save"]
    assert new_version(made, "1.1", {"1.0"}).model_copy(update={"version": "1.0"}) == made
    with pytest.raises(DocumentError, match=r"version 1\.0"):
        new_version(made, "1.0", {"1.0"})


def beside(office_program, *entries):
    return scene("windows", office_program, house={"entries": list(entries)})


def found(estate):
    return list(estate.clashes("here"))


def test_a_retired_command_is_as_good_as_gone_and_what_is_set_for_it_is_told():
    def with_last(**more):
        return office("windows", command("keep", "window", "F8"), command("old", "window", "F8", **more))

    set_for_it = entry("windows", "old", "F9")
    there, retired = beside(with_last()), beside(with_last(retired=True), set_for_it)
    assert [c.kind for c in found(there)] == ["same_scope"]
    assert [(c.kind, c.why) for c in found(retired)] == [("orphan", "Old is retired in Office")]
    without = beside(office("windows", command("keep", "window", "F8")), set_for_it)
    assert [c.kind for c in found(without)] == [c.kind for c in found(retired)]
    bound = [[str(b.shortcut) for b in e.board("here").bindings] for e in (without, retired)]
    assert bound[0] == bound[1]


@pytest.mark.parametrize(
    "given, why",
    [
        ({"by": 5}, ""),
        ({"by": 3}, "Step takes no by 3; it takes 1, 5"),
        ({"to": "x"}, "Step takes no argument to"),
        ({}, ""),
    ],
)
def test_arguments_that_a_command_does_not_take_are_told(given, why):
    stepping = command("step", "window", arguments=[{"name": "by", "values": ["1", "5"]}])
    estate = beside(office("windows", stepping), entry("windows", "step", "F9", **({"arguments": given} if given else {})))
    assert [c.why for c in found(estate) if c.kind == "orphan"] == ([why] if why else [])


def test_a_command_that_names_two_arguments_needs_both():
    two = command("step", "window", arguments=[{"name": "by"}, {"name": "to"}])
    estate = beside(office("windows", two), entry("windows", "step", "F9", arguments={"by": 1}))
    assert [c.why for c in found(estate)] == ["Step needs the argument to"]


@pytest.mark.parametrize(
    "value, why",
    [
        *[(n, "") for n in (-2, 0, 9)],
        *[(n, f"Step by [by] takes no by {n}; it takes whole numbers from -2 to 9") for n in (-3, 10, "5", "x")],
    ],
)
def test_a_value_out_of_its_range_is_refused(value, why):
    stepping = command("step", "window", arguments=[{"name": "by", "least": -2, "most": 9}]) | {"name": "Step by [by]"}
    estate = beside(office("windows", stepping), entry("windows", "step", "F9", arguments={"by": value}))
    assert [c.why for c in found(estate) if c.kind == "orphan"] == ([why] if why else [])


@pytest.mark.parametrize(
    "argument, says",
    [
        ({"least": 1}, "give both, or neither"),
        ({"most": 1}, "give both, or neither"),
        ({"least": 1, "most": 3, "values": ["2"]}, "either the values are named"),
        ({"least": 4, "most": 3}, "3 is less than 4"),
    ],
)
def test_a_range_has_two_ends_in_their_order(argument, says):
    with pytest.raises(DocumentError, match=says):
        program({"name": "Step", "arguments": [{"name": "by", **argument}]})


def test_a_button_is_there_at_once():
    assert program({"name": "Step", "reached_by": {"by": "menu", "depth": 3}}).commands[0].reached_by.depth == 3
    with pytest.raises(DocumentError, match="its depth is 1"):
        program({"name": "Step", "reached_by": {"by": "button", "depth": 2}})


def test_a_template_is_told_with_its_values():
    made = program({"name": "Raise [what] by [by]", "arguments": [{"name": "what"}, {"name": "by"}, {"name": "from"}]})
    told = made.commands[0].told_with
    assert told([("by", 5), ("what", "fares")]) == "Raise [fares] by [5]"
    assert told([("by", 5), ("from", "May"), ("till", 6)]) == "Raise [what] by [5] [from May, till 6]"
    assert told([]) == "Raise [what] by [by]"
