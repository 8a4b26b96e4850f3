"""Every endpoint under drawn requests, fit and unfit ones: none answers 500, and each answers as its OpenAPI document says.

Signed in as a releaser, who may do nearly everything. What the cases change is taken back at the end.
"""

import json

import pytest
import schemathesis
from django.db import transaction
from django.test import Client
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis import GenerationMode

from amberkey.server.api import api

CASES = 8
"""How many are drawn for each endpoint. A sweep with 200 finds more; see CONTRIBUTING."""
CONFIG = schemathesis.Config.from_dict({"generation": {"max-examples": CASES}})
SCHEMA = schemathesis.openapi.from_dict(api.get_openapi_schema(), config=CONFIG)
OPERATIONS = {f"{o.ok().method.upper()} {o.ok().path}": o.ok() for o in SCHEMA.get_all_operations()}
# Ids of the example, so that some cases get past "there is no such thing here".
KNOWN = {
    "setup": ["ticket-counters", "harbour-control"],
    "program": ["quaysheet", "folioform"],
    "profile_id": ["house", "training"],
    "task": ["save", "find"],
    "kind": ["people", "machines", "profile", "decisions"],
    "doc_id": ["house", "decisions"],
    "version": ["7.2"],
    "section": ["people", "machines"],
    "machine_id": ["counter-3"],
    "command": ["filter", "save"],
}
pytestmark = pytest.mark.django_db


@pytest.fixture(scope="module")
def signed_in(django_db_setup, django_db_blocker, tmp_path_factory):
    from amberkey.demo.load import load_people
    from tests import example as small

    with django_db_blocker.unblock(), transaction.atomic():
        actor = load_people()
        small.load(actor)
        small.load_machines(actor, tmp_path_factory.mktemp("machines"))
        client = Client(raise_request_exception=False)
        client.force_login(actor.user)
        yield client
        transaction.set_rollback(True)


def send(client: Client, case) -> tuple[int, str, bytes]:
    """The case as a request of Django's test client: what is drawn goes out as it is, bad texts included."""
    path = case.formatted_path if "{" not in case.formatted_path else case.path
    more = {"headers": {k: v for k, v in (case.headers or {}).items() if v.isprintable() and v.isascii()}}
    if case.media_type == "multipart/form-data":
        body = case.body if isinstance(case.body, dict) else {}
        answer = client.generic(case.method, path, *_form(body), query_params=_query(case), **more)
    else:
        body = b"" if not case.media_type else json.dumps(case.body, default=str).encode("utf-8", "surrogatepass")
        answer = client.generic(case.method, path, body, "application/json", query_params=_query(case), **more)
    return answer.status_code, answer.get("Content-Type", ""), answer.content


def _query(case) -> dict:
    return {k: v if isinstance(v, str | list) else json.dumps(v) for k, v in (case.query or {}).items() if v is not None}


def _form(body: dict) -> tuple[bytes, str]:
    lines = []
    for name, value in body.items():
        data = value if isinstance(value, bytes) else str(value).encode("utf-8", "replace")
        file = b'; filename="x.csv"' if name == "file" else b""
        lines.append(b'--edge\r\nContent-Disposition: form-data; name="%s"%s\r\n\r\n%s\r\n' % (name.encode(), file, data))
    return b"".join(lines) + b"--edge--\r\n", "multipart/form-data; boundary=edge"


@pytest.mark.parametrize("name", OPERATIONS)
def test_no_request_breaks_an_endpoint(signed_in, name):
    operation = OPERATIONS[name]
    # What signs the tester out, and what takes another credential, is looked at by name elsewhere.
    documented = {int(s) for s in operation.definition.raw["responses"]} | {405}

    @given(
        case=operation.as_strategy(generation_mode=GenerationMode.POSITIVE)
        | operation.as_strategy(generation_mode=GenerationMode.NEGATIVE)
    )
    @settings(
        max_examples=CASES,
        derandomize=True,
        deadline=None,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    def hold(case):
        known_ids(case)
        with transaction.atomic():
            point = transaction.savepoint()
            status, kind, body = send(signed_in, case)
            transaction.savepoint_rollback(point)
        assert status < 500, body[:600]
        assert status in documented, (status, body[:600])
        if status >= 400:
            assert kind == "application/problem+json"
            problem = json.loads(body)
            assert problem["title"]
            assert problem["status"] == status

    hold()


def known_ids(case) -> None:
    """Every second case names things that are there."""
    if hash(repr(case.path_parameters) + repr(case.query)) % 2:
        return
    for place in (case.path_parameters, case.query):
        for name in set(place or ()) & KNOWN.keys():
            place[name] = KNOWN[name][len(repr(place)) % len(KNOWN[name])]
