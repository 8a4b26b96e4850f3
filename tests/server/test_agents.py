"""Agents as the server knows them: how they enrol, which files they watch, and what an order says."""

import datetime
import hashlib
import io
import json
import subprocess
import sys
import zipfile

import pytest
from django.utils import timezone

from amberkey.agent.state import State
from amberkey.core.exchange.signing import SigningKey
from amberkey.core.programs.reference import system_tables
from amberkey.demo.settings import STORE
from amberkey.server.fleet.models import EnrolKey, Machine, MachineFile, Order
from amberkey.server.fleet.verbs.apply import apply
from amberkey.server.library.models import Document
from amberkey.server.library.verbs.change import create
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import AuditEntry, User
from tests import example as small
from tests.core.organisations import machine as known_machine
from tests.core.organisations import organisation, read
from tests.server.conftest import Api
from tests.server.test_approvals import approve, save, waiting
from tests.server.test_fleet import Agent, machine
from tests.server.test_releases import release


@pytest.fixture
def agent(ines, machines_folder, signing_key):
    return Agent(machines_folder / "counter-3")


SHEET = {
    "path": {"windows": "Quaysheet/sheet.ini"},
    "container": "ini",
    "at": ["keys"],
    "command": "name",
    "keys": {"at": "value"},
    "dialect": {"modifiers": {"Control": ["Ctrl+"], "Alt": ["Alt+"], "Shift": ["Shift+"]}},
    "holds": ["sheet"],
}


def describe_sheet(ines, jorun, **more):
    """Quaysheet's commands of the sheet stand in a file of their own from now on."""

    def change(value):
        value["settings_files"] = [*value["settings_files"], {**SHEET, **more}]

    save(jorun, "program", program_key(ines), change)
    for one in waiting(ines):
        assert approve(ines, one)[0] == 200
    release(ines, f"program/{program_key(ines)}")


def program_key(api):
    return Document.objects.get(key__startswith="program/quaysheet").key.partition("/")[2]


def files(api):
    return {f["path"]: f for f in machine(api)["files"]}


def test_a_program_with_two_files_has_each_command_in_its_own(ines, jorun, agent):
    describe_sheet(ines, jorun)
    (agent.home / "Quaysheet/sheet.ini").write_text("[keys]\n; as ever\npaste=Ctrl+V\n")
    agent.round()
    assert {p: f["state"] for p, f in files(ines).items()} == {
        "Quaysheet/settings.json": "in step",
        "Quaysheet/sheet.ini": "new",
    }
    assert ines.post("/machines/counter-3/apply", {})[1]["orders"] == 1
    before = agent.settings.read_bytes()
    agent.round()
    assert (agent.home / "Quaysheet/sheet.ini").read_text() == "[keys]\n; as ever\npaste=Ctrl+V\npaste-values=Ctrl+Alt+V\n"
    assert agent.settings.read_bytes() == before
    assert {f["state"] for f in files(ines).values()} == {"in step"}
    left, right = "setup/ticket-counters", "machine/counter-3"
    found = ines.get(f"/compare?left={left}&right={right}")[1]
    says = [d["says"] for g in found["groups"] for d in g["differences"]]
    assert says == ["Calculate again, in Quaysheet, gets F9 and Ctrl F9."], "both files together are what the machine says"


def test_where_a_path_changes_the_one_before_stays_until_the_new_one_is_approved(ines, jorun, agent):
    describe_sheet(ines, jorun)
    (agent.home / "Quaysheet/sheet.ini").write_text("[keys]\n")
    agent.round()

    def change(value):
        value["settings_files"][1]["path"]["windows"] = "Quaysheet/other.ini"

    save(jorun, "program", program_key(ines), change)
    agent.round()
    assert sorted(files(ines)) == ["Quaysheet/settings.json", "Quaysheet/sheet.ini"]
    approve(ines, waiting(ines)[0])
    agent.round()
    assert sorted(files(ines)) == ["Quaysheet/other.ini", "Quaysheet/settings.json"]
    assert "isn't there" in files(ines)["Quaysheet/other.ini"]["says"]


def test_a_file_that_nothing_describes_any_more_is_not_read(ines, jorun, agent):
    describe_sheet(ines, jorun)
    agent.round()
    save(jorun, "program", program_key(ines), lambda v: v["settings_files"].pop())
    assert [f["path"] for f in agent.call("POST", "/work", {})["files"]] == ["Quaysheet/settings.json"]
    assert MachineFile.objects.filter(machine="counter-3").count() == 2, "what was known of it stays"


def test_nothing_is_written_while_a_program_runs_that_writes_its_file_at_exit(ines, jorun, agent):
    describe_sheet(ines, jorun, rewrites_at_exit=True, runs_as=["Quaysheet.exe"])
    (agent.home / "Quaysheet/sheet.ini").write_text("[keys]\n")
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    agent.running = frozenset({"quaysheet"})
    agent.round()
    found = files(ines)["Quaysheet/sheet.ini"]
    assert found["state"] == "waiting"
    assert "Quaysheet.exe is running" in found["says"]
    agent.running = frozenset()
    agent.round()
    assert files(ines)["Quaysheet/sheet.ini"]["state"] == "in step"


def test_an_order_says_what_is_signed_and_its_number_rises(ines, agent, signing_key):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    ines.post("/machines/counter-3/apply", {})
    (order,) = agent.call("POST", "/work", {})["orders"]
    said = json.loads(order["said"])
    content = Order.objects.get(state="waiting").digest
    assert said.items() >= {"machine": "counter-3", "number": 2, "path": "Quaysheet/settings.json", "root": "home"}.items()
    assert (said["digest"], said["format"], said["waits_for"]) == (content, "amberkey/order@1", [])
    assert order["said"] == json.dumps(said, separators=(",", ":"), sort_keys=True)
    assert order["signature"] == signing_key.sign_order(order["said"].encode())


def test_an_agent_follows_a_new_key_that_the_old_one_handed_over_to(ines, agent, signing_key, settings):
    agent.round()
    newer = SigningKey(bytes([9]) * 32)
    settings.SIGNING_KEY_BEFORE, settings.SIGNING_KEY = signing_key.to_text(), newer.to_text()
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    assert machine(ines)["state"] == "in step"
    assert State.of(agent.home).config.key == newer.public


def test_an_agent_obeys_no_server_with_another_key(ines, agent, settings):
    agent.round()
    settings.SIGNING_KEY = SigningKey(bytes([9]) * 32).to_text()
    before = agent.settings.read_bytes()
    ines.post("/machines/counter-3/apply", {})
    agent.round()
    assert agent.settings.read_bytes() == before
    assert "isn't signed by this machine's organisation" in machine(ines)["files"][0]["last_order"]


def test_without_a_key_nothing_is_ordered(ines, agent, settings):
    agent.round()
    settings.SIGNING_KEY = ""
    status, problem = ines.post("/machines/counter-3/apply", {})
    assert (status, problem["title"]) == (409, "Orders can't be signed.")


def test_an_agent_that_leaves_is_heard_no_more(ines, agent):
    assert agent.call("POST", "/leave", {}) == {"ok": True}
    assert agent.api.post("/agent/work", {}, **agent.headers)[0] == 401
    assert machine(ines)["enrolled"] is False
    assert ines.post("/machines/counter-3/apply", {})[1]["cure"] == "Enrol it first."
    assert AuditEntry.objects.filter(machine="counter-3", action="left").exists()


# Many machines by one key


@pytest.fixture
def harbour(example):
    """An organisation with three machines that somebody sits at, and one that is retired."""
    for name in ("harbour", "control", "pilot", "clerk", "ada"):
        create(example, read({"format": "amberkey/profile@1", "id": name, "name": name.title()}))
    known = [known_machine(i, programs=[]) for i in ("desk-1", "desk-2", "desk-3", "attic")]
    known[3]["retired"] = "2026-01-01"
    seats = [{"person": "ada", "machine": m["id"]} for m in known[:3]]
    create(example, read(organisation(machines=known, seats=seats)))


def key_for(api, limit=2, days=5, note="Ebb Island"):
    status, made = api.post("/enrolment-keys", {"limit": limit, "days": days, "note": note})
    assert status == 200, made
    return made


def join(key, called):
    return Api().post("/agent/enrol-many", {"key": key, "machine": called})


def test_a_key_enrols_as_many_machines_as_it_says_and_each_once(ines, harbour, signing_key):
    made = key_for(ines)
    assert made["made"].items() >= {"limit": 2, "used": 0, "state": "works", "note": "Ebb Island", "made_by": "Ines"}.items()
    status, answer = join(made["key"], "desk-1")
    assert (status, answer["machine"], answer["key"]) == (200, "desk-1", signing_key.public)
    assert Api().post("/agent/work", {}, Authorization=f"Bearer {answer['token']}")[0] == 200
    status, problem = join(made["key"], "desk-1")
    assert (status, problem["title"].endswith("has an agent already.")) == (403, True)
    assert join(made["key"], "DESK-2")[0] == 200
    status, problem = join(made["key"], "desk-3")
    assert (status, problem["title"]) == (403, "This enrolment key is used up.")
    (found,) = ines.get("/enrolment-keys")[1]
    assert (found["used"], found["state"]) == (2, "used up")
    assert made["key"] not in json.dumps(found)
    assert sorted(AuditEntry.objects.filter(action="enrolled by a key for many").values_list("machine", flat=True)) == [
        "desk-1",
        "desk-2",
    ]


@pytest.mark.parametrize("called", ["nowhere", "attic", "", "desk"])
def test_a_key_enrols_only_machines_of_the_organisation(ines, harbour, called):
    made = key_for(ines)
    assert join(made["key"], called)[0] in (403, 422)
    assert EnrolKey.objects.get().used == 0


def test_a_key_that_was_withdrawn_or_has_ended_enrols_nobody(ines, harbour):
    made = key_for(ines)
    key_id = made["made"]["id"]
    assert ines.post(f"/enrolment-keys/{key_id}")[1]["state"] == "withdrawn"
    assert join(made["key"], "desk-1")[0] == 403
    assert ines.post(f"/enrolment-keys/{key_id}", {"back": True})[1]["state"] == "works"
    assert join(made["key"], "desk-1")[0] == 200
    EnrolKey.objects.update(expires_at=timezone.now() - datetime.timedelta(seconds=1))
    assert ines.get("/enrolment-keys")[1][0]["state"] == "too old"
    assert join(made["key"], "desk-2")[0] == 403
    assert join("0" * 48, "desk-2")[0] == 403
    assert ines.post("/enrolment-keys/999999")[0] == 404


@pytest.mark.parametrize("given", [{"limit": 0, "days": 1}, {"limit": 1, "days": 0}, {"limit": 10**9, "days": 1}, {"limit": 1}])
def test_a_key_without_a_sound_limit_or_end_is_refused(ines, given):
    assert ines.post("/enrolment-keys", given)[0] == 422


# Settings stores


class Store:
    """The demo's settings store, beside a home."""

    def __init__(self, place):
        self.place = place
        place.write_text(STORE)

    def commands(self):
        run = [sys.executable, "-m", "amberkey.demo.store", str(self.place)]
        return {"get": [*run, "get"], "put": [*run, "put"]}


def on_gnome():
    """Counter 3 runs a desktop whose keys are kept in a store."""
    value = json.loads((small.DOCUMENTS / "setup-web-team.json").read_text())
    table = next(t for t in system_tables() if t.id == "linux")
    programs = [{"id": "linux", "version": table.version}]
    value |= {"id": "gnome-desk", "name": "GNOME desk", "platform": "linux", "edition": "GNOME 48", "programs": programs}
    create(Actor(User.objects.get(username="ines")), read({**value, "layout": "us", "body": "iso"}))
    Machine.objects.filter(pk="counter-3").update(setup="gnome-desk")


def test_a_settings_store_is_read_and_written_through_the_commands_of_its_machine(ines, jorun, agent, tmp_path):
    store = Store(tmp_path / "store.txt")
    on_gnome()
    release(ines, "setup/gnome-desk")
    called = "the settings store of GNOME and Cinnamon"
    state = State.of(agent.home)
    state.config.stores = {called: store.commands()}
    state.keep_config()

    def change(value):
        def entry(command, *keys):
            shortcuts = [{"keys": k} for k in keys]
            return {"program": "linux", "command": command, "platform": "linux", "shortcuts": shortcuts, "over": []}

        value["entries"] += [entry("gnome.close", "Meta+Q", "Alt+F4"), entry("gnome.screensaver", "Meta+F12")]

    save(jorun, "profile", "house", change)
    ines.post("/profiles/house/release", {"number": 2})
    agent.round()
    found = files(ines)[called]
    assert found["state"] == "new", found
    seen = MachineFile.objects.get(root="store").content.data
    assert b"clock-format" not in seen, "what isn't described never leaves the machine"
    apply(Actor(User.objects.get(username="ines")), "counter-3", over_drift=False)
    agent.round()
    assert "screensaver=['<Super>F12']" in store.place.read_text()
    assert "clock-format='24h'" in store.place.read_text()
    agent.round()
    assert files(ines)[called]["state"] == "in step"
    store.place.write_text(store.place.read_text().replace("<Super>F12", "<Super>F11"))
    agent.round()
    assert files(ines)[called]["state"] == "drifted"
    # Taken out of the profile again, the default itself is put in: loading leaves alone what isn't said.
    save(jorun, "profile", "house", lambda v: v.update(entries=[e for e in v["entries"] if "screensaver" not in e["command"]]))
    ines.post("/profiles/house/release", {"number": 3})
    ines.post("/machines/counter-3/apply", {"over_drift": True})
    agent.round()
    agent.round()
    assert files(ines)[called]["state"] == "in step"
    assert "<Super>F1" not in store.place.read_text()


def test_a_store_that_its_agent_cannot_reach_is_not_watched(ines, agent):
    on_gnome()
    release(ines, "setup/gnome-desk")
    agent.round()
    assert not MachineFile.objects.filter(root="store").exists()


# One token, one machine


def test_a_token_that_was_copied_to_another_machine_gets_nothing_there(ines, agent):
    ask = {"machine": "a" * 32}
    assert agent.api.post("/agent/work", ask, **agent.headers)[0] == 200
    status, problem = agent.api.post("/agent/work", {"machine": "b" * 32}, **agent.headers)
    assert (status, problem["title"]) == (403, "The token of Counter 3, Westquay is used on another machine.")
    assert machine(ines)["agents"][0]["doubled_at"] is not None
    assert agent.api.post("/agent/work", ask, **agent.headers)[0] == 200, "the first one works on"
    assert agent.api.post("/agent/work", {"machine": "no mark"}, **agent.headers)[0] == 422
    code = ines.post("/machines/counter-3/code")[1]["code"]
    token = Api().post("/agent/enrol", {"code": code})[1]["token"]
    assert Api().post("/agent/work", {"machine": "b" * 32}, Authorization=f"Bearer {token}")[0] == 200
    assert machine(ines)["agents"][0]["doubled_at"] is None


# Many machines


def test_machines_come_by_pages_words_and_states(ines, agent):
    Machine.objects.bulk_create(Machine(id=f"m-{n:03}", name=f"Machine {n:03}") for n in range(230))
    agent.round()
    first = ines.get("/machines")[1]
    assert (first["total"], first["pages"], len(first["machines"])) == (233, 3, 100)
    assert first["states"] | {"unseen": 0} == dict.fromkeys(first["states"], 0) | {"new": 1}
    last = ines.get("/machines?page=3")[1]["machines"]
    assert [m["name"] for m in last] == sorted(m["name"] for m in last)
    assert len(last) == 33
    assert ines.get("/machines?page=4")[1]["machines"] == []
    assert [m["id"] for m in ines.get("/machines?state=new")[1]["machines"]] == ["counter-3"]
    some = ines.get("/machines?words=22%20machine")[1]
    assert (some["total"], some["states"]["unseen"]) == (12, 12)
    assert [m["id"] for m in ines.get("/machines/shown")[1]] == ["counter-3"]
    assert ines.get("/machines?page=0")[0] == ines.get("/machines?state=odd")[0] == 422


# The agent to take along


def test_the_application_gives_the_agent_with_all_that_it_needs_and_its_digest(ines, tmp_path):
    told = ines.get("/agents/package")[1]
    data = ines.client.get("/api/agents/package.zip").content
    assert (told["size"], told["digest"]) == (len(data), hashlib.sha256(data).hexdigest())
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        archive.extractall(tmp_path)
    code = "import amberkey.agent.__main__ as m, cryptography as c; print(m.__file__, c.__file__, m.main.__name__)"
    run = [sys.executable, "-I", "-S", "-c", f"import sys; sys.path.insert(0, {str(tmp_path)!r}); {code}"]
    where = subprocess.run(run, capture_output=True, text=True, check=True).stdout
    assert where.count(str(tmp_path)) == 2
