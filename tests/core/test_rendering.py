"""New settings files: begun from a description alone, with what a profile or a setup says, and read back as that."""

import pytest

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.fresh import fresh_file
from amberkey.core.exchange.rendering import NOT_APPROVED, files_of_profile, files_of_setup, render
from amberkey.core.exchange.travelling import needs_of, travel
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.model import Entry, Given, Launcher, Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import read_settings
from tests.core import test_carrying as carried
from tests.core.test_example import documents, estate

PROGRAMS = {d.id: d for d in documents() if isinstance(d, Program)}
PROFILES = [d for d in documents() if isinstance(d, Profile)]
DESCRIBED = {p.settings_files[0].container: p for p in PROGRAMS.values() if p.settings_files and p.kind != "system"}


def test_the_example_has_a_program_for_each_container():
    assert len(DESCRIBED) == 8


@pytest.mark.parametrize("container", sorted(DESCRIBED))
def test_a_new_file_holds_what_is_wanted_and_nothing_else(container):
    program = DESCRIBED[container]
    how = program.settings_files[0]
    platform = program.platforms[0]
    wanted = {}
    taken = set()
    for command in program.commands:
        default = command.defaults_on(platform)
        if default and not command.retired and not command.arguments and not taken & set(default):
            wanted[command.id] = default[:1]
            taken |= set(default)
    data, wrote, left = render(program, how, wanted)
    assert wrote
    assert len(wrote) + len(left) == len(wanted)
    assert read_settings(data, program, how).entries == {i: wanted[i] for i in wrote}
    # What is written into a file that was written is the same file.
    assert render(program, how, wanted, data)[0] == data


@pytest.mark.parametrize("container", sorted(DESCRIBED))
def test_a_new_file_with_nothing_set_is_one_that_can_be_read(container):
    program = DESCRIBED[container]
    how = program.settings_files[0]
    reading = read_settings(fresh_file(how, ["main"]), program, how)
    assert (reading.entries, reading.missing) == ({}, "")


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"at": ["*"]}, "may be called anything"),
        ({"at": ["{file}"], "context": None}, "doesn't say what"),
        ({"container": "xml", "at": []}, "one element at its root"),
    ],
)
def test_a_file_whose_places_have_no_names_cannot_be_begun(change, says):
    how = Described.model_validate({**carried.JSON, **change}, strict=False)
    with pytest.raises(SettingsFileError, match=says):
        fresh_file(how)


def test_every_context_has_its_place():
    how = Described.model_validate(carried.YAML, strict=False)
    assert fresh_file(how, ["board", "list", "board"]) == b"keys:\n  board: {}\n  list: {}\n"


PARTED = {
    "command": "Command",
    "keys": {
        "at": "Key",
        "form": "parts",
        "modifiers": {"form": "flags", "fields": {"Control": "Ctrl", "Shift": "Shift"}},
    },
    "dialect": {"modifiers": {"Control": ["Ctrl+"], "Shift": ["Shift+"]}},
}


def test_a_new_table_has_a_column_for_everything_that_is_described():
    table = {**PARTED, "container": "table", "options": {"separator": ";"}}
    how = Described.model_validate(table, strict=False)
    assert fresh_file(how) == b"Command;Key;Ctrl;Shift\n"
    bare = Described.model_validate({**table, "options": {"header": False}}, strict=False)
    assert fresh_file(bare) == b""


def test_a_new_toml_file_has_a_table_or_a_list_as_its_entries_stand():
    named = {
        "container": "toml",
        "at": ["own", "a b"],
        "command": "name",
        "keys": {"at": "value"},
        "dialect": PARTED["dialect"],
    }
    assert fresh_file(Described.model_validate(named, strict=False)) == b'[own."a b"]\n'
    rows = {**named, "command": "do", "keys": {"at": "on"}}
    assert fresh_file(Described.model_validate(rows, strict=False)) == b'[own]\n"a b" = []\n'


def test_in_utf_16_a_new_file_is_in_utf_16():
    how = Described.model_validate({**carried.JSON, "encoding": "utf-16-le"}, strict=False)
    assert fresh_file(how).decode("utf-16-le").startswith("{")


def test_one_command_that_cannot_be_written_does_not_keep_the_others():
    program = DESCRIBED["json"]
    able, other = (c.id for c in program.commands[:2])
    wanted = {able: (read_shortcut("F9"),), other: (read_shortcut("Fn+F9"),), "gone": (read_shortcut("F8"),)}
    data, wrote, left = render(program, program.settings_files[0], wanted)
    assert wrote == (able,)
    assert len(left) == 2
    assert any("gone" in one for one in left)
    assert read_settings(data, program, program.settings_files[0]).entries == {able: (read_shortcut("F9"),)}


@pytest.mark.parametrize("profile", PROFILES, ids=lambda p: p.id)
def test_every_file_of_a_profile_says_what_the_profile_says(profile):
    for file in files_of_profile(profile, PROGRAMS):
        if not file.data:
            assert file.left_out
            continue
        said = profile.said_of(file.program.id, file.platform, "").entries
        wanted = {e.command: tuple(dict.fromkeys(g.keys for g in e.shortcuts)) for e in said if e.command in file.commands}
        how = next(h for h in file.program.settings_files if not h.path or h.path.get(file.platform) == file.path)
        assert read_settings(file.data, file.program, how).entries == wanted
        assert len(file.commands) + len(file.left_out) >= len(said)


def test_every_setup_of_the_example_has_the_files_of_all_its_layers():
    whole = estate()
    containers = set()
    for setup in whole.setups:
        board = whole.board(setup)
        for file in files_of_setup(board.setup):
            if file.data:
                wanted = {
                    one.command.id: tuple(dict.fromkeys(s for s, _ in one.now.shortcuts))
                    for one in board.setup.commands[file.program.id]
                    if one.now.layer != DEFAULT and not one.arguments
                }
                how = file.program.settings_files[0]
                assert read_settings(file.data, file.program, how).entries == {i: wanted[i] for i in file.commands}
                containers.add(how.container)
    assert {"json", "yaml", "toml", "xml", "ini", "table"} <= containers


def entry(program, command, keys, **more):
    shortcuts = tuple(Given(keys=read_shortcut(k)) for k in keys)
    return Entry(program=program, command=command, platform="windows", shortcuts=shortcuts, **more)


QUAYSHEET = PROGRAMS["quaysheet"]
FULL = Profile(
    id="full",
    name="Full",
    entries=(
        entry("quaysheet", QUAYSHEET.commands[0].id, ["F9"]),
        entry("quaysheet", QUAYSHEET.commands[1].id, ["F10"], layouts=("de",)),
        entry("nobody-knows", "a-command", ["F9"]),
    ),
    launchers=(Launcher(id="log", name="Log", runs="log"),),
)


def test_what_stays_is_told_with_why():
    found = travel(FULL, PROGRAMS)
    assert found.sections is None
    assert found.profile == FULL
    told = {(s.what, s.why) for s in found.stays}
    assert any("only for de" in why for _, why in told)
    assert ("nobody-knows, as a settings file", "That program isn't described here.") in told
    assert any("Launchers" in what for what, _ in told)
    assert [f.path for f in found.files if f.data] == [QUAYSHEET.settings_files[0].path["windows"]]


def test_a_file_goes_out_only_where_its_place_was_approved():
    free = files_of_profile(FULL, PROGRAMS)
    assert files_of_profile(FULL, PROGRAMS, lambda *_: True) == free
    assert any(f.data for f in free)
    asked = []
    held = files_of_profile(FULL, PROGRAMS, lambda program, platform, path: asked.append((program.id, platform, path)))
    assert not any(f.data for f in held)
    assert [f.left_out for f in held if f.path] == [(NOT_APPROVED,)]
    assert asked == [("quaysheet", "windows", "Quaysheet/settings.json")]


def test_of_chosen_sections_nothing_else_travels():
    found = travel(FULL, PROGRAMS, ["launchers"])
    assert found.sections == ("launchers",)
    assert (found.profile.entries, found.profile.launchers) == ((), FULL.launchers)
    assert [s.what for s in found.stays][:1] == ["3 shortcuts"]
    assert found.files == ()
    assert travel(FULL, PROGRAMS, list(FULL.sections)).sections is None


def test_what_is_needed_there_is_said():
    needs = needs_of([FULL], PROGRAMS)
    assert needs[0].startswith("nobody-knows, as nobody-knows: 1 shortcut needs it")
    assert any(n.startswith(f"Quaysheet {QUAYSHEET.version}, as quaysheet: 2 shortcuts need it") for n in needs)
    assert any("1 launcher runs something" in n for n in needs)
