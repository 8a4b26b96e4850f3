"""Kills agents while they work, and servers while they answer, and looks whether anything was lost or done twice.

    PYTHONPATH=src python tools/kill_agents.py [KILLS] [SEED]

Two files of one home, orders for both again and again. The agent is killed after a drawn time; the server breaks off drawn
answers, before or after it heard. After each kill every file is one that was there or was ordered, whole; in the end each order
was carried out once or refused with its reason, nothing stays beside the files, and what people saved is there or in a backup.
"""

import base64
import contextlib
import http.server
import json
import pathlib
import random
import subprocess
import sys
import tempfile
import threading
import time

from amberkey.agent.files import backups_of, digest_of
from amberkey.agent.state import Config, State, Work
from amberkey.core.exchange.signing import SigningKey

KEY = SigningKey(bytes([5]) * 32)
PATHS = ("App/one.json", "App/two.ini")


class Twin:
    """The server's side: what it knows of files and orders, safe to ask from several threads."""

    def __init__(self, drawn: random.Random) -> None:
        self.drawn, self.lock = drawn, threading.Lock()
        self.digests = dict.fromkeys(PATHS, "")
        self.orders: dict[str, dict[str, object]] = {}
        self.outcomes: dict[str, list[str]] = {}
        self.number = 0
        self.calm = False

    def order(self, path: str, expect: str, content: bytes) -> None:
        with self.lock:
            for name in [n for n, o in self.orders.items() if o["path"] == path]:
                del self.orders[name]  # only the newest wish counts
            self.number += 1
            said = json.dumps(
                {
                    "at": "", "digest": digest_of(content), "expect": expect, "format": "amberkey/order@1",
                    "home": "",
                    "machine": "m", "number": self.number, "path": path, "root": "home", "sections": [], "waits_for": [],
                }
            )  # fmt: skip
            name = f"order-{self.number}"
            self.orders[name] = {
                "id": name, "file": PATHS.index(path), "path": path, "said": said, "signature": KEY.sign_order(said.encode()),
                "content": base64.b64encode(content).decode(), "says": "", "asked_in": "",
            }  # fmt: skip

    def answer(self, path: str, body: dict[str, object]) -> object:
        with self.lock:
            if path == "/api/agent/work":
                files = [
                    {"id": n, "root": "home", "path": p, "digest": self.digests[p], "problem": ""} for n, p in enumerate(PATHS)
                ]
                return {"key": KEY.public, "handovers": [], "files": files, "orders": list(self.orders.values())}
            if path == "/api/agent/seen":
                if "content" in body:
                    self.digests[PATHS[int(str(body["file"]))]] = digest_of(base64.b64decode(str(body["content"])))
            else:
                name = path.rpartition("/")[2]
                self.outcomes.setdefault(name, []).append(str(body["outcome"]))
                order = self.orders.pop(name, None)
                if order is not None and body["outcome"] == "written":
                    self.digests[str(order["path"])] = json.loads(str(order["said"]))["digest"]
            return {"ok": True}

    def breaks_off(self) -> str:
        with self.lock:
            return "" if self.calm else self.drawn.choice(["", "", "", "", "before", "after"])


def main() -> int:
    kills, seed = int(sys.argv[1]) if len(sys.argv) > 1 else 200, int(sys.argv[2]) if len(sys.argv) > 2 else 1
    drawn = random.Random(seed)
    twin = Twin(drawn)

    class Answers(http.server.BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            body = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
            off = twin.breaks_off()
            if off == "before":
                return self.connection.close()
            said = json.dumps(twin.answer(self.path, body)).encode()
            if off == "after":
                return self.connection.close()
            self.send_response(200)
            self.send_header("Content-Length", str(len(said)))
            self.end_headers()
            with contextlib.suppress(OSError):  # the agent was killed meanwhile
                self.wfile.write(said)
            return None

        def log_message(self, *args: object) -> None:
            pass

    class Quiet(http.server.ThreadingHTTPServer):
        def handle_error(self, request: object, client_address: object) -> None:
            pass

    server = Quiet(("127.0.0.1", 0), Answers)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    with tempfile.TemporaryDirectory() as folder:
        wrong = _kill(pathlib.Path(folder), twin, drawn, f"http://127.0.0.1:{server.server_port}", kills)
    server.shutdown()
    for line in wrong:
        print("WRONG", line)
    done = sum("written" in o for o in twin.outcomes.values())
    print(f"{kills} kills, {twin.number} orders, {done} of them written, {len(wrong)} things wrong (seed {seed})")
    return 1 if wrong else 0


def _kill(home: pathlib.Path, twin: Twin, drawn: random.Random, address: str, kills: int) -> list[str]:
    (home / "App").mkdir()
    wrong, saved = [], []
    allowed: dict[str, set[bytes]] = {}
    for path in PATHS:
        (home / path).write_bytes(b"first")
        allowed[path] = {b"first"}
    state = State(home, Config(address, "token", "m", KEY.public), Work())
    state.keep_config()
    run = [sys.executable, "-m", "amberkey.agent", "run", "--home", str(home), "--every", "0.01"]
    for n in range(kills):
        for path in PATHS:
            now = (home / path).read_bytes()
            content = f"{path} {n} ".encode() * drawn.randint(1, 20_000)
            allowed[path].add(content)
            twin.order(path, digest_of(now), content)
        process = subprocess.Popen(run, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        time.sleep(drawn.uniform(0.08, 0.35))
        if drawn.random() < 0.3:  # somebody saves at that very moment
            path = drawn.choice(PATHS)
            mine = f"saved {n}".encode()
            (home / "App/theirs").write_bytes(mine)
            (home / "App/theirs").rename(home / path)
            allowed[path].add(mine)
            saved.append((path, mine))
        process.kill()
        process.wait()
        for path in PATHS:
            if (home / path).read_bytes() not in allowed[path]:
                wrong.append(f"after kill {n}: {path} is neither an old nor a new one")
    twin.calm = True
    for _ in range(3):
        subprocess.run([*run, "--once"], check=False, capture_output=True)
    if twin.orders:
        wrong.append(f"{len(twin.orders)} orders were never answered")
    for name, outcomes in twin.outcomes.items():
        if {"written", "refused"} <= set(outcomes):
            wrong.append(f"{name} was told as written and as refused")
    beside = [p.name for p in (home / "App").iterdir() if p.name not in ("one.json", "two.ini")]
    if len(beside) > len(PATHS):
        wrong.append(f"left beside the files: {beside}")
    for path, mine in saved[-3:]:
        there = (home / path).read_bytes() == mine or any(data == mine for _, data in backups_of(home, path))
        if not there:
            wrong.append(f"what was saved in {path} is lost: {mine!r}")
    return wrong


if __name__ == "__main__":
    sys.exit(main())
