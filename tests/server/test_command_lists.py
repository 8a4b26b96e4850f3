"""Lists of commands over the API: brought in, understood anew, corrected, taken, undone; and commands to tasks."""

import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from openpyxl import Workbook

from amberkey.server.catalogue.models import CommandList
from amberkey.server.catalogue.tasks import lists_without_a_job
from amberkey.server.catalogue.working import AT_ONCE, do
from amberkey.server.library.documents import programs_by_key

TABLE = "Command\tGroup\tKeys\nSave\tFile\tCtrl+S\nPrint\tFile\tas ever\nFind\tEdit\tCtrl+F or F3\n"
NEW = {"name": "Weir Desk", "version": "2", "platforms": ["windows"]}


@pytest.fixture
def desk(ines):
    """A program that came from a list."""
    made = paste(ines, TABLE)
    ask(ines, made, new=NEW, corrections={3: {"keys": "Ctrl+P"}})
    assert ines.post(f"/command-lists/{made['id']}/take")[0] == 200
    return ines


def paste(api, text, **more):
    status, found = api.post("/command-lists/pasted", {"text": text, **more})
    assert status == 200, found
    return found


def ask(api, found, **asked):
    status, found = api.put(f"/command-lists/{found['id']}", {**found["asked"], **asked})
    assert status == 200, found
    return found


def rows(api, found, which="all"):
    return api.get(f"/command-lists/{found['id']}/rows?which={which}")[1]["rows"]


def commands(name="weir-desk", version="2"):
    program = programs_by_key()[f"program/{name}@{version}"]
    return {c.id: c for c in program.commands}


def test_a_pasted_table_is_understood_corrected_taken_and_undone(ines):
    found = paste(ines, TABLE)
    assert (found["state"], found["columns"], found["counts"]) == (
        *("checked", {"0": "name", "1": "group", "2": "keys"}),
        {"adds": 2, "unread": 1, "guessed": 0, "retires": 0, "returns": 0, "gone": 0},
    )
    assert rows(ines, found, "unread")[0]["faults"][0]["place"] == "row 3, keys"
    assert ines.post(f"/command-lists/{found['id']}/take")[1]["title"] == "It isn't said which program this is."
    found = ask(ines, found, new=NEW, corrections={3: {"keys": "Ctrl+P"}})
    assert found["counts"]["adds"] == 3
    status, taken = ines.post(f"/command-lists/{found['id']}/take")
    assert (status, taken["state"], taken["program"]) == (200, "taken", "weir-desk")
    assert list(commands()) == ["save", "print", "find"]
    assert ines.post(f"/command-lists/{found['id']}/take")[0] == 409
    assert ines.put(f"/command-lists/{found['id']}", found["asked"])[0] == 409
    assert ines.post(f"/history/{taken['change']}/undo")[0] == 200
    assert "program/weir-desk@2" not in programs_by_key()


def test_good_rows_are_taken_and_the_others_stay_out(ines):
    found = ask(ines, paste(ines, TABLE), new=NEW)
    assert ines.post(f"/command-lists/{found['id']}/take")[0] == 200
    assert list(commands()) == ["save", "find"]


def test_a_list_that_comes_again_is_merged_with_what_the_last_one_said(desk):
    program = desk.get("/catalogue/weir-desk/2")[1]
    own = [{**c, "keys": {"windows": "F8"} if c["id"] == "save" else c["keys"]} for c in program["commands"]]
    kept = {k: program[k] for k in ("digest", "name", "description", "kind", "platforms", "scopes")}
    assert desk.put("/catalogue/weir-desk/2", {**kept, "commands": own})[0] == 200
    again = TABLE.replace("as ever", "Ctrl+Shift+P") + "Undo\tEdit\tCtrl+Z\n"
    found = ask(desk, paste(desk, again), program="weir-desk@2")
    assert {r["name"]: r["what"] for r in rows(desk, found)} == {
        "Save": "same",
        "Print": "changes",
        "Find": "same",
        "Undo": "adds",
    }
    assert found["told"][0] == "Adds 1 command."
    assert desk.post(f"/command-lists/{found['id']}/take")[0] == 200
    now = commands()
    assert [str(s) for c in ("save", "print") for s in now[c].defaults_on("windows")] == ["F8", "Control+Shift+P"]


def test_what_was_changed_meanwhile_is_checked_again(desk):
    found = ask(desk, paste(desk, TABLE + "Undo\tEdit\tCtrl+Z\n"), program="weir-desk@2")
    desk.post("/catalogue/weir-desk/2/tasks", {"tasks": {"save": "save"}})
    status, refused = desk.post(f"/command-lists/{found['id']}/take")
    assert (status, refused["cure"]) == (409, "Check the list again.")
    found = ask(desk, found)
    assert desk.post(f"/command-lists/{found['id']}/take")[0] == 200
    assert commands()["save"].task == "save"


def test_long_lists_and_packed_files_are_work_for_a_job_that_may_begin_again(ines):
    text = "Command\tKeys\n" + "".join(f"Do {n}\tCtrl+F{n % 12 + 1}\n" for n in range(AT_ONCE + 1))
    found = paste(ines, text)
    assert (found["state"], found["total"]) == ("checking", AT_ONCE + 2)
    for _ in range(2):
        do(CommandList.objects.get().id)
    found = ask(ines, ines.get(f"/command-lists/{found['id']}")[1], new=NEW)
    assert found["state"] == "checking"
    do(CommandList.objects.get().id)
    assert ines.post(f"/command-lists/{found['id']}/take")[1]["state"] == "taking"
    for _ in range(2):
        do(CommandList.objects.get().id)
    assert ines.get(f"/command-lists/{found['id']}")[1]["state"] == "taken"
    assert len(commands()) == AT_ONCE + 1
    book = Workbook()
    for row in (("Command", "Keys"), ("Save", "Ctrl+S")):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    status, packed = ines.send("/command-lists", {"file": SimpleUploadedFile("keys.xlsx", out.getvalue())})
    assert (status, packed["state"]) == (200, "opening")
    do(CommandList.objects.exclude(state="taken").get().id)
    assert ines.get(f"/command-lists/{packed['id']}")[1]["counts"]["adds"] == 1


def test_a_list_without_a_live_job_is_taken_up(ines):
    found = paste(ines, TABLE)
    CommandList.objects.filter(id=found["id"]).update(state="checking")
    assert lists_without_a_job() == 1


def test_bad_files_say_what_and_nothing_stays(ines):
    for name, data in (("a.csv", b""), ("a.json", b"{}"), ("a.xlsx", b"PK\x03\x04nonsense"), ("a.html", b"<p>none</p>")):
        status, refused = ines.send("/command-lists", {"file": SimpleUploadedFile(name, data or b"\n")})
        if status == 200:
            do(CommandList.objects.get(id=refused["id"]).id)
            refused = ines.get(f"/command-lists/{refused['id']}")[1]
            assert (refused["state"], bool(refused["says"])) == ("failed", True)
            assert ines.put(f"/command-lists/{refused['id']}", refused["asked"])[0] == 409
        else:
            assert (status, bool(refused["faults"][0]["cure"])) == (400, True)
    assert ines.send("/command-lists", {"file": SimpleUploadedFile("a.csv", b"a,b\n" * 3_000_000)})[0] == 413
    found = paste(ines, TABLE)
    for wrong in ({"table": 7}, {"program": "attic@1"}, {"columns": {"0": "no such"}}, {"head": -1}):
        assert ines.put(f"/command-lists/{found['id']}", {**found["asked"], **wrong})[0] in (404, 422)


def test_tasks_are_proposed_given_made_refused_and_undone(desk):
    found = {p["command"]: p for p in desk.get("/catalogue/weir-desk/2/proposals")[1]}
    assert (found["save"]["task"], found["save"]["sure"]) == ("save", True)
    assert found["save"]["candidates"][0]["reasons"]
    assert desk.post("/catalogue/weir-desk/2/refusals", {"command": "find", "task": "find"})[0] == 200
    again = {p["command"]: p for p in desk.get("/catalogue/weir-desk/2/proposals")[1]}
    assert again["find"]["task"] != "find"
    assert desk.post("/catalogue/weir-desk/2/refusals", {"command": "find", "task": "find", "refused": False})[0] == 200
    status, done = desk.post("/catalogue/weir-desk/2/tasks", {"tasks": {"save": "save"}, "made_of": ["print"]})
    assert status == 200
    assert (commands()["save"].task, commands()["print"].task) == ("save", "print")
    assert "print" in {t["id"] for t in desk.get("/tasks")[1]["tasks"]}
    assert [p["command"] for p in desk.get("/catalogue/weir-desk/2/proposals")[1]] == ["find"]
    assert desk.post(f"/history/{done['id']}/undo")[0] == 200
    assert (commands()["save"].task, commands()["print"].task) == (None, None)
    wrong = desk.post("/catalogue/weir-desk/2/tasks", {"tasks": {"save": "attic", "nothing": "save"}})
    assert (wrong[0], len(wrong[1]["faults"])) == (400, 2)
    assert desk.get("/catalogue/attic/1/proposals")[0] == 404


def test_a_list_of_a_newer_version_makes_it_and_the_upgrade_is_told(desk):
    before = commands()
    text = "Command\tGroup\tKeys\nSave\tFile\tCtrl+S\nPrint\tFile\tCtrl+Shift+P\nWeigh all\tMore\tF4\n"
    found = paste(desk, text)
    wrong = {**found["asked"], "program": "weir-desk@2", "next_version": "2"}
    assert desk.put(f"/command-lists/{found['id']}", wrong)[1]["faults"][0]["cure"] == "Give another one."
    found = ask(desk, found, program="weir-desk@2", next_version="3 draft", lacking="stay")
    assert (found["counts"]["adds"], found["counts"]["changes"], found["counts"]["gone"]) == (1, 1, 0)
    found = ask(desk, found, lacking="gone")
    assert found["counts"]["gone"] == 1
    assert "Says nothing of 1 command of the program, gone in 3 draft: Find." in found["told"]
    status, taken = desk.post(f"/command-lists/{found['id']}/take")
    assert (status, taken["state"], taken["program"]) == (200, "taken", "weir-desk")
    assert list(commands(version="3 draft")) == ["save", "print", "weigh-all"]
    assert commands() == before
    told = desk.get("/upgrades/weir-desk?old=2&new=3 draft")[1]
    assert (told["came"], told["gone"], [m["name"] for m in told["moved"]]) == (["Weigh all"], ["Find"], ["Print"])
    assert desk.post(f"/history/{taken['change']}/undo")[0] == 200
    assert "program/weir-desk@3 draft" not in programs_by_key()
