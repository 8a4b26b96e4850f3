"""The example organisation in a database, and clients signed in as its people."""

import json
import pathlib
import shutil

import pytest
from django.test import Client

from amberkey.core.exchange.signing import SigningKey
from amberkey.demo.load import PASSWORD, load_people
from amberkey.server.people.acting import Actor
from amberkey.server.people.gate import gate
from amberkey.server.people.models import User
from tests import example as small
from tests.kept import put


class Api:
    """Requests as JSON, answers as (status, body)."""

    def __init__(self, name: str | None = None) -> None:
        self.client = Client(raise_request_exception=False)
        if name:
            assert self.post("/session", {"name": name, "password": PASSWORD})[0] == 200

    def get(self, path, **headers):
        return self._answer(self.client.get(f"/api{path}", headers=headers))

    def post(self, path, body=None, **headers):
        return self._answer(
            self.client.post(f"/api{path}", json.dumps(body or {}), content_type="application/json", headers=headers)
        )

    def put(self, path, body, **headers):
        data = body if isinstance(body, bytes) else json.dumps(body).encode()
        return self._answer(self.client.put(f"/api{path}", data, content_type="application/json", headers=headers))

    def send(self, path, data):
        return self._answer(self.client.post(f"/api{path}", data))

    @staticmethod
    def _answer(response):
        if response.status_code >= 400:
            assert response["Content-Type"] == "application/problem+json"
        return response.status_code, json.loads(response.content) if response.content else None


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    """Slow hashing protects real passwords; tests have none."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture(autouse=True)
def open_gate():
    """Who tried to sign in in another test is not held back in this one."""
    gate.forget()


@pytest.fixture
def signing_key(settings) -> SigningKey:
    """The organisation's key, with which orders to machines are signed."""
    key = SigningKey(bytes([3]) * 32)
    settings.SIGNING_KEY = key.to_text()
    return key


@pytest.fixture
def machines_folder(tmp_path) -> pathlib.Path:
    return tmp_path / "machines"


@pytest.fixture(scope="session")
def homes(tmp_path_factory) -> pathlib.Path:
    """The homes of the example's machines, as they are before any agent runs."""
    return tmp_path_factory.mktemp("homes")


@pytest.fixture
def example(db, machines_folder, homes):
    put("the example", lambda: (small.load(load_people()), small.load_machines(load_people(), homes)))
    shutil.copytree(homes, machines_folder)
    return Actor(User.objects.get(username="ines"))


@pytest.fixture
def arvid(example) -> Api:
    return Api("arvid")


@pytest.fixture
def ines(example) -> Api:
    return Api("ines")


@pytest.fixture
def jorun(example) -> Api:
    return Api("jorun")


@pytest.fixture
def tove(example) -> Api:
    return Api("tove")
