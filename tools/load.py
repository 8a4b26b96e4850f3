"""How a server holds when many people read at once: PYTHONPATH=src .venv/bin/python tools/load.py [PROCESSES]

The example organisation on a database of its own, `start` with so many processes (2 if not given), and 20 people who read for a
while: clashes through their lenses, programs, keyboards, ways out of single clashes. Then 16 strangers who try to sign in while
somebody reads. What can be is told as a ratio within this run; answers a second and milliseconds are this machine's.
"""

import http.client
import itertools
import json
import os
import statistics
import subprocess
import sys
import threading
import time
from collections import defaultdict
from collections.abc import Callable, Iterator

from targets import Target, told

from amberkey.launcher import state
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.processes import Processes
from amberkey.launcher.say import ROOT

READERS, STRANGERS = 20, 16
SECONDS = 15.0
ROWS = 8  # that somebody unfolds, from the top
ROUND_TRIP = 0.1  # seconds until a stranger from outside has an answer and sends the next try
PASSWORD = "ferry-crossing"
LOAD = "import django; django.setup(); from django.core.management import call_command; "
LOAD += "call_command('migrate', verbosity=0); from amberkey.demo.load import *; load_documents(load_people())"
PYTHON = str(ROOT / ".venv/bin/python")


class Person:
    """Somebody's connection to the server, kept open as a browser does."""

    def __init__(self, port: int, asked_from: str = "127.0.0.1") -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        self.cookies: dict[str, str] = {}
        self.asked_from = asked_from

    def ask(self, method: str, path: str, body: object = None, **headers: str) -> tuple[int, bytes, dict[str, str]]:
        data = None if body is None else json.dumps(body)
        sent = {"Content-Type": "application/json", "X-Forwarded-For": self.asked_from, **headers}
        sent["Cookie"] = "; ".join(f"{k}={v}" for k, v in self.cookies.items())
        sent["X-CSRFToken"] = self.cookies.get("csrftoken", "")
        for _ in range(2):
            try:
                self.connection.request(method, f"/api/{path}", data, sent)
                answer = self.connection.getresponse()
                break
            except (http.client.HTTPException, ConnectionError):  # kept open for too long: a browser asks again
                self.connection.close()
        else:
            raise ConnectionError(path)
        content = answer.read()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.partition(";")[0]
        return answer.status, content, {k.lower(): v for k, v in answer.getheaders()}

    def sign_in(self, name: str, password: str) -> int:
        self.ask("GET", "session")
        return self.ask("POST", "session", {"name": name, "password": password})[0]

    def timed(self, path: str) -> float:
        """Milliseconds."""
        begun = time.perf_counter()
        status, content, _ = self.ask("GET", path)
        assert status == 200, (path, status, content[:300])
        return (time.perf_counter() - begun) * 1000


def at_once(works: list[Callable[[], None]]) -> None:
    threads = [threading.Thread(target=work) for work in works]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def percentile(times: list[float]) -> float:
    """The time under which 95 of 100 stay."""
    return statistics.quantiles(times, n=20)[-1]


def reading(people: list[Person], setups: list[str], clashes: dict[str, list[str]]) -> tuple[float, dict[str, list[float]]]:
    """Answers a second, and the milliseconds of each kind of answer. Each person looks through one lens, from row to row."""
    times: dict[str, list[float]] = defaultdict(list)
    until = time.perf_counter() + SECONDS

    def read(person: Person, n: int) -> None:
        setup = setups[n % len(setups)]
        rows = itertools.cycle(clashes[setup][:ROWS])
        while time.perf_counter() < until:
            for everywhere in ("false", "true"):
                times["clashes"].append(person.timed(f"clashes?setup={setup}&everywhere={everywhere}"))
            times["programs"].append(person.timed(f"programs?setup={setup}"))
            for held in ("", "Control"):
                times["keyboard"].append(person.timed(f"keyboard?setup={setup}&held={held}"))
            times["machines"].append(person.timed("machines/waiting"))
            for clash in itertools.islice(rows, 2):
                times["ways"].append(person.timed(f"clashes/{clash}/ways?setup={setup}"))

    begun = time.perf_counter()
    at_once([lambda p=p, n=n: read(p, n) for n, p in enumerate(people)])
    took = time.perf_counter() - begun
    return sum(map(len, times.values())) / took, times


def strangers(port: int) -> None:
    """Strangers who try to sign in until this process is ended, each from an address of its own, a round trip apart."""

    def try_on(n: int) -> None:
        stranger = Person(port, f"192.0.2.{n}")
        stranger.ask("GET", "session")
        while True:
            stranger.ask("POST", "session", {"name": "ines", "password": "guess"})
            time.sleep(ROUND_TRIP)

    at_once([lambda n=n: try_on(n) for n in range(STRANGERS)])


def measured(port: int) -> Iterator[Target]:
    people = [Person(port) for _ in range(READERS)]
    assert people[0].sign_in("ines", PASSWORD) == 200
    for person in people[1:]:
        person.cookies = dict(people[0].cookies)
    first = people[0]
    setups = [lens["setup"] for lens in json.loads(first.ask("GET", "lenses")[1])]
    clashes = {}
    for setup in setups:
        groups = json.loads(first.ask("GET", f"clashes?setup={setup}")[1])["packed"]["groups"]
        clashes[setup] = groups["identity"]
    whole = f"clashes?setup={setups[0]}&everywhere=true"
    _, content, headers = first.ask("GET", whole)
    yield Target("the clashes' answer, all setups of the example", len(content) / 1000, 200, "kB")
    yield Target(
        "an answer that was given before, median", statistics.median([first.timed(whole) for _ in range(60)]), 10, "ms"
    )
    tag = {"If-None-Match": headers["etag"]}
    assert first.ask("GET", whole, **tag)[0] == 304
    _, first_times = reading(people, setups, clashes)  # everybody's first look, when much is worked out for the first time
    told_first = " and of ".join(f"{kind} {percentile(first_times[kind]):.0f} ms" for kind in ("clashes", "ways"))
    print(f"     first looks: p95 of {told_first}")
    rate, times = reading(people, setups, clashes)
    for kind, found in sorted(times.items()):
        print(f"     {kind}: {len(found)} answers, median {statistics.median(found):.0f} ms, p95 {percentile(found):.0f} ms")
    yield Target(f"{READERS} people read: seconds for 80 answers", 80 / rate, 1, "s")
    yield Target("p95 of clashes meanwhile", percentile(times["clashes"]), 200, "ms")
    yield Target("p95 of ways out meanwhile", percentile(times["ways"]), 400, "ms")
    path = f"programs?setup={setups[0]}"
    quiet = [first.timed(path) for _ in range(400)]
    others = subprocess.Popen([PYTHON, __file__, "strangers", str(port)])
    time.sleep(2)  # until they are at it
    loud = [first.timed(path) for _ in range(400)]
    others.terminate()
    others.wait()
    yield Target(f"p95 of a read with {STRANGERS} strangers, against none", percentile(loud) / percentile(quiet), 1.5)


def main() -> int:
    cluster = Cluster("load")
    cluster.start()
    port = state.free_port()
    own = {name: value for name, value in os.environ.items() if not name.startswith("AMBERKEY_")}
    env = {**own, **cluster.environment(), "PYTHONPATH": str(ROOT / "src")}
    env |= {"DJANGO_SETTINGS_MODULE": "amberkey.server.settings", "AMBERKEY_SECRET_KEY": "for a benchmark only"}
    env |= {"AMBERKEY_HOSTS": "127.0.0.1", "AMBERKEY_BIND": f"127.0.0.1:{port}", "AMBERKEY_PROXIES": "127.0.0.1"}
    env |= {"AMBERKEY_PROCESSES": sys.argv[1] if len(sys.argv) > 1 else "2", "AMBERKEY_LOG_LEVEL": "INFO"}
    processes = Processes()
    try:
        subprocess.run([PYTHON, "-c", LOAD], env={**env, "AMBERKEY_DB_POOL": "0"}, check=True)
        processes.start("load-web", [ROOT / "amberkey", "start"], env)
        processes.wait_for("load-web", f"http://127.0.0.1:{port}/ready", seconds=120)
        return told(measured(port))
    finally:
        processes.stop()
        cluster.stop()


if __name__ == "__main__":
    sys.exit(strangers(int(sys.argv[2])) if sys.argv[1:2] == ["strangers"] else main())
