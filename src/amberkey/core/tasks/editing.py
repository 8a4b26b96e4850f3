"""Tasks edited: put in, taken from the neutral list, merged, with what that does to the programs and the standard."""

from collections.abc import Iterable, Iterator

from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import Family, Task, Tasks


def with_taken(tasks: Tasks, taken: Tasks) -> Tasks:
    """Tasks and families of another list beside one's own. What one has by the same id stays as one has it, and a family is
    taken only where none of its tasks is in one already."""
    known = {t.id for t in tasks.tasks}
    placed = {m for f in tasks.families for m in f.members}
    families = {f.id for f in tasks.families}
    more = tuple(f for f in taken.families if f.id not in families and placed.isdisjoint(f.members))
    both = (*tasks.tasks, *(t for t in taken.tasks if t.id not in known))
    ids = {t.id for t in both}
    whole = tuple(f for f in more if ids.issuperset(f.members))
    return tasks.model_copy(update={"tasks": both, "families": (*tasks.families, *whole)})


def with_task(tasks: Tasks, task: Task) -> Tasks:
    """A task put in, or changed where there is one of its id."""
    if tasks.task(task.id) is None:
        return tasks.model_copy(update={"tasks": (*tasks.tasks, task)})
    return tasks.model_copy(update={"tasks": tuple(task if t.id == task.id else t for t in tasks.tasks)})


def with_family(tasks: Tasks, family: Family) -> Tasks:
    """A family put in, or changed; its members leave the families that they were in."""
    others = without_members((f for f in tasks.families if f.id != family.id), set(family.members))
    return tasks.model_copy(update={"families": (*others, family)})


def without_members(families: Iterable[Family], gone: set[str]) -> Iterator[Family]:
    """Families without some members; one of which fewer than two are left is none."""
    for family in families:
        left = tuple(m for m in family.members if m not in gone)
        if len(left) > 1:
            yield family if left == family.members else family.model_copy(update={"members": left})


def without_task(tasks: Tasks, task_id: str) -> Tasks:
    """A task taken out, and out of its family."""
    return tasks.model_copy(
        update={
            "tasks": tuple(t for t in tasks.tasks if t.id != task_id),
            "families": tuple(without_members(tasks.families, {task_id})),
        }
    )


def merged(tasks: Tasks, gone: Task, into: Task) -> Tasks:
    """Two tasks that are one: the words and usual keys of both under the name of one of them."""
    words = tuple(dict.fromkeys((*into.other_words, gone.name, *gone.other_words)))
    usual = {**gone.usual, **into.usual}
    task = into.model_copy(update={"other_words": words, "usual": usual, "protected": into.protected or gone.protected})
    return with_task(without_task(tasks, gone.id), task)


def with_task_moved(program: Program, gone: str, into: str | None, only: frozenset[str] | None = None) -> Program:
    """The commands of a program that did one task do another one now, or none; `only` some of them, by id."""
    commands = tuple(
        c.model_copy(update={"task": into}) if c.task == gone and (only is None or c.id in only) else c
        for c in program.commands
    )
    return program.model_copy(update={"commands": commands})
