"""What a settings file says as a profile: entries that aren't the defaults, read by the description that finds most."""

import json

import pytest

from amberkey.core.exchange.from_file import as_profile, readings, speaks_of
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.programs.model import Program
from tests.core.test_rendering import PROGRAMS

QUAYSHEET = PROGRAMS["quaysheet"]
SET, DEFAULT, OTHER = [c for c in QUAYSHEET.commands if len(c.defaults_on("windows")) == 1][:3]


def file(*rows):
    own = [{"do": command, "on": keys} for command, keys in rows]
    return json.dumps({"keyboard": {"own": own}}).encode()


def entry(command, keys, **more):
    given = tuple(Given(keys=read_shortcut(k)) for k in keys)
    return Entry(program="quaysheet", command=command, platform="windows", shortcuts=given, **more)


def read(data, called="settings.json"):
    return readings(data, called, list(PROGRAMS.values()))


def written(command):
    """A command's default as that program's file writes it."""
    press = command.defaults_on("windows")[0].presses[0]
    words = {"Control": "ctl-", "Shift": "shift-", "Alt": "alt-", "Meta": "meta-"}
    return "".join(words[m] for m in ("Meta", "Control", "Alt", "Shift") if m in press.modifiers) + press.key.lower()


def test_it_is_read_as_the_file_that_it_is_called_like_and_finds_most():
    found = read(file((SET.id, ["f9"]), ("fly", ["f8"])))
    assert (found[0].program.id, found[0].platform, found[0].number) == ("quaysheet", "windows", 0)
    assert (found[0].known, found[0].foreign) == (1, ("fly",))
    assert found[0].how is found[0].program.settings_files[0]
    assert read(b"no such thing") == []
    # Nothing of it is known, but it is called as that program's file is.
    assert [r.program.id for r in read(file())][:1] == ["quaysheet"]
    assert read(file(), "other.json") == []


def test_a_program_that_is_not_there_on_a_platform_is_not_read_for_it():
    program = Program.model_validate({**QUAYSHEET.model_dump(), "platforms": ("macos",)})
    assert {r.platform for r in readings(file((SET.id, ["f9"])), "settings.json", [program])} == {"macos"}


def test_only_what_is_not_the_default_is_an_entry():
    (first, *_) = read(file((SET.id, ["f9"]), (DEFAULT.id, [written(DEFAULT)]), ("fly", ["f8"])))
    profile = as_profile(first, "Mine")
    assert [(e.command, [str(g.keys) for g in e.shortcuts], e.over) for e in profile.entries] == [
        (SET.id, ["F9"], SET.defaults_on("windows"))
    ]


def test_where_the_profile_says_something_the_default_is_told_too():
    into = Profile(id="house", name="House", entries=(entry(DEFAULT.id, ["F7"]), entry(OTHER.id, ["F6"])))
    (first, *_) = read(file((DEFAULT.id, [written(DEFAULT)])))
    (told,) = as_profile(first, "Mine", into).entries
    assert tuple(g.keys for g in told.shortcuts) == DEFAULT.defaults_on("windows")


def test_what_the_profile_says_already_stands_there_whole():
    mine = entry(SET.id, ["F9"], locked=True).model_copy(
        update={"shortcuts": (Given(keys=read_shortcut("F9"), scope="sheet"),)}
    )
    into = Profile(id="house", name="House", entries=(mine,))
    (first, *_) = read(file((SET.id, ["f9"])))
    assert as_profile(first, "Mine", into).entries == (mine,)


@pytest.mark.parametrize(
    ("other", "speaks"),
    [
        (entry(SET.id, ["F9"]), True),
        (entry(SET.id, ["F9"], layouts=("de",)), False),
        (entry(SET.id, ["F9"], arguments={"n": 1}), False),
        (entry(SET.id, ["F9"]).model_copy(update={"platform": "macos"}), False),
        (entry(SET.id, ["F9"]).model_copy(update={"program": "hewer"}), False),
    ],
)
def test_a_file_speaks_of_its_program_on_its_platform_alone(other, speaks):
    (first, *_) = read(file((SET.id, ["f9"])))
    assert speaks_of(first, other) is speaks
