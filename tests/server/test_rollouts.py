"""Release plans with real agents: waves, gates, faults, own changes, taking back, newcomers."""

import datetime
import json

import pytest
from django.utils import timezone

from amberkey.agent.errors import ServerProblem
from amberkey.agent.state import Config, State, Work
from amberkey.agent.work import work_once
from amberkey.server.fleet.models import Agent, MachineFile, Order
from amberkey.server.library.models import Document
from amberkey.server.library.verbs.change import create
from amberkey.server.people.models import AuditEntry
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.moving import move
from amberkey.server.rollouts.newcomers import welcome
from amberkey.server.rollouts.tasks import stop, under_way
from tests.core.organisations import machine as known_machine
from tests.core.organisations import organisation, read
from tests.server.conftest import Api
from tests.server.test_approvals import save
from tests.server.test_organisation import GERMAN
from tests.server.test_releases import release

DESKS = ("d1", "d2", "d3", "d4")
OLD = '{"keyboard": {"own": [\n      { "do": "recalculate", "on": ["f9"] }\n]}, "printer": "Westquay"}\n'
FILE = "Quaysheet/settings.json"


class Desk:
    """A desk with Quaysheet's settings and the real agent, over Django's test client."""

    def __init__(self, ines, folder, machine):
        self.machine, self.home, self.broken, self.running = machine, folder / machine, "", frozenset()
        self.file.parent.mkdir(parents=True, exist_ok=True)
        self.file.write_text(OLD)
        self.api = Api()
        self.enrol(ines)

    def enrol(self, ines):
        code = ines.post(f"/machines/{self.machine}/code")[1]["code"]
        status, answer = self.api.post("/agent/enrol", {"code": code})
        assert status == 200, answer
        self.headers = {"Authorization": f"Bearer {answer['token']}"}
        State(self.home, Config("http://127.0.0.1:1", answer["token"], self.machine, answer["key"]), Work()).keep_config()

    @property
    def file(self):
        return self.home / FILE

    @property
    def keys(self):
        own = json.loads(self.file.read_text())["keyboard"]["own"]
        return {one["do"]: one["on"] for one in own if one["do"] != "paste-values"}  # that one is the house's

    def call(self, method, path, body=None, asked_in=""):
        status, answer = self.api.post(f"/agent{path}", body, **self.headers)
        if status != 200:
            raise ServerProblem(str(answer), status)
        return answer

    def round(self):
        def step(name):
            if self.broken and name == "backed up":
                raise OSError(30, self.broken)

        return work_once(self, State.of(self.home), step, runs=lambda: self.running)

    def set(self, command, keys):
        said = json.loads(self.file.read_text())
        said["keyboard"]["own"] = [o for o in said["keyboard"]["own"] if o["do"] != command] + [{"do": command, "on": [keys]}]
        self.file.write_text(json.dumps(said))


def entry(command, keys):
    given = {"program": "quaysheet", "command": command, "platform": "windows", "over": []}
    return {**given, "shortcuts": [{"keys": keys}]}


@pytest.fixture
def desks(example, ines, signing_key, tmp_path):
    """Four desks with one person each, three in the control room, under a profile with one key, all of it released."""
    for name in ("harbour", "pilot", "clerk"):
        create(example, read({"format": "amberkey/profile@1", "id": name, "name": name.title()}))
    control = {
        "format": "amberkey/profile@1",
        "id": "control",
        "name": "Control",
        "entries": [entry("insert-row", "Control+F7")],
    }
    create(example, read(control))
    people = [
        {"id": f"p{n}", "name": f"P {n}", "department": "control" if n < 4 else "harbour", "roles": []} for n in range(1, 5)
    ]
    seats = [{"person": f"p{d[1]}", "machine": d} for d in DESKS]
    machines = [known_machine(d, programs=GERMAN) for d in DESKS]
    departments = [
        {"id": "harbour", "name": "Harbour", "profiles": ["control"]},
        {"id": "control", "name": "Control room", "parent": "harbour"},
    ]
    create(example, read(organisation(people=people, machines=machines, seats=seats, departments=departments)))
    found = {d: Desk(ines, tmp_path, d) for d in DESKS}
    for key in [d.key for d in Document.objects.filter(released=None)]:
        release(ines, key)
    for desk in found.values():
        desk.round()
    return found


REST = {"name": "Everybody else", "chosen": {"by": "rest"}, "gate": {"quiet_hours": 0}}


def pilot(*machines):
    return {"name": "Pilot", "chosen": {"by": "machines", "machines": list(machines)}}


def waves(*given, **more):
    return {"of": ["profile/control"], "plan": {"waves": list(given), **more}}


def begin(ines, *given, **more):
    status, plan = ines.post("/rollouts", waves(*given, **more))
    assert status == 200, plan
    move(plan["id"])
    return plan["id"]


def look(api, plan_id):
    status, plan = api.get(f"/rollouts/{plan_id}")
    assert status == 200, plan
    return plan


def stands(api, plan_id):
    """How each machine stands, by name."""
    plan = look(api, plan_id)
    later = [plan["newcomers"]] if plan["newcomers"] else []
    return {m["id"]: p["state"] for w in [*plan["waves"], *later] for p in w["parts"] for m in p["machines"]}


def rounds(plan_id, *desks, times=2):
    for _ in range(times):
        for desk in desks:
            desk.round()
        move(plan_id)


# Before it begins


def test_before_it_begins_it_is_told_what_it_would_do(ines, jorun, desks):
    status, drawn = ines.post("/rollouts/draw", waves(pilot("d1"), REST))
    assert status == 200, drawn
    assert (drawn["title"], drawn["machines"], drawn["people"]) == ("Control, revision 1", 4, 4)
    assert [(w["name"], w["many"], w["people"]) for w in drawn["waves"]] == [("Pilot", 1, 1), ("Everybody else", 3, 3)]
    assert (drawn["learners"], drawn["relearned"], drawn["not_in_a_wave"]) == (0, [], 0)
    assert Plan.objects.count() == 0
    assert jorun.post("/rollouts/draw", waves(REST))[0] == 403


def test_who_relearns_what_is_told_against_what_machines_were_given(ines, jorun, desks):
    plan_id = begin(ines, REST)
    rounds(plan_id, *desks.values())
    save(jorun, "profile", "control", lambda v: v["entries"][0]["shortcuts"][0].update(keys="Control+F8"))
    ines.post("/profiles/control/release", {"number": 2})
    drawn = ines.post("/rollouts/draw", waves(REST))[1]
    assert drawn["learners"] == 4
    (one,) = drawn["relearned"]
    assert (one["command"], one["before"], one["after"], one["people"]) == ("Insert a row", "Strg F7", "Strg F8", 4)


def test_what_cannot_take_it_is_told_with_why(ines, jorun, desks):
    desks["d2"].file.unlink()
    desks["d2"].round()
    desks["d3"].call("POST", "/leave", {})
    drawn = ines.post("/rollouts/draw", waves(REST))[1]
    assert {(c["machine"], c["why"].split(":")[0]) for c in drawn["cannot"]} == {
        ("D2", "Quaysheet"),
        ("D3", "It has no agent."),
    }
    assert drawn["machines"] == 3


@pytest.mark.parametrize(
    "given, status, says",
    [
        (waves(pilot("d1", "d1")), 422, "d1 is named twice"),
        (waves(pilot("d1"), {**pilot("d1"), "name": "Again"}), 422, "d1 is in Pilot and in Again"),
        (waves(), 422, "at least 1 item"),
        (waves(pilot("counter-3")), 409, "The release doesn't reach counter-3."),
        (waves({**REST, "window": {"days": []}}), 422, "never opens"),
        (waves({**REST, "gate": {"most_stopped": 101}}), 422, "less than or equal to 100"),
        ({"of": ["profile/gone"], "plan": {"waves": [REST]}}, 404, "profile gone"),
        ({"of": ["profile/pilot"], "plan": {"waves": [REST]}}, 409, "reaches nobody"),
        ({"of": ["organisation/organisation"], "plan": {"waves": [REST]}}, 422, "pattern"),
        (waves({**REST, "chosen": {"by": "department", "department": "nowhere"}}), 409, "no machine in any wave"),
    ],
)
def test_a_plan_that_makes_no_sense_is_refused_in_a_line(ines, desks, given, status, says):
    for path in ("/rollouts/draw", "/rollouts"):
        found = ines.post(path, given)
        assert (found[0], says in json.dumps(found[1])) == (status, True), found
    assert Plan.objects.count() == 0


def test_two_releasers_at_once_begin_one(ines, desks):
    begin(ines, REST)
    status, problem = ines.post("/rollouts", waves(REST))
    assert (status, problem["title"]) == (409, "Ines has begun this release already.")


# Waves and gates


def test_it_goes_out_wave_by_wave_and_to_its_end(ines, desks):
    plan_id = begin(
        ines,
        pilot("d1"),
        {"name": "Control", "chosen": {"by": "department", "department": "control"}, "gate": {"quiet_hours": 0}},
        REST,
    )
    assert stands(ines, plan_id) == {"d1": "asked", "d2": "to come", "d3": "to come", "d4": "to come"}
    rounds(plan_id, *desks.values(), times=1)
    assert desks["d1"].keys == {"recalculate": ["f9"], "insert-row": ["ctl-f7"]}
    assert stands(ines, plan_id) == {"d1": "in step", "d2": "asked", "d3": "asked", "d4": "to come"}
    assert "insert-row" not in desks["d4"].keys
    rounds(plan_id, *desks.values())
    plan = look(ines, plan_id)
    assert (plan["state"], plan["in_step"], plan["stops"]) == ("done", 4, [])
    assert [w["done"] for w in plan["waves"]] == [1, 2, 1]
    assert AuditEntry.objects.filter(action="opened a wave").count() == 3
    assert {s["state"] for s in ines.get("/rollouts")[1]} == {"done"}


def test_a_gate_waits_for_quiet_hours(ines, desks):
    plan_id = begin(ines, pilot("d1"), {**REST, "gate": {"quiet_hours": 2}})
    rounds(plan_id, *desks.values())
    second = look(ines, plan_id)["waves"][1]
    assert (second["opened"], second["gate"]) == (None, "Shut until 2 hours went by without anything new")
    assert second["opens_at"] is not None
    Carried.objects.update(since=timezone.now() - datetime.timedelta(hours=2, minutes=1))
    rounds(plan_id, *desks.values())
    second = look(ines, plan_id)["waves"][1]
    assert second["gate"] == "Opened after 2 hours without a fault and without drift"
    assert set(stands(ines, plan_id).values()) == {"in step"}


def test_a_machine_that_cannot_be_written_stops_the_gate_and_says_why(ines, desks):
    desks["d1"].broken = "Read-only file system"
    plan_id = begin(ines, pilot("d1", "d2"), REST)
    rounds(plan_id, *desks.values())
    plan = look(ines, plan_id)
    assert plan["waves"][1]["gate"] == "Shut while more than 10 % of a wave is stopped: 1 of 2 is 50 %"
    (stop,) = plan["stops"]
    assert (stop["name"], stop["state"], stop["files"][0]["tries"]) == ("D1", "stopped", 1)
    assert "read-only" in stop["files"][0]["says"]
    assert desks["d1"].file.read_text() == OLD
    assert "insert-row" not in desks["d3"].keys


def test_it_is_tried_again_after_a_while_and_now_where_somebody_says_so(ines, desks):
    desks["d1"].broken = "Read-only file system"
    plan_id = begin(ines, pilot("d1"), REST)
    rounds(plan_id, desks["d1"], times=4)
    assert Carried.objects.get(machine="d1").tries == 1, "not before five minutes have gone by"
    Carried.objects.filter(machine="d1").update(again_at=timezone.now())
    rounds(plan_id, desks["d1"])
    assert Carried.objects.get(machine="d1").tries == 2
    desks["d1"].broken = ""
    assert ines.post(f"/rollouts/{plan_id}/machines/d1/try-again")[0] == 200
    rounds(plan_id, *desks.values(), times=3)
    assert look(ines, plan_id)["state"] == "done"
    assert ines.post(f"/rollouts/{plan_id}/machines/nowhere/try-again")[0] == 404


def test_it_goes_on_without_a_machine(ines, jorun, desks):
    desks["d1"].broken = "Read-only file system"
    plan_id = begin(ines, pilot("d1", "d2"), REST)
    rounds(plan_id, *desks.values())
    assert jorun.post(f"/rollouts/{plan_id}/machines/d1/without")[0] == 403
    assert ines.post(f"/rollouts/{plan_id}/machines/d1/without")[0] == 200
    rounds(plan_id, *desks.values())
    assert look(ines, plan_id)["state"] == "done"
    assert stands(ines, plan_id)["d1"] == "left out"
    assert desks["d1"].file.read_text() == OLD


@pytest.mark.parametrize("act, state", [("without", "left out"), ("take-back", "taken back")])
def test_a_machine_that_is_taken_out_before_its_wave_opens_is_not_written(ines, desks, act, state):
    plan_id = begin(ines, pilot("d1"), REST)
    assert ines.post(f"/rollouts/{plan_id}/machines/d3/{act}")[0] == 200
    rounds(plan_id, *desks.values(), times=3)
    assert (look(ines, plan_id)["state"], stands(ines, plan_id)["d3"]) == ("done", state)
    assert desks["d3"].file.read_text() == OLD
    assert "insert-row" in desks["d2"].keys


def test_a_machine_without_which_it_went_on_is_taken_in_again(ines, desks):
    plan_id = begin(ines, pilot("d1"), REST)
    ines.post(f"/rollouts/{plan_id}/machines/d3/without")
    assert ines.post(f"/rollouts/{plan_id}/machines/d3/try-again")[0] == 200
    rounds(plan_id, *desks.values(), times=3)
    assert stands(ines, plan_id)["d3"] == "in step"


def test_a_window_keeps_machines_from_being_written(ines, desks):
    tomorrow = (timezone.localdate() + datetime.timedelta(days=1)).isoformat()
    plan_id = begin(ines, {**REST, "window": {"not_before": tomorrow}})
    rounds(plan_id, *desks.values())
    first = look(ines, plan_id)["waves"][0]
    assert (first["opened"], first["gate"].startswith("Not before")) == (None, True)
    assert Order.objects.count() == 0


def test_keys_that_a_release_brings_on_a_date_say_so_on_cards_and_are_learned_first(ines, jorun, desks):
    first = begin(ines, REST)
    rounds(first, *desks.values(), times=2)
    assert look(ines, first)["state"] == "done"
    save(jorun, "profile", "control", lambda v: v["entries"][0]["shortcuts"][0].update(keys="Control+Alt+F9"))
    release(ines, "profile/control")
    wish = {"platform": "windows", "layout": "de", "most": 20, "pace": 5, "hurry": False, "whole": "by task"}
    day = (timezone.localdate() + datetime.timedelta(days=3)).isoformat()
    told = lambda: {v["id"]: v for p in ines.post("/cards/draw", wish)[1]["parts"] for v in p["lines"]}  # noqa: E731
    here = "Strg Alt F9 at Control room and Harbour"
    assert told()["quaysheet/insert-row"]["notes"][-1] == here
    plan = begin(ines, {**REST, "window": {"not_before": day}})
    found = told()
    # Most people have another key: theirs alone are dated.
    assert found["quaysheet/insert-row"]["notes"][-1] == f"{here} from {day} on"
    assert [v["id"] for v in found.values() if day in str(v["notes"])] == ["quaysheet/insert-row"]
    # Of those who get it, it is the first thing to learn.
    wish |= {"of": "department", "who": "control"}
    found = told()
    assert found["quaysheet/insert-row"]["notes"] == [f"from {day} on"]
    assert next(iter(found)) == "quaysheet/insert-row"
    assert ines.post(f"/rollouts/{plan}/take-back")[0] == 200
    assert told()["quaysheet/insert-row"]["notes"] == []


def test_paused_it_orders_nothing_until_it_goes_on(ines, jorun, desks):
    plan_id = begin(ines, pilot("d1"), REST)
    assert jorun.post(f"/rollouts/{plan_id}/pause")[0] == 403
    assert ines.post(f"/rollouts/{plan_id}/pause")[1]["says"] == "Ines paused it."
    assert ines.post(f"/rollouts/{plan_id}/pause")[0] == 200
    rounds(plan_id, *desks.values())
    assert "insert-row" not in desks["d2"].keys
    assert "insert-row" in desks["d1"].keys, "what was ordered before is written"
    assert ines.post(f"/rollouts/{plan_id}/go-on")[1]["state"] == "running"
    rounds(plan_id, *desks.values())
    assert look(ines, plan_id)["state"] == "done"
    assert ines.post(f"/rollouts/{plan_id}/pause")[1]["title"] == "Release 1 is done."


def test_waves_that_are_not_open_can_be_changed_and_no_others(ines, desks):
    plan_id = begin(ines, pilot("d1"), {**REST, "gate": {"quiet_hours": 5}})
    plan = look(ines, plan_id)
    second = {"name": "Two more", "chosen": {"by": "machines", "machines": ["d2", "d3"]}, "gate": {"quiet_hours": 0}}

    def change(*given, seen=plan["seen"]):
        return ines.post(f"/rollouts/{plan_id}/waves", {"plan": {"waves": list(given)}, "seen": seen})

    assert change(pilot("d1"), second, REST, seen="")[1]["title"] == "A wave was opened meanwhile."
    assert change({**pilot("d2")}, REST)[1]["title"] == "A wave that is open can't be changed."
    assert change(pilot("d1"), {**second, "chosen": {"by": "machines", "machines": ["d1"]}})[0] == 422
    asked = {"plan": {"waves": [pilot("d1"), second]}, "seen": plan["seen"]}
    drawn = ines.post(f"/rollouts/{plan_id}/waves/draw", asked)[1]
    assert [(w["name"], w["many"]) for w in drawn["waves"]] == [("Pilot", 1), ("Two more", 2)]
    assert (drawn["not_in_a_wave"], drawn["no_more"], drawn["sooner"], drawn["later"]) == (1, 1, 0, 0)
    asked = {"plan": {"waves": [pilot("d1"), second, REST]}, "seen": plan["seen"]}
    drawn = ines.post(f"/rollouts/{plan_id}/waves/draw", asked)[1]
    assert (drawn["not_in_a_wave"], drawn["no_more"], drawn["sooner"], drawn["later"]) == (0, 0, 0, 1)
    assert [w["many"] for w in look(ines, plan_id)["waves"]] == [1, 3], "nothing was changed by asking"
    status, found = change(pilot("d1"), second, REST)
    assert status == 200, found
    assert [w["many"] for w in found["waves"]] == [1, 2, 1]
    rounds(plan_id, *desks.values(), times=4)
    assert look(ines, plan_id)["state"] == "done"
    assert change(pilot("d1"), REST)[0] == 409


def test_a_silent_machine_gets_it_when_it_is_heard_again(ines, desks):
    plan_id = begin(ines, REST)
    Agent.objects.filter(machine="d4").update(heard_at=timezone.now() - datetime.timedelta(hours=3))
    rounds(plan_id, *[d for m, d in desks.items() if m != "d4"])
    plan = look(ines, plan_id)
    assert (plan["state"], stands(ines, plan_id)["d4"]) == ("done", "silent")
    assert [(s["id"], s["state"]) for s in plan["stops"]] == [("d4", "silent")]
    assert Plan.objects.get() in under_way()
    rounds(plan_id, desks["d4"])
    assert "insert-row" in desks["d4"].keys
    assert stands(ines, plan_id)["d4"] == "in step"
    assert under_way() == []


def test_a_program_that_runs_is_waited_for(ines, jorun, desks):
    def rewrites(value):
        value["settings_files"][0] |= {"rewrites_at_exit": True, "runs_as": ["quaysheet"]}

    save(jorun, "program", "quaysheet@7.2", rewrites)
    release(ines, "program/quaysheet@7.2")
    assert ines.post("/rollouts/draw", waves(REST))[1]["closes"] == [{"program": "Quaysheet", "machines": 4}]
    plan_id = begin(ines, pilot("d1"), REST)
    desks["d1"].running = frozenset({"quaysheet"})
    rounds(plan_id, desks["d1"])
    assert stands(ines, plan_id)["d1"] == "asked"
    desks["d1"].running = frozenset()
    rounds(plan_id, desks["d1"])
    assert stands(ines, plan_id)["d1"] == "in step"


# Keys that are given up


def test_keys_that_are_given_up_work_beside_the_new_ones_for_a_while(ines, jorun, desks):
    first = begin(ines, REST)
    rounds(first, *desks.values())
    second_release(ines, jorun)
    plan_id = begin(ines, REST, overlap_days=14)
    rounds(plan_id, *desks.values())
    assert look(ines, plan_id)["state"] == "done"
    assert desks["d1"].keys["insert-row"] == ["ctl-f8", "ctl-f7"]
    assert {m["state"] for m in ines.get("/machines")[1]["machines"] if m["id"] in DESKS} == {"in step"}
    assert under_way() == []
    long_ago = timezone.now() - datetime.timedelta(days=14)
    Plan.objects.update(opened={"0": long_ago.isoformat()})
    MachineFile.objects.update(overlap_until=timezone.localdate())
    assert [str(p.pk) for p in under_way()] == [first, plan_id]
    for one in (first, plan_id):
        move(one)
    rounds(plan_id, *desks.values())
    assert desks["d1"].keys["insert-row"] == ["ctl-f8"]
    assert under_way() == []


def test_a_key_that_another_command_has_by_then_does_not_stay_beside(ines, jorun, desks):
    first = begin(ines, REST)
    rounds(first, *desks.values())

    def change(value):
        value["entries"] = [entry("insert-row", "Control+F8"), entry("recalculate", "Control+F7")]

    save(jorun, "profile", "control", change)
    ines.post("/profiles/control/release", {"number": 2})
    plan_id = begin(ines, REST, overlap_days=14)
    rounds(plan_id, *desks.values())
    ines.post(f"/rollouts/{plan_id}/machines/d1/put-right")
    rounds(plan_id, *desks.values())
    assert desks["d1"].keys == {"insert-row": ["ctl-f8"], "recalculate": ["ctl-f7"]}


def test_no_revision_that_a_release_brings_is_thinned(ines, jorun, desks):
    from amberkey.core.documents.thinning import Rule
    from amberkey.server.library.verbs.thin import kept, plan_thinning

    begin(ines, pilot("d1"), {**REST, "gate": {"quiet_hours": 9}})
    second_release(ines, jorun)
    rows = {(k.document, k.number): k.stays for k in kept()}
    assert rows["profile/control", 1] == "what a release brings"
    plan = plan_thinning(
        Rule(all_days=0, daily_days=0, weekly=False, budget=None), timezone.now() + datetime.timedelta(days=900)
    )
    assert ("profile/control", 1) not in {(k.document, k.number) for k in plan.drop}


# Jobs


def test_of_a_plan_one_job_waits_and_each_report_brings_one(ines, desks):
    from procrastinate.contrib.django.models import ProcrastinateJob

    plan_id = begin(ines, REST)
    waiting = ProcrastinateJob.objects.filter(status="todo", task_name="amberkey.server.rollouts.tasks.move_plan")
    assert [job.args["plan_id"] for job in waiting] == [plan_id]
    for desk in desks.values():
        desk.round()
    assert waiting.count() == 1
    ProcrastinateJob.objects.all().delete()
    desks["d1"].set("find", "ctl-f1")
    desks["d1"].round()
    assert [job.args["plan_id"] for job in waiting] == [plan_id]


def test_a_plan_whose_job_fails_is_paused_and_says_why(ines, desks):
    plan_id = begin(ines, REST)
    stop(plan_id, "Something went wrong.")
    plan = look(ines, plan_id)
    assert (plan["state"], plan["says"]) == ("paused", "Something went wrong.")
    assert ines.post(f"/rollouts/{plan_id}/go-on")[1]["state"] == "running"


# Two releases


def second_release(ines, jorun):
    save(jorun, "profile", "control", lambda v: v["entries"][0]["shortcuts"][0].update(keys="Control+F8"))
    number = Document.objects.get(key="profile/control").newest.number
    assert ines.post("/profiles/control/release", {"number": number})[0] == 200


def test_a_revision_that_is_taken_back_meanwhile_pauses_the_plan(ines, jorun, desks):
    plan_id = begin(ines, pilot("d1"), {**REST, "gate": {"quiet_hours": 9}})
    second_release(ines, jorun)
    rounds(plan_id, *desks.values())
    plan = look(ines, plan_id)
    assert plan["state"] == "paused"
    assert plan["says"] == "Profile control is released in another revision, or in none, since it began."


def test_two_releases_that_reach_one_machine_are_ordered_and_never_mixed(ines, jorun, desks):
    first = begin(ines, REST)
    assert ines.post("/machines/d1/apply")[1]["title"] == "Release 1 has D1 in hand."
    save(jorun, "profile", "harbour", lambda v: v.update(entries=[entry("recalculate", "F9")]))
    status, second = ines.post("/rollouts", {"of": [], "plan": {"waves": [REST]}})
    assert status == 200
    move(second["id"])
    assert Carried.objects.filter(plan=second["id"], says__startswith="It waits for release 1").count() == 4
    rounds(first, *desks.values())
    move(second["id"])
    assert Order.objects.filter(state="waiting").count() == 0
    assert (look(ines, first)["state"], look(ines, second["id"])["state"]) == ("done", "done")
    assert ines.post("/machines/d1/apply")[1]["title"] == "D1 is in step already."


# Own changes


def test_what_somebody_set_is_never_overwritten_unseen(ines, desks):
    desks["d1"].set("insert-row", "ctl-f3")
    desks["d1"].round()
    plan_id = begin(ines, pilot("d1"), REST)
    rounds(plan_id, *desks.values())
    plan = look(ines, plan_id)
    assert desks["d1"].keys["insert-row"] == ["ctl-f3"]
    assert plan["waves"][1]["gate"] == "Shut while a change of somebody's own waits for a word"
    assert plan["stops"][0]["files"][0]["says"] == "Insert a row has Strg F3 on the machine; Strg F7 is wanted."
    assert ines.post(f"/rollouts/{plan_id}/machines/d1/put-right")[0] == 200
    rounds(plan_id, *desks.values(), times=3)
    assert desks["d1"].keys["insert-row"] == ["ctl-f7"]
    assert look(ines, plan_id)["state"] == "done"


def test_a_change_between_order_and_writing_is_not_lost(ines, desks):
    plan_id = begin(ines, REST)
    desks["d1"].set("insert-row", "ctl-f3")
    rounds(plan_id, *desks.values(), times=3)
    assert desks["d1"].keys["insert-row"] == ["ctl-f3"]
    assert stands(ines, plan_id)["d1"] == "own change"


@pytest.fixture
def drifted(ines, desks):
    """Everywhere in step; then three people set the same other key."""
    plan_id = begin(ines, REST)
    rounds(plan_id, *desks.values())
    for name in ("d1", "d2", "d3"):
        desks[name].set("insert-row", "ctl-f3")
        desks[name].round()
    return plan_id


def drift(api):
    status, found = api.get("/drift")
    assert status == 200, found
    return found


def test_the_same_drift_on_many_machines_is_one_row_with_machines_and_days(jorun, tove, drifted):
    (one,) = drift(jorun)["waiting"]
    assert (one["name"], one["has"], one["wanted"]) == ("Insert a row", ["Ctrl F3"], ["Ctrl F7"])
    assert [m["name"] for m in one["machines"]] == ["D1", "D2", "D3"]
    assert {m["seen"] for m in one["machines"]} == {timezone.now().date().isoformat()}
    assert (one["proposed"], next((s["profile"], s["having"], s["seen"]) for s in one["layers"])[:2]) == ("house", ("house", 3))
    assert tove.get("/drift")[0] == 403


def test_drift_is_taken_into_a_profile_as_one_change_that_can_be_undone(ines, jorun, desks, drifted):
    (one,) = drift(jorun)["waiting"]
    status, done = jorun.post("/drift/take", {"into": {one["id"]: "control"}})
    assert (status, done["title"]) == (200, "Took 1 own change from machines")
    entries = Document.objects.get(key="profile/control").newest.body.json()["entries"]
    assert [e["shortcuts"] for e in entries] == [[{"keys": "Control+F3"}]]
    release(ines, "profile/control")
    assert drift(jorun)["waiting"] == [], "what is wanted is no drift"
    assert ines.post("/rollouts/draw", waves(REST))[0] == 200
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert jorun.post("/drift/take", {"into": {"0" * 16: "control"}})[0] == 404


def test_drift_is_left_with_a_reason_and_an_end(ines, jorun, desks, drifted):
    (one,) = drift(jorun)["waiting"]
    until = (timezone.localdate() + datetime.timedelta(days=9)).isoformat()
    for reason, day, says in [
        ("", until, "Say why it stays."),
        ("x", "2020-01-01", "Say until when it stays."),
        ("x", "2999-01-01", "Say until when it stays."),
    ]:
        assert jorun.post(f"/drift/{one['id']}/leave", {"reason": reason, "until": day})[1]["title"] == says
    status, found = jorun.post(f"/drift/{one['id']}/leave", {"reason": "They count rows with it.", "until": until})
    assert (status, found["waiting"]) == (200, [])
    (left,) = found["left"]
    assert (left["reason"], left["until"], left["by"], len(left["machines"])) == ("They count rows with it.", until, "Jorun", 3)
    # The next release lets it be too.
    second_release(ines, jorun)
    plan_id = begin(ines, REST)
    rounds(plan_id, *desks.values())
    assert desks["d1"].keys["insert-row"] == ["ctl-f3"]
    assert desks["d4"].keys["insert-row"] == ["ctl-f8"]
    assert look(ines, plan_id)["state"] == "done"
    assert jorun.post(f"/drift/{left['id']}/again")[1]["left"] == []
    assert jorun.post(f"/drift/{left['id']}/again")[0] == 404


def test_what_was_left_waits_again_when_its_end_has_come_and_goes_a_month_later(jorun, drifted):
    from amberkey.server.rollouts.drifting import forget_settled

    (one,) = drift(jorun)["waiting"]
    until = timezone.localdate() + datetime.timedelta(days=1)
    jorun.post(f"/drift/{one['id']}/leave", {"reason": "x", "until": until.isoformat()})
    for file in MachineFile.objects.exclude(left=None):
        left = {c: {**why, "until": "2026-01-01"} for c, why in file.left.items()}
        MachineFile.objects.filter(pk=file.pk).update(left=left)
    assert forget_settled(datetime.date(2026, 1, 20)) == 0
    assert [d["name"] for d in drift(jorun)["waiting"]] == ["Insert a row"]
    assert forget_settled(datetime.date(2026, 2, 20)) == 3
    assert drift(jorun)["left"] == []


def test_a_machine_that_says_two_things_in_turn_is_stopped(ines, desks):
    plan_id = begin(ines, {**REST, "gate": {"drift": True}})
    for n in range(12):
        rounds(plan_id, *desks.values(), times=1)
        if desks["d1"].keys.get("insert-row") == ["ctl-f7"]:
            desks["d1"].set("insert-row", "ctl-f3")
        elif n % 2:
            desks["d1"].set("insert-row", "ctl-f7")
    row = Carried.objects.get(machine="d1")
    assert (row.state, row.says[:30]) == ("stopped", "It says two things in turn: so")


# Taking back


def test_taken_back_everywhere_every_file_is_as_it_was_byte_for_byte(ines, desks):
    plan_id = begin(ines, REST)
    rounds(plan_id, *desks.values())
    assert look(ines, plan_id)["written"] == 4
    assert ines.post(f"/rollouts/{plan_id}/take-back")[1]["state"] == "going back"
    move(plan_id)
    rounds(plan_id, *desks.values())
    assert look(ines, plan_id)["state"] == "taken back"
    assert {d.file.read_text() for d in desks.values()} == {OLD}
    assert set(stands(ines, plan_id).values()) == {"taken back"}
    assert MachineFile.objects.exclude(applied=None).count() == 0
    assert ines.post(f"/rollouts/{plan_id}/take-back")[0] == 200, "done again, it changes nothing"


def test_taken_back_what_else_changed_in_the_meantime_stays(ines, desks):
    plan_id = begin(ines, REST)
    rounds(plan_id, *desks.values())
    desks["d1"].set("find", "ctl-f1")
    desks["d2"].set("insert-row", "ctl-f3")
    for desk in desks.values():
        desk.round()
    ines.post(f"/rollouts/{plan_id}/take-back")
    move(plan_id)
    rounds(plan_id, *desks.values())
    assert desks["d1"].keys == {"recalculate": ["f9"], "find": ["ctl-f1"]}
    assert desks["d2"].keys == {"recalculate": ["f9"], "insert-row": ["ctl-f3"]}
    assert Carried.objects.get(machine="d2").says == "What was changed since stays: Insert a row."
    assert look(ines, plan_id)["state"] == "taken back"


def test_taken_back_half_way_what_was_not_written_is_not_written(ines, desks):
    plan_id = begin(ines, pilot("d1"), {**REST, "gate": {"quiet_hours": 4}})
    ines.post(f"/rollouts/{plan_id}/take-back")
    move(plan_id)
    rounds(plan_id, *desks.values())
    assert look(ines, plan_id)["state"] == "taken back"
    assert {d.file.read_text() for d in desks.values()} == {OLD}
    assert set(stands(ines, plan_id).values()) == {"taken back", "to come"}


def test_what_was_written_although_it_had_been_given_up_is_taken_back_too(ines, desks):
    plan_id = begin(ines, pilot("d1"), REST)
    order = desks["d1"].call("POST", "/work", {})["orders"][0]
    ines.post(f"/rollouts/{plan_id}/take-back")
    move(plan_id)
    assert look(ines, plan_id)["state"] == "taken back"
    # The agent had the order in hand already.
    given = desks["d1"].call
    held = {"files": [], "orders": [order], "key": State.of(desks["d1"].home).config.key, "handovers": [], "facts": False}
    desks["d1"].call = lambda m, p, b=None, asked_in="": held if p == "/work" else given(m, p, b, asked_in)
    desks["d1"].round()
    desks["d1"].call = given
    assert "insert-row" in desks["d1"].keys
    rounds(plan_id, desks["d1"], times=3)
    assert desks["d1"].file.read_text() == OLD


def test_one_machine_is_taken_back_and_the_others_go_on(ines, desks):
    plan_id = begin(ines, REST)
    rounds(plan_id, *desks.values())
    assert ines.post(f"/rollouts/{plan_id}/machines/d2/take-back")[0] == 200
    move(plan_id)
    rounds(plan_id, *desks.values())
    assert desks["d2"].file.read_text() == OLD
    assert stands(ines, plan_id) == {"d1": "in step", "d2": "taken back", "d3": "in step", "d4": "in step"}


def test_a_later_release_is_taken_back_first(ines, jorun, desks):
    first = begin(ines, REST)
    rounds(first, *desks.values())
    second_release(ines, jorun)
    second = begin(ines, REST)
    rounds(second, *desks.values())
    assert desks["d1"].keys["insert-row"] == ["ctl-f8"]
    assert ines.post(f"/rollouts/{first}/take-back")[1]["cure"] == "Take release 2 back first."
    for plan_id in (second, first):
        ines.post(f"/rollouts/{plan_id}/take-back")
        move(plan_id)
        rounds(plan_id, *desks.values())
    assert {d.file.read_text() for d in desks.values()} == {OLD}


# Those who come later


def test_a_machine_that_comes_later_gets_the_last_release(ines, desks, tmp_path):
    desks["d4"].call("POST", "/leave", {})
    Agent.objects.filter(machine="d4").delete()
    plan_id = begin(ines, REST)
    rounds(plan_id, *(desks[d] for d in DESKS[:3]))
    assert look(ines, plan_id)["state"] == "done"
    assert welcome() == 0
    desks["d4"].enrol(ines)
    desks["d4"].round()
    assert welcome() == 1
    rounds(plan_id, desks["d4"])
    assert "insert-row" in desks["d4"].keys
    plan = look(ines, plan_id)
    assert (plan["newcomers"]["name"], plan["newcomers"]["many"], plan["newcomers"]["done"]) == ("Came later", 1, 1)
    noted = {m["id"]: m["note"] for m in ines.get("/machines")[1]["machines"] if m["note"]}
    assert noted == {"d4": "It came after release 1 had ended, and was given it then."}


def test_a_machine_made_anew_gets_it_again_and_that_is_no_drift(ines, jorun, desks):
    plan_id = begin(ines, REST)
    rounds(plan_id, *desks.values())
    desks["d1"].file.write_text('{"keyboard": {"own": []}}\n')
    desks["d1"].enrol(ines)
    desks["d1"].round()
    assert drift(jorun)["waiting"] == []
    rounds(plan_id, desks["d1"])
    assert desks["d1"].keys == {"insert-row": ["ctl-f7"]}
    assert stands(ines, plan_id)["d1"] == "in step"
