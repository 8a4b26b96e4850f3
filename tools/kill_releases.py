"""Kills workers, servers, databases and agents while releases go out and come back, and looks whether anything was lost.

    PYTHONPATH=src python tools/kill_releases.py [KILLS] [SEED]

The example's simulated machines on a database of its own. A release goes out in two waves; when it is done, or nothing moves
any more but what stops with its reason, it is taken back; and so on. Meanwhile a drawn one of worker, server, database and
agents is killed after a drawn time, and started again. At every look each settings file is whole, and one that was there or was
ordered. At the end of each way every machine is in step, taken back, or stopped with its reason; no number of an order was
given twice; what a file holds is what its newest order that was carried out says; after going back every file is as it was.
"""

import collections
import dataclasses
import hashlib
import os
import pathlib
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time

from amberkey.demo import fleet
from amberkey.launcher import state
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.python_env import environment
from amberkey.launcher.say import ROOT, Stop

PYTHON = str(ROOT / ".venv/bin/python")
LOAD = """
import pathlib, sys, django; django.setup()
from django.core.management import call_command
call_command('migrate', verbosity=0)
from amberkey.demo.load import load_people, load_documents, load_fleet
actor = load_people(); load_documents(actor); load_fleet(actor, pathlib.Path(sys.argv[1]))
"""
LONGEST = 120.0  # seconds for a release to come to its end once nothing is killed any more


class Hosts:
    """Everything that can be killed: each is started again at once."""

    def __init__(self, folder: pathlib.Path, cluster: Cluster, port: int) -> None:
        self.folder, self.cluster, self.port, self.running = folder, cluster, port, {}
        self.log = (folder / "log").open("ab")
        self.env = environment(
            **cluster.environment(),
            AMBERKEY_SECRET_KEY="killed-again-and-again",
            AMBERKEY_SIGNING_KEY_FILE=str(state.signing_key(folder)),
            AMBERKEY_WORKER_HEARTBEAT="1",
            DJANGO_SETTINGS_MODULE="amberkey.server.settings",
        )
        serving = ["-m", "gunicorn", "--config", "python:amberkey.server.serving", "--bind", f"127.0.0.1:{port}"]
        agents = ["-m", "amberkey.demo.fleet", str(folder / "fleet"), f"http://127.0.0.1:{port}", "--every", "0.3"]
        self.commands = {
            "server": [PYTHON, *serving, "amberkey.server.wsgi:application"],
            "worker": [PYTHON, "-m", "amberkey.server.jobs"],
            "agents": [PYTHON, *agents],
        }

    def start(self) -> None:
        for name in self.commands:
            self._start(name)

    def _start(self, name: str) -> None:
        self.running[name] = subprocess.Popen(
            self.commands[name], env=self.env, stdout=self.log, stderr=self.log, start_new_session=True, cwd="/"
        )

    def kill(self, name: str) -> None:
        """`kill -9` of a process and all that it started; of the database its postmaster, so that it recovers from its log."""
        if name == "database":
            pid = int((self.cluster.data / "postmaster.pid").read_text().split()[0])
            os.kill(pid, signal.SIGKILL)
            self._recover()
            return
        process = self.running[name]
        os.killpg(process.pid, signal.SIGKILL)
        process.wait()
        self._start(name)

    def _recover(self) -> None:
        """Those that the postmaster started go by themselves when they notice; before that none can be started."""
        for _ in range(60):
            time.sleep(0.5)
            try:
                self.cluster.start()
                return
            except (Stop, subprocess.CalledProcessError):
                continue
        raise TimeoutError("the database doesn't come back")

    def look(self) -> None:
        """What ended by itself is begun again, as a service manager would."""
        for name, process in list(self.running.items()):
            if process.poll() is not None:
                self._start(name)

    def stop(self) -> None:
        for process in self.running.values():
            if process.poll() is None:
                os.killpg(process.pid, signal.SIGTERM)
        for process in self.running.values():
            try:
                process.wait(15)
            except subprocess.TimeoutExpired:
                os.killpg(process.pid, signal.SIGKILL)


def main() -> int:
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    drawn = random.Random(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    folder = pathlib.Path(tempfile.mkdtemp(prefix="amberkey-kills-"))
    folder.chmod(0o755)  # PostgreSQL runs as somebody else
    cluster = Cluster("kills", home=folder)
    cluster.start()
    hosts = Hosts(folder, cluster, state.free_port())
    try:
        subprocess.run([PYTHON, "-c", LOAD, str(folder / "fleet")], env=hosts.env, check=True)
        found = run(hosts, kills, drawn)
    finally:
        hosts.stop()
        cluster.stop()
    if found == 0:  # else whoever looks into it wants to see the files and the log
        shutil.rmtree(folder, ignore_errors=True)
    return found


def run(hosts: Hosts, kills: int, drawn: random.Random) -> int:
    for name, value in hosts.env.items():
        os.environ[name] = value
    os.environ["AMBERKEY_DB_POOL"] = "0"
    import django

    django.setup()
    key, homes = fleet.read_list(hosts.folder / "fleet")
    # Odd ones say why they stop; what is edited by hand would be another file each time.
    plain = ("edited by hand", "offline", "slow")
    homes = [dataclasses.replace(p, does="as it should") if p.does in plain else p for p in homes]
    fleet.write_list(hosts.folder / "fleet", key, homes)
    begun = {place: read(place) for place in files_of(hosts, homes)}
    FIRST.update(begun.values())
    hosts.start()
    done: collections.Counter[str] = collections.Counter()
    faults: list[str] = []
    way = 0
    while sum(done.values()) < kills:
        out = way % 2 == 0
        plan = begin() if out else back()
        faults += work(hosts, homes, plan, drawn, done, kills)
        faults += ended(hosts, homes, plan, begun, out=out)
        way += 1
        print(f"way {way} ({'out' if out else 'back'}): {sum(done.values())} kills, {len(faults)} faults", flush=True)
    print(f"{dict(done)} killed over {way} ways; {len(faults)} faults")
    for fault in faults[:60]:
        print(" ", fault)
    return 1 if faults else 0


def files_of(hosts: Hosts, homes: list[fleet.Placed]) -> list[pathlib.Path]:
    return [fleet.home_of(hosts.folder / "fleet", p) / path for p in homes for path in p.files.values()]


def read(file: pathlib.Path) -> str:
    return hashlib.sha256(file.read_bytes()).hexdigest()


def begin() -> object:
    """A release to three machines, then to all others."""
    from amberkey.core.rollout.model import Chosen, Gate, ReleasePlan, Wave
    from amberkey.server.people.acting import Actor
    from amberkey.server.people.models import User
    from amberkey.server.rollouts.verbs.begin import begin as begin_release

    first = Wave(name="First", chosen=Chosen(by="machines", machines=("counter-1", "counter-4", "gate-1")))
    rest = Wave(name="Rest", chosen=Chosen(by="rest"), gate=Gate(quiet_hours=0, most_stopped=100))
    return again(lambda: begin_release(Actor(User.objects.get(username="ines")), [], ReleasePlan(waves=(first, rest))).pk)


def back() -> object:
    from amberkey.server.people.acting import Actor
    from amberkey.server.people.models import User
    from amberkey.server.rollouts.models import Plan
    from amberkey.server.rollouts.verbs.steer import take_back

    def act() -> object:
        plan = Plan.objects.order_by("-number").first()
        assert plan is not None
        return take_back(Actor(User.objects.get(username="ines")), plan.pk).pk

    return again(act)


def again(act):  # type: ignore[no-untyped-def]
    """A question to a database that may be away for a moment."""
    from django.db import close_old_connections, connection

    for _ in range(100):
        try:
            return act()
        except Exception as error:
            if type(error).__name__ not in ("OperationalError", "InterfaceError"):
                raise
            connection.close()
            close_old_connections()
            time.sleep(0.3)
    raise TimeoutError("the database stayed away")


def work(hosts, homes, plan, drawn, done, kills) -> list[str]:  # type: ignore[no-untyped-def]
    """Kill while the plan moves, until it is at its end; gives what was found wrong meanwhile."""
    faults: list[str] = []
    until = time.monotonic() + LONGEST
    while time.monotonic() < until:
        time.sleep(drawn.uniform(0.05, 1.2))
        hosts.look()
        if at_end(plan):
            return faults
        if sum(done.values()) < kills:
            name = drawn.choice(("worker", "worker", "server", "agents", "agents", "database"))
            hosts.kill(name)
            done[name] += 1
            until = time.monotonic() + LONGEST
        faults += whole(hosts, homes)
    return [*faults, f"release {plan} didn't come to its end in {LONGEST:.0f} s: {again(lambda: open_rows(plan))}"]


def open_rows(plan) -> list[str]:  # type: ignore[no-untyped-def]
    """What is still to come, for whoever looks into it."""
    from amberkey.server.rollouts.models import Carried, Plan

    rows = Carried.objects.filter(plan=plan).exclude(state__in=("in step", "left out", "taken back"))
    return [str(Plan.objects.get(pk=plan).state), *(f"{r.state} {r.file} {r.says}" for r in rows.select_related("file"))]


def at_end(plan) -> bool:  # type: ignore[no-untyped-def]
    """Done, taken back, or nothing moves any more but what is stopped with its reason, and is tried again later."""
    from amberkey.server.rollouts.models import Carried, Plan

    def look() -> bool:
        found = Plan.objects.get(pk=plan)
        rows = list(Carried.objects.filter(plan=plan).values_list("state", "says", "goes_back"))
        if found.state in ("done", "taken back"):
            return True
        there = ("stopped", "left out", "taken back", *(() if found.state == "going back" else ("in step",)))
        still = [r for r in rows if r[0] not in there]
        all_open = found.state == "going back" or len(found.opened) == len(found.waves)
        return bool(rows) and not still and all_open and all(r[1] for r in rows if r[0] == "stopped")

    return bool(again(look))


def whole(hosts: Hosts, homes: list[fleet.Placed]) -> list[str]:
    """Every file is one that was there or was ordered."""
    from amberkey.server.fleet.models import Order

    known = again(lambda: {d for pair in Order.objects.values_list("expect", "digest") for d in pair}) | FIRST
    return [f"{f} is neither what was there nor what was ordered" for f in files_of(hosts, homes) if read(f) not in known]


FIRST: set[str] = set()


def ended(hosts, homes, plan, begun, *, out) -> list[str]:  # type: ignore[no-untyped-def]
    from django.db.models import Count

    from amberkey.server.fleet.models import MachineFile, Order
    from amberkey.server.rollouts.models import Carried

    faults = whole(hosts, homes)

    def look() -> list[str]:
        found = []
        twice = Order.objects.values("file__machine", "number").annotate(many=Count("pk")).filter(many__gt=1)
        found += [f"an order's number was given twice: {row}" for row in twice]
        for row in Carried.objects.filter(plan=plan).select_related("file"):
            if row.state == "stopped" and not row.says:
                found.append(f"{row} says no reason")
        for file in MachineFile.objects.select_related("agent"):
            newest = file.orders.filter(state="done").order_by("-number").first()
            home = hosts.folder / "fleet" / f"{file.machine_id}.{file.agent.account}" / "home" / file.path
            if newest is not None and home.exists() and read(home) != newest.digest:
                waiting = file.orders.filter(state="waiting").exists()
                if not waiting:
                    found.append(f"{home} isn't what its newest order says")
        return found

    faults += again(look)
    if not out:
        changed = [file for file in begun if read(file) != begun[file]]
        faults += [f"{file} isn't as it was before" for file in changed]
        faults += again(lambda: open_rows(plan)) if changed else []
    return faults


if __name__ == "__main__":
    sys.exit(main())
