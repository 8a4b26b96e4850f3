"""The neutral list of tasks that Amber Key ships: our own wording, taken whole, in groups, or not at all.

Keys are those that programs on the three desktops commonly have for it, as their makers recommend them to programs; where these
recommend none, the task has none.
"""

from collections.abc import Container, Iterator
from functools import cache
from importlib import resources
from typing import cast

from amberkey.core.documents.canonical import Json
from amberkey.core.documents.ids import id_from
from amberkey.core.documents.model import read_document
from amberkey.core.keys.platform import PLATFORMS
from amberkey.core.tasks.model import Tasks

_FAMILIES = "Families"
_PLATFORM = {p[0]: p for p in PLATFORMS}


@cache
def neutral_tasks() -> Tasks:
    """The whole list. Other words hold the names in the four languages."""
    lines = resources.files("amberkey.core.tasks").joinpath("data/neutral.txt").read_text("utf-8").splitlines()
    tasks: list[Json] = []
    families: list[Json] = []
    group = ""
    for line in lines:
        if not line or line.startswith("#"):
            continue
        cells = [c.strip() for c in line.split(" |")]
        if len(cells) == 1:
            group = cells[0]
        elif group == _FAMILIES:
            name, step, members = cells
            families.append({"id": id_from(name), "name": name, "step": step, "members": [*_split(members, ",")]})
        else:
            tasks.append(_task(group, cells))
    document = {"format": "amberkey/tasks@1", "id": "tasks", "name": "Tasks", "tasks": tasks, "families": families}
    found = read_document(cast(Json, document), {"amberkey/tasks@1": Tasks})
    assert isinstance(found, Tasks)
    return found


def groups_of(tasks: Tasks) -> dict[str, int]:
    """The groups in their order, with how many tasks each has."""
    found: dict[str, int] = {}
    for task in tasks.tasks:
        found[task.group] = found.get(task.group, 0) + 1
    return found


def only_groups(tasks: Tasks, groups: Container[str]) -> Tasks:
    """The tasks of some groups, with the families that are whole in them."""
    kept = tuple(t for t in tasks.tasks if t.group in groups)
    ids = {t.id for t in kept}
    families = tuple(f for f in tasks.families if ids.issuperset(f.members))
    return tasks.model_copy(update={"tasks": kept, "families": families})


def _task(group: str, cells: list[str]) -> Json:
    task_id, name, english, german, french, swedish, keys = cells
    keys, protected = keys.removesuffix("!").strip(), keys.endswith("!")
    words = dict.fromkeys(w for text in (english, german, french, swedish) for w in _split(text, ";"))
    task: dict[str, Json] = {"id": task_id, "name": name, "other_words": list(words), "group": group}
    if protected:
        task["protected"] = True
    usual: dict[str, Json] = {}
    for text in _split(keys, ", "):
        for platform in [_PLATFORM[text[0]]] if text[1:2] == " " else PLATFORMS:
            usual[platform] = [*cast(list[Json], usual.get(platform, [])), text[2:] if text[1:2] == " " else text]
    if usual:
        task["usual"] = usual
    return task


def _split(text: str, at: str) -> Iterator[str]:
    return (part.strip() for part in text.split(at) if part.strip())
