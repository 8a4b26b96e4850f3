"""Loads the example organisation into an empty database, and lays out the homes of its simulated machines.

    python -m amberkey.demo.load MACHINES_FOLDER

Loading twice changes nothing. For machines that aren't enrolled yet it leaves a one-time code in `enrol-code` beside the home.
"""

import json
import os
import pathlib
import shlex
import sys
from typing import TYPE_CHECKING

from amberkey.demo.fleet import LIST, Does, Placed, home_of, keep_state, write_list
from amberkey.demo.settings import SETTINGS, STORE

if TYPE_CHECKING:
    from amberkey.server.fleet.models import Machine
    from amberkey.server.people.acting import Actor

DOCUMENTS = pathlib.Path(__file__).parent / "documents"
PASSWORD = "ferry-crossing"  # noqa: S105  (the demo's, printed at its start)
USERS = (
    ("ines", "Ines", "releaser"),
    ("jorun", "Jorun", "editor"),
    ("tove", "Tove", "reader"),
    ("arvid", "Arvid", "administrator"),
)
# Machines of the organisation, and whether an agent is simulated for them.
MACHINES = (("counter-3", True), ("training-1", True), ("web-5", True), ("harbour-desk-2", False))
# Machines whose agents run together in one process, with whose homes there are and what is odd about them (`fleet.Does`).
FLEET: tuple[tuple[str, tuple[tuple[str, Does], ...]], ...] = (
    ("counter-1", (("kaja", "as it should"),)),
    ("counter-2", (("lorin", "slow"),)),
    ("counter-4", (("alva", "as it should"), ("odile", "as it should"))),
    ("counter-5", (("bento", "edited by hand"),)),
    ("counter-6", (("nils", "read-only"),)),
    ("counter-7", (("counters", "as it should"),)),
    ("counter-8", (("counters", "full"),)),
    ("counter-9", (("carys", "as it should"),)),
    ("counter-10", (("dagny", "wrong time"),)),
    ("counter-11", (("edda", "two agents"),)),
    ("counter-12", (("hanno", "as it should"),)),
    ("gate-1", (("gate", "as it should"),)),
    ("gate-2", (("gate", "offline"),)),
    ("gate-3", (("gate", "as it should"),)),
    ("training-2", (("learner", "as it should"),)),
    ("training-3", (("learner", "as it should"),)),
)
# The waves of the release that is under way, by machine; everybody else comes after them.
RELEASED_TO = (
    ("Pilot", ("training-2", "training-3", "counter-1")),
    ("Westquay", ("counter-2", "counter-4", "counter-5", "counter-6", "gate-1", "gate-2")),
)
FLEET_FOLDER = "fleet"
FLEET_NOTE = "The example's simulated machines"
ACCOUNTS = {"counter-3": "mirte", "training-1": "viggo", "web-5": "otis"}
# What a machine calls its edition where the list has it otherwise.
SAYS_ITSELF = {"web-5": "GNOME 43"}
# Machines on which somebody opens and closes the programs that write their files anew when they end.
RUN_PROGRAMS = ("counter-3",)
NOTE = "Part of the example"
SECOND = "arvid"
"""Who looks at what Ines writes and releases."""


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    import django

    django.setup()
    folder = pathlib.Path(sys.argv[1])
    actor = load_people()
    load_documents(actor)
    load_machines(actor, folder)
    load_fleet(actor, folder / FLEET_FOLDER)
    begin_release(actor)
    begin_course()


def load_people() -> "Actor":
    from amberkey.server.people.acting import Actor
    from amberkey.server.people.models import User

    for username, name, role in USERS:
        if not User.objects.filter(username=username).exists():
            user = User(username=username, first_name=name, role=role)
            user.set_password(PASSWORD)
            user.save()
    return Actor(User.objects.get(username="ines"))


def load_documents(actor: "Actor", folder: pathlib.Path = DOCUMENTS) -> None:
    """The documents of a folder, and the system tables. One that nobody has changed since an older example is renewed."""
    from django.db import transaction
    from django.utils import timezone

    from amberkey.core.exchange.approving import sensitive_in
    from amberkey.core.formats import read_any
    from amberkey.core.programs.model import Program
    from amberkey.core.programs.reference import system_tables
    from amberkey.server.library.approving import keep_approval
    from amberkey.server.library.documents import key_of
    from amberkey.server.library.models import Document
    from amberkey.server.library.verbs.change import add_revision, create
    from amberkey.server.library.verbs.release import RELEASED, release
    from amberkey.server.library.verbs.take_facts import note_taken
    from amberkey.server.people.models import User

    with transaction.atomic():
        documents = [*system_tables(), *(read_any(p.read_bytes()) for p in sorted(folder.glob("*.json")))]
        known = {d.key: d for d in Document.objects.select_related("newest")}
        second = User.objects.filter(username=SECOND).first()
        untouched = {k for k, d in known.items() if not d.revisions.exclude(note=NOTE).exists()}
        for value in documents:
            document = known.pop(key_of(value), None)
            if document is None:
                create(actor, value, NOTE)
            elif document.key in untouched and document.newest and document.newest.digest != value.digest:
                add_revision(actor, document, value, note=NOTE)
            else:
                continue
            if isinstance(value, Program) and value.kind == "system":
                note_taken(Document.objects.get(key=key_of(value)), value)
            for one in sensitive_in(value):
                if one.kind == "path" or value.id == "house":  # what the others run waits for a yes
                    keep_approval(one, actor.user, second)
            if value.format in RELEASED:
                newest = Document.objects.get(key=key_of(value)).newest
                assert newest is not None
                release(actor, key_of(value), newest.number)
        for document in known.values():  # of an older example, and not part of this one any more
            if document.key in untouched and document.deleted_at is None:
                document.deleted_at = timezone.now()
                document.save(update_fields=["deleted_at"])


def load_machines(actor: "Actor", folder: pathlib.Path) -> None:
    from amberkey.server.estate import current_organisation
    from amberkey.server.fleet.models import Machine

    known = current_organisation().machines_by_id
    for machine_id, simulated in MACHINES:
        machine, _ = Machine.objects.get_or_create(id=machine_id, defaults={"name": known[machine_id].name})
        if simulated:
            lay_out_home(actor, machine, folder)


def load_fleet(actor: "Actor", folder: pathlib.Path) -> None:
    """The homes of the machines that run together, and a key with which their agents enrol; nothing where that was done."""
    from amberkey.core.programs.settings_files import described_on
    from amberkey.server.estate import board_of, current_derived, current_estate
    from amberkey.server.exchange.keys import own_key
    from amberkey.server.fleet.homes import Home
    from amberkey.server.fleet.models import EnrolKey
    from amberkey.server.fleet.verbs.enrol import enrol_many, make_key

    if (folder / LIST).exists() and EnrolKey.objects.filter(note=FLEET_NOTE).exists():
        return
    estate, derived, placed = current_estate(), current_derived(), []
    for machine_id, homes in FLEET:
        setup = board_of(estate, max(derived.setups_of(machine=machine_id), key=lambda i: derived.setups[i].people)).setup
        platform = setup.setup.works_on
        described = [(p.id, how) for p in setup.programs for _, how in described_on(p, platform) if how.path]
        files = {program: how.path[platform] for program, how in described if program in SETTINGS}
        for account, does in homes:
            facts = folder / f"{machine_id}.{account}" / "facts.json"
            opened = tuple(path for path in files.values() if path.startswith("."))
            one = Placed(machine_id, account, does, files, opened, str(facts))
            for program, path in files.items():
                _keep(home_of(folder, one) / path, SETTINGS[program])
            facts.write_text(json.dumps(_facts(machine_id), indent=1), encoding="utf-8")
            placed.append(one)
    _, key = make_key(actor, FLEET_NOTE, len(FLEET), 365)
    write_list(folder, key, placed)
    for one in placed:
        machine, token = enrol_many(key, one.machine, Home(account=one.account))
        own = own_key()
        keep_state(folder, one, token, machine.id, own.key.public if own is not None else "")


def begin_release(actor: "Actor") -> None:
    """A release under way: to the training room first, then to Westquay, then to everybody else."""
    from amberkey.core.rollout.model import Chosen, Gate, ReleasePlan, Wave, Window
    from amberkey.server.fleet.models import Agent
    from amberkey.server.rollouts.models import Plan
    from amberkey.server.rollouts.verbs.begin import begin

    enrolled = set(Agent.objects.exclude(token_hash="").values_list("machine_id", flat=True))
    if Plan.objects.exists() or not enrolled.issuperset(m for wave in RELEASED_TO for m in wave[1]):
        return
    waves = [
        Wave(name=name, chosen=Chosen(by="machines", machines=machines), gate=Gate(quiet_hours=0))
        for name, machines in RELEASED_TO
    ]
    night = Wave(name="Everybody else", chosen=Chosen(by="rest"), window=Window(begins=6, ends=20))
    begin(actor, [], ReleasePlan(waves=(*waves, night)))


def _facts(machine_id: str) -> dict[str, object]:
    """What a machine says of itself: mostly what the list says."""
    from amberkey.server.estate import current_organisation

    listed = current_organisation().machines_by_id.get(machine_id)
    edition = SAYS_ITSELF.get(machine_id, f"{listed.edition} {listed.edition_version}".strip() if listed else "")
    return {"edition": edition, "layouts": list(listed.layouts) if listed else []}


def begin_course() -> None:
    """How far everybody is at first: the line of coverage over revisions begins with it."""
    from amberkey.server.standard.models import CoveragePoint
    from amberkey.server.standard.state import current_coverage
    from amberkey.server.standard.verbs.keep_point import keep_point

    if not CoveragePoint.objects.exists():
        keep_point(current_coverage())


def lay_out_home(actor: "Actor", machine: "Machine", folder: pathlib.Path) -> None:
    """The home of a simulated machine and its settings store, with what the machine says of itself, a code until its agent has
    enrolled, and what whoever runs the machine tells the agent then: which folders it may work in, how the store is reached."""
    from amberkey.core.programs.settings_files import described_on
    from amberkey.server.estate import board_of, current_estate
    from amberkey.server.fleet.setups import setup_of
    from amberkey.server.fleet.verbs.enrol import make_code

    place = folder / machine.id
    setup = board_of(current_estate(), setup_of(machine)).setup
    platform = setup.setup.works_on
    asked: list[list[str]] = []
    for program in setup.programs:
        for _, how in described_on(program, platform):
            path = how.path.get(platform)
            if path is not None and program.id in SETTINGS:
                _keep(place / "home" / path, SETTINGS[program.id])
                if path.startswith("."):
                    asked.append(["allow", path])
            elif how.export is not None:
                store = place / "store.txt"
                _keep(store, STORE)
                command = shlex.join([sys.executable, "-m", "amberkey.demo.store", str(store)])
                lines = ["--get", f"{command} get", "--put", f"{command} put"]
                asked.append(["store", "--called", how.export.called, *lines])
    running = [
        [p.id, str(place / "home" / how.path[platform]), "--does", "rewrites", "--open", "20", "--closed", "20"]
        for p in setup.programs
        for _, how in described_on(p, platform)
        if how.rewrites_at_exit and platform in how.path and machine.id in RUN_PROGRAMS
    ]
    (place / "programs.json").write_text(json.dumps(running, indent=1), encoding="utf-8")
    (place / "facts.json").write_text(json.dumps(_facts(machine.id), indent=1), encoding="utf-8")
    (place / "account").write_text(ACCOUNTS.get(machine.id, ""), encoding="utf-8")
    (place / "agent-is-told.json").write_text(json.dumps(asked, indent=1), encoding="utf-8")
    if not machine.agents.exclude(token_hash="").exists() or not _is_enrolled(place / "home/.amberkey/agent.json"):
        (place / "enrol-code").write_text(make_code(actor, machine.id), encoding="utf-8")


def _keep(file: pathlib.Path, text: str) -> None:
    file.parent.mkdir(parents=True, exist_ok=True)
    if not file.exists():
        file.write_text(text, encoding="utf-8")


def _is_enrolled(file: pathlib.Path) -> bool:
    """Whether an agent of today's kind, which pinned a key, has enrolled there."""
    try:
        return bool(json.loads(file.read_text())["key"])
    except (OSError, ValueError, KeyError, TypeError):
        return False


if __name__ == "__main__":
    main()
