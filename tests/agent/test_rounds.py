"""Rounds of the agent against a server that is killed off, or whose answers get lost."""

import base64

import pytest

from amberkey.agent.errors import ServerProblem
from amberkey.agent.files import digest_of
from amberkey.agent.work import work_once

OLD, NEW = b"old", b"new"


class Server:
    """An in-memory twin of the agent's API for one file."""

    def __init__(self):
        self.seen = None
        self.problem = ""
        self.order = None
        self.outcomes = []
        self.lose_reports = False

    def call(self, method, path, body=None, asked_in=""):
        if path == "/work":
            digest = digest_of(self.seen) if self.seen is not None else ""
            file = {
                "program": "app",
                "path": "App/s.json",
                "digest": digest,
                "problem": bool(self.problem),
                "order": self.order,
            }
            return [file]
        if path == "/seen":
            if body.get("content") is not None:
                self.seen = base64.b64decode(body["content"])
            self.problem = body.get("problem", "")
            return {"ok": True}
        if self.lose_reports:
            raise ServerProblem("gone")
        self.outcomes.append((body["outcome"], body["says"]))
        self.order = None
        return {"ok": True}

    def ask(self, expect=OLD, content=NEW, digest=None):
        self.order = {
            "id": "1",
            "expect": digest_of(expect),
            "digest": digest or digest_of(content),
            "content": base64.b64encode(content).decode(),
        }


@pytest.fixture
def file(tmp_path):
    (tmp_path / "App").mkdir()
    file = tmp_path / "App/s.json"
    file.write_bytes(OLD)
    return file


def round_of(server, file):
    return work_once(server, file.parent.parent, file.parent.parent / "backups")


def test_only_what_changed_is_told(file):
    server = Server()
    assert round_of(server, file) == 1
    assert server.seen == OLD
    assert round_of(server, file) == 0
    file.write_bytes(b"by hand")
    assert round_of(server, file) == 1
    assert server.seen == b"by hand"


def test_an_order_whose_report_was_lost_is_found_done(file):
    server = Server()
    server.ask()
    server.lose_reports = True
    with pytest.raises(ServerProblem):
        round_of(server, file)
    assert file.read_bytes() == NEW
    server.lose_reports = False
    round_of(server, file)
    assert server.outcomes == [("written", "It was written already.")]
    assert file.read_bytes() == NEW


def test_a_damaged_order_writes_nothing(file):
    server = Server()
    server.ask(digest=digest_of(b"something else"))
    round_of(server, file)
    assert server.outcomes[0][0] == "refused"
    assert file.read_bytes() == OLD


def test_an_order_over_a_changed_file_is_refused_and_the_file_shown(file):
    server = Server()
    server.ask(expect=b"older")
    round_of(server, file)
    assert server.outcomes[0][0] == "refused"
    assert server.seen == OLD
    assert file.read_bytes() == OLD


def test_a_problem_is_told_and_taken_back(file):
    server = Server()
    round_of(server, file)
    file.unlink()
    round_of(server, file)
    assert "isn't there" in server.problem
    file.write_bytes(OLD)
    round_of(server, file)
    assert server.problem == ""
