"""`send`: gives a list to a server with a token, as another system does every night. Needs nothing but Python."""

import json
import os
import pathlib
import time
import urllib.error
import urllib.parse
import urllib.request
from typing import Any

from amberkey.launcher.say import Stop

KINDS = ("people", "machines", "commands")
WAITS = 3
"""The exit code of a list that waits for a yes; one that was taken, or had nothing new, gives 0, everything else 1."""
_TIMEOUT = 60  # seconds for one answer
_PAUSE = 2.0  # seconds between two questions how far it is
_AWAY = (urllib.error.URLError, TimeoutError, ConnectionError)
_TRIES = 5


def send(kind: str, file: str, server: str, token_file: str | None, patience: float) -> int:
    """Send a list, wait until it was worked on, and say what became of it. Returns the exit code. Raises Stop.

    `patience`: seconds until it is no longer waited for; the list is worked on all the same.
    """
    address, token = _address(server), _token(token_file)
    place = pathlib.Path(os.environ.get("AMBERKEY_FROM", ".")) / pathlib.Path(file).expanduser()
    try:
        data = place.read_bytes()
    except OSError as error:
        raise Stop(f"{place} can't be read ({error.strerror}). Nothing was sent.") from error
    name = urllib.parse.quote(place.name)
    sent = _ask(f"{address}/api/inbox/{kind}?name={name}", token, data)
    until = time.monotonic() + patience
    while sent["state"] == "working" and time.monotonic() < until:
        time.sleep(_PAUSE)
        sent = _ask(f"{address}/api/inbox/lists/{sent['id']}", token)
    print(_told(sent))
    return {"taken": 0, "same": 0, "working": 0, "waiting": WAITS}.get(sent["state"], 1)


def _told(sent: dict[str, Any]) -> str:
    head = {
        "taken": "Taken.",
        "same": "Nothing new.",
        "waiting": "It waits for somebody to say yes, under Organisation, Nightly lists.",
        "working": "It is still being worked on; what becomes of it is seen under Organisation, Nightly lists.",
    }.get(sent["state"], "Nothing was taken.")
    return " ".join(filter(None, (head, sent["says"], *(sent["told"] if sent["state"] in ("taken", "waiting") else ()))))


def _address(server: str) -> str:
    parts = urllib.parse.urlsplit(server)
    local = parts.hostname in ("127.0.0.1", "localhost", "::1")
    if not parts.hostname or (parts.scheme != "https" and not (parts.scheme == "http" and local)):
        raise Stop(f"{server} can't be the server: its address must begin with https://, as a token never travels in the open.")
    return server.rstrip("/")


def _token(file: str | None) -> str:
    """From a file that its owner alone can read, or from the environment. Raises Stop."""
    if file is None:
        token = os.environ.get("AMBERKEY_TOKEN", "").strip()
        if not token:
            raise Stop("Say the token: --token-file FILE, or the environment variable AMBERKEY_TOKEN.")
        return token
    place = pathlib.Path(os.environ.get("AMBERKEY_FROM", ".")) / pathlib.Path(file).expanduser()
    try:
        if place.stat().st_mode & 0o077:
            raise Stop(f"Others can read {place}. Make it yours alone: chmod 600 {place}")
        return place.read_text().strip()
    except OSError as error:
        raise Stop(f"The token can't be read from {place} ({error.strerror}).") from error


def _ask(address: str, token: str, data: bytes | None = None) -> dict[str, Any]:
    """The server's answer; asked again for a while where the server is away. Raises Stop with the server's words."""
    request = urllib.request.Request(address, data, {"Authorization": f"Bearer {token}"})  # noqa: S310  (see `_address`)
    if data is not None:
        request.add_header("Content-Type", "application/octet-stream")
    for tried in range(1, _TRIES + 1):
        try:
            with urllib.request.urlopen(request, timeout=_TIMEOUT) as answer:  # noqa: S310
                found: dict[str, Any] = json.loads(answer.read())
                return found
        except urllib.error.HTTPError as error:
            if error.code != 503 or tried == _TRIES:
                raise Stop(_refusal(error)) from error
        except _AWAY as error:
            if tried == _TRIES:
                reason = getattr(error, "reason", error)
                raise Stop(f"The server can't be reached ({reason}). Nothing is known to be taken; send it again.") from error
        except ValueError as error:
            raise Stop(f"{address} isn't an Amber Key: it gave no answer that can be read.") from error
        time.sleep(_PAUSE * tried)
    raise AssertionError("unreachable")


def _refusal(error: urllib.error.HTTPError) -> str:
    if error.code == 401:
        return "The token doesn't work: it is unknown or was revoked. Ask an administrator for a new one."
    try:
        said = json.loads(error.read())
        return " ".join(filter(None, (said["title"], said.get("detail"), said.get("cure"))))
    except (ValueError, KeyError, TypeError):
        return f"The server answered {error.code}."
