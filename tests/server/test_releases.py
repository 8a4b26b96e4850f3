"""What is released and reaches machines (programs, tasks and the organisation like profiles), and what is new since then."""

import pytest

from amberkey.core.formats import read_kept
from amberkey.server.fleet import kept
from amberkey.server.fleet.models import MachineFile
from amberkey.server.library.models import Document, Given
from amberkey.server.library.verbs.change import create
from tests.core.organisations import machine as known_machine
from tests.core.organisations import organisation, read
from tests.server.conftest import Api
from tests.server.test_fleet import Agent, machine
from tests.server.test_organisation import GERMAN
from tests.server.test_workbench import groups


@pytest.fixture
def harbour(example, machines_folder, signing_key):
    """Counter 3 stands in an organisation that was never released; its agent has shown its file."""
    for name in ("harbour", "control", "pilot", "clerk", "ada"):
        create(example, read({"format": "amberkey/profile@1", "id": name, "name": name.title()}))
    value = organisation(
        machines=[known_machine("counter-3", programs=GERMAN), known_machine("two", programs=GERMAN)],
        seats=[{"person": "ada", "machine": "counter-3"}],
    )
    create(example, read(value))
    agent = Agent(machines_folder / "counter-3")
    agent.round()
    return agent


def release(api, *keys):
    """The newest revision of some documents."""
    wishes = [{"key": k, "number": Document.objects.get(key=k).newest.number} for k in keys]
    status, body = api.post("/releases", {"wishes": wishes})
    assert status == 200, body
    return body["before"]


def waiting(api):
    return {w["key"]: w for w in api.get("/releases")[1]}


EVERYTHING = [f"profile/{p}" for p in ("harbour", "control", "pilot", "clerk", "ada")]


def test_what_was_never_released_reaches_no_machine(harbour, ines):
    found = waiting(ines)
    assert {"organisation/organisation", *EVERYTHING} == set(found)
    assert found["organisation/organisation"]["released"] is None
    now = machine(ines)
    assert now["setup_name"] == "Ticket counters"  # the planned one, as long as the organisation isn't released
    release(ines, "organisation/organisation", *EVERYTHING)
    assert waiting(ines) == {}
    assert "German keyboard" in machine(ines)["setup_name"]


def test_a_program_reaches_machines_as_released_and_goes_back(harbour, ines, jorun):
    key = "program/quaysheet@7.2"
    value = ines.get(f"/documents/{key}")[1]
    digest = ines.client.get(f"/api/documents/{key}")["ETag"]
    value["commands"] = [c for c in value["commands"] if c["id"] != "paste-values"]
    before = machine(ines)["files"][0]["differences"]
    assert jorun.put(f"/documents/{key}?note=Paste+values+is+gone", value, **{"If-Match": digest})[0] == 200
    assert machine(ines)["files"][0]["differences"] == before
    assert waiting(jorun)[key]["notes"] == ["Paste values is gone"]
    assert jorun.post("/releases", {"wishes": [{"key": key, "number": 2}]})[0] == 403
    undo = release(ines, key)
    assert machine(ines)["files"][0]["differences"] != before
    assert undo == [{"key": key, "number": 1}]
    assert ines.post("/releases", {"wishes": undo})[0] == 200
    assert machine(ines)["files"][0]["differences"] == before


def test_nothing_is_released_by_half(harbour, ines):
    wishes = [{"key": "profile/harbour", "number": 1}, {"key": "profile/harbour-2", "number": 1}]
    assert ines.post("/releases", {"wishes": wishes})[0] == 404
    assert Document.objects.get(key="profile/harbour").released is None
    assert ines.post("/releases", {"wishes": []})[0] == 400


def test_a_machine_whose_organisation_waits_is_told_what_to_do(harbour, ines):
    code = ines.post("/machines/two/code")
    assert code[0] == 409  # nobody sits at it
    ines.post("/machines/counter-3/apply", {})
    from amberkey.server.fleet.models import Machine

    Machine.objects.filter(id="counter-3").update(setup="")
    status, problem = ines.post("/machines/counter-3/apply", {})
    assert status == 409
    assert problem["title"].endswith("is in nothing that is released.")
    assert "Release the organisation" in problem["cure"]


def test_new_is_said_against_what_the_machines_of_a_setup_were_last_given(harbour, ines):
    release(ines, "organisation/organisation", *EVERYTHING)
    setup = machine(ines)["setup"]

    def new():
        return {g["subject"]["command"] for g in groups(ines, setup).values() if g["new"]}

    assert new() == set()
    give = {"setup": setup, "program": "quaysheet", "command": "filter", "shortcuts": ["Control+W"]}
    assert ines.post("/commands/shortcuts", give)[0] == 200
    first = new()
    assert "filter" in first
    # Released, but the machine was never given anything: held against what is released now.
    release(ines, "profile/house")
    assert new() == set()
    assert ines.post("/machines/counter-3/apply", {"over_drift": True})[0] == 200
    harbour.round()
    assert (
        Given.objects.get(machine="counter-3").state.json()["profile/house"]
        == Document.objects.get(key="profile/house").released.body_id
    )
    # Given that; what comes later is new for it until it is given again, released or not.
    give["command"], give["shortcuts"] = "freeze", ["Control+C"]
    assert ines.post("/commands/shortcuts", give)[0] == 200
    later = new()
    assert later
    release(ines, "profile/house")
    assert new() == later
    assert ines.post("/machines/counter-3/apply", {})[0] == 200
    harbour.round()
    assert new() == set()


def test_looking_who_needs_somebody_reads_no_document(harbour, ines, monkeypatch, django_assert_max_num_queries):
    assert ines.get("/machines/waiting")[1] == {"need_you": 0}
    with monkeypatch.context() as patched, django_assert_max_num_queries(6):
        patched.setattr(kept, "standing_of", None)
        patched.setattr("amberkey.server.library.documents.read_kept", None)
        patched.setattr(read_kept.__module__ + ".read_document", None)
        assert ines.get("/machines/waiting")[1] == {"need_you": 0}
    harbour.settings.write_text("{ broken")
    harbour.round()
    assert ines.get("/machines/waiting")[1] == {"need_you": 1}


def test_after_a_release_all_files_stand_anew(harbour, ines):
    ines.get("/machines/waiting")
    first = MachineFile.objects.get(machine="counter-3").stands_on
    release(ines, "organisation/organisation", *EVERYTHING)
    Api("tove").get("/machines/waiting")
    assert MachineFile.objects.get(machine="counter-3").stands_on not in ("", first)
