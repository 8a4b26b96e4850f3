"""The line of the work: what there is, what comes next, and what each step unlocks."""

from typing import Literal

from django.http import HttpRequest
from ninja import Router

from amberkey.core.compare.operations import operation
from amberkey.core.documents.field import MaybeText
from amberkey.core.documents.ids import id_from
from amberkey.core.organisation.model import Department
from amberkey.core.tasks.neutral import neutral_tasks
from amberkey.server.estate import current_estate, current_organisation, current_standard
from amberkey.server.exchange.outgoing import TAKEN_OUT
from amberkey.server.fleet.models import Machine
from amberkey.server.library.documents import programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.models import ChangeSet, Document
from amberkey.server.library.verbs.first import UNNAMED, first_documents
from amberkey.server.organisation.verbs.edit import edit
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import AuditEntry, Role
from amberkey.server.schema import Name, Schema

router = Router(tags=["beginning"])
StepId = Literal["organisation", "programs", "tasks", "people", "clashes", "standard", "profiles"]


class LineStepOut(Schema):
    """One step. `state`: it is done, it is the next one, or it comes later. `says` what there is, `unlocks` what it is for,
    `count` in short what there is."""

    id: StepId
    title: str
    state: Literal["done", "next", "later"]
    says: str
    unlocks: str
    count: str


class BeginningLineOut(Schema):
    """`missing`: something of the line isn't done yet. `neutral_tasks`: how many tasks the list that ships has."""

    organisation: str
    named: bool
    missing: bool
    steps: list[LineStepOut]
    neutral_tasks: int


class OrganisationIn(Schema):
    """What the organisation is called, and its first department, which people need to be in one."""

    name: Name
    department: MaybeText = ""


@router.get("/beginning", response=BeginningLineOut)
def line(request: HttpRequest) -> BeginningLineOut:
    """How far the work has come."""
    organisation = current_organisation()
    found = list(_steps())
    next_one = next((n for n, (_, done) in enumerate(found) if not done), len(found))
    steps = [
        step.model_copy(update={"state": "done" if done else "next" if n == next_one else "later"})
        for n, (step, done) in enumerate(found)
    ]
    return BeginningLineOut(
        organisation="" if organisation.name == UNNAMED else organisation.name,
        named=organisation.name != UNNAMED,
        missing=next_one < len(found),
        steps=steps,
        neutral_tasks=len(neutral_tasks().tasks),
    )


@router.post("/beginning/organisation", response=ChangeOut, auth=By(Role.EDITOR))
def name_organisation(request: HttpRequest, given: OrganisationIn) -> ChangeOut:
    """Name the organisation; its first department comes with it where it has none."""
    actor = actor_of(request)
    first_documents(actor)
    now = current_organisation()
    operations = []
    if given.name.strip() != now.name:
        operations.append(operation("", "name", now.name, given.name.strip()))
    if not now.departments:
        name = given.department.strip() or "Everybody"
        department = Department(id=id_from(name), name=name)
        operations.append(
            operation("departments", department.id, None, department.model_dump(mode="json", exclude_defaults=True))
        )
    done: ChangeSet = edit(actor, f"Called the organisation {given.name.strip()}", operations)
    return ChangeOut(id=done.id, title=done.title)


def _steps() -> "list[tuple[LineStepOut, bool]]":
    organisation, estate, standard = current_organisation(), current_estate(), current_standard()
    programs = [p for p in programs_by_key().values() if p.kind != "system"]
    commands = sum(len(p.commands) for p in programs)
    tasks = len(estate.tasks.tasks)
    matched = sum(c.task is not None for p in programs for c in p.commands)
    people = sum(p.retired is None for p in organisation.people)
    machines = sum(m.retired is None for m in organisation.machines)
    clashes = len(estate.groups()) if estate.setups else 0
    decided = ChangeSet.objects.exclude(settled=None).filter(undone=False).distinct().count()
    setups = len(estate.setups)
    taken_out = AuditEntry.objects.filter(action=TAKEN_OUT).exists()
    agents = Machine.objects.filter(agents__isnull=False).distinct().count()
    released = Document.objects.filter(format="amberkey/profile@1", deleted_at=None).exclude(released=None).exists()
    entries = sum(len(p.all_entries) for p in estate.profiles.values())
    return [
        _step(
            "organisation",
            "Your organisation",
            organisation.name if organisation.name != UNNAMED else "It has no name yet.",
            "Everything that is kept is kept for it; its name stands on what you hand out.",
            "named" if organisation.name != UNNAMED else "",
            organisation.name != UNNAMED and bool(organisation.departments),
        ),
        _step(
            "programs",
            "Programs",
            f"{_many(len(programs), 'program')} with {_many(commands, 'command')}." if programs else "Only the three desktops.",
            "What your people press, and what else listens: utilities, the browser.",
            f"{len(programs)}, {commands:,} commands" if programs else "",
            commands > 0,
        ),
        _step(
            "tasks",
            "Tasks",
            f"{matched:,} of {_many(commands, 'command')} have their task."
            if tasks
            else "What is the same job in several programs.",
            "A key for a job, decided once for all programs that do it.",
            f"{tasks} tasks" if tasks else "",
            tasks > 0 and matched > 0,
        ),
        _step(
            "people",
            "People and machines",
            f"{_many(people, 'person', 'people')} at {_many(machines, 'machine')}, {_many(setups, 'setup')}."
            if people or machines
            else "Who sits where, with which keyboard.",
            "From here on every clash says whom it hurts.",
            f"{people} at {machines}" if people or machines else "nobody yet",
            bool(estate.setups),
        ),
        _step(
            "clashes",
            "Clashes",
            f"{_many(clashes, 'clash', 'clashes')} found; {decided} decided."
            if estate.setups
            else "Where presses stop, and the ways out.",
            "A press stops nowhere any more on its way to what it is for.",
            f"{clashes} open" if clashes else "",
            bool(estate.setups) and (decided > 0 or entries > 0 or clashes == 0),
        ),
        _step(
            "standard",
            "The standard",
            f"{_many(len(standard.lines), 'line')}." if standard.lines else "One key a task, decided once.",
            "Begin with what most of your people press already; the figures of each way are told first.",
            f"{len(standard.lines)} lines" if standard.lines else "",
            bool(standard.lines),
        ),
        _step(
            "profiles",
            "Profiles and machines",
            f"{_many(entries, 'entry', 'entries')} in {_many(len(estate.profiles), 'profile')}; {_many(agents, 'agent')}.",
            "How it gets to people and stays there: bundles and files by hand, or agents that write them.",
            "handed out" if taken_out or released else "",
            taken_out or released or agents > 0,
        ),
    ]


def _step(step: StepId, title: str, says: str, unlocks: str, count: str, done: bool) -> "tuple[LineStepOut, bool]":
    return LineStepOut(id=step, title=title, state="later", says=says, unlocks=unlocks, count=count), done


def _many(count: int, one: str, several: str = "") -> str:
    return f"{count:,} {one if count == 1 else several or one + 's'}"
