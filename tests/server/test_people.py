import pytest
from django.test import Client

from amberkey.server.people.models import AuditEntry
from tests.server.conftest import Api

WRITES = [
    ("/clashes/ffff/decision", {"setup": "ticket-counters", "way": "allow"}, "editor"),
    (
        "/commands/shortcuts",
        {"setup": "ticket-counters", "program": "quaysheet", "command": "filter", "shortcuts": []},
        "editor",
    ),
    ("/history/1/undo", {}, "editor"),
    ("/history/1/redo", {}, "editor"),
    ("/profiles/house/release", {"number": 1}, "releaser"),
    ("/machines/counter-3/apply", {}, "releaser"),
    ("/machines/counter-3/code", {}, "releaser"),
]
READS = ["/lenses", "/programs?setup=ticket-counters", "/clashes?setup=ticket-counters", "/profiles", "/machines", "/history"]


@pytest.mark.parametrize("path", READS)
def test_nobody_reads_without_signing_in(example, path):
    assert Api().get(path)[0] == 401


@pytest.mark.parametrize("path, body, role", WRITES)
def test_nobody_writes_without_signing_in(example, path, body, role):
    assert Api().post(path, body)[0] == 401


@pytest.mark.parametrize("path, body, role", [w for w in WRITES if "ffff" not in w[0] and w[0] != "/history/1/redo"])
def test_a_reader_who_writes_is_told_who_may(tove, path, body, role):
    status, problem = tove.post(path, body)
    assert status == 403
    assert f"needs {'an' if role[0] in 'ae' else 'a'} {role}" in problem["title"]
    assert problem["safe"] == "Nothing was changed."


def test_an_editor_does_not_release(jorun):
    assert jorun.post("/profiles/house/release", {"number": 1})[0] == 403


def test_who_set_the_server_up_is_its_administrator(db):
    from amberkey.demo.load import PASSWORD
    from amberkey.server.people.models import User

    User.objects.create_superuser("root", password=PASSWORD)
    api = Api("root")
    assert api.get("/session")[1]["me"]["role"] == "administrator"
    assert api.post("/history/1/undo")[0] == 404


def test_every_write_names_its_actor(ines):
    given = {"setup": "ticket-counters", "program": "quaysheet", "command": "filter", "shortcuts": ["F12"]}
    ines.post("/commands/shortcuts", given)
    entry = AuditEntry.objects.first()
    assert (entry.actor.username, entry.action, entry.subject) == ("ines", "changed", "profile/house")


def test_wrong_passwords_end_in_a_lock_out(example):
    api = Api()
    answers = [api.post("/session", {"name": "ines", "password": "guess"})[0] for _ in range(9)]
    assert answers[0] == 401
    assert answers[-1] == 429


def test_writing_needs_the_pages_token(example):
    client = Client(enforce_csrf_checks=True)
    client.force_login(example.user)
    answer = client.post("/api/history/1/undo", "{}", content_type="application/json")
    assert answer.status_code == 403


def test_signing_out_ends_the_session(ines):
    assert ines.client.delete("/api/session").status_code == 200
    assert ines.get("/lenses")[0] == 401
