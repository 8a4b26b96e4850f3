import json
import re

import pytest

from amberkey.server.library.models import Body, Document, Revision


def etag(api, key="profile/house"):
    return api.client.get(f"/api/documents/{key}")["ETag"]


def test_a_save_names_what_it_was_made_from(ines):
    status, house = ines.get("/documents/profile/house")
    assert ines.put("/documents/profile/house", house)[0] == 428
    house["description"] = "Changed"
    status, saved = ines.put("/documents/profile/house?note=Wording", house, **{"If-Match": etag(ines)})
    assert (status, saved["number"]) == (200, 2)
    assert Revision.objects.get(document_id="profile/house", number=2).parent.number == 1


def test_two_people_saving_at_once_the_second_is_told_who_saved_what(ines, jorun):
    house = ines.get("/documents/profile/house")[1]
    seen = etag(ines)
    assert ines.put("/documents/profile/house?note=Mine", {**house, "description": "A"}, **{"If-Match": seen})[0] == 200
    status, problem = jorun.put("/documents/profile/house", {**house, "description": "B"}, **{"If-Match": seen})
    assert status == 409
    assert problem["by"] == "Ines"
    assert problem["changes"] == ["Ines: Mine"]
    assert ines.get("/documents/profile/house")[1]["description"] == "A"


@pytest.mark.parametrize(
    "body, status, says",
    [
        (b"{", 400, "not JSON"),
        (b"[" * 3000, 413, "nests deeper"),
        (b'{"format": "amberkey/profile@9", "id": "house", "name": "H"}', 400, "newer Amber Key"),
        (b'{"format": "amberkey/profile@1", "id": "house", "name": "H", "colour": 1}', 400, "colour"),
        (b'{"format": "amberkey/profile@1", "id": "house", "name": 7}', 400, "name"),
        (b'{"format": "amberkey/profile@1", "id": "other", "name": "H"}', 400, "the address says"),
        (b"", 400, "no document"),
        (b" " * (9 * 1024 * 1024), 413, "MB"),
    ],
)
def test_a_document_that_cannot_be_taken_is_told_why_and_nothing_changes(ines, body, status, says):
    before = etag(ines)
    got, problem = ines.put("/documents/profile/house", body, **{"If-Match": before})
    assert got == status
    assert says in problem["detail"]
    assert etag(ines) == before


def test_twenty_megabytes_are_refused_before_they_are_read(ines):
    status, problem = ines.put("/documents/profile/house", b" " * (20 * 1024 * 1024), **{"If-Match": etag(ines)})
    assert status in (400, 413)
    assert problem["title"]


def test_bodies_are_kept_once(ines):
    before = Body.objects.count()
    change = ines.post(
        "/commands/shortcuts",
        {"setup": "ticket-counters", "program": "quaysheet", "command": "filter", "shortcuts": ["F12"]},
    )[1]
    ines.post(f"/history/{change['id']}/undo")
    # One new body for the edited profile, two for the operations there and back; the restored one was known.
    assert Body.objects.count() == before + 3
    assert Document.objects.get(key="profile/house").newest.number == 3


def test_profiles_are_told_in_words(ines):
    house = next(p for p in ines.get("/profiles")[1] if p["id"] == "house")
    entry = next(e for e in house["entries"] if e["command"] == "Paste values only")
    assert (entry["shortcuts"], entry["over"]) == (["Ctrl Alt V"], ["Ctrl Shift V"])
    assert house["released"] == 1


def test_a_released_revision_stays_while_work_goes_on(ines):
    ines.post(
        "/commands/shortcuts",
        {"setup": "ticket-counters", "program": "quaysheet", "command": "filter", "shortcuts": ["F12"]},
    )
    house = next(p for p in ines.get("/profiles")[1] if p["id"] == "house")
    assert (house["newest"], house["released"]) == (2, 1)
    assert ines.post("/profiles/house/release", {"number": 2})[0] == 200
    assert ines.post("/profiles/house/release", {"number": 9})[0] == 404


def test_the_published_api_and_types_are_fresh():
    import pathlib
    import subprocess

    from amberkey.server.api import api

    web = pathlib.Path(__file__).parents[2] / "web"
    published = json.loads((web / "openapi.json").read_text(encoding="utf-8"))
    assert published == json.loads(json.dumps(api.get_openapi_schema())), "run tools/write_api.py"
    made = subprocess.run(
        [web / "node_modules/.bin/openapi-typescript", "openapi.json"], cwd=web, capture_output=True, text=True, check=True
    )
    assert made.stdout.strip() == (web / "src/api/schema.d.ts").read_text(encoding="utf-8").strip(), "run tools/write_api.py"


def test_an_entry_is_locked_and_let_go(ines):
    house = next(p for p in ines.get("/profiles")[1] if p["id"] == "house")
    key = house["entries"][0]["key"]
    status, done = ines.post("/profiles/house/lock", {"key": key, "locked": True})
    assert status == 200
    assert re.fullmatch(r"Locked [A-Z][^-]*, in [A-Z]\w+", done["title"]), "names, not ids"
    assert next(p for p in ines.get("/profiles")[1] if p["id"] == "house")["entries"][0]["locked"]
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert not next(p for p in ines.get("/profiles")[1] if p["id"] == "house")["entries"][0]["locked"]
    assert ines.post("/profiles/house/lock", {"key": "nothing", "locked": True})[0] == 404


def test_a_press_is_reserved_read_forgivingly_and_freed(ines, tove):
    given = {"keys": "ctrl-shift-u", "platform": "windows", "program": "quaysheet", "reason": "for the bell"}
    assert ines.post("/profiles/house/reserve", given)[0] == 200
    (reserved,) = next(p for p in ines.get("/profiles")[1] if p["id"] == "house")["reserved"]
    assert (reserved["keys"], reserved["program"], reserved["reason"]) == ("Ctrl Shift U", "Quaysheet", "for the bell")
    german = {"keys": "f9", "platform": "windows", "layouts": ["de"]}
    assert ines.post("/profiles/house/reserve", german)[0] == 200
    found = next(p for p in ines.get("/profiles")[1] if p["id"] == "house")["reserved"]
    assert [(r["key"], r["layouts"]) for r in found][1:] == [("F9 on windows for de", ["de"])]
    for keys in ("f8 then b", "ctrl+bakspace"):
        assert ines.post("/profiles/house/reserve", {**given, "keys": keys})[0] == 400
    assert tove.post("/profiles/house/free", {"key": reserved["key"]})[0] == 403
    assert ines.post("/profiles/house/free", {"key": reserved["key"]})[0] == 200
    assert ines.post("/profiles/house/free", {"key": reserved["key"]})[0] == 404
