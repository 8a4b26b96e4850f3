"""What comes in is hostile until proven otherwise: each of these once answered 500, or could have."""

import io
import json
import lzma
import zipfile
import zlib

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.test import Client

from amberkey.server.boundary import MOST_BYTES
from amberkey.server.library.models import Document
from tests.server.conftest import Api

PLAN = {"setup": "ticket-counters", "program": "quaysheet", "command": "filter", "shortcuts": ["F12"]}


@pytest.mark.parametrize("path", ["/documents/profile/a%00b", "/programs?setup=a%00b", "/clashes/decided?words=%00"])
def test_a_character_without_a_number_is_refused_in_addresses(ines, path):
    status, problem = ines.get(path)
    assert status == 400
    assert "number 0" in problem["detail"]


@pytest.mark.parametrize("text", ["a\0b", "a\ud800b"])
def test_texts_that_cant_be_kept_are_refused_with_their_place(ines, text):
    status, problem = ines.post("/commands/plan", {**PLAN, "shortcuts": ["F1", text]})
    assert status == 400
    assert "shortcuts[1]" in problem["detail"] or "lone surrogate" in problem["detail"]
    assert ines.post("/session", {"name": text, "password": "x"})[0] == 400


def test_a_cookie_that_nobody_set_is_no_session(example):
    client = Client(raise_request_exception=False)
    sent = r'sessionid="a\000b"; csrftoken="\000"'  # as it travels: newer Pythons refuse to put it into a jar
    assert client.get("/api/session", HTTP_COOKIE=sent).json()["me"] is None


def test_long_names_and_numbers_out_of_range_are_refused(ines):
    assert ines.post("/session", {"name": "x" * 200, "password": "x"})[0] == 422
    assert ines.post("/session", {"name": "x", "password": "x" * 2_000})[0] == 422
    assert ines.post(f"/history/{2**70}/undo")[0] == 422
    assert ines.post("/history/-1/undo")[0] == 422
    assert ines.post("/profiles/house/release", {"number": 2**70})[0] == 422
    given = {"setup": "ticket-counters", "way": "allow", "reason": "x" * 700}
    assert ines.post("/clashes/ffff/decision", given)[0] == 422


@pytest.mark.parametrize("body", [b"{", b"[1", b'{"a":' * 5_000, b"\xff\xfe", b'{"a": 1, "a": 2}'])
def test_bodies_that_cant_be_read_are_refused_with_the_reason(ines, body):
    answer = ines.client.post("/api/settlements/plan", body, content_type="application/json")
    assert answer.status_code in (400, 413)
    assert answer.json()["detail"]


def test_what_django_itself_refuses_is_told_like_everything_else(ines):
    assert ines.get("/nothing/here")[1]["title"] == "There is no such address."
    answer = ines.client.put("/api/history")
    assert (answer.status_code, answer["Allow"], answer["Content-Type"]) == (405, "GET", "application/problem+json")
    broken = "multipart/form-data"
    answer = ines.client.post("/api/organisation/lists/people", b"--x\r\n", content_type=broken)
    assert (answer.status_code, answer["Content-Type"]) == (400, "application/problem+json")


def test_a_request_that_is_too_large_is_refused_before_it_is_read(ines):
    answer = ines.client.post(
        "/api/organisation/lists/people", b"", content_type="multipart/form-data", CONTENT_LENGTH=str(MOST_BYTES + 1)
    )
    assert answer.status_code == 413
    assert "20 MB is the most" in answer.json()["detail"]


def test_answers_are_kept_by_nobody_unless_they_say_so(ines):
    assert ines.client.get("/api/profiles")["Cache-Control"] == "no-store"


def test_a_deep_choice_is_refused(ines):
    bundle = ines.client.get("/api/profiles/house/bundle").content
    given = {"file": SimpleUploadedFile("x.zip", bundle), "chosen": "[" * 50_000}
    assert ines.send("/profiles/house/import", given)[0] == 413


@pytest.mark.parametrize("method", [zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2])
def test_damaged_members_of_a_bundle_are_told(ines, method):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as archive:
        archive.writestr("manifest.json", json.dumps({"a": "b" * 3_000}))
    data = bytearray(out.getvalue())
    data[60:90] = b"\xff" * 30
    file = {"file": SimpleUploadedFile("x.zip", bytes(data))}
    status, problem = ines.send("/profiles/house/import/preview", file)
    assert status == 400
    assert problem["title"] == "This bundle can't be taken."


@pytest.mark.parametrize("error", [zlib.error, lzma.LZMAError, EOFError, ValueError])
def test_whatever_a_zip_file_breaks_with_is_told(ines, monkeypatch, error):
    bundle = ines.client.get("/api/profiles/house/bundle").content

    def broken(*_):
        raise error

    monkeypatch.setattr(zipfile.ZipExtFile, "read", broken)
    status, problem = ines.send("/profiles/house/import/preview", {"file": SimpleUploadedFile("x.zip", bundle)})
    assert (status, problem["title"]) == (400, "This bundle can't be taken.")


def test_names_that_turn_the_reading_direction_are_refused(ines):
    status, body = ines.get("/documents/profile/house")
    digest = ines.client.get("/api/documents/profile/house")["ETag"]
    status, problem = ines.put("/documents/profile/house", {**body, "name": "Ho\u202euse"}, **{"If-Match": digest})
    assert status == 400
    assert "turns the reading direction" in problem["detail"]
    assert Document.objects.get(key="profile/house").name == body["name"]


def test_while_the_database_is_away_it_is_said_when_to_ask_again(ines, monkeypatch):
    def away(*_, **__):
        raise OperationalError("the connection is closed")

    for place in ("amberkey.server.library.api.digests", "django.contrib.sessions.backends.db.SessionStore.load"):
        with monkeypatch.context() as patched:
            patched.setattr(place, away)
            answer = ines.client.get("/api/profiles")
        assert (answer.status_code, answer["Retry-After"], answer["Content-Type"]) == (503, "2", "application/problem+json")
    assert ines.get("/profiles")[0] == 200


def test_what_nobody_foresaw_says_that_nothing_is_half_done(ines, monkeypatch):
    def wrong(*_, **__):
        raise RuntimeError("secret detail")

    monkeypatch.setattr("amberkey.server.library.api.digests", wrong)
    status, problem = ines.get("/profiles")
    assert status == 500
    assert "nothing is half done" in problem["safe"]
    assert "secret" not in json.dumps(problem)


def test_one_code_a_machine_is_open(ines, example):
    first = ines.post("/machines/harbour-desk-2/code")[1]["code"]
    second = ines.post("/machines/harbour-desk-2/code")[1]["code"]
    agent = Api()
    assert agent.post("/agent/enrol", {"code": first})[0] == 403
    assert agent.post("/agent/enrol", {"code": second})[0] == 200


@pytest.mark.parametrize(
    "path, body",
    [
        ("/tasks", {"name": "Call", "other_words": ["\x0e"]}),
        ("/tasks", {"name": "Call", "group": "\x0e"}),
        ("/catalogue", {"name": "Till", "kind": "utility", "version": "\x8f", "platforms": ["windows"]}),
        ("/beginning/organisation", {"name": "Strait", "department": "\x0f§"}),
    ],
)
def test_what_no_name_may_hold_is_refused_where_it_stands(ines, path, body):
    status, problem = ines.post(path, body)
    assert status == 422
    assert "control character" in json.dumps(problem)
