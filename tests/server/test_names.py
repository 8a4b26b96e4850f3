"""Names of tasks and commands as a sheet: out, in with a preview, undone."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.core.exchange.as_sheets.names import HEADS
from amberkey.core.exchange.sheets import read_sheet
from amberkey.core.exchange.sheets_out import SHEET_FORMS, write_sheet
from amberkey.demo.load import load_people
from amberkey.server.estate import current_estate
from amberkey.server.library.documents import known_programs
from amberkey.server.library.models import ChangeSet
from tests.server.conftest import Api


def rows_of(api, query=""):
    sheet = read_sheet(api.client.get(f"/api/names.csv{query}").content)
    assert sheet.heads == HEADS
    return [list(r.cells) for r in sheet.rows]


def send(api, path, rows, form="csv"):
    data = write_sheet(form, HEADS, rows, "Names")
    return api.send(path, {"file": SimpleUploadedFile(f"n.{form}", data)})


@pytest.mark.parametrize("form", SHEET_FORMS)
def test_names_go_out_and_come_back_as_one_change_that_is_undone(ines, form):
    rows = rows_of(ines)
    task = next(r for r in rows if r[0] == "task")
    command = next(r for r in rows if r[7] == "quaysheet")
    task[4], command[5] = "Ganz anders", "Tout autrement"
    status, told = send(ines, "/names/preview", rows, form)
    assert (status, told["count"], told["things"]) == (200, 2, 2)
    assert {(c["of"], c["language"], c["after"]) for c in told["changes"]} == {
        (task[2], "German", "Ganz anders"),
        (f"{command[1]}: {command[2]}", "French", "Tout autrement"),
    }
    assert current_estate().tasks.task(task[8]).names.get("de") != "Ganz anders", "nothing is written by looking"
    status, done = send(ines, "/names", rows, form)
    assert (status, done["title"]) == (200, "2 names from a sheet")
    assert current_estate().tasks.task(task[8]).names["de"] == "Ganz anders"
    assert known_programs()["quaysheet"].command(command[8]).names["fr"] == "Tout autrement"
    assert rows_of(ines) == rows
    ines.post(f"/history/{done['id']}/undo")
    assert current_estate().tasks.task(task[8]).names.get("de") != "Ganz anders"


def test_a_program_has_a_sheet_of_its_own(ines):
    assert {r[7] for r in rows_of(ines, "?program=quaysheet")} == {"quaysheet"}
    assert ines.get("/names.csv?program=nobody")[0] == 404
    assert ines.get("/names.pdf")[0] == 404


def test_names_that_are_there_already_are_no_change(ines):
    before = ChangeSet.objects.count()
    status, problem = send(ines, "/names", rows_of(ines))
    assert (status, problem["title"]) == (409, "Nothing would change.")
    assert ChangeSet.objects.count() == before


@pytest.mark.parametrize("data", [b"", b"a,b\n1,2\n", b"PK\x03\x04", b"x" * 3_000_000])
@pytest.mark.parametrize("path", ["/names", "/names/preview"])
def test_what_is_no_sheet_of_names_is_told(ines, path, data):
    status, problem = ines.send(path, {"file": SimpleUploadedFile("n.csv", data)})
    assert status in (400, 413)
    assert problem["cure"]


def test_where_nothing_is_there_yet_the_sheet_has_its_headings_alone(db):
    load_people()
    api = Api("ines")
    assert rows_of(api) == []
    assert send(api, "/names", [["task", "", "", "", "A", "", "", "", "save"]])[0] == 400
