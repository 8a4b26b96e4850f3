import threading

import pytest
from django.test import Client

from amberkey.demo.load import PASSWORD
from amberkey.server.people.addresses import address_of, networks
from amberkey.server.people.gate import AT_ONCE, TRIES, WAITING, Gate
from amberkey.server.people.models import AuditEntry
from amberkey.server.problems import TryLater
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


def test_nobody_is_signed_in_by_another_site(example):
    client = Client(enforce_csrf_checks=True)
    given = {"name": "ines", "password": PASSWORD}
    assert client.post("/api/session", given, content_type="application/json").status_code == 403
    token = client.get("/api/session").json()["csrf"]
    answer = client.post("/api/session", given, content_type="application/json", headers={"X-CSRFToken": token})
    assert answer.json()["me"]["name"] == "Ines"


def test_an_address_that_tries_too_often_waits_and_others_dont(example):
    stranger = Client(REMOTE_ADDR="192.0.2.7")
    for n in range(TRIES):
        given = {"name": f"nobody-{n}", "password": "guess"}
        assert stranger.post("/api/session", given, content_type="application/json").status_code == 401
    answer = stranger.post("/api/session", {"name": "ines", "password": PASSWORD}, content_type="application/json")
    assert answer.status_code == 429
    assert int(answer["Retry-After"]) > 0
    other = Client(REMOTE_ADDR="192.0.2.8")
    for _ in range(TRIES + 1):
        given = {"name": "ines", "password": PASSWORD}
        assert other.post("/api/session", given, content_type="application/json").status_code == 200


def test_tries_come_back_with_time():
    now = [0.0]
    held = Gate(clock=lambda: now[0])
    for _ in range(TRIES):
        with held.one_try("a"):
            pass
    with pytest.raises(TryLater) as refused, held.one_try("a"):
        pass
    now[0] += refused.value.again_after
    with held.one_try("a"):
        pass


def test_few_passwords_are_checked_at_once():
    held = Gate()
    inside, leave = threading.Barrier(AT_ONCE + 1), threading.Event()

    def check():
        with held.one_try("a"):
            inside.wait()
            leave.wait()

    def wait():
        with held.one_try("b"):
            pass

    first = threading.Thread(target=check)
    first.start()
    inside.wait()
    waiting = [threading.Thread(target=wait) for _ in range(WAITING)]
    for one in waiting:
        one.start()
    while held._places._value:  # until all places are taken
        pass
    with pytest.raises(TryLater, match="Too many are signing in"), held.one_try("c"):
        pass
    leave.set()
    for one in (first, *waiting):
        one.join()
    with held.one_try("c"):
        pass


@pytest.mark.parametrize(
    "asked_from, said, counts",
    [
        ("192.0.2.1", "", "192.0.2.1"),
        ("192.0.2.1", "198.51.100.9", "192.0.2.1"),
        ("10.0.0.2", "198.51.100.9", "198.51.100.9"),
        ("10.0.0.2", "1.2.3.4, 198.51.100.9", "198.51.100.9"),
        ("10.0.0.2", "1.2.3.4, 198.51.100.9, 10.0.0.3", "198.51.100.9"),
        ("10.0.0.2", "nonsense", "10.0.0.2"),
        ("10.0.0.2", "2001:db8::1", "2001:db8::1"),
    ],
)
def test_only_a_proxy_of_ours_is_believed(rf, settings, asked_from, said, counts):
    settings.PROXIES = networks("10.0.0.0/24")
    request = rf.get("/", REMOTE_ADDR=asked_from, headers={"X-Forwarded-For": said} if said else {})
    assert address_of(request) == counts
