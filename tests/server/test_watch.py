"""What whoever runs Amber Key sees: probes, figures, and a log with one id and no secrets."""

import contextlib
import json
import logging

import pytest
import structlog
from django.db import OperationalError
from django.test import Client
from prometheus_client.openmetrics.parser import text_string_to_metric_families

from amberkey.demo.load import PASSWORD
from amberkey.server.fleet.models import Order
from amberkey.server.jobs import AGAIN, begun
from amberkey.server.people.models import AuditEntry
from amberkey.server.watch import probes
from amberkey.server.watch.logs import current_id, logged_as, new_id, without_secrets
from tests.server.conftest import Api

TOKEN = "a token of figures"


@pytest.fixture
def said(caplog):
    caplog.set_level(logging.DEBUG, logger="amberkey")
    return lambda: [json.loads(json.dumps(r.msg, default=str)) for r in caplog.records if isinstance(r.msg, dict)]


@pytest.mark.django_db
def test_probes_need_nobody_signed_in():
    client = Client(HTTP_HOST="10.1.2.3")
    assert client.get("/health").json() == {"lives": True}
    assert client.get("/ready").json() == {"ready": True}


def test_without_a_database_it_lives_and_is_not_ready(monkeypatch):
    def away():
        raise OperationalError

    monkeypatch.setattr(probes.connection, "cursor", away)
    answer = Client().get("/ready")
    assert (answer.status_code, answer["Retry-After"]) == (503, "2")
    assert Client().get("/health").status_code == 200


@pytest.mark.django_db
def test_a_database_of_an_older_version_is_not_ready(monkeypatch):
    monkeypatch.setattr(probes, "_migrated", [])
    monkeypatch.setattr(probes.MigrationExecutor, "migration_plan", lambda *_: ["something"])
    assert Client().get("/ready").status_code == 503


def test_figures_are_for_who_has_the_token(ines, settings):
    assert Client().get("/metrics").status_code == 404
    settings.METRICS_TOKEN = TOKEN
    assert Client().get("/metrics", headers={"Authorization": "Bearer guess"}).status_code == 404
    ines.get("/profiles")
    answer = Client().get("/metrics", headers={"Authorization": f"Bearer {TOKEN}"})
    assert answer["Content-Type"].startswith("application/openmetrics-text")
    found = {f.name: f for f in text_string_to_metric_families(answer.content.decode())}
    assert {
        "amberkey_requests",
        "amberkey_request_seconds",
        "amberkey_jobs",
        "amberkey_agents",
        "amberkey_memory_bytes",
    } <= set(found)
    routes = {s.labels["route"] for s in found["amberkey_requests"].samples}
    assert "api/profiles" in routes
    assert [s.value for s in found["amberkey_orders_waiting"].samples] == [0]


def test_an_answer_carries_the_id_under_which_it_is_logged(ines, said):
    answer = ines.client.get("/api/profiles", headers={"X-Request-Id": "from-a-proxy-1"})
    assert answer["X-Request-Id"] == "from-a-proxy-1"
    told = [e for e in said() if e["event"] == "answered"][-1]
    assert (told["request"], told["route"], told["status"]) == ("from-a-proxy-1", "api/profiles", 200)
    for unfit in ("short", "with space and more", "x" * 80, "line\u2028break12"):
        assert new_id(unfit) != unfit


def test_nothing_secret_is_logged(example, said):
    api = Api()
    api.post("/session", {"name": "ines", "password": "a wrong password"})
    api.post("/session", {"name": "ines", "password": PASSWORD})
    code = api.post("/machines/harbour-desk-2/code")[1]["code"]
    token = Api().post("/agent/enrol", {"code": code})[1]["token"]
    everything = json.dumps(said())
    for secret in (PASSWORD, "a wrong password", code, token):
        assert secret not in everything
    kept = without_secrets(None, "info", {"event": "x", "password": 1, "code": 2, "api_token": 3, "error_code": 4, "encode": 5})
    assert kept == {"event": "x", "encode": 5}


def test_what_an_agent_does_is_logged_under_the_request_that_asked_for_it(ines, said, signing_key):
    code = ines.post("/machines/counter-3/code")[1]["code"]
    agent = Api()
    bearer = {"Authorization": f"Bearer {agent.post('/agent/enrol', {'code': code})[1]['token']}"}
    content = "eyJrZXlib2FyZCI6IHsib3duIjogW119fQ=="
    (file,) = agent.post("/agent/work", **bearer)[1]["files"]
    assert agent.post("/agent/seen", {"file": file["id"], "content": content}, **bearer)[0] == 200
    applied = ines.client.post("/api/machines/counter-3/apply", "{}", content_type="application/json")
    assert applied.status_code == 200, applied.content
    (order,) = agent.post("/agent/work", **bearer)[1]["orders"]
    assert order["asked_in"] == applied["X-Request-Id"] == Order.objects.get().asked_in
    report = {"outcome": "written", "says": ""}
    agent.post(f"/agent/orders/{order['id']}", report, **bearer, **{"X-Request-Id": order["asked_in"]})
    assert said()[-1]["request"] == order["asked_in"]
    assert AuditEntry.objects.filter(machine="counter-3").exists()


class Job:
    """What a job sees of itself."""

    def __init__(self, attempts: int) -> None:
        self.job = self
        self.id, self.attempts, self.task_name = 7, attempts, "check_list"


def tried(error: Exception | None, attempts: int = 0) -> list[str]:
    failed: list[str] = []
    with contextlib.suppress(OperationalError, RuntimeError), begun(Job(attempts), "asked-in-here", failed.append):
        assert current_id() == "asked-in-here"
        if error is not None:
            raise error
    return failed


@pytest.mark.django_db
def test_jobs_are_tried_again_when_the_database_goes_and_end_otherwise(said):
    assert tried(None) == []
    assert tried(OperationalError()) == []
    assert tried(OperationalError(), AGAIN.max_attempts) == ["The database didn't answer, however often it was tried."]
    (why,) = tried(RuntimeError("inside"))
    assert "RuntimeError" in why
    assert "inside" not in why
    assert {e["request"] for e in said()} == {"asked-in-here"}


def test_ids_end_with_what_they_are_for():
    with logged_as("one-request"):
        assert structlog.contextvars.get_contextvars() == {"request": "one-request"}
    assert current_id() == ""
