"""Tasks and families: seen, taken from the neutral list, made, changed, merged, split and taken out."""

from typing import Annotated, cast

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.field import Language, MaybeText
from amberkey.core.documents.ids import fresh_id
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.platform import Platform
from amberkey.core.programs.making import read_keys, write_keys
from amberkey.core.standard.tasks_moved import standard_with_task_moved
from amberkey.core.tasks.editing import merged, with_family, with_taken, with_task, with_task_moved, without_task
from amberkey.core.tasks.model import Family, Step, Task, Tasks
from amberkey.core.tasks.neutral import groups_of, neutral_tasks, only_groups
from amberkey.server.estate import STANDARD, TASKS, current_estate, current_standard
from amberkey.server.library.documents import digests, programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.become import become
from amberkey.server.people.acting import Actor, By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Name, Schema
from amberkey.server.standard.tasks_told import TaskPlanOut, plan_of

router = Router(tags=["standard"])
_Words = Annotated[list[Name], Field(max_length=60)]


class ListedTaskOut(Schema):
    """`usual`: by platform, as text; `commands`: how many commands do it, in how many programs; `lines`: of the standard."""

    id: str
    name: str
    names: dict[str, str]
    group: str
    other_words: list[str]
    protected: bool
    usual: dict[str, str]
    commands: int
    programs: int
    lines: int
    family: str | None


class TaskFamilyOut(Schema):
    id: str
    name: str
    step: Step
    members: list[str]


class TasksOut(Schema):
    tasks: list[ListedTaskOut]
    families: list[TaskFamilyOut]
    without_task: int


class NeutralGroupOut(Schema):
    """A group of the neutral list: how many tasks it has, and how many of them are there already."""

    name: str
    tasks: int
    there: int
    some: list[str]


class TakeTasksIn(Schema):
    """Groups of the neutral list to take; none means all of them."""

    groups: list[str] = []


class TaskIn(Schema):
    """`usual`: by platform, as people write keys; `names`: in other languages."""

    name: Name
    names: dict[Language, Name] = {}
    group: Annotated[MaybeText, Field(max_length=80)] = ""
    other_words: _Words = []
    protected: bool = False
    usual: dict[Platform, Annotated[str, Field(max_length=200)]] = {}


class MergeIn(Schema):
    """Two tasks that are one: `gone` becomes `into`."""

    gone: str
    into: str


class SplitCommandIn(Schema):
    program: str
    command: str


class SplitIn(Schema):
    """A new task for some of the commands that did another one."""

    name: Name
    commands: Annotated[list[SplitCommandIn], Field(min_length=1, max_length=2000)]


class TaskFamilyIn(Schema):
    name: Name
    step: Step
    members: Annotated[list[str], Field(min_length=2, max_length=12)]


class TaskCommandOut(Schema):
    program: str
    program_name: str
    version: str
    command: str
    command_name: str


@router.get("/tasks", response=TasksOut)
def tasks(request: HttpRequest) -> TasksOut:
    """All tasks with their words and usual keys, and how many commands do each."""
    value, programs = current_estate().tasks, list(programs_by_key().values())
    done: dict[str, list[str]] = {}
    for program in programs:
        for command in program.commands:
            if command.task is not None:
                done.setdefault(command.task, []).append(program.id)
    lines: dict[str, int] = {}
    for line in current_standard().lines:
        lines[line.task] = lines.get(line.task, 0) + 1
    return TasksOut(
        tasks=[
            ListedTaskOut(
                id=t.id,
                name=t.name,
                names=dict(t.names),
                group=t.group,
                other_words=list(t.other_words),
                protected=t.protected,
                usual={p: write_keys(t.usual_on(p)) for p in t.usual},
                commands=len(done.get(t.id, [])),
                programs=len(set(done.get(t.id, []))),
                lines=lines.get(t.id, 0),
                family=f.id if (f := value.family_of(t.id)) else None,
            )
            for t in value.tasks
        ],
        families=[TaskFamilyOut(id=f.id, name=f.name, step=f.step, members=list(f.members)) for f in value.families],
        without_task=sum(c.task is None for p in programs if p.kind != "system" for c in p.commands),
    )


@router.get("/tasks/neutral", response=list[NeutralGroupOut])
def neutral(request: HttpRequest) -> list[NeutralGroupOut]:
    """The groups of the list that ships with Amber Key."""
    known = {t.id for t in current_estate().tasks.tasks}
    found = neutral_tasks()
    return [
        NeutralGroupOut(
            name=group,
            tasks=count,
            there=sum(t.group == group and t.id in known for t in found.tasks),
            some=[t.name for t in found.tasks if t.group == group][:4],
        )
        for group, count in groups_of(found).items()
    ]


@router.post("/tasks/neutral", response=ChangeOut, auth=By(Role.EDITOR))
def take_neutral(request: HttpRequest, given: TakeTasksIn) -> ChangeOut:
    """Take tasks from the neutral list. What is there already stays as it is."""
    found = neutral_tasks()
    unknown = sorted(set(given.groups) - groups_of(found).keys())
    if unknown:
        raise NotFound(f"group {unknown[0][:60]}")
    taken = only_groups(found, set(given.groups)) if given.groups else found
    after = with_taken(current_estate().tasks, taken)
    more = len(after.tasks) - len(current_estate().tasks.tasks)
    return _told(_save(actor_of(request), f"Took {more} tasks from the neutral list", after))


@router.post("/tasks", response=ChangeOut, auth=By(Role.EDITOR))
def make_task(request: HttpRequest, given: TaskIn) -> ChangeOut:
    """A new task."""
    now = current_estate().tasks
    task = _task(fresh_id(given.name, {t.id for t in now.tasks}), given)
    return _told(_save(actor_of(request), f"Made the task {task.name}", with_task(now, task)))


@router.post("/tasks/one/{task_id}/plan", response=TaskPlanOut)
def plan_task(request: HttpRequest, task_id: str, given: TaskIn) -> TaskPlanOut:
    """What other words, usual keys or protection of a task would do."""
    now = current_estate().tasks
    _find(now, task_id)
    return plan_of(task_id, {TASKS: with_task(now, _task(task_id, given))})


@router.put("/tasks/one/{task_id}", response=ChangeOut, auth=By(Role.EDITOR))
def change_task(request: HttpRequest, task_id: str, given: TaskIn) -> ChangeOut:
    """Another name, other words, usual keys, group, or whether it is protected."""
    now = current_estate().tasks
    _find(now, task_id)
    return _told(_save(actor_of(request), f"Changed the task {given.name}", with_task(now, _task(task_id, given))))


@router.get("/tasks/one/{task_id}/commands", response=list[TaskCommandOut])
def commands_of(request: HttpRequest, task_id: str) -> list[TaskCommandOut]:
    """The commands that do a task."""
    _find(current_estate().tasks, task_id)
    return [
        TaskCommandOut(program=p.id, program_name=p.name, version=p.version, command=c.id, command_name=c.name)
        for p in programs_by_key().values()
        for c in p.all_by_task.get(task_id, ())
    ]


@router.post("/tasks/merge/plan", response=TaskPlanOut)
def plan_merge(request: HttpRequest, given: MergeIn) -> TaskPlanOut:
    """What merging two tasks would touch."""
    _, changes = _merge(given)
    return plan_of(given.gone, changes)


@router.post("/tasks/merge", response=ChangeOut, auth=By(Role.EDITOR))
def merge_tasks(request: HttpRequest, given: MergeIn) -> ChangeOut:
    """Make two tasks one: commands, lines, exceptions and words go along. One change that can be undone."""
    title, changes = _merge(given)
    return _told(become(actor_of(request), title, changes))


@router.post("/tasks/one/{task_id}/split/plan", response=TaskPlanOut)
def plan_split(request: HttpRequest, task_id: str, given: SplitIn) -> TaskPlanOut:
    """What splitting a task would touch."""
    return plan_of(task_id, _split(task_id, given)[1])


@router.post("/tasks/one/{task_id}/split", response=ChangeOut, auth=By(Role.EDITOR))
def split_task(request: HttpRequest, task_id: str, given: SplitIn) -> ChangeOut:
    """A new task for some commands of one; the standard's lines stay with the old one."""
    title, changes = _split(task_id, given)
    return _told(become(actor_of(request), title, changes))


@router.get("/tasks/one/{task_id}/removal", response=TaskPlanOut)
def plan_removal(request: HttpRequest, task_id: str) -> TaskPlanOut:
    """What taking a task out would touch."""
    return plan_of(task_id, _removal(task_id)[1])


@router.post("/tasks/one/{task_id}/removal", response=ChangeOut, auth=By(Role.EDITOR))
def remove_task(request: HttpRequest, task_id: str) -> ChangeOut:
    """Take a task out: its commands do none then, and its lines are gone."""
    title, changes = _removal(task_id)
    return _told(become(actor_of(request), title, changes))


@router.post("/tasks/families/{family_id}/plan", response=TaskPlanOut)
def plan_family(request: HttpRequest, family_id: str, given: TaskFamilyIn) -> TaskPlanOut:
    """What a family as it shall be would do: lines that keep its shape, or don't."""
    return plan_of(None, {TASKS: _with_family(family_id, given)})


@router.put("/tasks/families/{family_id}", response=ChangeOut, auth=By(Role.EDITOR))
def change_family(request: HttpRequest, family_id: str, given: TaskFamilyIn) -> ChangeOut:
    """A family as it shall be; `new` as id makes one. Its members leave the families that they were in."""
    return _told(_save(actor_of(request), f"Family {given.name}", _with_family(family_id, given)))


@router.post("/tasks/families/{family_id}/removal", response=ChangeOut, auth=By(Role.EDITOR))
def remove_family(request: HttpRequest, family_id: str) -> ChangeOut:
    """Take a family apart; its tasks stay."""
    now = current_estate().tasks
    family = next((f for f in now.families if f.id == family_id), None)
    if family is None:
        raise NotFound(f"family {family_id[:60]}")
    left = tuple(f for f in now.families if f.id != family_id)
    return _told(_save(actor_of(request), f"Took the family {family.name} apart", now.model_copy(update={"families": left})))


def _find(now: Tasks, task_id: str) -> Task:
    task = now.task(task_id)
    if task is None:
        raise NotFound(f"task {task_id[:60]}")
    return task


def _task(task_id: str, given: TaskIn) -> Task:
    usual: dict[str, Json] = {}
    faults = []
    for platform, text in given.usual.items():
        try:
            keys = [cast(Json, s.to_document()) for s in read_keys(text)]
        except ShortcutError as error:
            faults.append(Fault(f"usual.{platform}", f"{text[:60]!r}: {error.says}", f"Expected {error.expected}."))
            continue
        if keys:
            usual[platform] = keys
    if faults:
        raise DocumentError(faults)
    return Task.model_validate({**given.model_dump(exclude={"usual"}), "id": task_id, "usual": usual}, strict=False)


def _with_family(family_id: str, given: TaskFamilyIn) -> Tasks:
    now = current_estate().tasks
    for member in given.members:
        _find(now, member)
    known = {f.id for f in now.families}
    if family_id != "new" and family_id not in known:
        raise NotFound(f"family {family_id[:60]}")
    made = fresh_id(given.name, known) if family_id == "new" else family_id
    return with_family(now, Family(id=made, name=given.name, step=given.step, members=tuple(given.members)))


def _split(task_id: str, given: SplitIn) -> tuple[str, dict[str, CoreDocument]]:
    now = current_estate().tasks
    old = _find(now, task_id)
    made = Task(id=fresh_id(given.name, {t.id for t in now.tasks}), name=given.name, group=old.group)
    chosen: dict[str, set[str]] = {}
    for one in given.commands:
        chosen.setdefault(one.program, set()).add(one.command)
    changes: dict[str, CoreDocument] = {TASKS: with_task(now, made)}
    for key, program in programs_by_key().items():
        only = frozenset(chosen.get(program.id, ()))
        if only:
            changes[key] = with_task_moved(program, task_id, made.id, only)
    return f"Split {given.name} from {old.name}", changes


def _merge(given: MergeIn) -> tuple[str, dict[str, CoreDocument]]:
    now = current_estate().tasks
    gone, into = _find(now, given.gone), _find(now, given.into)
    if gone.id == into.id:
        raise Problem(400, "That is one task already.", cure="Choose two.")
    return f"Made {gone.name} and {into.name} one task", _moved(merged(now, gone, into), gone.id, into.id)


def _removal(task_id: str) -> tuple[str, dict[str, CoreDocument]]:
    now = current_estate().tasks
    task = _find(now, task_id)
    return f"Took out the task {task.name}", _moved(without_task(now, task_id), task_id, None)


def _moved(tasks_then: Tasks, gone: str, into: str | None) -> dict[str, CoreDocument]:
    """The documents as they shall be when a task's commands and lines go to another one, or to none."""
    changes: dict[str, CoreDocument] = {TASKS: tasks_then}
    for key, program in programs_by_key().items():
        if gone in program.commands_by_task:
            changes[key] = with_task_moved(program, gone, into)
    standard = current_standard()
    then = standard_with_task_moved(standard, gone, into)
    if then != standard:
        changes[STANDARD] = then
    return changes


def _save(actor: Actor, title: str, after: Tasks) -> ChangeSet:
    named = after if TASKS in digests() else after.model_copy(update={"name": "Tasks"})
    return become(actor, title, {TASKS: named})


def _told(done: ChangeSet) -> ChangeOut:
    return ChangeOut(id=done.id, title=done.title)
