"""The agent's side of the API, over urllib."""

import json
import urllib.error
import urllib.parse
import urllib.request
from typing import Any

from amberkey.agent.errors import ServerProblem

TIMEOUT = 30  # seconds


class Client:
    def __init__(self, server: str, token: str = "") -> None:
        parts = urllib.parse.urlsplit(server)
        local = parts.hostname in ("127.0.0.1", "localhost", "::1")
        if parts.scheme != "https" and not (parts.scheme == "http" and local):
            raise ServerProblem("The server's address must begin with https://; a token never travels in the open.")
        self.server = server.rstrip("/")
        self.token = token

    def call(self, method: str, path: str, body: dict[str, Any] | None = None, asked_in: str = "") -> Any:
        """The JSON answer; raises ServerProblem with the server's words. `asked_in`: the id of the request that this follows
        from, so that the server logs both under it."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"{self.server}/api/agent{path}", data, method=method)  # noqa: S310
        request.add_header("Content-Type", "application/json")
        if asked_in:
            request.add_header("X-Request-Id", asked_in)
        if self.token:
            request.add_header("Authorization", f"Bearer {self.token}")
        try:
            with urllib.request.urlopen(request, timeout=TIMEOUT) as answer:  # noqa: S310
                return json.loads(answer.read())
        except urllib.error.HTTPError as error:
            raise ServerProblem(_words(error)) from error
        except (OSError, ValueError) as error:
            raise ServerProblem(f"The server can't be reached: {error}") from error


def _words(error: urllib.error.HTTPError) -> str:
    try:
        problem = json.loads(error.read())
        return f"{problem['title']} {problem.get('detail', '')}".strip()
    except (ValueError, KeyError, TypeError):
        return f"The server answered {error.code}."
