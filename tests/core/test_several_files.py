"""Programs with several settings files, and files keyed by keys in which keys do nothing or stand beside defaults."""

import itertools
import random

import pytest

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import read_document
from amberkey.core.exchange.from_file import readings
from amberkey.core.exchange.rendering import files_of_profile
from amberkey.core.formats import FORMATS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.programs.settings_files import described_on, holder_of, of_file, read_settings, write_settings

DIALECT = {"modifiers": {"Control": ["C-"], "Alt": ["A-"], "Shift": ["S-"], "Meta": ["M-"]}}
KEYED = {"container": "json", "at": ["keys"], "command": "value", "dialect": DIALECT}
NAMED = {"container": "ini", "at": ["keys"], "command": "name", "keys": {"at": "value"}, "dialect": DIALECT}
SCOPES = ("main", "board", "list")
COMMANDS = (("save", "main", "Control+S"), ("open", "main", "Control+O"), ("row", "board", "F5"), ("sort", "list", "F6"))


def keys(*texts):
    return tuple(read_shortcut(t) for t in texts)


def program(*files, version="3.2", **more):
    return read_document(
        {
            "format": "amberkey/program@1",
            "id": "app",
            "name": "App",
            "kind": "office",
            "version": version,
            "platforms": ["windows", "linux"],
            "scopes": [{"id": s, "name": s.title(), **({"parent": "main"} if s != "main" else {})} for s in SCOPES],
            "commands": [
                {"id": i, "name": i.title(), "scope": s, "defaults": {"windows": [k], "linux": [k]}} for i, s, k in COMMANDS
            ],
            "settings_files": [dict(f) for f in files],
            **more,
        },
        FORMATS,
    )


BOARD = {**NAMED, "path": {"windows": "App/board.ini"}, "holds": ["board", "list"]}
REST = {**KEYED, "path": {"windows": "App/keys.json", "linux": "app.json"}, "keys": {"at": "name"}}


def test_each_command_stands_in_one_file_that_holds_its_scope_or_in_the_one_for_the_rest():
    app = program(BOARD, REST)
    where = {c.id: holder_of(app, "windows", c) for c in app.commands}
    assert where == {"save": 1, "open": 1, "row": 0, "sort": 0}
    # On Linux there is no file for the board, so its commands are in the one for the rest.
    assert {holder_of(app, "linux", c) for c in app.commands} == {1}
    only = program(BOARD)
    assert holder_of(only, "windows", only.command("save")) is None
    assert of_file(app, "windows", 0, {"save": 1, "row": 2, "unknown": 3}) == {"row": 2, "unknown": 3}


@pytest.mark.parametrize(
    "versions, holds",
    [
        (["", ""], True),
        (["3", ""], True),
        (["3.3", ""], False),
        (["", "3"], True),
        (["", "3.1"], False),
        (["3.2", "3.2"], True),
    ],
)
def test_a_description_holds_for_its_range_of_versions(versions, holds):
    app = program({**BOARD, "versions": versions})
    assert bool(described_on(app, "windows")) == holds


def test_a_scope_that_is_not_there_is_refused():
    with pytest.raises(DocumentError, match="it names the scope attic"):
        program({**BOARD, "holds": ["attic"]})


@pytest.mark.parametrize("more", [{"off": ""}, {"beside_defaults": True}])
def test_keys_are_off_only_where_names_are_keys(more):
    with pytest.raises(DocumentError, match="only where the name of a record is its keys"):
        program({**NAMED, "keys": {"at": "value", **more}})


def test_what_a_profile_sets_goes_into_the_file_that_has_it_and_what_has_none_is_told():
    def entry(command, *texts):
        return Entry(
            program="app", command=command, platform="windows", shortcuts=tuple(Given(keys=k) for k in keys(*texts)), over=()
        )

    profile = Profile(id="house", name="House", entries=(entry("save", "Control+Shift+S"), entry("row", "F9")))
    files = files_of_profile(profile, {"app": program(BOARD, REST)})
    assert [(f.path, f.commands) for f in files] == [("App/board.ini", ("row",)), ("App/keys.json", ("save",))]
    assert (b"row=F9" in files[0].data.replace(b" ", b""), b"save" in files[0].data) == (True, False)
    # A file of which nothing is set isn't begun.
    board = Profile(id="house", name="House", entries=(entry("row", "F9"),))
    assert [f.path for f in files_of_profile(board, {"app": program(BOARD, REST)})] == ["App/board.ini"]
    (alone,) = files_of_profile(profile, {"app": program(BOARD)})
    assert alone.left_out == ("Save: no file of App that is described has commands of its scope.",)


def test_a_file_is_read_by_the_description_of_its_own_name():
    found = readings(b"[keys]\nrow = F9\n", "board.ini", [program(BOARD, REST)])
    assert (found[0].number, found[0].platform) == (0, "windows")


OFF = {**KEYED, "keys": {"at": "name", "off": "nothing", "beside_defaults": True}}


def said(data, how_file, platform="windows"):
    app = program(how_file)
    return dict(read_settings(data, app, app.settings_files[0], platform).entries)


def put(data, how_file, wanted, platform="windows"):
    app = program(how_file)
    return write_settings(data, app, app.settings_files[0], wanted, platform).data


def test_beside_defaults_a_command_has_its_own_keys_and_the_default_that_nobody_took():
    assert said(b'{"keys": {"F9": "row"}}', OFF) == {"row": keys("F9", "F5")}
    assert said(b'{"keys": {"F9": "row", "F5": "nothing"}}', OFF) == {"row": keys("F9")}
    assert said(b'{"keys": {"F5": "save"}}', OFF) == {"save": keys("F5", "Control+S"), "row": ()}
    assert said(b'{"keys": {"F5": "nothing", "F8": "nothing"}}', OFF) == {"row": ()}


def test_a_default_is_taken_away_by_saying_that_its_key_does_nothing():
    before = b'{"keys": {"F8": "nothing"}}'
    after = put(before, OFF, {"row": ()})
    assert said(after, OFF) == {"row": ()}
    assert b'"F8": "nothing"' in after, "what somebody else switched off stays"
    assert put(after, OFF, {"row": None}) == before, "and taking that back gives the first bytes"
    moved = put(before, OFF, {"row": keys("F9")})
    assert said(moved, OFF) == {"row": keys("F9")}
    assert b'"F5": "nothing"' in moved
    app = program(OFF)
    changed = write_settings(before, app, app.settings_files[0], {"row": keys("F9")}, "windows").changed
    assert [w.command for w in changed] == ["row"], "keys that do nothing are no command"
    given = put(moved, OFF, {"save": keys("F5")})  # another command takes the key that was off
    assert said(given, OFF) == {"row": keys("F9"), "save": keys("F5")}
    assert b'"F5": "save"' in given


def test_where_own_keys_replace_defaults_only_a_command_without_keys_is_switched_off():
    how = {**KEYED, "keys": {"at": "name", "off": ""}}
    moved = put(b'{"keys": {}}', how, {"row": keys("F9")})
    assert b'""' not in moved
    assert said(moved, how) == {"row": keys("F9")}
    assert put(moved, how, {"row": ()}).split() == [b'{"keys":', b"{", b'"F5":', b'""', b"}}"]


def test_a_file_that_has_no_word_for_off_refuses_to_leave_a_command_without_keys():
    how = {**KEYED, "keys": {"at": "name"}}
    with pytest.raises(SettingsFileError, match="can't be left without a shortcut here"):
        put(b'{"keys": {}}', how, {"row": ()})


def test_two_commands_change_their_keys_with_each_other():
    how = {**KEYED, "keys": {"at": "name"}}
    swapped = put(b'{"keys": {"F1": "row", "F2": "save"}}', how, {"row": keys("F2"), "save": keys("F1")})
    assert said(swapped, how) == {"row": keys("F2"), "save": keys("F1")}
    with pytest.raises(SettingsFileError, match="F3 is the name of save in this file already"):
        put(b'{"keys": {}}', how, {"row": keys("F3"), "save": keys("F3")})


@pytest.mark.parametrize("seed", range(40))
def test_whatever_is_written_beside_defaults_is_read_again(seed):
    """Wishes without a key for two commands, over a file that a person changed."""
    drawn = random.Random(seed)
    free = [f"F{n}" for n in range(1, 13)]
    file = {k: drawn.choice(["row", "save", "nothing", "theirs"]) for k in drawn.sample(free, 4)}
    data = ('{"keys": {' + ", ".join(f'"{k}": "{c}"' for k, c in file.items()) + '}, "other": [1, 2]}').encode()
    theirs = {k for k, c in file.items() if c == "theirs"}
    left = [k for k in free if k not in theirs]
    drawn.shuffle(left)
    wanted = {}
    for command, _, default in drawn.sample(COMMANDS, 3):
        own = [left.pop() for _ in range(drawn.randint(0, 2))]
        if default in left and drawn.random() < 0.3:
            own.append(default)
            left.remove(default)
        wanted[command] = keys(*own)
    others = {c for c, _, _ in COMMANDS} - wanted.keys()
    clash = {k for k, c in file.items() if c in others}
    wanted = {c: tuple(k for k in v if str(k) not in clash) for c, v in wanted.items()}
    after = put(data, OFF, wanted)
    found = said(after, OFF)
    defaults = {c: keys(k) for c, _, k in COMMANDS}
    for command, shortcuts in wanted.items():
        assert set(found.get(command, defaults[command])) == set(shortcuts), (command, after)
    assert all(f'"{k}": "theirs"'.encode() in after for k in theirs)
    assert b'"other": [1, 2]' in after
    assert put(after, OFF, wanted) == after
    for one, other in itertools.pairwise(sorted(wanted)):
        assert not set(wanted[one]) & set(wanted[other])
