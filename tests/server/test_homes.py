"""Machines that several people use: an agent in each home, one for what is the machine's own, and whose settings go where."""

import json

import pytest

from amberkey.agent.state import Config, State, Work
from amberkey.agent.work import work_once
from amberkey.server.fleet.models import EnrolKey, MachineFile
from amberkey.server.fleet.surveying import do_read
from amberkey.server.library.models import Document
from amberkey.server.library.verbs.change import create
from tests.core.organisations import machine as known_machine
from tests.core.organisations import organisation, read
from tests.server.conftest import Api
from tests.server.test_agents import program_key
from tests.server.test_approvals import approve, save, waiting
from tests.server.test_fleet import machine
from tests.server.test_organisation import GERMAN
from tests.server.test_releases import release

PLACE = "counter-3"


class AtWork:
    """The real agent in a folder of its own, over Django's test client."""

    def __init__(self, home, answer, **config):
        self.home, self.api = home, Api()
        self.headers = {"Authorization": f"Bearer {answer['token']}"}
        home.mkdir(exist_ok=True)
        made = Config("http://127.0.0.1:1", answer["token"], answer["machine"], answer["key"], **config)
        State(home, made, Work()).keep_config()

    def call(self, method, path, body=None, asked_in=""):
        status, answer = self.api.post(f"/agent{path}", body, **self.headers)
        assert status == 200, answer
        return answer

    def round(self):
        return work_once(self, State.of(self.home), runs=frozenset)


def enrol(ines, home, account="", **more):
    code = ines.post(f"/machines/{PLACE}/code")[1]["code"]
    given = {"code": code, "account": account} if not more else {"code": code, "serves": "machine"}
    status, answer = Api().post("/agent/enrol", given)
    assert status == 200, answer
    return AtWork(home, answer, account=account, **more)


def quaysheet(home, text='{"keyboard": []}\n'):
    (home / "Quaysheet").mkdir(parents=True, exist_ok=True)
    (home / "Quaysheet/settings.json").write_text(text)


@pytest.fixture
def two(ines, machines_folder, signing_key, tmp_path):
    """Two people's ours on one machine, each with Quaysheet's settings in it."""
    text = (machines_folder / PLACE / "home/Quaysheet/settings.json").read_text()
    found = []
    for account in ("first", "second"):
        quaysheet(tmp_path / account, text)
        found.append(enrol(ines, tmp_path / account, account))
    return found


def agents(api):
    return {a["account"]: a for a in machine(api)["agents"]}


def test_each_home_has_its_own_agent_files_and_orders(ines, two):
    first, second = two
    first.round()
    second.round()
    found = machine(ines)
    assert [(f["path"], f["state"]) for f in found["files"]] == [("Quaysheet/settings.json", "new")] * 2
    assert {f["agent"] for f in found["files"]} == {a["id"] for a in found["agents"]}
    assert ines.post(f"/machines/{PLACE}/apply")[1] == {"orders": 2}
    first.round()
    assert [f["state"] for f in machine(ines)["files"]] == ["in step", "waiting"]
    assert (first.home / "Quaysheet/settings.json").read_text() != (second.home / "Quaysheet/settings.json").read_text()
    second.round()
    assert machine(ines)["state"] == "in step"


def test_an_agent_neither_sees_nor_reports_what_is_of_another_home(ines, two):
    first, second = two
    first.round()
    second.round()
    ines.post(f"/machines/{PLACE}/apply")
    (own,) = first.call("POST", "/work", {})["orders"]
    assert json.loads(own["said"])["home"] == "first"
    other = MachineFile.objects.get(agent__account="first")
    assert second.api.post("/agent/seen", {"file": other.pk, "problem": "x"}, **second.headers)[0] == 404
    assert second.api.post(f"/agent/orders/{own['id']}", {"outcome": "written"}, **second.headers)[0] == 404


def test_what_one_person_changed_is_their_drift_alone(ines, two):
    for agent in two:
        agent.round()
    ines.post(f"/machines/{PLACE}/apply")
    for agent in two:
        agent.round()
    file = two[1].home / "Quaysheet/settings.json"
    file.write_text(file.read_text().replace('"ctl-alt-v"', '"ctl-alt-w"'))
    for agent in two:
        agent.round()
    assert [f["state"] for f in machine(ines)["files"]] == ["in step", "drifted"]


def test_byte_for_byte_only_what_would_change_is_told(ines, jorun, tove, two):
    first = two[0]
    first.round()
    file = MachineFile.objects.get(agent__account="first")
    status, found = jorun.get(f"/machines/files/{file.pk}/difference")
    assert status == 200
    told = "".join(d["before"] + d["after"] for d in found)
    assert "ctl-alt-v" in told
    assert "Westquay" not in told, "what else stands in the file is nobody's business"
    assert tove.get(f"/machines/files/{file.pk}/difference")[0] == 403
    assert jorun.get("/machines/files/999999/difference")[0] == 404
    assert jorun.get(f"/machines/files/{MachineFile.objects.get(agent__account='second').pk}/difference")[0] == 409
    two[1].round()
    assert ines.post(f"/machines/{PLACE}/apply")[0] == 200
    first.round()
    assert jorun.get(f"/machines/files/{file.pk}/difference")[1] == []
    assert {f["backups"] for f in machine(ines)["files"] if f["agent"] == file.agent_id} == {1}


# Whose home


@pytest.fixture
def shared(example, signing_key):
    """Ada and Bo sit at one machine; Ada has one key of her own."""
    for name in ("harbour", "control", "pilot", "clerk"):
        create(example, read({"format": "amberkey/profile@1", "id": name, "name": name.title()}))
    own = {"program": "quaysheet", "command": "insert-row", "platform": "windows", "shortcuts": [{"keys": "Control+F7"}]}
    create(example, read({"format": "amberkey/profile@1", "id": "ada", "name": "Ada", "entries": [{**own, "over": []}]}))
    people = [
        {"id": "ada", "name": "Ada", "known_as": "AL17", "department": "control", "profiles": ["ada"]},
        {"id": "bo", "name": "Bo", "known_as": "BK02", "department": "control"},
    ]
    seats = [{"person": p, "machine": PLACE} for p in ("ada", "bo")]
    machines = [known_machine(PLACE, programs=GERMAN), known_machine("desk-9", programs=GERMAN)]
    create(example, read(organisation(people=people, machines=machines, seats=seats)))


@pytest.fixture
def ours(ines, shared, tmp_path):
    found = {}
    for account in ("al17", "someone"):
        quaysheet(tmp_path / account, json.dumps({"keyboard": {"own": []}}))
        found[account] = enrol(ines, tmp_path / account, account)
    for key in [d.key for d in Document.objects.filter(released=None)]:
        release(ines, key)
    return found


def test_the_account_that_lists_know_somebody_by_says_whose_home_it_is(ines, ours):
    assert (agents(ines)["al17"]["whose"], agents(ines)["someone"]["whose"]) == ("Ada", "")
    ines.post(f"/agents/{agents(ines)['someone']['id']}/home", {"person": "bo"})
    for agent in ours.values():
        agent.round()
    assert ines.post(f"/machines/{PLACE}/apply")[0] == 200
    for agent in ours.values():
        agent.round()
    texts = {a: (h.home / "Quaysheet/settings.json").read_text() for a, h in ours.items()}
    assert "ctl-f7" in texts["al17"]
    assert "ctl-f7" not in texts["someone"]


def test_a_releaser_says_whose_home_it_is_and_their_settings_go_there(ines, jorun, ours):
    second = agents(ines)["someone"]["id"]
    status, people = ines.get(f"/agents/{second}/people")
    assert (status, people) == (200, [{"id": "ada", "name": "Ada"}, {"id": "bo", "name": "Bo"}])
    assert jorun.post(f"/agents/{second}/home", {"person": "ada"})[0] == 403
    assert ines.post(f"/agents/{second}/home", {"person": "nobody"})[0] == 409
    assert ines.post(f"/agents/{second}/home", {"person": "ada"})[1]["whose"] == "Ada"
    ours["someone"].round()
    ours["al17"].round()
    ines.post(f"/machines/{PLACE}/apply")
    ours["someone"].round()
    assert "ctl-f7" in (ours["someone"].home / "Quaysheet/settings.json").read_text()
    assert ines.post(f"/agents/{second}/home", {})[1]["whose"] == ""
    assert ines.post("/agents/999999/home", {})[0] == 404
    assert ines.get("/agents/999999/people")[0] == 404


def test_readers_are_not_told_accounts(ines, tove, ours):
    assert {(a["account"], a["person"]) for a in machine(tove)["agents"]} == {("", "")}


def test_what_people_have_counts_for_the_person_whose_home_it_is(ines, jorun, ours):
    own = {"do": "recalculate", "on": ["f9"]}
    quaysheet(ours["al17"].home, json.dumps({"keyboard": {"own": [own]}}))
    for agent in ours.values():
        agent.round()
    survey = jorun.post("/surveys")[1]
    do_read(survey["id"])
    found = jorun.get("/surveys/newest")[1]["survey"]
    assert [c["people"] for c in found["changes"] if "F9" in json.dumps(c)] == [1]


def test_by_a_key_for_many_a_machine_gets_as_many_homes_as_people_sit_there(ines, shared):
    made = ines.post("/enrolment-keys", {"limit": 1, "days": 5, "note": ""})[1]

    def join(**more):
        return Api().post("/agent/enrol-many", {"key": made["key"], "machine": PLACE, **more})

    assert join(account="al17")[0] == 200
    assert join(account="al17")[0] == 403, "who holds a key doesn't take somebody's place"
    assert join(account="bk02")[0] == 200, "a second home is no second machine"
    status, problem = join(account="third")
    assert (status, problem["title"].endswith("2 homes already, as many as people sit there.")) == (403, True)
    assert join(serves="machine")[0] == 200
    assert join(serves="machine", account="other")[0] == 403
    assert {a["whose"] for a in machine(ines)["agents"]} == {"Ada", "Bo", ""}
    assert EnrolKey.objects.get().used == 1


def test_an_agent_that_was_taken_off_gets_nothing_and_comes_back_by_a_code(ines, jorun, two, tmp_path):
    first = agents(ines)["first"]["id"]
    assert jorun.post(f"/agents/{first}/take-off")[0] == 403
    assert ines.post(f"/agents/{first}/take-off")[1]["enrolled"] is False
    assert two[0].api.post("/agent/work", {}, **two[0].headers)[0] == 401
    assert enrol(ines, tmp_path / "first", "first").round() >= 0
    assert agents(ines)["first"]["id"] == first


# What is the machine's own


def test_what_is_the_machines_own_is_written_by_its_own_agent_below_its_own_folder(ines, jorun, two, tmp_path):
    def change(value):
        value["settings_files"][0] |= {"root": "machine"}

    root = tmp_path / "common"
    quaysheet(root, (two[0].home / "Quaysheet/settings.json").read_text())
    save(jorun, "program", program_key(ines), change)
    own = enrol(ines, tmp_path / "service", machine_root=str(root))
    own.round()
    assert MachineFile.objects.filter(root="machine").count() == 0, "nobody has approved that place"
    for asked in waiting(ines):
        assert "for everybody on the machine" in asked["says"]
        approve(ines, asked)
    release(ines, f"program/{program_key(ines)}")
    own.round()
    assert two[0].call("POST", "/work", {})["files"] == []
    assert [(f["path"], f["state"]) for f in machine(ines)["files"]] == [("Quaysheet/settings.json", "new")]
    assert ines.post(f"/machines/{PLACE}/apply")[1] == {"orders": 1}
    before = (two[0].home / "Quaysheet/settings.json").read_text()
    own.round()
    assert machine(ines)["state"] == "in step"
    assert "ctl-alt-v" in (root / "Quaysheet/settings.json").read_text()
    assert (two[0].home / "Quaysheet/settings.json").read_text() == before
    assert (own.home / ".amberkey/backups").is_dir()
