"""Real servers and a real worker on a real database: two of them at once, the database gone and back, a killed master."""

import http.cookiejar
import json
import os
import pathlib
import signal
import subprocess
import threading
import time
import urllib.error
import urllib.request
import uuid

import pytest

from amberkey.launcher import state
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.processes import Processes
from amberkey.launcher.say import ROOT

LOAD = "import django; django.setup(); from amberkey.demo.load import load_people; from tests import example; "
LOAD += "example.load(load_people())"
SETUP = "ticket-counters"
READ = (
    *(f"clashes?setup={SETUP}", f"clashes?setup={SETUP}&everywhere=true", f"clashes/meant?setup={SETUP}", "lenses"),
    *(f"programs?setup={SETUP}", "profiles", f"keyboard?setup={SETUP}", "organisation/setups", "documents/profile/house"),
)


class Site:
    """A browser's view of one server: cookies and the page's token."""

    def __init__(self, address: str, asked_from: str = "") -> None:
        self.address, self.asked_from = address, asked_from
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        self.token = ""

    def ask(self, method: str, path: str, body: bytes | dict | None = None, kind: str = "application/json"):
        data = json.dumps(body).encode() if isinstance(body, dict) else body
        request = urllib.request.Request(f"{self.address}/api/{path}", data, method=method)
        request.add_header("Content-Type", kind)
        request.add_header("X-CSRFToken", self.token)
        if self.asked_from:
            request.add_header("X-Forwarded-For", self.asked_from)
        try:
            with self.opener.open(request, timeout=60) as answer:
                return answer.status, answer.read(), answer.headers
        except urllib.error.HTTPError as error:
            return error.code, error.read(), error.headers

    def sign_in(self, name: str = "ines", password: str = "ferry-crossing") -> int:
        self.token = json.loads(self.ask("GET", "session")[1])["csrf"]
        status, body, _ = self.ask("POST", "session", {"name": name, "password": password})
        self.token = json.loads(body).get("csrf", self.token)
        return status

    def json(self, path: str):
        return json.loads(self.ask("GET", path)[1])

    def upload(self, kind: str, text: str):
        edge = uuid.uuid4().hex
        head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="list.csv"\r\n\r\n'
        form = f"{head}{text}\r\n--{edge}--\r\n".encode()
        return json.loads(self.ask("POST", f"organisation/lists/{kind}", form, f"multipart/form-data; boundary={edge}")[1])


class House:
    """A database with two servers and a worker on it."""

    def __init__(self) -> None:
        self.cluster = Cluster("serving-test", fast=True)
        self.cluster.start()
        self.processes = Processes()
        self.env = {
            **os.environ,
            **self.cluster.environment(),
            "AMBERKEY_DB_NAME": f"serving_{uuid.uuid4().hex[:8]}",
            "AMBERKEY_SECRET_KEY": "a long random text",
            "AMBERKEY_WORKER_HEARTBEAT": "0.5",
            "AMBERKEY_PROXIES": "127.0.0.1",
            "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}",
            "DJANGO_SETTINGS_MODULE": "amberkey.server.settings",
        }
        self.env.pop("AMBERKEY_DB_POOL", None)
        self._make_database()
        self.run("-m", "amberkey.server.manage", "migrate", "-v", "0")
        self.run("-c", LOAD)
        self.addresses = [self.serve("one"), self.serve("two", AMBERKEY_PROCESSES="2")]
        self.processes.start("serving-test-worker", [ROOT / ".venv/bin/python", "-m", "amberkey.server.jobs"], self.env)

    def _make_database(self) -> None:
        name = self.env["AMBERKEY_DB_NAME"]
        code = "import django; django.setup(); from django.db import connection; "
        code += f"connection.cursor().execute('create database {name}')"
        pooled = {**self.env, "AMBERKEY_DB_NAME": "amberkey", "AMBERKEY_DB_POOL": "0"}
        subprocess.run([ROOT / ".venv/bin/python", "-c", code], env=pooled, check=True)

    def run(self, *command: str) -> None:
        subprocess.run([ROOT / ".venv/bin/python", *command], env={**self.env, "AMBERKEY_DB_POOL": "0"}, check=True)

    def serve(self, name: str, **more: str) -> str:
        port = state.free_port()
        env = {**self.env, **more, "AMBERKEY_BIND": f"127.0.0.1:{port}", "AMBERKEY_HOSTS": "127.0.0.1"}
        self.processes.start(f"serving-test-{name}", [ROOT / "amberkey", "start"], env)
        self.processes.wait_for(f"serving-test-{name}", f"http://127.0.0.1:{port}/ready", seconds=120)
        return f"http://127.0.0.1:{port}"

    def restart_database(self) -> None:
        self.cluster.stop()
        self.cluster.start()

    def close(self) -> None:
        self.processes.stop()
        self.cluster.stop()


@pytest.fixture(scope="module")
def house():
    made = House()
    yield made
    made.close()


@pytest.fixture(scope="module")
def sites(house):
    both = [Site(a) for a in house.addresses]
    assert [s.sign_in() for s in both] == [200, 200]
    return both


def give(site: Site, key: str):
    body = {"setup": SETUP, "program": "quaysheet", "command": "filter", "shortcuts": [key]}
    return site.ask("POST", "commands/shortcuts", body)


def test_two_servers_answer_with_the_same_bytes_and_show_what_the_other_saved(sites):
    one, two = sites
    for path in READ:
        assert one.ask("GET", path)[1] == two.ask("GET", path)[1], path
    assert give(one, "F12")[0] == 200
    # Each of the second server's processes, whichever answers.
    for path in READ:
        first = one.ask("GET", path)[1]
        for _ in range(4):
            assert two.ask("GET", path)[1] == first, path
    assert b"F12" in two.ask("GET", "documents/profile/house")[1]


def test_strangers_who_try_to_sign_in_take_nobody_else_the_server(house, sites):
    reading = threading.Event()
    answers: list[int] = []

    def try_on(n: int) -> None:
        stranger = Site(house.addresses[0], f"192.0.2.{n}")
        while not reading.is_set():
            answers.append(stranger.sign_in("nobody", "guess"))

    strangers = [threading.Thread(target=try_on, args=(n,)) for n in range(16)]
    for one in strangers:
        one.start()
    try:
        read = {sites[0].ask("GET", f"programs?setup={SETUP}")[0] for _ in range(20)}
    finally:
        reading.set()
        for one in strangers:
            one.join()
    assert read == {200}
    assert set(answers) <= {401, 429}
    assert 429 in answers


def test_a_database_that_is_started_anew_costs_no_500_and_loses_nothing(house, sites):
    ended = threading.Event()
    answers: list[list[tuple[int, str | None]]] = [[], []]

    def keep_saving(n: int) -> None:
        turn = 0
        while not ended.is_set():
            turn += 1
            status, _, headers = give(sites[n], f"Control+F{2 + (turn + n) % 10}")
            answers[n].append((status, headers["Retry-After"]))

    def saved() -> int:
        return sum(h["title"].startswith("Gave Filter") for h in sites[0].json("history"))

    before = sites[0].json("history")[0]["id"]
    saving = [threading.Thread(target=keep_saving, args=(n,)) for n in range(2)]
    for one in saving:
        one.start()
    try:
        until(lambda: all(answers))
        house.restart_database()
        seen = [len(a) for a in answers]
        until(lambda: all(200 in {s for s, _ in a[n:]} for a, n in zip(answers, seen, strict=True)))
    finally:
        ended.set()
        for one in saving:
            one.join()
    both = [*answers[0], *answers[1]]
    # 409: the other one gave it the same key a moment before.
    assert {s for s, _ in both} <= {200, 409, 503}
    assert all(again == "2" for s, again in both if s == 503)
    done = sum(h["id"] > before for h in sites[0].json("history"))
    sure = sum(s == 200 for s, _ in both)
    assert min(sure, 60) <= done <= sure + sum(s == 503 for s, _ in both)


def until(is_so) -> None:
    """Look until it is so; a test that waits for ever is ended from outside."""
    while not is_so():
        time.sleep(0.01)


def test_a_list_is_sent_by_the_command_waits_is_said_yes_to_and_a_person_forgotten(house, tmp_path):
    site = Site(house.addresses[0])
    assert site.sign_in("arvid") == 200
    token = json.loads(site.ask("POST", "nightly", {"name": "HR", "kind": "people"})[1])
    secret = tmp_path / "token"
    secret.write_text(token["token"])
    secret.chmod(0o600)
    item = {"section": "departments", "after": {"id": "pier", "name": "Pier"}}
    assert site.ask("POST", "organisation/change", {"title": "A department", "items": [item]})[0] == 200
    sheet = tmp_path / "people.csv"
    rows = "".join(f"K{n};Kajsa {n};Pier\n" for n in range(20))
    sheet.write_text(f"Id;Name;Department\n{rows}")

    def amberkey(*words: str) -> subprocess.CompletedProcess:
        command = [ROOT / "amberkey", *words]
        return subprocess.run(command, env=house.env, cwd=tmp_path, capture_output=True, text=True)

    def send(*words: str) -> tuple[int, str]:
        done = amberkey("send", *words, "--server", house.addresses[0], "--token-file", "token")
        return done.returncode, done.stdout + done.stderr

    code, said = send("people", "people.csv")
    assert (code, said.startswith("It waits for somebody to say yes"), "Adds 20 people" in said) == (3, True, True)
    (waiting,) = site.json(f"nightly/{token['sender']['id']}/sent")["rows"]
    assert site.ask("POST", f"nightly/lists/{waiting['id']}/yes")[0] == 200
    until(lambda: site.json("nightly")[0]["newest"]["state"] == "taken")
    assert send("people", "people.csv") == (0, "Nothing new. Everything is so already.\n")
    sheet.write_text(f"Id;Name;Department\n{rows.replace('Kajsa 7', 'Kajsa Sju')}")
    assert send("people", "people.csv") == (
        0,
        "Taken. Changes 1 person or shared sign-in. Leaves as they are: 19 people and shared sign-ins. "
        "Name changes for 1 person or shared sign-in. "
        "The sheet says nothing of Machines, Retired, Roles, Stands for; that stays as it is.\n",
    )
    for words, told in (
        (("machines", "people.csv"), "This token is for a list of people, not of machines."),
        (("people", "none.csv"), "none.csv can't be read (No such file or directory). Nothing was sent."),
    ):
        code, said = send(*words)
        assert (code, told in said) == (1, True), said
    secret.chmod(0o644)
    assert "Make it yours alone" in send("people", "people.csv")[1]
    secret.chmod(0o600)
    open_air = amberkey("send", "people", "people.csv", "--server", "http://keys.example", "--token-file", "token")
    assert "must begin with https://" in open_air.stderr
    assert site.ask("POST", f"nightly/{token['sender']['id']}/revoke")[0] == 200
    assert "it is unknown or was revoked" in send("people", "people.csv")[1]

    assert site.json("organisation/table/people?words=kajsa+sju")["total"] == 1
    done = amberkey("forget", "Kajsa Sju")
    assert (done.returncode, "Forgotten: documents have them as p-" in done.stdout) == (0, True), done.stderr
    assert site.json("organisation/table/people?words=kajsa+sju")["total"] == 0
    assert "There is no person Kajsa Sju here." in amberkey("forget", "Kajsa Sju").stderr


@pytest.mark.parametrize("moment", ["checking", "taking"])
def test_a_list_outlives_the_database(house, sites, moment):
    site = sites[0]
    name = f"{moment}-{uuid.uuid4().hex[:6]}"
    if all(d["id"] != "harbour" for d in site.json("organisation")["departments"]):
        item = {"section": "departments", "after": {"id": "harbour", "name": "Harbour"}}
        assert site.ask("POST", "organisation/change", {"title": "A department", "items": [item]})[0] == 200
    rows = "".join(f"{name}-{n},harbour\n" for n in range(12_000))
    begun = site.upload("people", f"Name,Department\n{rows}")
    where = f"organisation/imports/{begun['id']}"

    def state_of() -> str:
        status, body, _ = site.ask("GET", where)
        return json.loads(body)["state"] if status == 200 else ""

    assert site.ask("POST", f"{where}/check", {"matching": begun["matching"]})[0] == 200
    if moment == "checking":
        until(lambda: site.json(where)["done"] > 0)
        house.restart_database()
    until(lambda: state_of() == "checked")
    assert site.ask("POST", f"{where}/take", {})[0] == 200
    if moment == "taking":
        house.restart_database()
    until(lambda: state_of() == "taken")
    wanted = f"organisation/table/people?words={name}&count=1"
    assert site.json(wanted)["total"] == 12_000


def test_who_serves_after_a_killed_master_waits_for_the_port(house):
    address = house.serve("killed")
    name, process = house.processes.running.pop()
    children = [int(p) for p in pathlib.Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()]
    assert children
    process.send_signal(signal.SIGKILL)
    process.wait()
    port = address.rpartition(":")[2]
    env = {**house.env, "AMBERKEY_BIND": f"127.0.0.1:{port}", "AMBERKEY_HOSTS": "127.0.0.1"}
    house.processes.start(name, [ROOT / "amberkey", "start"], env)
    house.processes.wait_for(name, f"{address}/ready", seconds=120)
    until(lambda: all(map(ended, children)))


def ended(pid: int) -> bool:
    """Whether a process has ended, though perhaps nobody has asked for its result yet."""
    try:
        return pathlib.Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] == "Z"
    except OSError:
        return True


def test_a_port_in_use_is_told_and_waited_for(capsys):
    import socket

    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        bind = f"127.0.0.1:{holder.getsockname()[1]}"
        with pytest.raises(state.Stop, match="End what uses it"):
            state.wait_for_port(bind, seconds=0.3)
        waiting = threading.Thread(target=state.wait_for_port, args=(bind,))
        waiting.start()
        until(lambda: "waiting for it" in capsys.readouterr().out)
    waiting.join()


def test_figures_and_probes(house, sites):
    def text(path: str, **headers: str):
        request = urllib.request.Request(house.addresses[1] + path, headers=headers)
        try:
            with urllib.request.urlopen(request) as answer:
                return answer.status, answer.read().decode()
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode()

    assert text("/health") == (200, '{"lives": true}')
    assert text("/ready") == (200, '{"ready": true}')
    assert text("/metrics")[0] == 404
