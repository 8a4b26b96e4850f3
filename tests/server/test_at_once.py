"""People who really write in the same moment, each in a connection of their own."""

import itertools
import json
import threading

import pytest
from django.db import connection

from amberkey.core.compare.operations import compare
from amberkey.demo.load import load_people
from amberkey.server.library.models import Document, Revision
from tests import example as small
from tests.kept import put
from tests.server.conftest import Api
from tests.server.test_workbench import GERMAN, groups, ways


def at_once(*works):
    """Run all in threads that begin together; their results in order."""
    start = threading.Barrier(len(works))
    results = [None] * len(works)

    def run(n, work):
        start.wait()
        try:
            results[n] = work()
        finally:
            connection.close()

    threads = [threading.Thread(target=run, args=(n, w)) for n, w in enumerate(works)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return results


@pytest.fixture
def people(transactional_db):
    put("the documents", lambda: small.load(load_people()))
    return Api("ines"), Api("jorun")


def test_one_of_two_decisions_on_the_same_clash_wins(people):
    ines, jorun = people
    identity = groups(ines)["quote-fare"]["identity"]
    first, second = [w["key"] for w in ways(ines, identity) if w["kind"] == "move"][:2]

    def decide(api, way):
        return lambda: api.post(f"/clashes/{identity}/decision", {"setup": GERMAN, "way": way})

    answers = at_once(decide(ines, first), decide(jorun, second))
    assert sorted(status for status, _ in answers) == [200, 409]
    refused = next(body for status, body in answers if status == 409)
    assert refused["by"] in ("Ines", "Jorun")
    assert Revision.objects.filter(document_id="profile/house").count() == 2


def test_decisions_in_different_places_are_both_kept(people):
    ines, jorun = people

    def assign(api, command):
        given = {
            "setup": GERMAN,
            "program": "quaysheet",
            "command": command,
            "shortcuts": ["F12" if command == "filter" else "F11"],
        }
        return lambda: api.post("/commands/shortcuts", given)

    answers = at_once(assign(ines, "filter"), assign(jorun, "freeze"))
    assert [status for status, _ in answers] == [200, 200]
    commands = {e["command"] for e in ines.get("/documents/profile/house")[1]["entries"]}
    assert {"filter", "freeze"} <= commands
    assert Document.objects.get(key="profile/house").newest.number == 3


def test_one_change_is_undone_once(people):
    ines, jorun = people
    given = {"setup": GERMAN, "program": "quaysheet", "command": "filter", "shortcuts": ["F12"]}
    change = ines.post("/commands/shortcuts", given)[1]
    answers = at_once(*(lambda a=a: a.post(f"/history/{change['id']}/undo") for a in (ines, jorun)))
    assert sorted(status for status, _ in answers) == [200, 409]


SAVES = 100


def test_of_two_hundred_saves_by_two_writers_nothing_is_lost(people):
    """Each saves the whole document over what they saw, an item of their own changed in it: what is the other's stays."""

    def write(api, command):
        def work():
            answers = []
            for n in range(SAVES):
                response = api.client.get("/api/documents/profile/house")
                value = json.loads(response.content)
                others = [e for e in value["entries"] if e["command"] != command]
                keys = f"F{n % 11 + 1}"
                mine = {"program": "quaysheet", "command": command, "platform": "windows", "shortcuts": [{"keys": keys}]}
                given = {**value, "entries": [*others, mine]}
                answers.append(api.put("/documents/profile/house", given, **{"If-Match": response["ETag"]})[0])
            return answers

        return work

    ines, jorun = people
    before = ines.get("/documents/profile/house")[1]["entries"]
    answers = at_once(write(ines, "filter"), write(jorun, "freeze"))
    assert [set(a) for a in answers] == [{200}, {200}]
    line = list(Revision.objects.filter(document_id="profile/house").order_by("number").select_related("author", "body"))
    assert [r.number for r in line] == list(range(1, 2 * SAVES + 2)), "no number twice, none left out"
    assert all(later.parent_id == earlier.pk for earlier, later in itertools.pairwise(line))
    whose = {"Ines": "filter", "Jorun": "freeze"}
    for earlier, later in itertools.pairwise(line):
        touched = compare(earlier.body.json(), later.body.json())
        assert [o.key for o in touched if o.section == "entries"] == [
            f"quaysheet/{whose[later.author.display_name]} on windows"
        ], f"revision {later.number} changes what its author changed, and nothing else"
    others = [e for e in before if e["command"] not in whose.values()]
    after = ines.get("/documents/profile/house")[1]["entries"]
    assert [e for e in after if e["command"] not in whose.values()] == others
    assert [e["shortcuts"] for e in after if e["command"] in whose.values()] == [[{"keys": "F1"}]] * 2, "the last of each"
