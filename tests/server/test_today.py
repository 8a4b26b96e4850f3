"""Today: what needs whom, put aside and back, as a feed."""

import datetime
import json
import xml.etree.ElementTree as ET

import pytest
from django.db import ProgrammingError
from django.test import Client
from django.utils import timezone

from amberkey.core.today.matters import next_monday
from amberkey.server.people.models import User
from amberkey.server.today import telling
from amberkey.server.today.models import Aside, Feed
from tests.server.unpacked import unpacked

ATOM = "{http://www.w3.org/2005/Atom}"


def kinds(api):
    status, found = api.get("/today")
    assert status == 200, found
    return [m["kind"] for m in found["matters"]]


def test_a_day_is_as_far_as_the_role_can_do_something(ines, jorun, tove):
    setup = ines.get("/lenses")[1][0]["setup"]
    given = {"setup": setup, "program": "quaysheet", "command": "filter", "shortcuts": ["F9"]}
    assert jorun.post("/commands/shortcuts", given)[0] == 200
    assert kinds(tove) == []
    assert "without a task" in kinds(jorun)
    assert "unreleased" not in kinds(jorun)
    assert {"unreleased", "without a task"} <= set(kinds(ines))


def test_every_matter_leads_to_a_screen_and_says_one_sentence(ines):
    for one in ines.get("/today")[1]["matters"]:
        assert one["says"].endswith(".")
        assert one["to"].startswith(
            ("/clashes", "/standard", "/machines", "/profiles", "/programs", "/try", "/organisation", "/cards")
        )
        assert len(one["id"]) <= 200


def test_an_allowance_is_told_before_it_ends_and_leaves_when_the_clash_does(ines):
    setup = ines.get("/lenses")[1][0]["setup"]
    clash = unpacked(ines.get(f"/clashes?setup={setup}")[1])[0]
    soon = timezone.localdate() + datetime.timedelta(days=3)
    body = {"setup": setup, "way": "allow", "reason": "until the new version", "until": soon.isoformat()}
    status, done = ines.post(f"/clashes/{clash['identity']}/decision", body)
    assert status == 200, done
    first = ines.get("/today")[1]["matters"][0]
    assert (first["kind"], first["worse_on"], first["people"]) == ("allowance", soon.isoformat(), clash["people"])
    assert f"clash={clash['identity']}" in first["to"]
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert "allowance" not in kinds(ines)


def test_a_card_that_says_what_holds_no_longer_is_told_until_a_newer_one_is_handed_out(ines):
    keyboard = ines.get("/cards/choices")[1]["keyboards"][0]
    wish = {"platform": keyboard["platform"], "layout": keyboard["layout"]}
    assert ines.post("/cards", wish)[0] == 200
    assert "card" not in kinds(ines)
    setup = ines.get("/lenses")[1][0]["setup"]
    given = {"setup": setup, "program": "quaysheet", "command": "filter", "shortcuts": ["F9"]}
    status, done = ines.post("/commands/shortcuts", given)
    assert status == 200
    (one,) = [m for m in ines.get("/today")[1]["matters"] if m["kind"] == "card"]
    assert one["says"] == "Card 1, For everybody, is out of date: 1 command has other keys now."
    assert one["to"] == f"/cards?whom=everybody&keyboard={keyboard['platform']}+{keyboard['layout']}"
    assert one["people"] == keyboard["people"]
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert "card" not in kinds(ines)
    assert ines.post("/commands/shortcuts", given)[0] == 200
    assert ines.post("/cards", wish)[0] == 200
    assert "card" not in kinds(ines)


def test_an_allowance_that_ends_later_is_nobodys_matter_yet(ines):
    setup = ines.get("/lenses")[1][0]["setup"]
    clash = unpacked(ines.get(f"/clashes?setup={setup}")[1])[0]
    later = timezone.localdate() + datetime.timedelta(days=15)
    body = {"setup": setup, "way": "allow", "reason": "for a while", "until": later.isoformat()}
    assert ines.post(f"/clashes/{clash['identity']}/decision", body)[0] == 200
    assert "allowance" not in kinds(ines)


def test_a_matter_is_put_aside_by_one_person_and_brought_back(ines, jorun):
    one = next(m for m in ines.get("/today")[1]["matters"] if m["kind"] == "without a task")
    status, left = ines.post("/today/aside", {"id": one["id"], "how": "until Monday"})
    assert status == 200
    assert one["id"] not in [m["id"] for m in left["matters"]]
    monday = next_monday(timezone.localdate())
    assert [(m["id"], m["until"]) for m in left["aside"]] == [(one["id"], monday.isoformat())]
    assert "without a task" in kinds(jorun)
    Aside.objects.update(until=timezone.localdate())  # as it is on that Monday
    assert "without a task" in kinds(ines)
    ines.post("/today/aside", {"id": one["id"], "how": "not mine"})
    assert Aside.objects.get().until is None
    assert one["id"] in [m["id"] for m in ines.post("/today/back", {"id": one["id"]})[1]["matters"]]
    assert ines.post("/today/aside", {"id": "x" * 201, "how": "not mine"})[0] == 422
    assert ines.post("/today/aside", {"id": "x", "how": "never"})[0] == 422


@pytest.fixture
def address(ines):
    return ines.post("/today/feed")[1]["address"]


def test_the_feed_is_read_without_signing_in_and_says_the_same(ines, address):
    answer = Client().get(address)
    assert (answer.status_code, answer["Content-Type"]) == (200, "application/atom+xml; charset=utf-8")
    entries = ET.fromstring(answer.content).findall(f"{ATOM}entry")
    assert [e.find(f"{ATOM}title").text for e in entries] == [m["says"] for m in ines.get("/today")[1]["matters"]]
    assert all(e.find(f"{ATOM}link").get("href").startswith("http://testserver/") for e in entries)
    assert Feed.objects.get().read_at is not None
    assert ines.get("/today")[1]["feed"] is True


def test_a_feed_that_is_ended_made_anew_or_of_a_closed_account_leads_nowhere(ines, address):
    anew = ines.post("/today/feed")[1]["address"]
    assert Client().get(address).status_code == 404
    assert Client().get(anew).status_code == 200
    User.objects.filter(username="ines").update(is_active=False)
    assert Client().get(anew).status_code == 404
    User.objects.filter(username="ines").update(is_active=True)
    ines.post("/today/feed/end")
    assert Client().get(anew).status_code == 404
    assert Client().get("/api/feed/guessed/today.atom").status_code == 404


def test_the_command_tells_the_same_to_people_and_programs(ines, capsys, monkeypatch):
    says = [m["says"] for m in ines.get("/today")[1]["matters"]]
    monkeypatch.setattr("sys.argv", ["today", "ines", "--json"])
    assert telling.main() == 0
    assert [m["says"] for m in json.loads(capsys.readouterr().out)["matters"]] == says
    monkeypatch.setattr("sys.argv", ["today", "ines"])
    assert telling.main() == 0
    lines = capsys.readouterr().out.splitlines()
    assert [s in line for s, line in zip(says, lines, strict=True)] == [True] * len(says)
    monkeypatch.setattr("sys.argv", ["today", "nobody"])
    assert telling.main() == 1
    assert "no account nobody" in capsys.readouterr().err


def test_the_command_says_so_where_nothing_was_ever_begun(ines, capsys, monkeypatch):
    def nothing(user):
        raise ProgrammingError("no such table")

    monkeypatch.setattr("amberkey.server.today.api.today_of", nothing)
    monkeypatch.setattr("sys.argv", ["today"])
    assert telling.main() == 1
    assert "start Amber Key first" in capsys.readouterr().err
