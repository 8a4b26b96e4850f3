"""The page, its headers, and what happens when something unforeseen does."""

import re

import pytest
from django.test import Client

from tests.server.conftest import Api


@pytest.fixture
def built(settings, tmp_path, monkeypatch):
    from amberkey.server import web

    (tmp_path / "index.html").write_text('<meta name="style-nonce" content="__STYLE_NONCE__">')
    settings.WEB_BUILD = tmp_path
    web._index.cache_clear()
    yield
    web._index.cache_clear()


def test_the_page_lets_in_its_own_styles_and_scripts_only(db, built):
    answer = Client().get("/clashes?setup=anything")
    policy = answer["Content-Security-Policy"]
    nonce = re.search(r'content="([^"]+)"', answer.content.decode())[1]
    assert f"'nonce-{nonce}'" in policy
    assert "unsafe" not in policy
    assert "default-src 'none'" in policy
    assert "frame-ancestors 'none'" in policy
    assert answer["Cache-Control"].startswith("max-age=0")
    assert Client().get("/").content != answer.content  # a nonce is used once


def test_without_a_build_it_says_what_to_do(db, settings, tmp_path):
    from amberkey.server import web

    settings.WEB_BUILD = tmp_path / "attic"
    web._index.cache_clear()
    answer = Client().get("/")
    assert answer.status_code == 503
    assert b"./amberkey demo" in answer.content
    web._index.cache_clear()


def test_an_unforeseen_error_says_nothing_of_the_inside(ines, monkeypatch):
    def fail():
        raise RuntimeError("secret detail")

    monkeypatch.setattr("amberkey.server.workbench.lenses.current_estate", fail)
    status, problem = ines.get("/lenses?asked-by-nobody-before")  # what was asked before is answered without it
    assert status == 500
    assert "secret" not in str(problem)
    assert problem["safe"]


def test_wrong_fields_of_a_request_are_named(ines):
    status, problem = ines.post("/press", {"setup": 5})
    assert status == 422
    assert "setup" in problem["detail"]


def test_another_host_name_is_refused(db):
    assert Client().get("/api/session", headers={"host": "elsewhere.example"}).status_code == 400


def test_sessions_are_not_readable_by_scripts(example):
    api = Api("ines")
    cookie = api.client.cookies["sessionid"]
    assert cookie["httponly"]
    assert cookie["samesite"] == "Lax"
