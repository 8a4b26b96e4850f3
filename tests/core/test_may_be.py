"""Names of a settings file that are none of ours, matched to commands."""

from amberkey.core.descriptions.carrying import Wanted
from amberkey.core.descriptions.described import Described
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.making import blank_program, with_commands
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import may_be, read_settings

DIALECT = {"modifiers": {"Control": ["Ctrl+"]}}
PLAIN = Described.model_validate(
    {"container": "ini", "command": "name", "keys": {"at": "value"}, "dialect": DIALECT}, strict=False
)
PARTED = Described.model_validate(
    {**PLAIN.model_dump(), "at": ["keys/{context}"], "context": "{context}"},
    strict=False,
)


def program(**commands: str) -> Program:
    blank = blank_program("Weir Desk", "2", "office", ["windows"], ())
    return with_commands(blank, [{"name": n.replace("_", " "), "keys": {"windows": keys}} for n, keys in commands.items()])


def keys(text: str) -> tuple[Shortcut, ...]:
    return (read_shortcut(text),)


def test_the_same_words_go_before_the_same_keys() -> None:
    desk = program(Save_the_sheet="Ctrl+S", Print="Ctrl+P")
    found = may_be(desk, "windows", PLAIN, {Wanted("sheetSave"): keys("Ctrl+P"), Wanted("out"): keys("Ctrl+P")}, ())
    assert found == {Wanted("sheetSave"): "save-the-sheet", Wanted("out"): "print"}


def test_keys_that_two_commands_have_match_neither() -> None:
    desk = program(Save="Ctrl+S", Keep="Ctrl+S")
    assert may_be(desk, "windows", PLAIN, {Wanted("x"): keys("Ctrl+S")}, ()) == {}


def test_a_command_that_the_file_names_already_is_no_other_one() -> None:
    desk = program(Save="Ctrl+S")
    assert may_be(desk, "windows", PLAIN, {Wanted("x"): keys("Ctrl+S")}, {"save"}) == {}
    twice = {Wanted("x"): keys("Ctrl+S"), Wanted("y"): keys("Ctrl+S")}
    assert may_be(desk, "windows", PLAIN, twice, ()) == {Wanted("x"): "save"}


def test_a_scope_has_one_context() -> None:
    desk = program(Save="Ctrl+S", Print="Ctrl+P", Find="Ctrl+F")
    unknown = {
        Wanted("a", "list"): keys("Ctrl+S"),
        Wanted("b", "desk"): keys("Ctrl+P"),
        Wanted("c", "desk"): keys("Ctrl+F"),
    }
    assert may_be(desk, "windows", PARTED, unknown, ()) == {Wanted("b", "desk"): "print", Wanted("c", "desk"): "find"}
    scope = desk.scopes[0].id
    said = Described.model_validate({**PARTED.model_dump(), "scopes": {scope: "list"}}, strict=False)
    assert may_be(desk, "windows", said, unknown, ()) == {Wanted("a", "list"): "save"}


def test_the_name_of_a_command_in_a_context_of_no_scope_is_none_of_ours() -> None:
    desk = program(Save="Ctrl+S")
    said = Described.model_validate({**PARTED.model_dump(), "scopes": {desk.scopes[0].id: "desk"}}, strict=False)
    found = read_settings(b"[keys/desk]\nsave=Ctrl+S\n[keys/list]\nsave=Ctrl+L\n", desk, said)
    assert found.entries == {"save": keys("Ctrl+S"), 'list "save"': keys("Ctrl+L")}
