"""Newer facts of the systems: merged with what the organisation corrected, three ways, and taken back."""

import pytest

from amberkey.core.programs.reference import system_tables
from amberkey.server.library.verbs import take_facts

from .test_behaviour import GERMAN

PATH = "/facts/windows/11"
BEHAVIOUR = "/programs/windows/11/behaviour"


@pytest.fixture
def newer(monkeypatch):
    """Makes tables ship that say something else of some entries of Windows, or no more."""

    def ship(changed, gone=()):
        tables = [t for t in system_tables() if t.id != "windows"]
        windows = next(t for t in system_tables() if t.id == "windows")
        commands = tuple(c.model_copy(update=changed.get(c.id, {})) for c in windows.commands if c.id not in gone)
        monkeypatch.setattr(take_facts, "system_tables", lambda: (*tables, windows.model_copy(update={"commands": commands})))

    return ship


def correct(api, command, **said):
    found = api.get(f"{BEHAVIOUR}?setup={GERMAN}")[1]
    body = {"setup": GERMAN, "digest": found["digest"], "commands": {command: said}}
    assert api.put(BEHAVIOUR, body)[0] == 200


def held(api):
    return {h["id"]: h for h in api.get(f"{BEHAVIOUR}?setup={GERMAN}")[1]["holds"]}


def test_nothing_is_new_of_what_was_just_taken_over(jorun):
    assert jorun.get("/facts") == (200, [])
    assert jorun.post(PATH)[0] == 404


def test_newer_facts_are_told_and_taken_in_and_taken_back(jorun, newer):
    newer({"files": {"name": "opens the drawers"}}, gone={"ink"})
    (told,) = jorun.get("/facts")[1]
    assert (told["changes"], told["stays"]) == (3, [])  # the order of the entries is the third
    assert any("opens the drawers" in s for s in told["says"])
    status, done = jorun.post(PATH)
    assert (status, done["title"]) == (200, "Newer facts of Windows 11")
    assert held(jorun)["files"]["name"] == "opens the drawers"
    assert "ink" not in held(jorun)
    assert jorun.get("/facts")[1] == []
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert held(jorun)["files"]["name"] == "opens the files"
    assert [f["changes"] for f in jorun.get("/facts")[1]] == [3]


def test_what_the_organisation_corrected_stays_beside_what_is_new(jorun, newer):
    correct(jorun, "files", grip="fixed")
    newer({"run": {"off": True}})
    assert jorun.post(PATH)[0] == 200
    assert (held(jorun)["files"]["grip"], held(jorun)["run"]["off"]) == ("fixed", True)


def test_where_both_say_otherwise_the_organisation_keeps_its_word_and_is_told(jorun, newer):
    correct(jorun, "files", grip="fixed")
    newer({"files": {"grip": "can be reassigned"}, "run": {"off": True}})
    (told,) = jorun.get("/facts")[1]
    assert (told["changes"], told["stays"]) == (1, ["files"])
    assert jorun.post(PATH)[0] == 200
    assert held(jorun)["files"]["grip"] == "fixed"


def test_a_second_newer_table_is_held_against_the_one_taken_last(jorun, newer):
    newer({"run": {"off": True}})
    assert jorun.post(PATH)[0] == 200
    newer({"run": {"off": True}, "files": {"name": "opens the drawers"}})
    assert [f["changes"] for f in jorun.get("/facts")[1]] == [1]


def test_a_reader_reads_them_only(tove, newer):
    newer({"run": {"off": True}})
    assert len(tove.get("/facts")[1]) == 1
    assert tove.post(PATH)[0] == 403
