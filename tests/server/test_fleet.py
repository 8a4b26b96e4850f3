import base64
import fcntl
import os

import pytest

from amberkey.agent.errors import ServerProblem
from amberkey.agent.files import backups_of
from amberkey.agent.state import Config, State, Work
from amberkey.agent.work import work_once
from amberkey.server.fleet.models import Order
from amberkey.server.people.models import AuditEntry
from tests.server.conftest import Api
from tests.server.test_workbench import decide, groups, ways


class Agent:
    """An agent's requests over Django's test client: the real `work_once` runs on it."""

    def __init__(self, machine_folder):
        self.home = machine_folder / "home"
        self.api = Api()
        code = (machine_folder / "enrol-code").read_text()
        status, answer = self.api.post("/agent/enrol", {"code": code})
        assert status == 200
        self.headers = {"Authorization": f"Bearer {answer['token']}"}
        self.running = frozenset()
        config = Config("http://127.0.0.1:1", answer["token"], answer["machine"], answer["key"])
        State(self.home, config, Work()).keep_config()

    def call(self, method, path, body=None, asked_in=""):
        ask = self.api.get if method == "GET" else self.api.post
        args = () if method == "GET" else (body,)
        status, answer = ask(f"/agent{path}", *args, **self.headers)
        if status != 200:
            raise ServerProblem(str(answer), status)
        return answer

    def round(self):
        return work_once(self, State.of(self.home), runs=lambda: self.running)

    @property
    def settings(self):
        return self.home / "Quaysheet/settings.json"


@pytest.fixture
def agent(ines, machines_folder, signing_key):
    return Agent(machines_folder / "counter-3")


def machine(api, machine_id="counter-3"):
    return next(m for m in api.get("/machines")[1]["machines"] if m["id"] == machine_id)


def moved(api):
    """Quote the fare moved, and House released with it."""
    identity = groups(api)["quote-fare"]["identity"]
    decide(api, identity, ways(api, identity)[0]["key"])
    assert api.post("/profiles/house/release", {"number": 2})[0] == 200


def test_from_a_decision_to_the_machine_and_back_to_drift(ines, agent):
    agent.round()
    assert machine(ines)["state"] == "new"
    moved(ines)
    before = agent.settings.read_bytes()
    assert ines.post("/machines/counter-3/apply", {})[0] == 200
    assert machine(ines)["state"] == "waiting"
    agent.round()
    assert machine(ines)["state"] == "in step"
    after = agent.settings.read_text()
    assert '"do": "quote-fare"' in after
    assert after.startswith(before.decode()[:170])
    assert agent.round() == 0  # nothing new to tell
    agent.settings.write_text(after.replace('"ctl-alt-v"', '"ctl-alt-w"'))
    agent.round()
    found = machine(ines)
    assert found["state"] == "drifted"
    assert found["files"][0]["differences"] == ["Paste values only has Strg Alt W on the machine; Strg Alt V is wanted."]


def differences(api, left, right):
    status, found = api.get(f"/compare?left={left}&right={right}")
    assert status == 200, found
    return found, [d["says"] for g in found["groups"] for d in g["differences"]]


def test_what_a_machines_files_say_is_held_against_what_is_set_and_taken_over(ines, agent):
    assert ines.get("/compare?left=profile/house&right=machine/counter-3")[0] == 409, "nothing has been seen yet"
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    found, says = differences(ines, "setup/ticket-counters", "machine/counter-3")
    own = "Calculate again, in Quaysheet, gets F9 and Ctrl F9."  # somebody's there, which nobody here ever set
    assert (found["right"]["title"], says) == ("What the files of Counter 3, Westquay say", [own])
    people = next(s["people"] for s in ines.get("/lenses")[1] if s["setup"] == "ticket-counters")
    assert {d["people"] for g in found["groups"] for d in g["differences"]} == {people}, "those of that setup"
    agent.settings.write_text(agent.settings.read_text().replace('"ctl-alt-v"', '"ctl-alt-w"'))
    agent.round()
    found, says = differences(ines, "profile/house", "machine/counter-3")
    # Of the house only what that file could say counts: entries of other programs and platforms aren't missing there.
    assert sorted(says) == [own, "Paste values only, in Quaysheet, moves from Ctrl Alt V to Ctrl Alt W."]
    assert (found["left"]["writable"], found["right"]["writable"]) == (True, False)
    only = next(d["id"] for g in found["groups"] for d in g["differences"] if d["says"] != own)
    given = {"into": "profile/house", "other": "machine/counter-3", "chosen": [only]}
    before = ines.get("/documents/profile/house")[1]
    assert ines.post("/compare/take", given)[0] == 200
    after = ines.get("/documents/profile/house")[1]
    keys = {(e["program"], e["command"]): e["shortcuts"] for e in after["entries"]}
    assert keys["quaysheet", "paste-values"] == [{"keys": "Control+Alt+W"}]
    assert len(after["entries"]) == len(before["entries"])
    assert after["name"] == before["name"]
    assert differences(ines, "profile/house", "machine/counter-3")[1] == [own]


def test_a_machine_whose_file_cannot_be_read_says_so(ines, agent):
    agent.settings.write_text("{")
    agent.round()
    status, problem = ines.get("/compare?left=profile/house&right=machine/counter-3")
    assert status == 409
    assert "can't be read" in problem["title"]
    assert ines.get("/compare?left=profile/house&right=machine/nowhere")[0] == 404


def test_a_change_by_hand_is_never_overwritten_silently(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    changed = agent.settings.read_text().replace('"ctl-alt-v"', '"ctl-alt-w"')
    agent.settings.write_text(changed)
    agent.round()
    status, problem = ines.post("/machines/counter-3/apply", {})
    assert status == 409
    assert "Strg Alt W" in problem["detail"]
    assert ines.post("/machines/counter-3/apply", {"over_drift": True})[0] == 200
    agent.round()
    assert '"ctl-alt-v"' in agent.settings.read_text()
    assert changed.encode() in [data for _, data in backups_of(agent.home, "Quaysheet/settings.json")]


def test_a_file_that_changed_after_the_order_stays_as_it_is(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    by_hand = agent.settings.read_text().replace("1.25", "1.50")
    agent.settings.write_text(by_hand)
    agent.round()
    assert agent.settings.read_text() == by_hand
    assert "has changed since" in machine(ines)["files"][0]["last_order"]
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    assert machine(ines)["state"] == "in step"
    assert '"zoom": 1.50' in agent.settings.read_text()


def test_an_undone_entry_leaves_the_file_again(ines, agent):
    original = agent.settings.read_bytes()
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    house = ines.get("/documents/profile/house")[1]
    house.pop("entries")
    tag = ines.client.get("/api/documents/profile/house")["ETag"]
    ines.put("/documents/profile/house", house, **{"If-Match": tag})
    ines.post("/profiles/house/release", {"number": 2})
    assert machine(ines)["state"] == "behind"
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    assert agent.settings.read_bytes() == original


def test_machines_get_released_revisions_only(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    identity = groups(ines)["quote-fare"]["identity"]
    decide(ines, identity, ways(ines, identity)[0]["key"])
    found = machine(ines)
    assert found["state"] == "in step"
    assert found["unreleased"] == ["House"]
    ines.post(f"/history/{ines.get('/history')[1][0]['id']}/undo")
    assert machine(ines)["unreleased"] == []


@pytest.mark.parametrize(
    "spoil, says",
    [
        (lambda f: f.write_text("not json"), "can't be read"),
        (lambda f: f.unlink(), "isn't there"),
        (lambda f: (f.unlink(), f.parent.rmdir()), "folder Quaysheet isn't there"),
    ],
)
def test_a_broken_home_is_shown_and_not_written(ines, agent, spoil, says):
    agent.round()
    spoil(agent.settings)
    agent.round()
    file = machine(ines)["files"][0]
    assert file["state"] == "problem"
    assert says in file["says"]
    status, problem = ines.post("/machines/counter-3/apply", {})
    assert status == 409
    assert says in problem["detail"]


def test_a_code_works_once(ines, agent, machines_folder):
    code = (machines_folder / "counter-3/enrol-code").read_text()
    status, problem = Api().post("/agent/enrol", {"code": code})
    assert status == 403
    assert "used" in problem["detail"]


def test_an_agent_sees_its_own_machine_and_nothing_else(ines, agent, machines_folder):
    other = Agent(machines_folder / "training-1")
    agent.round()
    other.round()
    ines.post("/machines/counter-3/apply", {})
    (order,) = agent.call("POST", "/work", {})["orders"]
    assert other.call("POST", "/work", {})["orders"] == []
    assert other.api.post(f"/agent/orders/{order['id']}", {"outcome": "written"}, **other.headers)[0] == 404
    assert machine(ines)["state"] == "waiting"
    assert Api().get("/machines", **agent.headers)[0] == 401


def test_wrong_tokens_and_contents_are_refused(ines, agent):
    assert Api().post("/agent/work", Authorization="Bearer guess")[0] == 401
    own = agent.call("POST", "/work", {})["files"][0]["id"]
    bad = {"file": own, "content": "???"}
    assert agent.api.post("/agent/seen", bad, **agent.headers)[0] == 400
    big = {"file": own, "content": base64.b64encode(b" " * (5 * 1024 * 1024)).decode()}
    assert agent.api.post("/agent/seen", big, **agent.headers)[0] == 413
    assert agent.api.post("/agent/seen", {"file": own + 99}, **agent.headers)[0] == 404


def test_a_report_heard_twice_counts_once(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    (order,) = agent.call("POST", "/work", {})["orders"]
    agent.round()
    agent.call("POST", f"/orders/{order['id']}", {"outcome": "refused", "says": "late"})
    assert machine(ines)["state"] == "in step"


def test_a_machine_without_agent_cannot_be_applied_to(ines):
    status, problem = ines.post("/machines/harbour-desk-2/apply", {})
    assert (status, problem["cure"]) == (409, "Enrol it first.")
    assert ines.post("/machines/attic/apply", {})[0] == 404


def test_a_locked_file_is_refused_and_written_once_it_is_free(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    before = agent.settings.read_bytes()
    with agent.settings.open() as holder:
        fcntl.flock(holder, fcntl.LOCK_EX)
        agent.round()
        assert agent.settings.read_bytes() == before
        file = machine(ines)["files"][0]
        assert file["state"] == "problem"
        assert "locked by another program" in file["says"]
    agent.round()
    file = machine(ines)["files"][0]
    assert file["state"] == "new"
    assert "locked by another program" in file["last_order"]
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    assert machine(ines)["state"] == "in step"


def test_a_read_only_file_is_refused_with_what_to_do(ines, agent, monkeypatch):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    # Root may write anywhere, so the system's answer is played.
    monkeypatch.setattr(os, "access", lambda path, mode, **more: mode != os.W_OK)
    before = agent.settings.read_bytes()
    agent.round()
    assert agent.settings.read_bytes() == before
    assert "Allow writing, then try again." in machine(ines)["files"][0]["says"]


def test_a_file_of_another_kind_of_json_is_shown_and_left(ines, agent):
    agent.settings.write_text('{"keyboard": {"own": {"save": "ctl-s"}}}')
    agent.round()
    file = machine(ines)["files"][0]
    assert (file["state"], file["says"]) == ("problem", "The file can't be read: keyboard/own is not a list in this file.")


def test_a_newer_order_takes_the_place_of_one_that_waits(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    moved(ines)
    ines.post("/machines/counter-3/apply", {})
    assert Order.objects.filter(state="waiting").count() == 1
    agent.round()
    assert '"do": "quote-fare"' in agent.settings.read_text()
    assert machine(ines)["state"] == "in step"


def test_what_was_done_to_a_machine_is_on_record(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    told = [(str(e.actor or e.machine), e.action) for e in AuditEntry.objects.filter(subject__contains="counter-3")]
    assert told == [
        ("counter-3", "order done"),
        ("ines", "applied"),
        ("counter-3", "enrolled"),
        ("ines", "made an enrolment code"),
    ]


def test_a_code_can_be_given_on_a_command_line(example):
    from amberkey.server.fleet.verbs.enrol import make_code

    codes = [make_code(example, "counter-3") for _ in range(40)]
    assert all(code.isalnum() for code in codes)
    assert len(set(codes)) == len(codes)
