"""A home with one settings file, an agent enrolled in it, and an in-memory twin of the server that signs its orders."""

import base64
import json

import pytest

from amberkey.agent.errors import ServerProblem
from amberkey.agent.files import digest_of
from amberkey.agent.state import Config, State, Work
from amberkey.agent.work import work_once
from amberkey.core.exchange.signing import SigningKey

OLD, NEW = b'{"keyboard": "old"}\n', b'{"keyboard": "new", "more": 1}\n'
PATH = "App/settings.json"


class Server:
    """The agent's API for one machine and some files."""

    def __init__(self, key=None, paths=(PATH,)):
        self.account = ""
        self.key = key or SigningKey(bytes(32))
        self.handovers = []
        self.files = [{"id": n, "root": "home", "path": p, "digest": "", "problem": ""} for n, p in enumerate(paths)]
        self.orders = []
        self.seen = {}
        self.outcomes = []
        self.lose_reports = False
        self.refuse = {}

    def call(self, method, path, body=None, asked_in=""):
        if path in self.refuse:
            raise ServerProblem("refused", self.refuse[path])
        if path == "/work":
            return json.loads(
                json.dumps({"key": self.key.public, "handovers": self.handovers, "files": self.files, "orders": self.orders})
            )
        if path == "/seen":
            file = next(f for f in self.files if f["id"] == body["file"])
            file["problem"] = body.get("problem", "")
            if body.get("content") is not None:
                self.seen[file["path"]] = base64.b64decode(body["content"])
                file["digest"] = digest_of(self.seen[file["path"]])
            return {"ok": True}
        if self.lose_reports:
            raise ServerProblem("gone")
        order = path.rpartition("/")[2]
        self.outcomes.append((order, body["outcome"], body["says"]))
        if body["outcome"] == "waiting":
            next(o for o in self.orders if o["id"] == order)["says"] = body["says"]
        else:
            self.orders = [o for o in self.orders if o["id"] != order]
        return {"ok": True}

    @property
    def last(self):
        return self.outcomes[-1][1:]

    def ask(self, number=1, content=NEW, expect=OLD, key=None, file=0, **more):
        said = {
            "at": "2026-10-01T08:00:00+00:00",
            "digest": digest_of(content),
            "expect": digest_of(expect),
            "format": "amberkey/order@1",
            "home": self.account,
            "machine": "counter-3",
            "number": number,
            "path": self.files[file]["path"],
            "root": self.files[file]["root"],
            "sections": [],
            "waits_for": [],
            **more,
        }
        text = json.dumps(said, sort_keys=True)
        order = {
            "id": f"order-{number}",
            "file": file,
            "said": text,
            "signature": (key or self.key).sign_order(text.encode()),
            "content": base64.b64encode(content).decode(),
            "says": "",
            "asked_in": "",
        }
        self.orders.append(order)
        return order


@pytest.fixture
def home(tmp_path):
    home = tmp_path / "home"
    (home / "App").mkdir(parents=True)
    (home / PATH).write_bytes(OLD)
    return home


@pytest.fixture
def server():
    return Server()


@pytest.fixture
def state(home, server):
    state = State(home, Config("http://127.0.0.1:1", "token", "counter-3", server.key.public), Work())
    state.keep_config()
    state.keep_work()
    return state


@pytest.fixture
def round_of(server, home, state):
    """One round, as a process that has just been started would do it."""

    def run(runs=frozenset(), **more):
        return work_once(server, State.of(home), runs=lambda: runs, **more)

    return run
