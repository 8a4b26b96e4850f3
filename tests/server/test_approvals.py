"""What runs something or says where files are written goes nowhere before another releaser said yes to that very content."""

import pytest

from amberkey.core.exchange.approving import launcher_of, path_of, sensitive_in
from amberkey.core.exchange.bundle import read_bundle
from amberkey.core.profiles.model import Launcher
from amberkey.server.fleet.models import Agent, Machine
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.fleet.verbs.watch import watch_files
from amberkey.server.library.documents import known_programs
from amberkey.server.library.models import Approval, Document
from amberkey.server.library.older_approvals import approve_released
from tests.server.conftest import Api
from tests.server.test_exchange import export, preview
from tests.server.test_workbench import GERMAN

RUNS = "kept-log --open"


def save(api, kind, doc_id, change):
    answer = api.client.get(f"/api/documents/{kind}/{doc_id}")
    value = answer.json()
    change(value)
    status, body = api.put(f"/documents/{kind}/{doc_id}", value, **{"If-Match": answer["ETag"]})
    assert status == 200, body


def launch(api, runs=RUNS, profile="house"):
    """A launcher in a profile, as somebody writes it."""
    launcher = {"id": "log", "name": "Open the log", "runs": runs, "shortcuts": {"windows": ["Control+Alt+F9"]}}
    save(api, "profile", profile, lambda v: v.update(launchers=[launcher]))


def waiting(api):
    return [a for a in api.get("/approvals")[1] if not a["approved"]]


def approve(api, one):
    return api.post("/approvals", {"id": one["id"]})


@pytest.fixture
def jorun(example):
    return Api("jorun")


def launchers(data):
    return [v.id for v in read_bundle(data).documents[0].launchers]


def test_a_launcher_reaches_no_bundle_before_another_releaser_said_yes(ines, jorun):
    launch(jorun)
    (one,) = waiting(ines)
    assert (one["kind"], one["written_by"], one["mine"], one["content"]) == ("launcher", "Jorun", False, RUNS)
    assert one["says"] == f"Open the log, in House, runs {RUNS}"
    data = export(ines)
    assert launchers(data) == []
    stays = read_bundle(data).manifest.stays
    assert ("The launcher Open the log", "What it runs waits for a releaser's approval.") in [(s.what, s.why) for s in stays]
    status, found = approve(ines, one)
    assert status == 200
    assert [(a["approved_by"], a["written_by"]) for a in found if a["kind"] == "launcher"] == [("Ines", "Jorun")]
    assert launchers(export(ines)) == ["log"]


def test_whoever_wrote_it_cannot_say_yes(ines, arvid):
    launch(ines)
    (one,) = waiting(ines)
    assert one["mine"]
    status, problem = approve(ines, one)
    assert (status, problem["title"]) == (409, "You wrote this yourself.")
    assert launchers(export(ines)) == []
    assert approve(arvid, one)[0] == 200


def test_whoever_saved_something_else_since_did_not_write_it(ines, jorun):
    launch(jorun)
    save(ines, "profile", "house", lambda v: v.update(description="Another word"))
    (one,) = waiting(ines)
    assert (one["written_by"], one["mine"]) == ("Jorun", False)
    assert approve(ines, one)[0] == 200


@pytest.mark.parametrize("runs", [RUNS + " ", RUNS.upper(), RUNS.replace("-", "\u2010"), f" {RUNS}"])
def test_one_changed_byte_asks_again(ines, jorun, runs):
    launch(jorun)
    approve(ines, waiting(ines)[0])
    launch(jorun, runs)
    assert launchers(export(ines)) == []
    (one,) = waiting(ines)
    assert one["content"] == runs
    # Back at what was approved, nothing waits.
    launch(jorun)
    assert waiting(ines) == []
    assert launchers(export(ines)) == ["log"]


def test_the_same_command_line_elsewhere_is_another_thing(ines, jorun):
    launch(jorun)
    approve(ines, waiting(ines)[0])
    launch(jorun, profile="training")
    assert [a["key"] for a in waiting(ines)] == ["profile/training"]
    assert launchers(export(ines, "training")) == []


def test_a_bundle_without_its_launchers_takes_none_away_elsewhere(ines, jorun):
    launch(jorun)
    data = export(ines)
    assert preview(ines, data, "house", "replace")[1]["differences"] == []
    launch(jorun, "something else")
    # The bundle is silent about it, so there is nothing to merge either.
    assert preview(ines, data, "house", "replace")[1]["differences"] == []


def test_an_approval_is_taken_back_and_given_again(ines, jorun):
    launch(jorun)
    one = waiting(ines)[0]
    approve(ines, one)
    assert ines.post("/approvals/withdrawn", {"id": one["id"]})[0] == 200
    assert launchers(export(ines)) == []
    assert ines.post("/approvals/withdrawn", {"id": one["id"]})[0] == 404
    approve(ines, one)
    assert launchers(export(ines)) == ["log"]
    assert Approval.objects.filter(digest=one["id"]).count() == 1


def test_what_stands_nowhere_any_more_cannot_be_approved(ines, jorun):
    launch(jorun)
    one = waiting(ines)[0]
    save(jorun, "profile", "house", lambda v: v.update(launchers=[]))
    assert approve(ines, one)[0] == 404


def test_editors_cannot_say_yes(ines, jorun):
    launch(ines)
    assert approve(jorun, waiting(jorun)[0])[0] == 403


def move(api, path):
    """Another place for Quaysheet's settings on Windows."""
    save(api, "program", "quaysheet@7.2", lambda v: v["settings_files"][0]["path"].update(windows=path))


@pytest.fixture
def counter(ines):
    agent = Agent.objects.create(machine=Machine.objects.get(id="counter-3"))
    assert setup_of_agent(agent) == GERMAN
    watch_files(agent)
    return agent


def path_on(agent):
    watch_files(agent)
    return agent.files.get(program="quaysheet").path


def test_a_path_reaches_no_machine_and_no_file_before_another_releaser_said_yes(ines, jorun, counter):
    assert path_on(counter) == "Quaysheet/settings.json"
    move(jorun, "Quaysheet/other.json")
    assert path_on(counter) == "Quaysheet/settings.json"
    one = next(f for f in ines.get(f"/setups/{GERMAN}/files")[1] if f["program"] == "quaysheet")
    assert (one["text"], one["left_out"]) == ("", ["Where it lies waits for a releaser's approval."])
    assert ines.get(f"/setups/{GERMAN}/files/quaysheet/0")[0] == 404
    manifest = read_bundle(export(ines)).manifest
    assert not any(f.program == "quaysheet" and f.platform == "windows" for f in manifest.files)
    (asked,) = waiting(ines)
    assert asked["says"] == "The settings of Quaysheet are written to Quaysheet/other.json, below the home on Windows"
    approve(ines, asked)
    assert path_on(counter) == "Quaysheet/other.json"
    assert any(f["text"] for f in ines.get(f"/setups/{GERMAN}/files")[1] if f["program"] == "quaysheet")


def test_the_same_path_in_a_newer_version_needs_no_new_yes(ines):
    program = known_programs()["quaysheet"]
    newer = program.model_copy(update={"version": "8.0"})
    assert [s.digest for s in sensitive_in(newer)] == [s.digest for s in sensitive_in(program)]
    assert path_of(newer, "windows", "a").digest != path_of(newer, "macos", "a").digest


def test_a_machine_is_not_written_where_the_approval_was_taken_back(ines, arvid, counter):
    Agent.objects.filter(pk=counter.pk).update(token_hash="x")
    one = next(a for a in ines.get("/approvals")[1] if "Quaysheet/settings.json" in a["content"] and "Windows" in a["says"])
    ines.post("/approvals/withdrawn", {"id": one["id"]})
    status, problem = ines.post("/machines/counter-3/apply", {})
    assert status == 409
    assert "isn't approved any more" in problem["detail"]


def test_what_was_released_before_approvals_began_goes_out_as_it_did(ines, jorun):
    from django.apps import apps

    launch(jorun)
    Document.objects.filter(key="profile/house").update(released=Document.objects.get(key="profile/house").newest)
    Approval.objects.all().delete()
    approve_released(apps)
    assert waiting(ines) == []
    assert {a["approved_by"] for a in ines.get("/approvals")[1]} == {""}
    assert launchers(export(ines)) == ["log"]


def test_what_an_approval_is_of_is_the_content_and_whose_it_is():
    one, other = (Launcher(id="a", name="A", runs=runs, shortcuts={}) for runs in ("x", "y"))
    assert launcher_of("p", one).digest != launcher_of("p", other).digest
    assert launcher_of("p", one).digest != launcher_of("q", one).digest
    assert launcher_of("p", one, "P").digest == launcher_of("p", one).digest
