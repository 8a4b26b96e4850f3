"""Sheets on the server: out in every form, in again with a preview, and the standard's on the comparison screen."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.core.exchange.as_sheets.found import CLASH_HEADS
from amberkey.core.exchange.sheets import read_sheet
from amberkey.core.exchange.sheets_out import CONTENT_TYPES, SHEET_FORMS
from tests.server.conftest import Api
from tests.server.test_command_lists import ask, rows
from tests.server.test_standard import line, save
from tests.server.test_workbench import GERMAN, decide, groups, ways
from tests.server.unpacked import unpacked

PATHS = [
    f"/standard.FORM?setup={GERMAN}",
    "/standard/lines.FORM",
    f"/coverage.FORM?setup={GERMAN}&everywhere=true",
    f"/clashes.FORM?setup={GERMAN}",
    f"/profiles/house/sheet.FORM?setup={GERMAN}",
    "/catalogue/quaysheet/7.2/commands.FORM",
    "/organisation/lists/machines.FORM",
]


def out(api, path):
    answer = api.client.get(f"/api{path}")
    assert answer.status_code == 200, answer.content
    return answer


def upload(data, name="sheet.csv"):
    return {"file": SimpleUploadedFile(name, data)}


@pytest.mark.parametrize("path", PATHS)
def test_every_sheet_goes_out_in_every_form_and_says_the_same(ines, path):
    found = []
    for form in SHEET_FORMS:
        answer = out(ines, path.replace("FORM", form))
        assert answer["Content-Type"] == CONTENT_TYPES[form]
        assert f".{form}" in answer["Content-Disposition"]
        sheet = read_sheet(answer.content)
        found.append((sheet.heads, [r.cells for r in sheet.rows], sheet.faults))
    assert found[0] == found[1] == found[2]
    assert found[0][2] == ()


@pytest.mark.parametrize("path", PATHS)
def test_there_are_no_other_forms(ines, path):
    assert ines.get(path.replace("FORM", "pdf"))[0] == 404


def test_the_clashes_of_a_sheet_are_those_of_the_screen(ines):
    shown = unpacked(ines.get(f"/clashes?setup={GERMAN}")[1])
    sheet = read_sheet(out(ines, f"/clashes.csv?setup={GERMAN}").content)
    rows = [dict(zip(CLASH_HEADS, r.cells, strict=True)) for r in sheet.rows]
    assert [r["Clash id"] for r in rows] == [g["identity"] for g in shown]
    assert [r["What happens"] for r in rows] == [g["says"] for g in shown]
    assert [int(r["People"]) for r in rows] == [g["people"] for g in shown]
    assert any("Strg" in r["Keys in words"] for r in rows)


def bring(api, data, name="sheet.csv", how="add"):
    return api.send("/profiles/house/import/preview", {**upload(data, name), "how": how})


@pytest.mark.parametrize("form", SHEET_FORMS)
def test_a_profiles_sheet_comes_in_with_a_preview(ines, form):
    data = out(ines, f"/profiles/house/sheet.{form}").content
    status, found = bring(ines, data, f"house.{form}", "replace")
    assert (status, found["differences"], found["signer"], found["ways"]) == (200, [], None, [])
    assert found["unchanged"] == len(ines.get("/documents/profile/house")[1]["entries"])


def test_what_was_changed_in_the_sheet_is_told_and_taken_and_undone(ines):
    data = out(ines, "/profiles/house/sheet.csv").content.replace(b"Control+Alt+V", b"Control+Alt+B")
    (told,) = bring(ines, data)[1]["differences"]
    assert (told["does"], "Paste values only" in told["says"]) == ("changes", True)
    body = {**upload(data), "chosen": json.dumps([told["key"]])}
    status, taken = ines.send("/profiles/house/import", body)
    assert (status, taken["title"]) == (200, "Brought in 1 entry from sheet.csv")
    keys = {e["command"]: e["shortcuts"] for e in ines.get("/documents/profile/house")[1]["entries"]}
    assert keys["paste-values"] == [{"keys": "Control+Alt+B"}]
    ines.post(f"/history/{taken['id']}/undo")
    assert bring(ines, out(ines, "/profiles/house/sheet.csv").content)[1]["differences"] == []


def test_a_row_that_was_taken_out_removes_only_when_replacing(ines):
    lines = out(ines, "/profiles/house/sheet.csv").content.splitlines(keepends=True)
    data = b"".join(lines[:-1])
    assert bring(ines, data)[1]["differences"] == []
    assert [d["does"] for d in bring(ines, data, how="replace")[1]["differences"]] == ["removes"]


def test_what_is_wrong_in_the_sheet_is_told_with_its_places(ines):
    data = out(ines, "/profiles/house/sheet.csv").content.replace(b"Control+Alt+V", b"Hyper+V")
    status, problem = bring(ines, data)
    assert (status, problem["faults"][0]["place"].endswith(", Keys")) == (400, True)


@pytest.mark.parametrize(
    ("data", "name"),
    [(b"PK\x03\x04", "x.xlsx"), (b"PK\x03\x04", "x.ods"), (b"x", "x.xlsx"), (b"", "x.csv"), (b"\0" * 9, "x.ods")],
)
def test_what_is_no_sheet_is_told(ines, data, name):
    status, problem = bring(ines, data, name)
    assert status == 400
    assert problem["cure"]


def test_too_large_a_sheet_is_refused_before_it_is_read(ines):
    status, problem = bring(ines, b"Keys,Platform,Command id,Program id\n" * 80_000)
    assert (status, "MB is the most" in problem["detail"]) == (400, True)


def test_the_standards_sheet_is_held_against_it_and_taken_over(ines):
    assert save(ines, line("Control+S", reason="as ever"), line("Meta+S", platform="macos"))[0] == 200
    data = out(ines, f"/standard/lines.csv?setup={GERMAN}").content
    _, side = ines.send("/compare/bundle", upload(data, "standard.csv"))
    assert ines.get(f"/compare?left=standard/standard&right={side['text']}")[1]["count"] == 0
    changed = data.replace(b"Control+S", b"Control+Alt+S")
    status, side = ines.send("/compare/bundle", upload(changed, "standard.csv"))
    assert (status, side["title"]) == (200, "The sheet standard.csv")
    status, found = ines.get(f"/compare?left=standard/standard&right={side['text']}")
    (told,) = [d for g in found["groups"] for d in g["differences"]]
    body = {"into": "standard/standard", "other": side["text"], "chosen": [told["id"]]}
    status, taken = ines.post("/compare/take", body)
    assert (status, taken["title"]) == (200, "Took 1 difference over from The sheet standard.csv")
    assert b"Control+Alt+S" in out(ines, "/standard/lines.csv").content
    ines.post(f"/history/{taken['id']}/undo")
    assert out(ines, f"/standard/lines.csv?setup={GERMAN}").content == data


def test_what_is_wrong_in_the_standards_sheet_is_told(ines):
    save(ines, line("Control+S"))
    data = out(ines, "/standard/lines.csv").content.replace(b"Control+S", b"Hyper+S")
    status, problem = ines.send("/compare/bundle", upload(data, "standard.csv"))
    assert (status, problem["faults"][0]["place"]) == (400, "row 2, Keys")


def test_a_sheet_of_commands_read_as_a_list_changes_nothing(ines):
    data = out(ines, "/catalogue/quaysheet/7.2/commands.csv").content
    found = ines.send("/command-lists", upload(data, "commands.csv"))[1]
    found = ask(ines, found, program="quaysheet@7.2")
    assert found["counts"] == {"same": 40, "guessed": 0, "retires": 0, "returns": 0, "gone": 0}
    assert {r["what"] for r in rows(ines, found)} == {"same"}


def test_a_persons_own_layer_is_not_for_readers(ines):
    tove = Api("tove")
    assert tove.client.get("/api/profiles/house/sheet.csv").status_code == 200
    assert tove.get("/profiles/nobody/sheet.csv")[0] == 404
    identity = groups(ines)["quote-fare"]["identity"]
    decide(ines, identity, ways(ines, identity)[0]["key"])
    assert b"quote-fare" in out(tove, "/profiles/house/sheet.csv").content
