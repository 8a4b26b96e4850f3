"""What is done with proposals: commands are given their tasks, tasks are made of commands, proposals are refused."""

from collections.abc import Mapping, Sequence

from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.ids import fresh_id
from amberkey.core.documents.model import Document
from amberkey.core.programs.model import Program
from amberkey.core.tasks.editing import with_task
from amberkey.core.tasks.model import Task
from amberkey.server.catalogue.models import RefusedTask
from amberkey.server.estate import TASKS, current_estate
from amberkey.server.library.documents import digests
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.become import become
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role


def give_tasks(actor: Actor, program: Program, tasks: Mapping[str, str | None], made_of: Sequence[str]) -> ChangeSet:
    """Give commands their tasks, by id; and make tasks called as some commands are. One change set. Raises DocumentError."""
    actor.require(Role.EDITOR)
    known = current_estate().tasks
    faults = [
        Fault(f"tasks.{c}", f"There is no command {c[:60]}.", "Look at the proposals anew.")
        for c in (*tasks, *made_of)
        if program.command(c) is None
    ]
    ids = {t.id for t in known.tasks}
    faults += [
        Fault(f"tasks.{c}", f"There is no task {t[:60]}.", "Choose another.") for c, t in tasks.items() if t and t not in ids
    ]
    if faults:
        raise DocumentError(faults)
    then, given = known, dict(tasks)
    for one in made_of:
        command = program.command(one)
        assert command is not None
        task = Task(id=fresh_id(command.name, {t.id for t in then.tasks}), name=command.name, group=command.group)
        then, given[one] = with_task(then, task), task.id
    commands = tuple(c.model_copy(update={"task": given[c.id]}) if c.id in given else c for c in program.commands)
    after = program.model_copy(update={"commands": commands})
    wanted: dict[str, Document] = {f"program/{program.id}@{program.version}": after}
    if then != known:
        wanted[TASKS] = then if TASKS in digests() else then.model_copy(update={"name": "Tasks"})
    title = f"Gave {len(given)} {'command' if len(given) == 1 else 'commands'} of {program.name} their tasks"
    return become(actor, title, wanted)


def refuse(actor: Actor, program: Program, command: str, task: str, *, refused: bool) -> None:
    """Remember that a command doesn't do a task, or forget it again."""
    actor.require(Role.EDITOR)
    if refused:
        RefusedTask.objects.get_or_create(program=program.id, command=command, task=task, defaults={"actor": actor.user})
    else:
        RefusedTask.objects.filter(program=program.id, command=command, task=task).delete()
    actor.record("refused a task" if refused else "took a refusal back", f"program/{program.id}", f"{command}: {task}")
