"""Lists of people and machines in and out: uploaded, matched, checked and taken by jobs."""

import os
import pathlib
import signal
import subprocess
import sys

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.working import do_check, do_open, do_take
from tests.core.organisations import machine, organisation
from tests.server.test_organisation import GERMAN, strait, table  # noqa: F401

ROOT = pathlib.Path(__file__).parents[2]


def upload(api, kind, text, name="people.csv"):
    return api.send(f"/organisation/lists/{kind}", {"file": SimpleUploadedFile(name, text.encode())})


def checked(api, kind, text):
    status, begun = upload(api, kind, text)
    assert status == 200, begun
    status, checking = api.post(f"/organisation/imports/{begun['id']}/check", {"matching": begun["matching"]})
    assert (status, checking["state"]) == (200, "checking")
    do_check(begun["id"])
    return api.get(f"/organisation/imports/{begun['id']}")[1]


def take(api, found, **more):
    status, taking = api.post(f"/organisation/imports/{found['id']}/take", more)
    if status == 200:
        do_take(found["id"])
    return status, api.get(f"/organisation/imports/{found['id']}")[1] if status == 200 else taking


PEOPLE = "Name;Abteilung;Roles;Machines\nBo Vik;Harbour;pilot;one\nAda;Control room;clerk;one\nDesk;Harbour;;two\n"


@pytest.mark.usefixtures("strait")
def test_a_list_is_matched_checked_and_taken_as_one_change(jorun):
    found = checked(jorun, "people", PEOPLE)
    assert found["state"] == "checked"
    assert found["told"] == [
        "Adds 1 person or shared sign-in.",
        "Changes 1 person or shared sign-in.",
        "Leaves as they are: 1 person or shared sign-in.",
        "Roles changes for 1 person or shared sign-in.",
        "The sheet says nothing of Id, Retired, Stands for; that stays as it is.",
    ]
    assert (found["done"], found["total"], found["good"], found["bad"]) == (3, 3, 2, 0)
    assert table(jorun, "people")["total"] == 2
    status, taken = take(jorun, found)
    assert (status, taken["state"]) == (200, "taken")
    assert table(jorun, "people")["total"] == 3
    assert jorun.get("/history")[1][0]["title"] == "Brought in 2 people and shared sign-ins from people.csv"
    assert jorun.post(f"/history/{taken['change']}/undo")[0] == 200
    assert table(jorun, "people")["total"] == 2


@pytest.mark.usefixtures("strait")
def test_a_list_of_somebody_elses_people_is_told(jorun):
    found = checked(jorun, "people", "Name;Department\nXenia;harbour\nYorick;control\n")
    assert found["told"][-1] == "Nothing in it is here yet: look whether it is the list of somebody else."
    assert "somebody else" not in " ".join(checked(jorun, "people", PEOPLE)["told"])


@pytest.mark.usefixtures("strait")
def test_faults_name_their_rows_and_good_rows_can_be_taken(jorun):
    found = checked(jorun, "people", PEOPLE + "Cy;Attic;cook;nine\n=1+1;Harbour;;\n")
    assert [f["place"] for f in found["faults"]] == ["row 5, Department", "row 5, Machines", "row 5, Roles", "row 6, column 1"]
    assert found["bad"] == 2
    status, problem = take(jorun, found)
    assert (status, problem["title"]) == (409, "2 rows have faults.")
    assert table(jorun, "people")["total"] == 2
    assert take(jorun, found, only_good=True)[1]["state"] == "taken"
    assert table(jorun, "people")["total"] == 3


@pytest.mark.usefixtures("strait")
def test_a_list_that_was_checked_before_somebody_elses_change_takes_nothing_by_half(ines, jorun):
    found = checked(jorun, "people", PEOPLE)
    before = next(r["item"] for r in table(ines, "people")["rows"] if r["id"] == "ada")
    items = [{"section": "people", "before": before, "after": {**before, "name": "Ada B"}}]
    assert ines.post("/organisation/change", {"title": "Renamed Ada", "items": items})[0] == 200
    status, done = take(jorun, found)
    assert (status, done["state"]) == (200, "failed")
    assert "Ines changed Strait in the meantime" in done["says"]
    assert table(jorun, "people")["total"] == 2


@pytest.mark.usefixtures("strait")
def test_jobs_that_run_twice_double_nothing(jorun):
    found = checked(jorun, "people", PEOPLE)
    do_check(found["id"])
    take(jorun, found)
    do_take(found["id"])
    assert table(jorun, "people")["total"] == 3
    assert [h["title"] for h in jorun.get("/history")[1]].count("Brought in 2 people and shared sign-ins from people.csv") == 1


@pytest.mark.usefixtures("strait")
def test_a_wrong_matching_is_refused(jorun):
    begun = upload(jorun, "people", PEOPLE)[1]
    for matching in ({"name": 9}, {"ship": 0}, {"name": 0, "id": 0}):
        assert jorun.post(f"/organisation/imports/{begun['id']}/check", {"matching": matching})[0] == 400
    jorun.post(f"/organisation/imports/{begun['id']}/check", {"matching": {"roles": 2}})
    do_check(begun["id"])
    found = jorun.get(f"/organisation/imports/{begun['id']}")[1]
    assert (found["state"], found["says"]) == (
        "failed",
        "headings: The sheet has no column for Id or Name. Say which of its columns that is.",
    )


@pytest.mark.usefixtures("strait")
def test_what_is_no_sheet_or_list_is_refused(jorun, tove):
    assert upload(jorun, "people", "")[0] == 400
    assert upload(jorun, "ships", PEOPLE)[0] == 404
    assert upload(tove, "people", PEOPLE)[0] == 403
    assert jorun.get("/organisation/imports/00000000-0000-0000-0000-000000000000")[0] == 404
    assert take(jorun, upload(jorun, "people", PEOPLE)[1])[0] == 409


@pytest.mark.usefixtures("strait")
@pytest.mark.parametrize("form", ["csv", "xlsx"])
@pytest.mark.parametrize("kind", ["people", "machines"])
def test_a_list_that_comes_back_as_it_went_out_changes_nothing(jorun, kind, form):
    sheet = jorun.client.get(f"/api/organisation/lists/{kind}.{form}")
    name = {"people": "people-with-names"}.get(kind, kind)
    assert f'filename="{name}.{form}"' in sheet["Content-Disposition"]
    begun = jorun.send(f"/organisation/lists/{kind}", {"file": SimpleUploadedFile(f"x.{form}", sheet.content)})[1]
    assert begun["state"] == ("opening" if form == "xlsx" else "new")
    do_open(begun["id"])
    begun = jorun.get(f"/organisation/imports/{begun['id']}")[1]
    jorun.post(f"/organisation/imports/{begun['id']}/check", {"matching": begun["matching"]})
    do_check(begun["id"])
    found = jorun.get(f"/organisation/imports/{begun['id']}")[1]
    assert (found["state"], found["good"], found["bad"]) == ("checked", 0, 0)
    assert jorun.post(f"/organisation/imports/{begun['id']}/take", {})[0] == 409


def worker() -> subprocess.Popen:
    """A real worker on the tests' database."""
    from django.db import connection

    env = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "AMBERKEY_DB_NAME": connection.settings_dict["NAME"]}
    env |= {"AMBERKEY_WORKER_HEARTBEAT": "0.5", "DJANGO_SETTINGS_MODULE": "amberkey.server.settings"}
    return subprocess.Popen([sys.executable, "-m", "amberkey.server.jobs"], env=env, stderr=subprocess.DEVNULL)


def until(import_id, is_so):
    """Look until it is so; a test that waits for ever is ended from outside."""
    while True:
        found = ListImport.objects.get(id=import_id)
        if is_so(found):
            return found


@pytest.mark.django_db(transaction=True)
def test_killing_the_worker_in_the_middle_loses_nothing_and_doubles_nothing(transactional_db, machines_folder):
    from amberkey.demo.load import load_people
    from amberkey.server.library.verbs.change import create
    from tests import example as small
    from tests.core.organisations import read
    from tests.kept import put
    from tests.server.conftest import Api

    put("the documents", lambda: small.load(load_people()))
    actor = load_people()
    for name in ("harbour", "control", "pilot", "clerk", "ada"):
        create(actor, read({"format": "amberkey/profile@1", "id": name, "name": name.title()}))
    create(actor, read(organisation(machines=[machine("one", programs=GERMAN), machine("two", programs=GERMAN)])))
    api = Api("jorun")
    text = "Name,Department,Machines\n" + "".join(f"P {n},harbour,one\n" for n in range(5_000))
    begun = upload(api, "people", text)[1]
    api.post(f"/organisation/imports/{begun['id']}/check", {"matching": begun["matching"]})
    first = worker()
    until(begun["id"], lambda f: 0 < f.done < f.total)
    first.send_signal(signal.SIGKILL)
    first.wait()
    assert ListImport.objects.get(id=begun["id"]).state == "checking"
    second = worker()
    try:
        until(begun["id"], lambda f: f.state == "checked")
        assert api.post(f"/organisation/imports/{begun['id']}/take", {})[0] == 200
        until(begun["id"], lambda f: f.state == "taken")
    finally:
        second.terminate()
        second.wait()
    assert api.get("/organisation")[1]["people"] == 6 + 5_000
    assert sum("Brought in" in h["title"] for h in api.get("/history")[1]) == 1
    assert [r["cells"]["name"] for r in table(api, "people", words="p 4999")["rows"]].count("P 4999") == 1
    assert len({s["person"] for s in api.get("/documents/organisation/organisation")[1]["seats"]}) == 2 + 5_000
