"""What says something of a person's hands, health or own layers: for who looks after settings, and nowhere else."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.demo.load import load_people
from amberkey.server.library.verbs.change import create
from amberkey.server.library.verbs.release import release
from amberkey.server.people.models import AuditEntry
from tests import example as small
from tests.core.organisations import machine, organisation, read
from tests.kept import put
from tests.server.conftest import Api
from tests.server.test_organisation import GERMAN

SECRETS = ("mouse_hand", "left hand", "Loudvoice", "assistive", "bo-own", "Bo alone")


@pytest.fixture
def staff(db):
    """Bo has a mouse in the left hand, a helper that reads the screen, and a layer of their own; Ada has none of that."""
    put("the documents", lambda: small.load(load_people()))
    actor = load_people()
    for name in ("harbour", "control", "pilot", "clerk", "ada"):
        create(actor, read({"format": "amberkey/profile@1", "id": name, "name": name.title()}))
    own = {"program": "quaysheet", "command": "filter", "platform": "windows", "shortcuts": [{"keys": "F12"}]}
    create(actor, read({"format": "amberkey/profile@1", "id": "bo-own", "name": "Bo alone", "entries": [own]}))
    ada = {"id": "ada", "name": "Ada", "department": "control", "roles": ["clerk"]}
    bo = {**ada, "id": "bo", "name": "Bo", "profiles": ["bo-own"], "mouse_hand": "left"}
    bo["assistive"] = {"name": "Loudvoice", "modifier": "Insert"}
    machines = [machine("one", programs=GERMAN), machine("two", programs=GERMAN)]
    seats = [*({"person": p, "machine": "one"} for p in ("ada", "bo")), {"person": "bo", "machine": "two"}]
    create(actor, read(organisation(people=[ada, bo], machines=machines, seats=seats)))
    release(actor, "profile/bo-own", 1)
    return actor


def readable(api: Api) -> str:
    """Everything that can be read without naming anything."""
    found = [api.get(p)[1] for p in ("/organisation", "/organisation/setups", "/lenses", "/profiles", "/history", "/machines")]
    found += [api.get(f"/organisation/table/{s}")[1] for s in ("people", "machines")]
    for lens in api.get("/lenses")[1]:
        found += [api.get(f"/{what}?setup={lens['setup']}")[1] for what in ("programs", "clashes", "clashes/meant", "keyboard")]
        found.append(api.get(f"/clashes?everywhere=true&setup={lens['setup']}")[1])
    return json.dumps(found, ensure_ascii=False)


@pytest.mark.usefixtures("staff")
def test_a_reader_finds_nothing_of_it():
    tove = Api("tove")
    text = readable(tove)
    assert [s for s in SECRETS if s in text] == []
    assert "Ada" in text
    assert "own settings" not in json.dumps(tove.get("/lenses")[1])
    for words in ("bo alone", "left", "loudvoice"):
        assert tove.get(f"/organisation/table/people?words={words}")[1]["total"] == 0
    assert tove.get("/organisation/table/people?profile=bo-own")[1]["total"] == 0


@pytest.mark.usefixtures("staff")
def test_who_looks_after_settings_sees_it_where_it_is_set():
    jorun = Api("jorun")
    rows = {r["id"]: r for r in jorun.get("/organisation/table/people")[1]["rows"]}
    assert rows["bo"]["item"]["mouse_hand"] == "left"
    assert rows["bo"]["cells"]["profiles"] == "Bo alone"
    assert jorun.get("/organisation/table/people?words=bo alone")[1]["total"] == 1
    assert any("own settings" in lens["name"] for lens in jorun.get("/lenses")[1])
    assert jorun.get("/organisation/effective?person=bo")[0] == 200


@pytest.mark.usefixtures("staff")
def test_a_setup_of_ones_own_is_not_looked_through_by_everybody():
    own = next(s for s in Api("jorun").get("/lenses")[1] if "own settings" in s["name"])["setup"]
    tove = Api("tove")
    assert "bo-own" not in json.dumps(tove.get("/commands/choices?setup=all")[1])
    assert own not in json.dumps(tove.get("/commands?setup=all&state=own key")[1])
    assert Api("jorun").get(f"/commands?setup={own}")[0] == 200
    assert "bo-own" not in json.dumps(tove.get("/lookup?words=bo alone")[1])
    assert "bo-own" in json.dumps(Api("jorun").get("/lookup?words=bo alone")[1])
    for what in ("programs", "clashes", "keyboard", "standard", "commands"):
        assert tove.get(f"/{what}?setup={own}")[0] == 404, what
    assert tove.post("/try", {"lanes": [{"setup": own}], "text": "F5"})[0] == 404
    for document in ("organisation/organisation", "profile/bo-own"):
        assert tove.get(f"/documents/{document}")[0] == 404
    assert tove.get("/documents/profile/house")[0] == 200


@pytest.mark.usefixtures("staff")
@pytest.mark.parametrize("name", ["tove", "ines"])
def test_it_stands_in_no_list_and_no_bundle_whoever_takes_them_out(name):
    api = Api(name)
    for kind in ("people", "machines", "uses"):
        sheet = api.client.get(f"/api/organisation/lists/{kind}.csv").content.decode()
        assert [s for s in SECRETS if s in sheet] == []
        assert "Mouse" not in sheet
    status, _ = api.get("/profiles/bo-own/bundle")
    assert status == (404 if name == "tove" else 409)
    house = api.client.get("/api/profiles/house/bundle")
    assert house.status_code == 200
    # A preview says what is in the profile that something would be brought into.
    file = {"file": SimpleUploadedFile("house.zip", house.content)}
    assert api.send("/profiles/bo-own/import/preview", file)[0] == (404 if name == "tove" else 200)


@pytest.mark.usefixtures("staff")
def test_records_and_the_audit_name_setups_without_it():
    ines = Api("ines")
    own = next(s for s in ines.get("/lenses")[1] if "own settings" in s["name"])["setup"]
    kept = {"lane": {"setup": own}, "text": "Insert", "seen": "nothing", "passed": False}
    assert ines.post("/records", kept)[0] == 200
    sheet = ines.client.get("/api/records.csv").content.decode()
    audit = json.dumps(list(AuditEntry.objects.values_list("subject", "detail")))
    assert [s for s in ("left hand", "Loudvoice") if s in sheet + audit] == []


@pytest.mark.usefixtures("staff")
def test_what_a_reader_may_not_see_is_not_kept_from_whoever_comes_next():
    """One thread serves them all, one after the other: a reader, then an agent of a machine with own settings."""
    code = Api("ines").post("/machines/two/code")[1]["code"]
    assert Api("tove").get("/lenses")[0] == 200
    assert Api().post("/agent/enrol", {"code": code})[0] == 200
