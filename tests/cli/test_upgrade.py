"""`amberkey upgrade`: what it says, what it finds, what it refuses."""

import json
import pathlib

import pytest

from tests.cli.test_command_line import ask  # noqa: F401

DEMO = pathlib.Path(__file__).parents[2] / "src/amberkey/demo/documents"
OLD, NEW, ORGANISATION = (
    str(DEMO / f"{name}.json") for name in ("program-quaysheet-7-1", "program-quaysheet", "organisation-organisation")
)


@pytest.fixture
def versions(tmp_path):
    """Version 1 of a program, and a maker of others: their paths."""

    def write(version, commands):
        value = {
            "format": "amberkey/program@1",
            "id": "tally",
            "name": "Tally",
            "version": version,
            "kind": "office",
            "platforms": ["windows"],
            "scopes": [{"id": "window", "name": "Window"}],
            "commands": [
                {"id": i, "name": i.title(), "scope": "window", "defaults": {"windows": [k]}} for i, k in commands.items()
            ],
        }
        path = tmp_path / f"tally-{version}.json"
        path.write_text(json.dumps(value))
        return str(path)

    return write


def test_what_an_upgrade_means_for_an_organisation(ask):  # noqa: F811
    code, found, _ = ask("upgrade", OLD, NEW, "--setup", ORGANISATION, "--json")
    assert (code, found["program"], found["old"], found["new"]) == (1, "quaysheet", "7.1", "7.2")
    assert (len(found["came"]), found["gone"], found["people"]) == (4, [], 10)
    assert {"keys": "F3", "was": "name-the-cells", "now": None, "people": 10} in found["surprises"]
    assert found["spare"] == [{"profile": "counter-lead", "command": "filter", "platform": "windows"}]
    text = ask("upgrade", OLD, NEW, "--setup", ORGANISATION)[1]
    assert "For 10 people in 3 setups:" in text
    assert f"Makes {len(found['makes'])}:" in text


def test_without_setups_it_says_what_changed_alone(ask, versions):  # noqa: F811
    one, other = versions("1", {"save": "F2"}), versions("2", {"save": "F2", "print": "F3"})
    code, found, _ = ask("upgrade", one, other, "--json")
    assert (code, found["came"], "surprises" in found) == (0, ["print"], False)


def test_proposals_are_findings_until_they_are_taken_up_in_the_document(ask, versions):  # noqa: F811
    one, other = versions("1", {"insert-rows": "F2"}), versions("2", {"insert-row": "F2"})
    code, found, _ = ask("upgrade", one, other, "--json")
    assert (code, [r["known"] for r in found["renamed"]]) == (1, [False])
    assert "Perhaps the same:" in ask("upgrade", one, other)[1]


@pytest.mark.parametrize(
    "words, says",
    [
        ((OLD, str(DEMO / "program-hewer.json")), "no versions of one program"),
        ((NEW, NEW), "Both are version 7.2"),
        ((OLD, ORGANISATION), "amberkey/program@1 is wanted"),
        ((NEW, OLD, "--setup", str(DEMO / "nobody.json")), "can't be read"),
        ((OLD, NEW, "--setup", ORGANISATION, "--take", "save"), "No renaming of save is proposed"),
        ((OLD,), "required: new"),
    ],
)
def test_wrong_use_is_said(ask, words, says):  # noqa: F811
    code, _, error = ask("upgrade", *words)
    assert (code, says in error) == (2, True), error


def test_a_version_that_nobody_has_is_said(ask, versions):  # noqa: F811
    one, other = versions("1", {"save": "F2"}), versions("2", {"save": "F2"})
    code, _, error = ask("upgrade", one, other, "--setup", ORGANISATION)
    assert (code, "No setup has Tally 1" in error) == (2, True)
