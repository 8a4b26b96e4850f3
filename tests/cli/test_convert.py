"""`amberkey convert`: settings files and profiles into each other, from files alone."""

import json
import pathlib

import pytest

from amberkey.demo.load import DOCUMENTS
from amberkey.demo.settings import SETTINGS as FILES
from tests.cli.test_command_line import ask  # noqa: F401

SETTINGS = FILES["quaysheet"]
PROGRAM = str(DOCUMENTS / "program-quaysheet.json")


@pytest.fixture
def folder(tmp_path):
    (tmp_path / "settings.json").write_text(SETTINGS)
    return tmp_path


def test_a_settings_file_becomes_a_profile_and_the_profile_a_settings_file(ask, folder):  # noqa: F811
    file, profile, again = (str(folder / n) for n in ("settings.json", "own.json", "again.json"))
    code, found, _ = ask("convert", file, "--program", PROGRAM, "--platform", "windows", "--to", profile, "--json")
    assert (code, found["entries"]) == (0, {"recalculate": ["F9", "Control+F9"]})
    written = json.loads(pathlib.Path(profile).read_text())
    assert [e["command"] for e in written["entries"]] == ["recalculate"]
    # Another person's file gets the same, and nothing else in it is another.
    other = folder / "other.json"
    other.write_text(SETTINGS.replace('"f9", "ctl-f9"', '"f4"').replace("1.25", "2"))
    code, done, _ = ask(
        "convert", str(other), "--program", PROGRAM, "--platform", "windows", "--profile", profile, "--to", again, "--json"
    )
    assert (code, done["changed"]) == (0, ["recalculate"])
    assert pathlib.Path(again).read_text() == SETTINGS.replace("1.25", "2")


def test_what_cannot_be_read_and_what_is_not_known_is_told(ask, folder):  # noqa: F811
    file = folder / "settings.json"
    file.write_text(
        SETTINGS.replace('["f9", "ctl-f9"]', '["hyper-f9"]').replace('"own": [', '"own": [{"do": "fly", "on": ["f3"]},')
    )
    code, text, _ = ask("convert", str(file), "--program", PROGRAM)
    assert code == 1
    assert "line 7, left alone: recalculate: 'hyper-f9' is no shortcut" in text
    assert "fly: Quaysheet 7.2 has no such command; left alone" in text


@pytest.mark.parametrize(
    "words, says",
    [
        (["nothing.json", "--program", PROGRAM], "nothing.json can't be read (No such file or directory)"),
        (["settings.json", "--program", PROGRAM, "--platform", "linux"], "isn't there on linux"),
        (["settings.json", "--program", PROGRAM, "--number", "2"], "there is no number 2"),
        (["settings.json", "--program", str(DOCUMENTS / "program-ebbchart.json")], "describe it first"),
        (["broken.json", "--program", PROGRAM], "broken.json, line 2: A name in quotes is missing here."),
        (["settings.json", "--program", PROGRAM, "--profile", str(DOCUMENTS / "profile-house.json")], "Say with --to"),
    ],
)
def test_wrong_use_is_told_in_a_line(ask, folder, monkeypatch, words, says):  # noqa: F811
    (folder / "broken.json").write_text("{\n  keyboard: 1}")
    monkeypatch.chdir(folder)
    code, _, said = ask("convert", *words)
    assert (code, says in said) == (2, True), said
