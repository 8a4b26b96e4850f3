"""Proposals over the API: asked for, worked out, walked, stopped, made a draft, and what can't be asked."""

import json
import uuid
from dataclasses import replace

import pytest

from amberkey.core.clashes.estate import Group
from amberkey.core.proposing.apart import Apart
from amberkey.core.proposing.highs import Highs
from amberkey.core.proposing.propose import Proposer
from amberkey.core.proposing.question import Question
from amberkey.server.estate import current_estate, current_standard
from amberkey.server.proposals import working
from amberkey.server.proposals.models import Proposal, ProposalPoint
from amberkey.server.proposals.tasks import proposals_without_a_job
from amberkey.server.proposals.told import point_of
from amberkey.server.proposals.working import AskedOf, question_of, work

GERMAN = "ticket-counters"
ASKED = {"platform": "windows", "seconds": 20, "curve": False}


def ask(api, **more):
    status, made = api.post("/proposals", {**ASKED, **more})
    assert status == 200, made
    return made


def worked_out(api, made, solver=None):
    work(uuid.UUID(made["id"]), solver or Highs())
    return api.get(f"/proposals/{made['id']}")[1]


def test_a_proposal_is_asked_for_worked_out_walked_and_made_a_draft(ines):
    made = ask(ines, curve=True, pins=[{"task": "save", "keys": "Ctrl+S"}], bans=["F9"])
    assert (made["state"], made["points"], made["by"]) == ("working", [], "Ines")
    assert ines.post("/proposals", ASKED)[1]["title"] == "A proposal of yours is being worked out already."
    done = worked_out(ines, made)
    assert (done["state"], done["doing"]) == ("done", "")
    assert [p["relearned"] for p in done["points"]] == sorted(p["relearned"] for p in done["points"])
    assert [p["worth"] for p in done["points"]] == sorted(p["worth"] for p in done["points"])
    best = done["points"][-1]
    point = ines.get(f"/proposals/{made['id']}/points/{best['id']}")[1]
    assert (point["status"], point["gap"], point["over_all"], point["platform"]) == ("optimal", 0, True, "windows")
    keys = {k["task"]: k["keys"]["text"] for line in point["lines"] for k in line["tasks"]}
    assert keys["save"] == "Control+S"
    assert "F9" not in keys.values()
    assert best["worth"] == point["today"]["points"]["total"] - point["judged"]["points"]["total"]
    assert point["worth"]["says"], "in minutes, or points where nobody said how often"
    assert all(line["why"] for line in point["lines"] if line["pinned"])
    none = ines.post(f"/proposals/{made['id']}/points/{best['id']}/draft", {"name": "Everything at once"})
    assert (none[0], none[1]["cure"]) == (409, "Begin one first, with any line.")
    assert ines.post("/standard/beginnings", {"way": "empty"})[0] == 200
    before = ines.get("/standard/drafts")[1]
    status, draft = ines.post(f"/proposals/{made['id']}/points/{best['id']}/draft", {"name": "Everything at once"})
    assert status == 200, draft
    assert (status, draft["name"]) == (200, "Everything at once")
    assert len(ines.get("/standard/drafts")[1]) == len(before) + 1
    status, plan = ines.get(f"/standard/drafts/{draft['id']}/plan")
    assert status == 200
    assert plan
    assert ines.post(f"/standard/drafts/{draft['id']}/removal", {"removed": True})[0] == 200
    assert [p["id"] for p in ines.get("/proposals")[1]] == [made["id"]]


def test_doing_without_a_key_is_held_against_the_plan_that_has_it(ines):
    done = worked_out(ines, ask(ines))
    (best,) = done["points"]
    point = ines.get(f"/proposals/{done['id']}/points/{best['id']}")[1]
    line = next(v for v in point["lines"] if not v["pinned"] and v["second"])
    without = [{"task": k["task"], "keys": k["keys"]["text"]} for k in line["tasks"]]
    beside = {"proposal": done["id"], "point": best["id"]}
    other = worked_out(ines, ask(ines, without=without, beside=beside))
    assert other["asked"]["beside"] == beside
    then = ines.get(f"/proposals/{other['id']}/points/{other['points'][0]['id']}")[1]
    keys = {k["task"]: k["keys"]["text"] for v in then["lines"] for k in v["tasks"]}
    assert all(keys.get(one["task"]) != one["keys"] for one in without)
    assert then["judged"]["points"]["total"] >= point["judged"]["points"]["total"]
    nowhere = {"proposal": str(uuid.uuid4()), "point": best["id"]}
    assert ines.post("/proposals", {**ASKED, "beside": nowhere})[0] == 404


def test_several_platforms_are_one_proposal_and_one_draft(ines):
    line = {"task": "save", "platform": "windows", "keys": "Control+S"}
    assert ines.post("/standard/lines", {"lines": [line]})[0] == 200
    pin = {"task": "undo", "keys": "Cmd+F7", "family": False}
    there = {"pins": [pin], "bans": ["Cmd+S"], "without": [{"task": "copy", "keys": "Cmd+C"}]}
    pins = [{"task": "undo", "keys": "Ctrl+Z"}]
    done = worked_out(ines, ask(ines, together=["macos"], pins=pins, elsewhere={"macos": there}))
    assert (done["state"], done["says"], done["asked"]["together"]) == ("done", "", ["macos"])
    (best,) = done["points"]
    path = f"/proposals/{done['id']}/points/{best['id']}"
    point = ines.get(path)[1]
    assert point["platforms"] == ["windows", "macos"]
    keys = {(v["platform"], k["task"]): k["keys"]["text"] for v in point["lines"] for k in v["tasks"]}
    assert (keys["windows", "undo"], keys["macos", "undo"]) == ("Control+Z", "Meta+F7")
    assert "Meta+S" not in {k for (platform, _), k in keys.items() if platform == "macos"}
    assert done["asked"]["elsewhere"]["macos"] == there
    assert {platform for platform, _ in keys} == {"windows", "macos"}
    assert best["worth"] == point["today"]["points"]["total"] - point["judged"]["points"]["total"]
    drawn = ines.get(f"{path}/keyboard?setup={GERMAN}&platform=macos")[1]
    assert current_estate().setups[drawn["setup"]].works_on == "macos"
    draft = ines.post(f"{path}/draft", {"name": "Both"})[1]
    assert ines.post(f"/standard/drafts/{draft['id']}/take", {"chosen": []})[0] == 200
    lines = {(v.platform, v.task): str(v.keys) for v in current_standard().lines}
    assert lines == keys
    nobody = worked_out(ines, ask(ines, together=["macos", "windows", "macos"]))
    assert (nobody["state"], len(nobody["points"])) == ("done", 1)


def test_a_plan_is_a_drawn_keyboard(ines):
    line = {"task": "save", "platform": "windows", "keys": "Control+S"}
    assert ines.post("/standard/lines", {"lines": [line]})[0] == 200
    done = worked_out(ines, ask(ines, pins=[{"task": "save", "keys": "Ctrl+Shift+S"}, {"task": "undo", "keys": "Ctrl+Z"}]))
    path = f"/proposals/{done['id']}/points/{done['points'][-1]['id']}/keyboard"
    status, found = ines.get(f"{path}?setup={GERMAN}&held=Control")
    assert (status, found["setup"], found["held"]) == (200, GERMAN, ["Control"])
    keys = {k["code"]: k for k in found["keys"]}
    # On a German keyboard Z is where an American one has Y.
    assert (keys["KeyY"]["owner"], keys["KeyY"]["says"], keys["KeyY"]["sentence"]) == ("program", "Undo", "Undo. New here.")
    assert (keys["KeyS"]["owner"], keys["KeyS"]["sentence"]) == ("free", "No task. Save until now.")
    assert {"KeyS", "KeyY"} <= set(found["differs"])
    assert keys["ControlLeft"]["modifier"] == "Control"
    shifted = ines.get(f"{path}?setup={GERMAN}&held=Control,Shift")[1]
    assert next(k for k in shifted["keys"] if k["code"] == "KeyS")["says"] == "Save"
    asked = {c["held"]: c for c in found["choices"]}
    assert asked["Control,Shift"]["caps"] == ["Strg", "Umschalt"] or asked["Control,Shift"]["caps"]
    first = ines.get(f"{path}?setup={GERMAN}")[1]
    assert first["held"] == found["choices"][0]["held"].replace("alone", "").split(",")
    assert ines.get(f"{path}?setup=nowhere")[0] == 404
    assert ines.get(f"{path}?setup={GERMAN}&held=Elbow")[0] == 400
    assert ines.get(f"{path}?setup={GERMAN}&platform=amiga")[0] == 422


def test_what_others_save_after_a_proposal_stays_in_its_draft(ines, jorun):
    line = {"task": "save", "platform": "windows", "keys": "Control+S"}
    assert ines.post("/standard/lines", {"lines": [line]})[0] == 200
    done = worked_out(ines, ask(ines))
    mac = {"task": "find", "platform": "macos", "keys": "Meta+F"}
    assert jorun.post("/standard/lines", {"lines": [mac]})[0] == 200
    path = f"/proposals/{done['id']}/points/{done['points'][-1]['id']}/draft"
    draft = ines.post(path, {"name": "Everything at once"})[1]
    assert ines.post(f"/standard/drafts/{draft['id']}/take", {"chosen": []})[0] == 200
    lines = {(v.task, v.platform): str(v.keys) for v in current_standard().lines}
    assert lines["find", "macos"] == "Meta+F"
    assert len(lines) > 2


def test_of_somebodys_own_settings_no_command_is_named(ines):
    asked = Question("windows", seconds=20)
    made = Proposer(asked, current_estate(), current_standard(), Highs()).propose()
    (setup, *_) = made.after.setups.values()
    clash = made.after.groups()[0].clash
    one = replace(made, sides=(replace(made.sides[0], makes=(Group(clash, (setup,), 1),)),))
    assert point_of(one, ()).makes[0].commands[0].startswith(clash.holder.called if clash.holder else "")
    (told,) = point_of(one, {setup.id}).makes
    assert (told.keys, told.commands) == ("", ["one in somebody's own settings"])


def test_what_is_stopped_keeps_what_there_is_and_what_has_no_job_is_taken_up(ines):
    made = ask(ines)
    assert ines.post(f"/proposals/{made['id']}/stop")[1]["state"] == "working"
    stopped = worked_out(ines, made)
    assert stopped["state"] in ("stopped", "failed")
    again = ask(ines)
    assert proposals_without_a_job() == 0
    assert worked_out(ines, again)["state"] == "done"
    work(uuid.UUID(again["id"]), Highs())
    assert len(ines.get(f"/proposals/{again['id']}")[1]["points"]) == 1
    Proposal.objects.create(asked=ASKED, by=Proposal.objects.first().by)
    assert proposals_without_a_job() == 1


class Killed(Exception):
    """A worker that is ended in the middle."""


def work_until_killed(made, points, monkeypatch):
    """Works on a proposal until it has kept so many points."""
    keep, kept = working._keep, []

    def once_more(found, made, place):
        if len(kept) == points:
            raise Killed
        kept.append(place)
        keep(found, made, place)

    with monkeypatch.context() as patched:
        patched.setattr(working, "_keep", once_more)
        with pytest.raises(Killed):
            work(uuid.UUID(made["id"]), Highs())


def test_work_that_broke_off_goes_on_from_the_points_that_it_has(ines, monkeypatch):
    monkeypatch.setattr(working, "POINTS", 4)
    whole = worked_out(ines, ask(ines, curve=True))
    made = ask(ines, curve=True)
    work_until_killed(made, 2, monkeypatch)
    before = ines.get(f"/proposals/{made['id']}")[1]
    assert (before["state"], len(before["points"])) == ("working", 2)
    done = worked_out(ines, made)
    assert [p for p in done["points"] if p in before["points"]] == before["points"]
    assert [(p["relearned"], p["worth"]) for p in done["points"]] == [(p["relearned"], p["worth"]) for p in whole["points"]]


def test_work_begins_anew_where_what_it_was_worked_out_from_is_not_there_any_more(ines, monkeypatch):
    monkeypatch.setattr(working, "POINTS", 3)
    made = ask(ines, curve=True)
    work_until_killed(made, 2, monkeypatch)
    before = {p["id"] for p in ines.get(f"/proposals/{made['id']}")[1]["points"]}
    line = {"task": "save", "platform": "windows", "keys": "Control+F11"}
    assert ines.post("/standard/lines", {"lines": [line]})[0] == 200
    done = worked_out(ines, made)
    assert (len(before), done["state"]) == (2, "done")
    assert before.isdisjoint(p["id"] for p in done["points"])
    assert Proposal.objects.get(pk=made["id"]).base.json()["lines"]


def test_what_was_stopped_is_gone_on_with_and_its_unfinished_point_is_looked_for_anew(ines):
    made = ask(ines)
    assert ines.post(f"/proposals/{made['id']}/on")[0] == 409
    done = worked_out(ines, made)
    (best,) = done["points"]
    # As if it had been stopped while the best was looked for.
    Proposal.objects.update(state="stopped", stop=True)
    ProposalPoint.objects.update(place=None)
    status, on = ines.post(f"/proposals/{made['id']}/on")
    assert (status, on["state"], on["points"]) == (200, "working", [best])
    assert ines.post("/proposals", ASKED)[0] == 409  # one at a time
    (found,) = worked_out(ines, made)["points"]
    assert found["id"] != best["id"]
    assert (found["relearned"], found["worth"]) == (best["relearned"], best["worth"])
    assert ines.post(f"/proposals/{uuid.uuid4()}/on")[0] == 404


def test_a_solver_that_dies_is_told_in_a_line(ines):
    failed = worked_out(ines, ask(ines), Apart(("-c", "raise SystemExit(1)")))
    assert (failed["state"], failed["points"]) == ("failed", [])
    assert failed["says"] == "No proposal was found in time. Give it longer, or pin less."


@pytest.mark.parametrize(
    ("asked", "status", "says"),
    [
        ({"pins": [{"task": "attic", "keys": "F2"}]}, 400, "There is no task attic."),
        ({"pins": [{"task": "save", "keys": "Strg+Qq"}]}, 400, ""),
        ({"bans": ["no such key at all"]}, 400, ""),
        ({"spared": ["attic"]}, 400, "There is no program attic."),
        ({"departments": ["attic"]}, 400, "There is no department attic."),
        ({"kept": ["attic"]}, 400, "There is no task attic."),
        ({"elsewhere": {"macos": {"bans": ["F9"]}}}, 400, "Keys are settled on macOS, and none are chosen there."),
        ({"together": ["macos"], "elsewhere": {"macos": {"pins": [{"task": "attic", "keys": "F2"}]}}}, 400, ""),
        ({"together": ["macos"], "elsewhere": {"macos": {"bans": ["no such key at all"]}}}, 400, ""),
        ({"together": ["macos"], "elsewhere": {"amiga": {}}}, 422, ""),
        ({"platform": "amiga"}, 422, ""),
        ({"together": ["amiga"]}, 422, ""),
        ({"together": "macos"}, 422, ""),
        ({"together": ["macos"] * 4}, 422, ""),
        ({"budget": -1}, 422, ""),
        ({"seconds": 10**9}, 422, ""),
    ],
)
def test_what_cant_be_asked_is_said_and_nothing_is_begun(ines, asked, status, says):
    refused = ines.post("/proposals", {**ASKED, **asked})
    assert refused[0] == status
    assert not says or refused[1]["title"] == says
    assert ines.get("/proposals")[1] == []


def test_a_pin_takes_its_family_along_or_is_refused(ines):
    response = ines.client.get("/api/documents/tasks/tasks")
    tasks = json.loads(response.content)
    tasks["families"] = [{"id": "again", "name": "Again", "step": "shift", "members": ["zoom-in", "zoom-out"]}]
    assert ines.put("/documents/tasks/tasks", tasks, **{"If-Match": response["ETag"]})[0] == 200
    pin = {"task": "zoom-in", "keys": "Ctrl+F6", "family": True}
    asked = question_of(AskedOf.model_validate({**ASKED, "pins": [pin]}))
    assert {task: str(key) for task, key in asked.pins.items()} == {"zoom-in": "Control+F6", "zoom-out": "Control+Shift+F6"}
    alone = question_of(AskedOf.model_validate({**ASKED, "pins": [{**pin, "family": False}]}))
    assert list(alone.pins) == ["zoom-in"]
    refused = ines.post("/proposals", {**ASKED, "pins": [{**pin, "keys": "Ctrl+Shift+F6"}]})
    assert (refused[0], refused[1]["title"]) == (400, "The family of zoom-in can't keep its shape with Ctrl+Shift+F6.")
    assert ines.get("/proposals")[1] == []


def test_a_question_without_an_answer_says_why(ines):
    pins = [{"task": "save", "keys": "F2"}, {"task": "undo", "keys": "F2"}]
    failed = worked_out(ines, ask(ines, pins=pins))
    assert failed["state"] == "failed"
    assert "F2 is pinned for" in failed["says"]
    nowhere = ines.get(f"/proposals/{failed['id']}/points/99999")
    assert nowhere[0] == 404
    assert ines.get(f"/proposals/{uuid.uuid4()}")[0] == 404
