"""Families: tasks whose shortcuts keep one shape, and the shortcuts that a shape gives to each member."""

from collections.abc import Mapping

from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.tasks.model import Family, Tasks

_MIRRORED = {"ArrowLeft": "ArrowRight", "ArrowRight": "ArrowLeft", "ArrowUp": "ArrowDown", "ArrowDown": "ArrowUp"}
_MIRRORED |= {"PageUp": "PageDown", "PageDown": "PageUp", "Home": "End", "End": "Home"}


def shapes_for(family: Family, first: Shortcut, tasks: Tasks) -> Mapping[str, Shortcut]:
    """The shortcut of every member of a family by task, if the first member has `first`. Empty where the step can't be made.

    `shift`: the others add Shift; `arrow`: the mirrored arrow or page key; `digit`: 1, 2, 3 ... with the same modifiers;
    `letter`: the first letter of each task's name with the same modifiers.
    """
    *before, last = first.presses
    found: dict[str, Shortcut] = {}
    for n, member in enumerate(family.members):
        press = _member(family, tasks, last, member, n)
        if press is None:
            return {}
        found[member] = Shortcut((*before, press))
    return found if len(set(found.values())) == len(found) else {}


def _member(family: Family, tasks: Tasks, last: Press, member: str, n: int) -> Press | None:
    match family.step:
        case "shift":
            if "Shift" in last.modifiers or n > 1:
                return None
            return last if n == 0 else Press.of((*last.modifiers, "Shift"), last.key, last.code)
        case "arrow":
            mirrored = _MIRRORED.get(last.key or "")
            if mirrored is None or n > 1:
                return None
            return last if n == 0 else Press.of(last.modifiers, mirrored)
        case "digit":
            return Press.of(last.modifiers, str((n + 1) % 10)) if n < 10 else None
        case "letter":
            task = tasks.task(member)
            return Press.of(last.modifiers, case_of_key(task.name[0])) if task else None


def mirrored(press: Press) -> tuple[Press, ...]:
    """The press with the mirrored arrow or page key; none where it has no such key."""
    other = _MIRRORED.get(press.key or "")
    return (Press.of(press.modifiers, other),) if other else ()


def is_whole(family: Family, shortcuts: Mapping[str, Shortcut], tasks: Tasks) -> bool:
    """Whether the members that have a shortcut differ only by the family's step."""
    first = shortcuts.get(family.members[0])
    if first is None:
        return len(shortcuts) < 2
    shapes = shapes_for(family, first, tasks)
    return bool(shapes) and all(shapes.get(member) == shortcut for member, shortcut in shortcuts.items())
