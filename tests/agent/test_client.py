"""The agent's calls against servers that lead elsewhere, break off, or answer what makes no sense."""

import contextlib
import http.server
import json
import threading

import pytest

from amberkey.agent.client import Client
from amberkey.agent.errors import ServerProblem


class Answers(http.server.BaseHTTPRequestHandler):
    """What each address answers with; whoever asks leaves the token behind."""

    tokens: list = []

    def do_GET(self):
        self.tokens.append((self.path, self.headers.get("Authorization")))
        case = self.path.rpartition("/")[2]
        if case == "elsewhere":
            self.send_response(302)
            self.send_header("Location", "/api/agent/thief")
            self.end_headers()
        elif case == "cut":
            self.send_response(200)
            self.send_header("Content-Length", "1000")
            self.end_headers()
            self.wfile.write(b'{"files": [')
        elif case == "silent":
            self.connection.close()
        elif case == "odd":
            self._say(b"<html>an office's proxy</html>")
        elif case == "deep":
            self._say(b"[" * 100_000)
        elif case == "wrong":
            self._say(json.dumps({"title": "No.", "detail": "It is late."}).encode(), 409)
        elif case == "bare":
            self._say(b"[1, 2]", 500)
        elif case == "huge":
            self._say(b'"' + b"x" * 2_000 + b'"')
        else:
            self._say(b'{"ok": true}')

    do_POST = do_GET  # noqa: N815

    def _say(self, body, status=200):
        self.send_response(status)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        with contextlib.suppress(OSError):
            self.wfile.write(body)

    def log_message(self, *args):
        pass


@pytest.fixture(scope="module")
def address():
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Answers)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()
    server.server_close()


def test_an_answer_is_heard(address):
    assert Client(address, "token").call("GET", "/fine") == {"ok": True}
    assert ("/api/agent/fine", "Bearer token") in Answers.tokens


def test_a_token_follows_no_lead_to_elsewhere(address):
    with pytest.raises(ServerProblem, match="leads on to"):
        Client(address, "secret").call("GET", "/elsewhere")
    assert "/api/agent/thief" not in [path for path, _ in Answers.tokens]


@pytest.mark.parametrize("case", ["cut", "silent", "odd", "deep"])
def test_an_answer_that_breaks_off_or_is_odd_is_a_problem_and_no_crash(address, case):
    with pytest.raises(ServerProblem, match="can't be reached") as caught:
        Client(address, "token").call("GET", f"/{case}")
    assert (caught.value.status, caught.value.of_this_call) == (0, False)


def test_what_the_server_refuses_is_told_in_its_words(address):
    with pytest.raises(ServerProblem, match=r"No\. It is late\.") as caught:
        Client(address, "token").call("POST", "/wrong", {})
    assert (caught.value.status, caught.value.of_this_call) == (409, True)
    with pytest.raises(ServerProblem, match="The server answered 500"):
        Client(address, "token").call("GET", "/bare")


def test_an_answer_without_end_is_not_taken_in(address, monkeypatch):
    monkeypatch.setattr("amberkey.agent.client.MOST", 1_000)
    with pytest.raises(ServerProblem, match="too large"):
        Client(address, "token").call("GET", "/huge")


@pytest.mark.parametrize("status, one", [(401, False), (403, False), (429, False), (404, True), (413, True), (503, False)])
def test_only_what_is_wrong_with_one_call_lets_the_others_go_on(status, one):
    assert ServerProblem("x", status).of_this_call == one
