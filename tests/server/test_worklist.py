"""The worklist on the server: what is to do by hand as released, ticked on machines, taken back, brought back as a sheet."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.core.exchange.sheets import read_sheet
from amberkey.core.exchange.sheets_out import SHEET_FORMS, write_sheet
from amberkey.demo.load import load_documents, load_machines, load_people
from amberkey.server.fleet.models import HandWork
from amberkey.server.fleet.worklist import HEADS
from tests.kept import put
from tests.server.conftest import Api


@pytest.fixture
def whole(db, tmp_path):
    """The whole example, which has machines in its organisation."""
    put("the whole example", lambda: load_documents(load_people()))
    return Api("ines")


@pytest.fixture
def work(whole):
    """The setup with most to do, and what."""
    first = whole.get("/worklist")[1][0]
    return whole.get(f"/worklist/{first['setup']}")[1]


def ticks(work, machines, items=None, content=True):
    wanted = work["items"] if items is None else items
    these = [(m, i) for m in machines for i in wanted]
    return {"ticks": [{"machine": m, "item": i["id"], "content": i["content"] if content else None} for m, i in these]}


def again(api, work):
    return api.get(f"/worklist/{work['setup']}")[1]


def test_what_is_to_do_is_told_by_setup_with_most_to_do_first(whole):
    found = whole.get("/worklist")[1]
    assert found
    assert [w["done"] for w in found] == [0] * len(found)
    left = [w["total"] for w in found]
    assert left == sorted(left, reverse=True)
    assert all(w["total"] == w["machines"] * w["items"] for w in found)


def test_a_tick_counts_and_is_taken_back(whole, work):
    machine = work["machines"][0]["id"]
    one = work["items"][:1]
    status, done = whole.post("/worklist/ticks", ticks(work, [machine], one))
    assert (status, done["says"]) == (200, "1 thing done by hand.")
    now = next(m for m in again(whole, work)["machines"] if m["id"] == machine)
    assert (now["done"], now["again"]) == ([one[0]["id"]], [])
    assert sum(w["done"] for w in whole.get("/worklist")[1]) == 1
    status, back = whole.post("/worklist/ticks", {"ticks": done["before"]})
    assert (status, back["says"]) == (200, "1 thing to do again.")
    assert not HandWork.objects.exists()
    whole.post("/worklist/ticks", {"ticks": back["before"]})
    assert HandWork.objects.count() == 1


def test_what_is_wanted_otherwise_by_now_is_to_be_done_again(whole, work):
    machine = work["machines"][0]["id"]
    whole.post("/worklist/ticks", ticks(work, [machine]))
    HandWork.objects.filter(item=work["items"][0]["id"]).update(content="F1")
    now = next(m for m in again(whole, work)["machines"] if m["id"] == machine)
    assert now["again"] == [work["items"][0]["id"]]
    assert len(now["done"]) == len(work["items"]) - 1


@pytest.mark.parametrize("form", SHEET_FORMS)
def test_a_sheet_comes_back_with_its_ticks(whole, work, form):
    sheet = read_sheet(whole.client.get(f"/api/worklist.{form}?setup={work['setup']}").content)
    assert sheet.heads == HEADS
    assert len(sheet.rows) == len(work["machines"]) * len(work["items"])
    rows = [list(r.cells) for r in sheet.rows]
    for row in rows[:3]:
        row[5] = "x"
    data = write_sheet(form, HEADS, rows, "Worklist")
    status, done = whole.send("/worklist/sheet", {"file": SimpleUploadedFile(f"w.{form}", data)})
    assert (status, done["says"]) == (200, "3 things done by hand.")
    # The same again ticks nothing that is ticked, and rows without a tick take none back.
    assert whole.send("/worklist/sheet", {"file": SimpleUploadedFile("w.csv", data)})[1]["says"].startswith("Nothing")
    back = read_sheet(whole.client.get(f"/api/worklist.{form}?setup={work['setup']}").content)
    assert sum(bool(r.cells[5]) for r in back.rows) == 3
    assert {r.cells[6] for r in back.rows if r.cells[5]} == {"Ines"}
    whole.post("/worklist/ticks", {"ticks": done["before"]})
    assert not HandWork.objects.exists()


def test_rows_that_cannot_be_ticked_are_all_told_and_nothing_is(whole, work):
    rows = [list(r.cells) for r in read_sheet(whole.client.get(f"/api/worklist.csv?setup={work['setup']}").content).rows][:3]
    for row in rows:
        row[5] = "yes"
    rows[0][7], rows[1][4] = "no-such-machine", "Ctrl Alt Hyper"
    data = write_sheet("csv", HEADS, rows, "x")
    status, problem = whole.send("/worklist/sheet", {"file": SimpleUploadedFile("w.csv", data)})
    assert status == 400
    assert [f["place"] for f in problem["faults"]] == ["row 2, Machine id", "row 3, Item id"]
    assert not HandWork.objects.exists()


@pytest.mark.parametrize("data", [b"", b"a,b\n1,2\n", b"PK\x03\x04", b"x" * 3_000_000])
def test_what_is_no_worklist_is_told(whole, data):
    status, problem = whole.send("/worklist/sheet", {"file": SimpleUploadedFile("w.csv", data)})
    assert status in (400, 413)
    assert problem["cure"]


def test_unknown_machines_and_setups_are_told(whole, work):
    assert whole.get("/worklist/nothing")[0] == 404
    assert whole.get("/worklist.csv?setup=nothing")[0] == 404
    assert whole.post("/worklist/ticks", ticks(work, ["nobody"]))[0] == 404
    assert whole.get("/worklist.pdf")[0] == 404
    assert Api("tove").post("/worklist/ticks", ticks(work, [work["machines"][0]["id"]]))[0] == 403


def test_by_hand_is_never_in_step(whole, tmp_path):
    load_machines(load_people(), tmp_path)
    machine = next(m for m in whole.get("/machines")[1]["machines"] if m["by_hand"]["total"])
    found = whole.get(f"/worklist/{machine['setup']}")[1]
    assert machine["by_hand"] == {"done": 0, "total": len(found["items"])}
    whole.post("/worklist/ticks", ticks(found, [machine["id"]]))
    after = next(m for m in whole.get("/machines")[1]["machines"] if m["id"] == machine["id"])
    assert after["by_hand"] == {"done": len(found["items"]), "total": len(found["items"])}
    assert (after["state"], [f["state"] for f in after["files"]]) == (machine["state"], [f["state"] for f in machine["files"]])
