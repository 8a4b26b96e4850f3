"""What people have set for themselves: read by a job from files of agents or of a zip, taken into profiles as one change."""

import datetime
import io
import json
import zipfile

import pytest
from django.utils import timezone

from amberkey.server.fleet.models import Survey
from amberkey.server.fleet.surveying import do_read
from amberkey.server.fleet.tasks import surveys_without_a_job
from amberkey.server.library.models import ChangeSet, Document
from amberkey.server.library.verbs.change import create
from tests.core.organisations import machine as known_machine
from tests.core.organisations import organisation, read
from tests.server.test_fleet import Agent
from tests.server.test_organisation import GERMAN

PEOPLE = ("ada", "bo", "cy", "di", "eve")
OWN = {"do": "recalculate", "on": ["f9"]}
LOCK = {"do": "insert-row", "on": ["ctl-f7"]}


@pytest.fixture
def crew(example):
    """Five people with a machine each, four of them in the control room."""
    for name in ("harbour", "control", "pilot", "clerk"):
        create(example, read({"format": "amberkey/profile@1", "id": name, "name": name.title()}))
    people = [
        {"id": p, "name": p.title(), "department": "control" if p != "eve" else "harbour", "profiles": []} for p in PEOPLE
    ]
    machines = [known_machine("counter-3" if p == "eve" else f"desk-{p}", programs=GERMAN) for p in PEOPLE]
    seats = [{"person": p, "machine": m["id"]} for p, m in zip(PEOPLE, machines, strict=True)]
    create(example, read(organisation(people=people, machines=machines, seats=seats)))


def settings(*entries):
    return json.dumps({"keyboard": {"own": list(entries)}, "secret": "kept by nobody"})


def packed(files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for path, text in files.items():
            archive.writestr(path, text)
    out.seek(0)
    out.name = "people.zip"
    return out


FILES = {
    "Ada/Quaysheet/settings.json": settings(OWN, LOCK),
    "bo/settings.json": settings(OWN),
    "cy/settings.json": settings(OWN),
    "di/settings.json": settings(),
    "eve/settings.json": settings(),
    "who/settings.json": settings(OWN),
}


def survey(api, files=FILES):
    status, begun = api.send("/surveys/files", {"file": packed(files)})
    assert (status, begun["state"]) == (200, "working")
    do_read(Survey.objects.first().id)
    return api.get("/surveys/newest")[1]["survey"]


def change_of(found, command):
    return next(c for c in found["changes"] if c["command"] == command)


def entries(profile):
    value = Document.objects.get(key=f"profile/{profile}").newest.body.json()
    return {(e["program"], e["command"]): e["shortcuts"] for e in value.get("entries", [])}


def test_files_by_person_tell_what_people_have_and_for_whom_it_would_be(jorun, crew):
    found = survey(jorun)
    assert found.items() >= {"state": "ready", "files": 6, "people": 5, "left": 1, "of": "people.zip"}.items()
    assert found["unread"] == [{"path": "who/settings.json", "says": "Nobody is called who."}]
    own, lock = change_of(found, "recalculate"), change_of(found, "insert-row")
    assert (own["keys"], own["people"], own["names"], own["proposed"]) == (["F9"], 3, ["Ada", "Bo", "Cy"], "house")
    assert {(s["profile"], s["having"], s["seen"]) for s in own["layers"]} >= {("house", 3, 5), ("control", 3, 4)}
    assert (lock["people"], lock["proposed"]) == (1, "own")
    kept = Survey.objects.get()
    assert kept.given is None
    assert "kept by nobody" not in json.dumps(kept.found), "nothing else of anybody's file is kept"


def test_what_is_taken_stands_in_profiles_as_one_change_that_can_be_undone(ines, jorun, crew):
    found = survey(jorun)
    into = {change_of(found, "recalculate")["id"]: "control", change_of(found, "insert-row")["id"]: "own"}
    status, would = jorun.post(f"/surveys/{found['id']}/plan", {"into": into})
    assert (status, ChangeSet.objects.count()) == (200, 0)
    assert would["people"] == 4
    status, done = jorun.post(f"/surveys/{found['id']}/take", {"into": into})
    assert (status, done["title"]) == (200, "Took 2 own changes that people had set")
    assert entries("control")["quaysheet", "recalculate"] == [{"keys": "F9"}]
    assert entries("own-ada") == {("quaysheet", "insert-row"): [{"keys": "Control+F7"}]}
    value = Document.objects.get(key="organisation/organisation").newest.body.json()
    assert {p["id"]: p.get("profiles", []) for p in value["people"]}["ada"] == ["own-ada"]
    assert jorun.get("/surveys/newest")[1]["survey"]["changes"] == [], "it is nobody's own any more"
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert entries("control") == {}
    assert Document.objects.get(key="profile/own-ada").deleted_at is not None
    assert len(jorun.get("/surveys/newest")[1]["survey"]["changes"]) == 2
    status, again = jorun.post(f"/surveys/{found['id']}/take", {"into": into})
    assert status == 200, again
    assert entries("own-ada") == {("quaysheet", "insert-row"): [{"keys": "Control+F7"}]}
    assert Document.objects.get(key="profile/own-ada").deleted_at is None


def test_who_has_own_settings_already_keeps_them_in_the_same_profile(jorun, crew):
    found = survey(jorun)
    jorun.post(f"/surveys/{found['id']}/take", {"into": {change_of(found, "insert-row")["id"]: "own"}})
    later = survey(jorun, {**FILES, "ada/settings.json": settings(OWN, LOCK, {"do": "delete-row", "on": ["ctl-f8"]})})
    assert {c["command"] for c in later["changes"]} == {"recalculate", "delete-row"}
    row = change_of(later, "delete-row")
    assert jorun.post(f"/surveys/{later['id']}/take", {"into": {row["id"]: "own"}})[0] == 200
    assert sorted(c for _, c in entries("own-ada")) == ["delete-row", "insert-row"]


def test_two_changes_of_one_command_do_not_fit_into_one_profile(jorun, crew):
    files = {**FILES, "bo/settings.json": settings({"do": "recalculate", "on": ["f10"]})}
    found = survey(jorun, files)
    both = {c["id"]: "house" for c in found["changes"] if c["command"] == "recalculate"}
    assert len(both) == 2
    status, problem = jorun.post(f"/surveys/{found['id']}/take", {"into": both})
    assert (status, problem["title"]) == (400, "Calculate again would get two sets of keys in House.")
    assert jorun.post(f"/surveys/{found['id']}/take", {"into": dict.fromkeys(both, "nowhere")})[0] == 404
    assert jorun.post(f"/surveys/{found['id']}/take", {"into": {"0" * 16: "house"}})[0] == 404
    assert jorun.post(f"/surveys/{found['id']}/take", {"into": {}})[0] == 422


def test_what_is_dropped_is_said_so_until_it_is_looked_at_again(jorun, crew):
    found = survey(jorun)
    own = change_of(found, "recalculate")["id"]
    told = jorun.post(f"/surveys/{found['id']}/dropped", {"changes": [own], "dropped": True})[1]
    assert [c["dropped"] for c in told["changes"]] == [True, False]
    told = jorun.post(f"/surveys/{found['id']}/dropped", {"changes": [own], "dropped": False})[1]
    assert [c["dropped"] for c in told["changes"]] == [False, False]
    assert jorun.post(f"/surveys/{found['id']}/dropped", {"changes": ["f" * 16], "dropped": True})[0] == 404


def test_what_agents_have_seen_is_surveyed_without_any_file(ines, jorun, crew, machines_folder, signing_key):
    agent = Agent(machines_folder / "counter-3")
    agent.round()
    assert jorun.post("/surveys", {})[1]["state"] == "working"
    do_read(Survey.objects.first().id)
    found = jorun.get("/surveys/newest")[1]["survey"]
    assert (found["of"], found["files"], found["people"]) == ("what agents have seen", 1, 1)
    assert [(c["command_name"], c["names"]) for c in found["changes"]] == [("Calculate again", ["Eve"])]


@pytest.mark.parametrize("data, says", [(b"nothing", "not a zip file"), (b"PK\x05\x06" + b"\0" * 17, "not a zip file")])
def test_what_is_no_zip_file_fails_with_its_reason(jorun, crew, data, says):
    file = io.BytesIO(data)
    file.name = "x.zip"
    jorun.send("/surveys/files", {"file": file})
    do_read(Survey.objects.first().id)
    found = jorun.get("/surveys/newest")[1]["survey"]
    assert (found["state"], says in found["says"]) == ("failed", True)
    assert Survey.objects.get().given is None
    assert jorun.post(f"/surveys/{found['id']}/take", {"into": {"0" * 16: "house"}})[0] == 404


def test_a_survey_whose_job_died_is_taken_up_and_old_ones_go(jorun, crew):
    jorun.post("/surveys", {})
    Survey.objects.update(at=timezone.now() - datetime.timedelta(days=31))
    assert surveys_without_a_job() in (0, 1)  # its job may still wait
    jorun.post("/surveys", {})
    assert Survey.objects.count() == 1


def test_nobody_has_looked_yet(jorun):
    assert jorun.get("/surveys/newest") == (200, {"survey": None})


# What a machine says of itself


def told(api, machine_id="counter-3"):
    return next(m for m in api.get("/machines")[1]["machines"] if m["id"] == machine_id)["contradicted"]


def test_what_a_machine_says_otherwise_than_the_list_is_shown_and_one_is_taken(jorun, crew, machines_folder, signing_key):
    agent = Agent(machines_folder / "counter-3")
    assert agent.call("POST", "/work", {})["facts"] is True
    facts = {"edition": "Windows 11 Enterprise", "layouts": ["0000040c", "en-GB"]}
    agent.call("POST", "/facts", facts)
    assert agent.call("POST", "/work", {})["facts"] is False
    assert [(c["part"], c["listed"], c["said"], c["known"]) for c in told(jorun)] == [
        ("edition", "Pro", "Windows 11 Enterprise", True),
        ("layouts", "de", "0000040c, en-GB", True),
    ]
    status, done = jorun.post("/machines/counter-3/facts", {"part": "layouts"})
    assert (status, done["title"]) == (200, "Counter-3 has what it says itself: 0000040c, en-GB")
    value = Document.objects.get(key="organisation/organisation").newest.body.json()
    assert next(m for m in value["machines"] if m["id"] == "counter-3")["layouts"] == ["fr(azerty)", "gb"]
    assert [c["part"] for c in told(jorun)] == ["edition"]
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert len(told(jorun)) == 2
    assert jorun.post("/machines/counter-3/facts", {"part": "colour"})[0] == 422
    assert jorun.post("/machines/nowhere/facts", {"part": "edition"})[0] == 404


def test_what_nobody_knows_is_shown_and_not_taken(jorun, crew, machines_folder, signing_key):
    agent = Agent(machines_folder / "counter-3")
    agent.call("POST", "/facts", {"edition": "Moonlight 3", "layouts": []})
    assert [(c["said"], c["known"]) for c in told(jorun)] == [("Moonlight 3", False)]
    status, problem = jorun.post("/machines/counter-3/facts", {"part": "edition"})
    assert (status, problem["title"]) == (409, "Nobody here knows what Moonlight 3 is.")
    assert agent.api.post("/agent/facts", {"edition": "x" * 121}, **agent.headers)[0] == 422


def test_versions_are_asked_of_programs_that_the_list_has_and_one_is_taken(jorun, example, crew, machines_folder, signing_key):
    agent = Agent(machines_folder / "counter-3")
    asked = agent.call("POST", "/work", {})["programs"]
    assert {"Quaysheet", "Folioform"} <= set(asked)
    assert not any("Windows" in name for name in asked), "what the system is says the edition"
    agent.call("POST", "/facts", {"programs": {"Quaysheet": "7.2.9", "Folioform": "4.1"}})
    assert agent.call("POST", "/work", {})["programs"] == [], "no more than once an hour"
    assert [(c["part"], c["listed"], c["said"], c["known"]) for c in told(jorun)] == [
        ("programs", "Folioform 4.0", "Folioform 4.1", False)
    ]
    switch = {"id": "house-keys", "name": "Keys of the house", "where": "Tools"}
    newer = Document.objects.get(key="program/folioform@4.0").newest.body.json() | {"version": "4.1", "switches": [switch]}
    create(example, read(newer))
    (one,) = told(jorun)
    assert one["known"] is True
    # What the update wants done again is said on the machine's line.
    (line,) = [m for m in jorun.get("/machines")[1]["machines"] if m["id"] == "counter-3"]
    assert line["note"] == "Folioform is 4.1 there now. Switch on: Keys of the house (Tools)."
    assert jorun.post("/machines/counter-3/facts", {"part": "programs"})[0] == 200
    value = Document.objects.get(key="organisation/organisation").newest.body.json()
    own = next(m for m in value["machines"] if m["id"] == "counter-3")["programs"]
    assert {p["id"]: p["version"] for p in own}["folioform"] == "4.1"
    assert told(jorun) == []
