"""What releases to many machines cost: PYTHONPATH=src .venv/bin/python tools/bench_rollouts.py

Planning for 10,000 machines against planning for 200, both with 200 setups. A release to 2,000 simulated machines in five waves
that runs to its end with nobody at it: how long it takes, how much each machine costs, and what this process grows by.
"""

import gc
import os
import pathlib
import resource
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator

from make_organisation import Size, make
from targets import Target, best, told

from amberkey.launcher.postgres import Cluster

FEW, MANY, SETUPS, RELEASED, WAVES = 200, 10_000, 200, 2_000, 5
DESCRIBED = {
    "path": dict.fromkeys(("windows", "linux", "macos"), "App/settings.json"),
    "container": "json",
    "at": ["keys"],
    "command": "name",
    "keys": {"at": "value", "form": "list"},
    "dialect": {
        "modifiers": {"Control": ["ctl-"], "Alt": ["alt-"], "Shift": ["shift-"], "Meta": ["meta-"]},
        "letters": "small",
    },
}
CONTENT = b'{"keys": {}, "window": [1, 2]}\n'


def main() -> int:
    if len(sys.argv) > 1:
        return measured(int(sys.argv[1]))
    found: list[Target] = []
    times = {}
    for machines in (FEW, MANY, RELEASED):
        cluster = Cluster("bench-rollouts", fast=True)
        if cluster.folder.exists():  # what an earlier run left would be measured too
            cluster.start()
            cluster.stop()
            shutil.rmtree(cluster.folder)
        cluster.start()
        env = {**os.environ, **cluster.environment(), "AMBERKEY_SECRET_KEY": "bench", "AMBERKEY_SIGNING_KEY": "11" * 32}
        env |= {"DJANGO_SETTINGS_MODULE": "amberkey.server.settings", "AMBERKEY_DB_POOL": "0"}
        try:
            command = [sys.executable, __file__, str(machines)]
            done = subprocess.run(command, env=env, check=True, capture_output=True, text=True)
            times[machines] = [float(n) for n in done.stdout.split()[-5:]]
        finally:
            cluster.stop()
    found.append(Target(f"planning for {MANY} machines against {FEW}", times[MANY][1] / times[FEW][1], 1.5))

    _, _, took, each, grown = times[RELEASED]
    found.append(Target(f"memory over a release to {RELEASED} machines in {WAVES} waves", grown, 50, "MB"))
    for machines, (warm, drawn, *_) in times.items():
        print(f"planning for {machines}: {drawn:.2f} s at first, {warm:.3f} s again")
    print(f"a release to {RELEASED} machines: {took:.0f} s, {each:.1f} ms a machine")
    return told(found)


def measured(machines: int) -> int:
    """Seconds of planning again and at first, seconds and milliseconds a machine of the release, megabytes that it grew by; 0
    for what isn't measured at this size."""
    import django

    gc.set_threshold(100_000, 50, 1_000)  # as in the server
    django.setup()
    load(machines)
    from amberkey.core.rollout.model import Chosen, Gate, ReleasePlan, Wave
    from amberkey.server.rollouts.verbs.begin import draw

    at_once = Gate(quiet_hours=0)
    shares = [Wave(name=f"Wave {n}", chosen=Chosen(by="share", share=25), gate=at_once) for n in range(1, WAVES - 1)]
    waves = [Wave(name="Pilot", chosen=Chosen(by="setups")), *shares, Wave(name="Rest", chosen=Chosen(by="rest"), gate=at_once)]
    plan = ReleasePlan(waves=tuple(waves))
    drawn = min(at_first(lambda: draw([], plan)) for _ in range(5))
    draw([], plan)
    warm = best(lambda: draw([], plan), 3)
    took, grown = release(plan) if machines == RELEASED else (0.0, 0.0)
    print(warm, drawn, took, 1000 * took / machines, grown)
    return 0


def at_first(work: Callable[[], object]) -> float:
    """The seconds that a piece of work takes in a process that hasn't done it before: a copy of this one."""
    from django.db import connections

    connections.close_all()
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        begun = time.perf_counter()
        work()
        os.write(writing, repr(time.perf_counter() - begun).encode())
        os._exit(0)
    os.close(writing)
    with os.fdopen(reading) as told_by_child:
        seconds = float(told_by_child.read())
    os.waitpid(child, 0)
    return seconds


def load(machines: int) -> None:
    """The organisation, released, with an agent on every machine that has shown its file and was given the state before."""
    from django.core.management import call_command
    from django.utils import timezone

    from amberkey.core.documents.model import read_document
    from amberkey.core.exchange.approving import sensitive_in
    from amberkey.core.formats import FORMATS
    from amberkey.demo.load import load_people
    from amberkey.server.fleet.models import Agent, FileBytes, Machine, MachineFile
    from amberkey.server.library.approving import keep_approval
    from amberkey.server.library.documents import digests
    from amberkey.server.library.given import keep_state
    from amberkey.server.library.models import Document, Given
    from amberkey.server.library.verbs.change import create
    from amberkey.server.library.verbs.release import RELEASED as FORMATS_RELEASED
    from amberkey.server.people.models import User

    call_command("migrate", verbosity=0)
    actor = load_people()
    second = User.objects.get(username="arvid")
    described = set()
    for document in make(Size(machines=machines, setups=SETUPS, programs=12, commands=1_200)):
        value = document.to_json()
        if document.format == "amberkey/program@1" and value["id"].startswith("program-"):
            value["settings_files"] = [DESCRIBED | {"path": dict.fromkeys(DESCRIBED["path"], f"{value['id']}/settings.json")}]
            described.add(value["id"])
            document = read_document(value, FORMATS)
            for one in sensitive_in(document):
                keep_approval(one, actor.user, second)
        create(actor, document)
    for row in Document.objects.filter(format__in=FORMATS_RELEASED).select_related("newest"):
        row.released = row.newest
        row.save(update_fields=["released"])
    content, now = FileBytes.keep(CONTENT), timezone.now()
    known = list(organisation_machines())
    Machine.objects.bulk_create(Machine(id=m, name=m) for m in known)
    Agent.objects.bulk_create(Agent(machine_id=m, token_hash=m, heard_at=now) for m in known)
    agents = {a.machine_id: a for a in Agent.objects.all()}
    programs = programs_of()
    MachineFile.objects.bulk_create(
        MachineFile(machine_id=m, agent=agents[m], program=p, path=f"{p}/settings.json", content=content, seen_at=now)
        for m in known
        for p in programs[m][:3]
        if p in described
    )
    state = keep_state(digests(released=True))
    Given.objects.bulk_create(Given(machine=m, state=state) for m in known)


def organisation_machines() -> Iterator[str]:
    from amberkey.server.estate import current_organisation

    return (m.id for m in current_organisation().machines)


def programs_of() -> dict[str, list[str]]:
    from amberkey.server.estate import current_organisation

    organisation = current_organisation()
    return {m.id: [u.id for u in organisation.programs_on(m)] for m in organisation.machines}


def release(plan: object) -> tuple[float, float]:
    """The seconds until every machine is in step, its agent answering at once, and the megabytes that this process grew by."""
    from amberkey.server.fleet.models import Order
    from amberkey.server.fleet.verbs.hear import done
    from amberkey.server.people.acting import Actor
    from amberkey.server.people.models import User
    from amberkey.server.rollouts.models import Plan
    from amberkey.server.rollouts.moving import move
    from amberkey.server.rollouts.verbs.begin import begin

    made = begin(Actor(User.objects.get(username="ines")), [], plan)  # type: ignore[arg-type]
    gc.collect()
    before, begun = resident(), time.perf_counter()
    while Plan.objects.get(pk=made.pk).state == Plan.State.RUNNING:
        move(made.pk)
        for order in Order.objects.filter(state=Order.State.WAITING).select_related("file__agent__machine").iterator():
            done(order.file.agent, str(order.pk), "written", "")
    gc.collect()
    return time.perf_counter() - begun, resident() - before


def resident() -> float:
    """The megabytes that this process holds now."""
    try:
        pages = int(pathlib.Path("/proc/self/statm").read_text().split()[1])
    except OSError:
        return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return pages * resource.getpagesize() / 1048576


if __name__ == "__main__":
    sys.exit(main())
