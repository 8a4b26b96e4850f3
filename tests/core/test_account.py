"""What travels: the account of a profile and what a bundle holds are one; files say the preferences they have a place for."""

import itertools

import pytest

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import with_edits
from amberkey.core.descriptions.values import read_values, write_values
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.sections import SECTIONS
from amberkey.core.exchange.account import account_of, fares_of
from amberkey.core.exchange.approving import sensitive_in
from amberkey.core.exchange.bundle import read_bundle, write_bundle
from amberkey.core.exchange.from_file import as_profile, readings, speaks_of_preference
from amberkey.core.exchange.rendering import files_of_profile, files_of_setup, with_preferences
from amberkey.core.exchange.travelling import travel
from amberkey.core.exchange.worklist import by_hand
from amberkey.core.profiles.checks import faults_in
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.preference_files import preference_edits, read_preferences, write_preferences
from tests.core.estates import read
from tests.core.scenes import command, office
from tests.core.test_example import documents, estate

PROGRAMS = {d.id: d for d in documents() if isinstance(d, Program)}
PROFILES = {d.id: d for d in documents() if isinstance(d, Profile)}
QUAYSHEET, WHERRYMAIL = PROGRAMS["quaysheet"], PROGRAMS["wherrymail"]
every_profile = pytest.mark.parametrize("profile_id", sorted(PROFILES))


def everything(**more):
    return read({"format": "amberkey/profile@1", "id": "p", "name": "P", **more})


def items(profile):
    return {(s, getattr(i, how.by)) for s, how in SECTIONS[profile.format].items() for i in getattr(profile, s)}


@every_profile
@pytest.mark.parametrize("chosen", [None, ("entries", "macros")])
@pytest.mark.parametrize("approves", [None, lambda _: True, lambda _: False, lambda one: one.name.startswith("N")])
def test_what_travels_is_what_a_bundle_holds(profile_id, approves, chosen):
    profile = PROFILES[profile_id]
    lines = account_of(profile, PROGRAMS, chosen=chosen, may_run=approves)
    packed = travel(profile, PROGRAMS, chosen, may_run=approves)
    files = {profile_id: packed.files}
    bundle = read_bundle(
        write_bundle([packed.profile], bundle_id="b", name="B", files=files, fares=fares_of(profile_id, lines))
    )
    assert {(i.section, i.key) for line in lines if line.goes == "goes" for i in line.items} == items(bundle.documents[0])
    told = [(i.section, i.key) for line in lines for i in line.items]
    assert sorted(told) == sorted(items(profile))
    fares = bundle.manifest.fares
    assert [(f.what, f.lives, f.goes, f.in_files) for f in fares] == [(x.says, x.lives, x.goes, x.in_files) for x in lines]
    assert sum(f.in_files for f in fares if f.section == "entries") == sum(f.commands for f in bundle.manifest.files)


def test_macros_in_documents_stay_and_those_that_nobody_approved_wait():
    lines = account_of(PROFILES["counters"], PROGRAMS, may_run=lambda _: False)
    macros = {line.lives: (line.goes, len(line.items)) for line in lines if line.section == "macros"}
    assert macros == {"document": ("stays", 1), "person": ("waits", 2)}
    found = travel(PROFILES["counters"], PROGRAMS, may_run=lambda _: False)
    assert found.profile.macros == ()
    assert set(found.silent) == {f"macros: {m.key}" for m in PROFILES["counters"].macros}
    assert any("It lives in Manifest of the day" in s.why for s in found.stays)


def test_what_is_needed_is_said():
    needs = travel(PROFILES["counters"], PROGRAMS).needs
    assert "Macros allowed in Quaysheet." in needs
    assert any(n.startswith("A releaser's approval: 2 macros run something") for n in needs)


def test_a_macro_is_approved_by_what_it_does():
    said = [s for s in sensitive_in(PROFILES["counters"]) if s.kind == "macro"]
    assert len({s.digest for s in said}) == 3
    assert any("Run select-everything; Run add-up; Type “Total of the day”; Press Enter." in s.says for s in said)
    other = PROFILES["counters"].macros[0].model_copy(update={"shortcuts": {}, "name": "Else"})
    assert other.content == PROFILES["counters"].macros[0].content


def test_files_of_a_profile_say_its_preferences():
    for file in files_of_profile(PROFILES["counters"], PROGRAMS):
        if file.program.id == "quaysheet":
            said = read_preferences(file.data, QUAYSHEET, 0)
            assert said == {"text-size": 120, "row-height": "high", "date-form": "D.M.Y", "auto-save": 20}
    (mac,) = [f for f in files_of_profile(PROFILES["training"], PROGRAMS) if f.platform == "macos"]
    assert read_preferences(mac.data, QUAYSHEET, 0)["theme"] == "high contrast"


def test_files_of_a_setup_say_what_is_in_effect():
    found = estate()
    setup = next(i for i, s in found.setups.items() if {"house", "counters"} <= set(s.layers) and s.platform == "windows")
    resolved = found.board(setup).setup
    (file,) = [f for f in files_of_setup(resolved) if f.program.id == "quaysheet"]
    assert read_preferences(file.data, QUAYSHEET, 0) == {
        "text-size": 120,
        "row-height": "high",
        "date-form": "D.M.Y",
        "auto-save": 5,  # the house locked it
    }
    byhand = {item.item: item for item in by_hand(resolved, None, lambda *_: False)}
    assert "preference send-later in wherrymail" in byhand
    assert "preference text-size in quaysheet" not in byhand
    assert byhand["shelf quick-shelf in quaysheet"].new.startswith("Stamp the berth, Hold a cabin")
    assert byhand["abbreviation greetings"].what == "mfg"
    assert not any(item.kind == "macro" for item in byhand.values())
    assert any(item.kind == "macro" for item in by_hand(resolved, None, lambda *_: True))


FILE = b'{\n  "odd" :   [ 1,2 ],\n  "view": {"textSize": 90, "theme": "light"},\n  "files": {},\n  "keyboard": {"own": []}\n}\n'


def test_a_preference_changes_its_own_span_and_nothing_else():
    how = QUAYSHEET.settings_files[0]
    wrote = write_preferences(FILE, QUAYSHEET, how, 0, {"text-size": 120})
    assert wrote == FILE.replace(b"90", b"120")
    assert write_preferences(wrote, QUAYSHEET, how, 0, {"text-size": 120}) == wrote
    added = write_preferences(FILE, QUAYSHEET, how, 0, {"auto-save": 7, "caret": "block"})
    assert read_preferences(added, QUAYSHEET, 0) == {"text-size": 90, "theme": "light", "auto-save": 7, "caret": "block"}
    assert b'"odd" :   [ 1,2 ],' in added


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b'{"view": 5}', "has no view"),
        (b'{"view": {"textSize": {"x": 1}}}', "parts of its own"),
    ],
)
def test_what_has_no_place_for_a_preference_is_left_alone_and_told(data, says):
    with pytest.raises(SettingsFileError, match=says):
        write_preferences(data, QUAYSHEET, QUAYSHEET.settings_files[0], 0, {"text-size": 120})
    kept, left = with_preferences(data, QUAYSHEET, 0, {"text-size": 120})
    assert kept == data
    assert says in left[0]


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("json", b'{"a": {"b": 1}, "c": [1, 2]}'),
        ("yaml", b"a:\n  b: 1   # why\nc: [1, 2]\n"),
        ("toml", b"[a]\nb = 1 # why\n[c]\nd = 'x'\n"),
        ("ini", b"[a]\nb = 1\n; c\n[c]\nd = x\n"),
    ],
)
def test_single_values_are_written_into_any_container(name, data):
    keys = {"at": "keys", "form": "text"}
    program = {"container": name, "at": ["c"], "command": "name", "keys": {**keys, "at": "value"}, "dialect": {"modifiers": {}}}
    how = QUAYSHEET.settings_files[0].model_validate(program)
    ways = [("a", "b"), ("a", "new")]
    for first, second in itertools.product((7, "text", True), (3, False)):
        wrote = write_values(data, how, {ways[0]: first, ways[1]: second})
        said = read_values(wrote, how, ways)
        texts = name == "ini"
        as_text = {v: str(v).lower() if isinstance(v, bool) else str(v) for v in (first, second)}
        assert said == {ways[0]: as_text[first] if texts else first, ways[1]: as_text[second] if texts else second}
        assert (b"why" in wrote) is (b"why" in data)


QUICK = {"program": "quaysheet", "shelf": "quick-shelf"}
MACRO = {"program": "quaysheet", "id": "m", "name": "M", "steps": [{"runs": "save"}]}
CHANGED = {"program": "quaysheet", "platform": "windows", "keys": "F2", "becomes": "F3"}


@pytest.mark.parametrize(
    ("section", "item", "place"),
    [
        ("shelves", {**QUICK, "commands": [f"c-{n}" for n in range(200)]}, "shelves[0].commands"),
        ("shelves", {**QUICK, "shelf": "gone"}, "shelves[0].shelf"),
        ("shelves", {"program": "folioform", "shelf": "snippet-row", "begin": "F2"}, "shelves[0].begin"),
        ("shelves", {**QUICK, "commands": ["save", "save"]}, "shelves[0].commands"),
        ("menu_groups", {"program": "quaysheet", "id": "file", "place": "bar", "hidden": True}, "menu_groups[0]"),
        ("menu_groups", {"program": "nowhere", "id": "file", "place": "bar"}, "menu_groups[0].program"),
        ("macros", {**MACRO, "name": "Auto"}, "macros[0]"),
        ("macros", {**MACRO, "steps": [{"runs": "gone"}]}, "macros[0].steps"),
        ("preferences", {"program": "quaysheet", "preference": "text-size", "value": 500}, "preferences[0].value"),
        ("abbreviations", {"id": "a", "short": "a", "text": "b", "programs": ["nowhere"]}, "abbreviations[0].programs"),
        ("translations", {**CHANGED, "platform": "linux"}, "translations[0].platform"),
        ("translations", {**CHANGED, "scope": "x"}, "translations[0].scope"),
    ],
)
def test_what_a_program_can_not_take_is_told_with_its_place(section, item, place):
    assert place in {f.place for f in faults_in(everything(**{section: [item]}), PROGRAMS)}


def test_a_command_line_is_one_line():
    launcher = {"id": "l", "name": "L", "runs": "a\nb"}
    with pytest.raises(DocumentError, match=r"launchers\[0\]\.runs"):
        everything(launchers=[launcher])


@every_profile
def test_the_demo_has_only_the_faults_that_it_means_to_have(profile_id):
    meant = {("letter-writer", "shelves[0].commands[0]")}
    assert {(profile_id, f.place) for f in faults_in(PROFILES[profile_id], PROGRAMS)} <= meant


def test_mail_has_its_preferences_in_toml():
    how = WHERRYMAIL.settings_files[0]
    wrote = write_preferences(b"[view]\ntext_size = 12 # small\n", WHERRYMAIL, how, 0, {"text-size": 15})
    assert wrote == b"[view]\ntext_size = 15 # small\n"


def test_a_part_that_is_missing_is_made_where_that_is_wanted():
    how = QUAYSHEET.settings_files[0]
    with pytest.raises(SettingsFileError, match="never have been started"):
        write_preferences(b"{}", QUAYSHEET, how, 0, {"text-size": 120})
    made, left = with_preferences(b"{}", QUAYSHEET, 0, {"text-size": 120, "caret": "block", "auto-save": 4})
    assert (read_preferences(made, QUAYSHEET, 0), left) == ({"text-size": 120, "caret": "block", "auto-save": 4}, ())


@every_profile
def test_what_a_file_of_a_profile_says_is_read_as_the_same_preferences(profile_id):
    profile = PROFILES[profile_id]
    for file in files_of_profile(profile, PROGRAMS):
        if not file.data:
            continue
        read = readings(file.data, file.path.rpartition("/")[2], [file.program])[0]
        said = {p.key: p.value for p in as_profile(read, "From a file").preferences}
        wanted = {p.key: p.value for p in profile.preferences if speaks_of_preference(read, p)}
        assert said == wanted
        assert set(as_profile(read, "From a file", profile).preferences) <= set(profile.preferences)


INI = {
    "container": "ini",
    "path": {"windows": "office.ini"},
    "at": ["keys"],
    "command": "name",
    "keys": {"at": "value", "form": "text"},
    "dialect": {"modifiers": {}},
}
IN_INI = [
    {"id": "size", "name": "Size", "kind": "number", "default": 10, "at": ["view", "size"]},
    {"id": "moves", "name": "Moves", "kind": "yes or no", "default": True, "at": ["view", "moves"]},
    {"id": "theme", "name": "Theme", "kind": "text", "default": "", "at": ["view", "theme"]},
]


def in_ini():
    program = office("windows", command("save", "page"), offers={"preferences": IN_INI})
    return read({**program, "settings_files": [INI]})


def test_where_all_is_text_numbers_and_yes_are_read_from_it():
    program, how = in_ini(), in_ini().settings_files[0]
    data = b"[view]\nsize = 12\nmoves = False\ntheme = 7\n"
    assert read_preferences(data, program, 0) == {"size": 12, "moves": False, "theme": "7"}
    for odd in (b"size = twelve", b"size = 1.5", b"size = " + b"9" * 30, b"moves = perhaps"):
        assert read_preferences(b"[view]\n" + odd + b"\n", program, 0) == {}
    wrote = write_preferences(data, program, how, 0, {"size": -3, "moves": True})
    assert wrote == b"[view]\nsize = -3\nmoves = true\ntheme = 7\n"
    assert read_preferences(wrote, program, 0)["size"] == -3


def test_what_would_be_read_as_something_else_is_not_written():
    program, how = in_ini(), in_ini().settings_files[0]
    with pytest.raises(SettingsFileError):
        write_preferences(b"[view]\ntheme = dark\n", program, how, 0, {"theme": "  with blanks  "})


def test_the_spans_that_would_change_are_those_that_do():
    program = in_ini()
    data = b"[view]\nsize = 12\n"
    edits = preference_edits(data, program, 0, {"size": 14})
    assert with_edits(data.decode(), edits).encode() == write_preferences(
        data, program, program.settings_files[0], 0, {"size": 14}
    )
    assert preference_edits(data, program, 0, {"size": 12}) == []
    assert preference_edits(data, QUAYSHEET, 0, {}) == []


def test_which_command_of_a_shelf_is_not_there_is_told_by_its_place():
    profile = everything(shelves=[{**QUICK, "commands": ["save", "gone"]}])
    assert [f.place for f in faults_in(profile, PROGRAMS)] == ["shelves[0].commands[1]"]
