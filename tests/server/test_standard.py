"""The standard over the API: the matrix, plans, saving beside others, drafts, releasing, lending."""

import csv
import io
import json

import pytest

from amberkey.server.library.models import Document
from tests.server.conftest import Api
from tests.server.test_workbench import groups, ways

SETUP = "ticket-counters"
WEB = "web-team"


@pytest.fixture
def ines(example):
    return Api("ines")


@pytest.fixture
def jorun(example):
    return Api("jorun")


def line(keys, task="save", platform="windows", **more):
    return {"task": task, "platform": platform, "keys": keys, **more}


def seen(api, **through):
    query = "&".join(f"{k}={v}" for k, v in {"setup": SETUP, **through}.items())
    status, body = api.get(f"/standard?{query}")
    assert status == 200
    return body


def save(api, *lines, **more):
    return api.post("/standard/lines", {"lines": list(lines), **more})


def row(body, task):
    return next(t for t in body["tasks"] if t["id"] == task)


def test_without_a_standard_the_matrix_is_there_and_says_nothing(ines):
    body = seen(ines)
    assert body["digest"] == ""
    assert body["whole"]["could"] == 0
    assert all(t["line"] is None for t in body["tasks"])
    assert {p["id"] for p in body["programs"]} >= {"folioform", "quaysheet"}
    assert body["waiting"] == {"entries": 0, "revision": 0, "released": None}


def test_a_saved_line_is_in_the_matrix_with_every_programs_state(ines):
    status, change = save(ines, line("Control+S", reason="Everybody knows it"))
    assert status == 200
    assert change["title"] == "Set Save on Windows to Ctrl S in the standard"
    body = seen(ines)
    task = row(body, "save")
    assert (task["line"]["shortcut"]["text"], task["line"]["reason"], task["line"]["owner"]) == (
        *("Control+S", "Everybody knows it"),
        "Ines",
    )
    assert {c["program"] for c in task["cells"]} <= {p["id"] for p in body["programs"]}
    counted = [c for c in task["cells"] if c["state"] in ("agrees", "differs", "clashes", "unbound")]
    assert task["covered"]["could"] == len(counted) == body["whole"]["could"]
    assert sum(c["state"] == "agrees" for c in task["cells"]) == body["whole"]["agree"]
    assert body["points"][-1]["covered"]["could"] >= body["whole"]["could"]


def test_through_all_setups_cells_are_those_of_most_people(ines):
    save(ines, line("Control+S"))
    everywhere = seen(ines, everywhere="true")
    one = seen(ines)
    assert everywhere["people"] > one["people"]
    assert everywhere["whole"]["could"] >= one["whole"]["could"]
    for task in everywhere["tasks"]:
        for cell in task["cells"]:
            assert 0 < cell["people"] <= cell["of"]


def test_a_plan_tells_and_saves_nothing(ines):
    save(ines, line("Control+S"))
    before = ines.get("/history")[1]
    status, plan = ines.post("/standard/plan", {"lines": [line("F9")]})
    assert status == 200
    assert plan["lines"] == [
        {"task": "save", "name": "Save", "platform": "windows", "layouts": [], "before": "Ctrl S", "after": "F9"}
    ]
    assert plan["people"] == sum(v["people"] for v in plan["learners"])
    assert plan["learners"]
    assert plan["before"]["could"] == plan["after"]["could"]
    assert ines.get("/history")[1] == before


def test_what_cannot_be_read_is_refused_and_nothing_is_lost(ines):
    save(ines, line("Control+S"))
    digest = seen(ines)["digest"]
    for lines, status in (
        ([line("Contrl+S")], 400),
        ([line("F9", task="nothing-like-it")], 404),
    ):
        assert ines.post("/standard/plan", {"lines": lines})[0] == status
    assert save(ines, line("Contrl+S"))[0] == 400
    assert seen(ines)["digest"] == digest


def test_undo_brings_the_line_before_back(ines):
    save(ines, line("Control+S"))
    change = save(ines, line("F9"))[1]
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "F9"
    assert ines.post(f"/history/{change['id']}/undo")[0] == 200
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "Control+S"
    gone = save(ines, line(None))[1]
    assert row(seen(ines), "save")["line"] is None
    ines.post(f"/history/{gone['id']}/undo")
    assert row(seen(ines), "save")["line"] is not None


def test_two_people_at_once_both_keep_what_they_did(ines, jorun):
    save(ines, line("Control+S"))
    digest = seen(ines)["digest"]
    assert save(ines, line("Control+C", task="copy"), seen=digest)[0] == 200
    assert save(jorun, line("Control+X", task="cut"), seen=digest)[0] == 200
    body = seen(ines)
    assert [row(body, t)["line"]["shortcut"]["text"] for t in ("save", "copy", "cut")] == [
        "Control+S",
        "Control+C",
        "Control+X",
    ]


def test_two_people_at_one_line_are_asked_whose_counts(ines, jorun):
    save(ines, line("Control+S"))
    digest = seen(ines)["digest"]
    save(ines, line("F9"), seen=digest)
    status, problem = save(jorun, line("F8"), seen=digest)
    assert status == 409
    (both,) = problem["contradictions"]
    assert (both["key"], both["ours"]["keys"], both["theirs"]["keys"]) == ("save on windows", "F8", "F9")
    assert problem["by"] == "Ines"
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "F9"
    chosen = [{"section": "lines", "key": both["key"], "value": both["ours"]}]
    assert save(jorun, line("F8"), seen=digest, chosen=chosen)[0] == 200
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "F8"
    # Or a fourth key, that of none of the three.
    assert save(jorun, line("F7"), seen=digest, chosen=[{**chosen[0], "value": None, "sent": True}])[0] == 200
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "F7"


def test_the_first_lines_of_two_people_do_not_overwrite_each_other(ines, jorun):
    assert seen(ines)["digest"] == ""
    assert save(ines, line("F9"), seen="")[0] == 200
    assert save(jorun, line("F8"), seen="")[0] == 409
    assert save(jorun, line("Control+C", task="copy"), seen="")[0] == 200
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "F9"
    assert save(jorun, line("F8"), seen="0" * 64)[0] == 409


def test_exceptions_need_a_reason_and_a_day_to_come_and_can_be_taken_back(ines):
    save(ines, line("F9"))
    exempt = {"task": "save", "program": "quaysheet", "platform": "windows", "reason": "Learned there"}
    assert ines.post("/standard/exceptions", {**exempt, "reason": ""})[0] == 400
    assert ines.post("/standard/exceptions", {**exempt, "until": "2020-01-01"})[0] == 400
    assert ines.post("/standard/exceptions", {**exempt, "program": "nobody"})[0] == 404
    assert ines.post("/standard/exceptions", exempt)[0] == 200

    def state():
        return next(c["state"] for c in row(seen(ines), "save")["cells"] if c["program"] == "quaysheet")

    assert state() == "excepted"
    told = ines.get(f"/standard/tasks/save?setup={SETUP}")[1]["exceptions"]
    assert [(e["program_name"], e["reason"], e["ran_out"]) for e in told] == [("Quaysheet", "Learned there", False)]
    assert ines.post("/standard/exceptions", {**exempt, "remove": True})[0] == 200
    assert state() == "differs"
    assert ines.post("/standard/exceptions", {**exempt, "remove": True})[0] == 404


def test_releasing_compiles_the_layer_under_everybody(ines, jorun):
    save(ines, line("F9"))
    waiting = seen(ines)["waiting"]
    assert waiting["entries"] > 0
    assert waiting["released"] is None
    house = Document.objects.get(key="profile/house").newest.digest
    assert jorun.post("/standard/release")[0] == 403
    planned = ines.get("/standard/release")[1]
    assert planned["entries"] == waiting["entries"]
    status, change = ines.post("/standard/release")
    assert status == 200, change
    assert change["title"].startswith("Released the standard, revision ")
    body = seen(ines)
    assert body["waiting"]["entries"] == 0
    assert body["waiting"]["released"] == body["waiting"]["revision"]
    assert body["points"][-1]["released"]
    cells = row(body, "save")["cells"]
    assert all(c["state"] != "differs" or c["layer"] not in ("default", "standard") for c in cells)
    assert any(c["state"] in ("agrees", "clashes") for c in cells)
    assert Document.objects.get(key="profile/house").newest.digest == house
    lens = next(v for v in ines.get("/lenses")[1] if v["setup"] == SETUP)
    assert lens["layer_ids"][0] == "standard"
    assert ines.post("/standard/release")[0] == 409


def test_a_release_is_undone_as_one(ines):
    save(ines, line("F9"))
    before = row(seen(ines), "save")["cells"]
    change = ines.post("/standard/release")[1]
    assert ines.post(f"/history/{change['id']}/undo")[0] == 200
    assert row(seen(ines), "save")["cells"] == before
    lens = next(v for v in ines.get("/lenses")[1] if v["setup"] == SETUP)
    assert "standard" not in lens["layer_ids"]


def test_nobody_changes_the_compiled_layer_by_hand(ines):
    save(ines, line("F9"))
    ines.post("/standard/release")
    document = Document.objects.get(key="profile/standard")
    entry = document.newest.body.json()["entries"][0]
    body = {"setup": SETUP, "program": entry["program"], "command": entry["command"], "shortcuts": ["F8"], "target": "standard"}
    status, problem = ines.post("/commands/shortcuts", body)
    assert (status, problem["title"]) == (409, "The standard is compiled from the standard.")
    digest = document.newest.digest
    value = {**document.newest.body.json(), "name": "Mine"}
    assert ines.put("/documents/profile/standard", value, **{"If-Match": f'"{digest}"'})[0] == 409
    assert Document.objects.get(key="profile/standard").newest.digest == digest


def test_a_draft_changes_nothing_until_it_is_taken_over(ines, jorun):
    save(ines, line("Control+S"))
    status, draft = jorun.post("/standard/drafts", {"name": "What if", "lines": [line("F9")]})
    assert status == 200
    draft = jorun.post(f"/standard/drafts/{draft['id']}", {"name": "What if", "lines": [line("Control+C", task="copy")]})[1]
    assert draft["lines"] == 2
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "Control+S"
    plan = jorun.get(f"/standard/drafts/{draft['id']}/plan")[1]
    assert {v["task"]: v["after"] for v in plan["lines"]} == {"save": "F9", "copy": "Ctrl C"}
    save(ines, line("Control+X", task="cut"))
    status, change = jorun.post(f"/standard/drafts/{draft['id']}/take", {"chosen": []})
    assert status == 200, change
    body = seen(ines)
    assert [row(body, t)["line"]["shortcut"]["text"] for t in ("save", "copy", "cut")] == ["F9", "Control+C", "Control+X"]
    assert jorun.get("/standard/drafts")[1] == []


def test_a_draft_that_others_contradict_says_so_and_asks(ines, jorun):
    save(ines, line("Control+S"))
    draft = jorun.post("/standard/drafts", {"name": "What if", "lines": [line("F9")]})[1]
    save(ines, line("F8"))
    (told,) = jorun.get("/standard/drafts")[1]
    assert [(c["key"], c["ours"]["keys"], c["theirs"]["keys"]) for c in told["contradictions"]] == [
        ("save on windows", "F9", "F8")
    ]
    status, problem = jorun.post(f"/standard/drafts/{draft['id']}/take", {"chosen": []})
    assert (status, [c["key"] for c in problem["contradictions"]]) == (409, ["save on windows"])
    chosen = [{"section": "lines", "key": "save on windows", "value": told["contradictions"][0]["ours"]}]
    assert jorun.post(f"/standard/drafts/{draft['id']}/take", {"chosen": chosen})[0] == 200
    assert row(seen(ines), "save")["line"]["shortcut"]["text"] == "F9"


def test_a_dropped_draft_can_be_brought_back(ines):
    save(ines, line("Control+S"))
    draft = ines.post("/standard/drafts", {"name": "What if", "lines": [line("F9")]})[1]
    assert ines.post("/standard/drafts", {"name": " ", "lines": []})[0] == 400
    ines.post(f"/standard/drafts/{draft['id']}/removal", {"removed": True})
    assert ines.get("/standard/drafts")[1] == []
    assert ines.get(f"/standard/drafts/{draft['id']}/plan")[0] == 404
    ines.post(f"/standard/drafts/{draft['id']}/removal", {"removed": False})
    assert [d["id"] for d in ines.get("/standard/drafts")[1]] == [draft["id"]]


def test_a_reader_looks_and_changes_nothing(example):
    save(Api("ines"), line("Control+S"))
    tove = Api("tove")
    assert row(seen(tove), "save")["line"] is not None
    assert save(tove, line("F9"))[0] == 403
    assert tove.post("/standard/drafts", {"name": "Mine", "lines": []})[0] == 403
    assert tove.post("/standard/release")[0] == 403
    assert tove.post(
        "/standard/lend", {"program": "quaysheet", "source": "folioform", "platform": "windows", "profile": "house"}
    )[0] in (403, 409)


def test_lines_are_carried_to_another_platform(ines):
    save(ines, line("Control+S"), line("Control+C", task="copy"))
    status, carried = ines.get("/standard/carry?origin=windows&target=macos")
    assert status == 200
    found = {c["task"]: c for c in carried}
    assert found["copy"]["origin"]["text"] == "Control+C"
    assert (found["copy"]["keys"] or {}).get("text") == "Meta+C" or found["copy"]["why"]
    assert ines.get("/standard/carry?origin=windows&target=windows")[0] == 400


def test_a_programs_shortcuts_are_lent_as_a_set_and_taken_off(ines):
    asked = {"program": "quaysheet", "source": "folioform", "platform": "windows", "profile": "house"}
    status, plan = ines.post("/standard/lend/plan", asked)
    assert status == 200
    assert ines.post("/standard/lend/plan", {**asked, "source": "quaysheet"})[0] == 400
    assert ines.post("/standard/lend/plan", {**asked, "profile": "nobody"})[0] == 404
    if not plan["taken"]:
        assert ines.post("/standard/lend", asked)[0] == 409
        return
    before = Document.objects.get(key="profile/house").newest.digest
    status, change = ines.post("/standard/lend", asked)
    assert status == 200, change
    (one,) = ines.get("/standard/sets")[1]
    assert one["name"] == "Quaysheet as Folioform"
    assert one["entries"] == len(plan["taken"])
    assert ines.post("/standard/sets/removal", {"profile": "house", "id": one["id"]})[0] == 200
    assert Document.objects.get(key="profile/house").newest.digest == before
    assert ines.post("/standard/sets/removal", {"profile": "house", "id": one["id"]})[0] == 404


def _offered():
    programs = (d.newest.body.json() for d in Document.objects.filter(format="amberkey/program@1"))
    return {c.get("task") for p in programs if p["kind"] != "system" for c in p["commands"]}


def test_findings_and_allowed_double_meanings(ines):
    save(ines, line("F9"))
    body = ines.get("/standard/findings")[1]
    assert [k for k, _ in body["kinds"]][-1] == "not_offered"
    assert any(f["kind"] == "not_offered" for f in body["findings"]) == bool(
        {t["id"] for t in Document.objects.get(key="tasks/tasks").newest.body.json()["tasks"]} - _offered()
    )
    asked = {"keys": "F9", "platform": "windows", "reason": "Nobody has both"}
    assert ines.post("/standard/meanings", {**asked, "reason": ""})[0] == 400
    assert ines.post("/standard/meanings", asked)[0] == 200
    assert Document.objects.get(key="standard/standard").newest.body.json()["meanings"][0]["owner"] == "Ines"
    assert ines.post("/standard/meanings", {**asked, "remove": True})[0] == 200
    assert ines.post("/standard/meanings", {**asked, "remove": True})[0] == 404


def test_the_matrix_goes_out_as_csv(ines):
    save(ines, line("Control+S"))
    response = ines.client.get(f"/api/standard.csv?setup={SETUP}")
    assert response["Content-Type"].startswith("text/csv")
    rows = list(csv.reader(io.StringIO(response.content.decode("utf-8-sig"))))
    body = seen(ines)
    assert rows[0] == ["Task", "Standard", *(p["name"] for p in body["programs"])]
    assert len(rows) == len(body["tasks"]) + 1
    told = dict(zip(rows[0], next(r for r in rows if r[0] == "Save"), strict=True))
    assert told["Standard"] == row(body, "save")["line"]["shortcut"]["words"]
    assert json.dumps(told)


def test_tasks_are_looked_for_by_keys_as_a_keyboard_makes_them(ines):
    save(ines, line("F9", "find"))

    def on(keys, **more):
        query = "&".join(f"{k}={v}" for k, v in {"setup": SETUP, "pressed": keys, **more}.items())
        return ines.get(f"/standard/keys?{query}")

    assert on("F9")[1]["tasks"] == ["find"]
    assert "undo" in on("Ctrl%2BZ")[1]["tasks"]
    assert on("Ctrl%2BZ", layout="us", everywhere="true")[1] == on("Control%2BZ", layout="us", everywhere="true")[1]
    assert on("Contrl%2BZ")[0] == 400
    assert on("F9", setup="attic")[0] == 404


def _fare(api):
    """The clash of a command for a task, and the first move out of it."""
    identity = groups(api)["quote-fare"]["identity"]
    return identity, next(w for w in ways(api, identity) if w["kind"] == "move")


def asked(api, identity, way):
    status, body = api.get(f"/clashes/{identity}/standard?setup={SETUP}&way={way}")
    assert status == 200, body
    return body["asked"]


def decide_too(api, identity, way, says, **more):
    return api.post(f"/clashes/{identity}/standard", {"setup": SETUP, "way": way, "standard": says, **more})


def test_a_decision_can_set_the_line_as_one_change(ines):
    identity, way = _fare(ines)
    (silent,) = asked(ines, identity, way["key"])
    assert (silent["name"], silent["says"], silent["state"], silent["could_be_let_off"]) == (
        "Quote the fare",
        None,
        "silent",
        False,
    )
    status, change = decide_too(ines, identity, way["key"], "line", reason="Free everywhere")
    assert status == 200, change
    words = way["shortcut"]["words"]
    assert change["title"].startswith("Moved Quote the fare in Quaysheet")
    assert change["title"].endswith(f", and set Quote the fare to {words} in the standard")
    task = row(seen(ines), "quote-fare")
    assert (task["line"]["shortcut"]["words"], task["line"]["reason"], task["line"]["owner"]) == (
        words,
        "Free everywhere",
        "Ines",
    )
    assert next(c for c in task["cells"] if c["program"] == "quaysheet")["state"] == "agrees"
    assert "quote-fare" not in groups(ines)
    assert ines.post(f"/history/{change['id']}/undo")[0] == 200
    assert row(seen(ines), "quote-fare")["line"] is None
    assert "quote-fare" in groups(ines)


def test_a_decision_can_let_the_program_off_with_a_reason(ines):
    save(ines, line("F9", "quote-fare"))
    identity, way = _fare(ines)
    (differs,) = asked(ines, identity, way["key"])
    assert (differs["says"]["text"], differs["state"], differs["could_be_let_off"]) == ("F9", "differs", True)
    assert differs["line"]["keys"] == way["shortcut"]["text"]
    status, problem = decide_too(ines, identity, way["key"], "exception")
    assert (status, problem["title"]) == (400, "An exception needs a reason.")
    assert "quote-fare" in groups(ines)
    more = {"reason": "The counter is used to it", "until": "2099-01-01"}
    status, change = decide_too(ines, identity, way["key"], "exception", **more)
    assert (status, change["title"].endswith(", and let Quote the fare in Quaysheet off the standard")) == (200, True)
    cell = next(c for c in row(seen(ines), "quote-fare")["cells"] if c["program"] == "quaysheet")
    assert (cell["state"], cell["why"]) == ("excepted", "The counter is used to it")


def test_what_follows_the_standard_is_asked_nothing_of_it(ines):
    identity, way = _fare(ines)
    save(ines, line(way["shortcut"]["text"], "quote-fare"))
    (agrees,) = asked(ines, identity, way["key"])
    assert (agrees["state"], agrees["line"], agrees["could_be_let_off"]) == ("agrees", None, False)
    assert decide_too(ines, identity, way["key"], "line")[0] == 400
    assert (
        decide_too(ines, identity, way["key"], "exception", reason="Why not")[1]["title"] == "There is nothing to be let off."
    )
    assert asked(ines, identity, "allow") == []
    assert decide_too(ines, identity, "allow", "line")[0] == 400
    assert "quote-fare" in groups(ines)


def test_what_others_said_in_the_standard_meanwhile_is_never_overwritten(ines, jorun):
    save(ines, line("F9", "quote-fare"))
    identity, way = _fare(ines)
    seen_then = ines.get(f"/clashes/{identity}/standard?setup={SETUP}&way={way['key']}")[1]["seen"]
    save(jorun, line("F10", "quote-fare"))
    status, problem = decide_too(ines, identity, way["key"], "line", seen=seen_then)
    assert (status, problem["title"]) == (409, "Jorun changed the same in the standard.")
    assert row(seen(ines), "quote-fare")["line"]["shortcut"]["text"] == "F10"
    assert "quote-fare" in groups(ines)
    # What they said of something else stays beside it.
    save(jorun, line("F8", "find"))
    seen_now = ines.get(f"/clashes/{identity}/standard?setup={SETUP}&way={way['key']}")[1]["seen"]
    save(jorun, line("F7", "find"))
    assert decide_too(ines, identity, way["key"], "line", seen=seen_now)[0] == 200
    lines = {t["id"]: t["line"]["shortcut"]["text"] for t in seen(ines)["tasks"] if t["line"]}
    assert lines == {"quote-fare": way["shortcut"]["text"], "find": "F7"}


def test_readers_decide_nothing_with_the_standard(example, ines):
    identity, way = _fare(ines)
    assert decide_too(Api("tove"), identity, way["key"], "line")[0] == 403
    assert row(seen(ines), "quote-fare")["line"] is None


def test_tasks_stand_group_by_group_and_families_together(ines):
    response = ines.client.get("/api/documents/tasks/tasks")
    value = json.loads(response.content)
    for n, task in enumerate(value["tasks"]):
        task["group"] = ("Words", "", "also")[n % 3]
    zooms = [t for t in value["tasks"] if t["id"].startswith("zoom")]
    for task in zooms:
        task["group"] = "also"
    value["families"] = [{"id": "zoom", "name": "Zoom", "step": "shift", "members": ["zoom-out", "zoom-in"]}]
    assert ines.put("/documents/tasks/tasks", value, **{"If-Match": response["ETag"]})[0] == 200
    rows = seen(ines, everywhere="true")["tasks"]
    groups = [r["group"] for r in rows]
    assert list(dict.fromkeys(groups)) == ["also", "Words", ""]
    assert groups == sorted(groups, key=["also", "Words", ""].index)
    ids = [r["id"] for r in rows]
    assert ids.index("zoom-in") == ids.index("zoom-out") + 1
    for group in ("Words", ""):
        names = [r["name"].casefold() for r in rows if r["group"] == group]
        assert names == sorted(names)
