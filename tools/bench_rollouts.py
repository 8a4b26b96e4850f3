"""What releases to many machines cost: PYTHONPATH=src .venv/bin/python tools/bench_rollouts.py

Planning for 10,000 machines against planning for 200, both with 200 setups. A release to 2,000 simulated machines in five waves
that runs to its end with nobody at it: how long it takes, how much each machine costs, and what this process grows by.
"""

import contextlib
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
from targets import Target, told

from amberkey.launcher.postgres import Cluster

FEW, MANY, SETUPS, RELEASED, WAVES, TURNS = 200, 10_000, 200, 2_000, 5, 7
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
        return work(int(sys.argv[1]))
    with contextlib.ExitStack() as stack:
        few, many = stack.enter_context(worker(FEW)), stack.enter_context(worker(MANY))
        # In turns, since the speed of a shared machine changes under both alike.
        turns = [(few("plan"), many("plan")) for _ in range(TURNS)]
    with worker(RELEASED) as released:
        took, grown = released("release")
    at_first_few, again_few = (min(n) for n in zip(*(t[0] for t in turns), strict=True))
    at_first_many, again_many = (min(n) for n in zip(*(t[1] for t in turns), strict=True))
    print(f"planning for {FEW}: {at_first_few:.2f} s at first, {again_few:.3f} s again")
    print(f"planning for {MANY}: {at_first_many:.2f} s at first, {again_many:.3f} s again")
    print(f"a release to {RELEASED} machines: {took:.0f} s, {1000 * took / RELEASED:.1f} ms a machine")
    return told(
        [
            Target(f"planning for {MANY} machines against {FEW}", at_first_many / at_first_few, 1.5),
            Target(f"memory over a release to {RELEASED} machines in {WAVES} waves", grown, 50, "MB"),
        ]
    )


@contextlib.contextmanager
def worker(machines: int) -> Iterator[Callable[[str], list[float]]]:
    """A process with an organisation of that size in a database of its own, which measures what it is asked for."""
    cluster = Cluster(f"bench-rollouts-{machines}", fast=True)
    if cluster.folder.exists():  # what an earlier run left would be measured too
        cluster.start()
        cluster.stop()
        shutil.rmtree(cluster.folder)
    cluster.start()
    env = {**os.environ, **cluster.environment(), "AMBERKEY_SECRET_KEY": "bench", "AMBERKEY_SIGNING_KEY": "11" * 32}
    env |= {"DJANGO_SETTINGS_MODULE": "amberkey.server.settings", "AMBERKEY_DB_POOL": "0"}
    command = [sys.executable, __file__, str(machines)]
    process = subprocess.Popen(command, env=env, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    assert process.stdin is not None
    assert process.stdout is not None
    asking, answers = process.stdin, process.stdout

    def ask(what: str) -> list[float]:
        print(what, file=asking, flush=True)
        for line in answers:
            if line.startswith("measured "):
                return [float(n) for n in line.split()[1:]]
        raise SystemExit(f"Measuring {machines} machines broke off.")

    try:
        yield ask
    finally:
        asking.close()
        process.wait()
        cluster.stop()
        shutil.rmtree(cluster.folder)


def work(machines: int) -> int:
    """Answers each line of the standard input: `plan` by the seconds of planning at first and again, `release` by the seconds
    of the release and the megabytes that it grew by."""
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
    for asked in sys.stdin:
        if asked.strip() == "plan":
            found = (at_first(lambda: draw([], plan)), at_first(lambda: draw([], plan), after=lambda: draw([], plan)))
        else:
            found = release(plan)
        print("measured", *found, flush=True)
    return 0


def at_first(work: Callable[[], object], after: Callable[[], object] = lambda: None) -> float:
    """The seconds that a piece of work takes in a process that has done nothing but `after`: a copy of this one."""
    from django.db import connections

    connections.close_all()
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        after()
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
