"""Looking things up from anywhere: each kind is found, the best kind first, and nobody finds what they may not see."""

import pytest

from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.server.workbench.own.program import ACTIONS


def look(api, words):
    response = api.client.get("/api/lookup", {"words": words})
    assert response.status_code == 200, response.content
    return {g["kind"]: [t["name"] for t in g["things"]] for g in response.json()}


@pytest.mark.parametrize(
    "words, kind, name",
    [
        ("filtr", "command", "Filter"),
        ("quaysheet", "program", "Quaysheet"),
        ("house", "profile", "House"),
        ("enrol machnes", "to do", "Enrol machines"),
        ("roll out", "to do", "Begin a release"),
    ],
)
def test_things_of_every_kind_are_found(ines, words, kind, name):
    assert name in look(ines, words)[kind]


def test_the_kind_with_the_best_one_stands_first(ines):
    assert next(iter(look(ines, "house"))) == "profile"
    assert next(iter(look(ines, "save a copy"))) == "command"


def test_a_press_finds_who_has_it(ines):
    found = ines.client.get("/api/lookup", {"words": "strg umschalt s"}).json()
    assert found[0]["kind"] == "command"
    assert all(any(k["text"] == "Control+Shift+S" for k in t["keys"]) for t in found[0]["things"])


def test_people_tasks_and_machines_are_found_with_where_they_are(ines):
    organisation = ines.get("/organisation/table/people")[1]["rows"]
    if organisation:
        name = organisation[0]["cells"]["name"]
        assert name in look(ines, name)["person"]
    task = ines.get("/tasks")[1]["tasks"][0]["name"]
    assert task in look(ines, task)["task"]


@pytest.mark.parametrize("words", ["", "   ", "x" * 400, "(a+)+$", "%", "😀", "'; --", "\\u0301"])
def test_any_words_are_answered(ines, words):
    assert isinstance(look(ines, words), dict)


def test_its_key_is_the_easiest_letter_that_was_free():
    taken = {keys for action, _, keys in ACTIONS if action != "lookup"}
    body = load_body("iso")
    free = [c for c in "ABCDEFGHIJKLMNOPQRSTUVWXYZ" if c not in taken]
    reach = {c: reach_of(Stroke(f"Key{c}", frozenset()), body).score for c in free}
    assert reach[{a: k for a, _, k in ACTIONS}["lookup"]] == min(reach.values())
