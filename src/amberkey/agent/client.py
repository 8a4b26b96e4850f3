"""The agent's side of the API, over urllib: no redirect is followed, and no answer is believed to have a shape."""

import http.client
import json
import urllib.error
import urllib.parse
import urllib.request
from typing import IO, Any

from amberkey.agent.errors import ServerProblem

TIMEOUT = 30  # seconds
MOST = 64 * 1024 * 1024


class _Stay(urllib.request.HTTPRedirectHandler):
    """A token goes to the server that it was given for, and nowhere else."""

    def redirect_request(
        self, req: urllib.request.Request, fp: IO[bytes], code: int, msg: str, headers: http.client.HTTPMessage, newurl: str
    ) -> None:
        raise ServerProblem(f"The server leads on to {newurl[:100]}; give the agent the address that it has now.")


class Client:
    def __init__(self, server: str, token: str = "") -> None:
        parts = urllib.parse.urlsplit(server)
        local = parts.hostname in ("127.0.0.1", "localhost", "::1")
        if parts.scheme != "https" and not (parts.scheme == "http" and local):
            raise ServerProblem("The server's address must begin with https://; a token never travels in the open.")
        self.server = server.rstrip("/")
        self.token = token
        self._opener = urllib.request.build_opener(_Stay)

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
            with self._opener.open(request, timeout=TIMEOUT) as answer:
                said = answer.read(MOST + 1)
                if len(said) > MOST:
                    raise ServerProblem("The server's answer is too large.")
                return json.loads(said)
        except urllib.error.HTTPError as error:
            raise ServerProblem(_words(error), error.code) from error
        except (OSError, ValueError, RecursionError, http.client.HTTPException) as error:
            raise ServerProblem(f"The server can't be reached: {error}") from error


def _words(error: urllib.error.HTTPError) -> str:
    try:
        problem = json.loads(error.read(65536))
        return f"{problem['title']} {problem.get('detail', '')}".strip()[:500]
    except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError, http.client.HTTPException):
        return f"The server answered {error.code}."
