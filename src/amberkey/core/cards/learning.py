"""Which few keys next: the most minutes saved for the least that is new, a few at a time."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from amberkey.core.cards.model import CardLine
from amberkey.core.tasks.model import Tasks


@dataclass(frozen=True, slots=True)
class Lesson:
    """What is learned together: one line, or the lines of a family, which keep one shape. `new`: how many strokes that are new;
    `minutes`: what it saves in a week; `was`: what its key did until lately, for which it waits; empty where it needn't. `on`:
    the first day on which one of its keys moves, as ISO 8601; empty where none does."""

    lines: tuple[CardLine, ...]
    new: int
    minutes: float
    was: str
    on: str = ""


def lessons(lines: Sequence[CardLine], tasks: Tasks, moved: Mapping[str, str]) -> list[Lesson]:
    """Lessons in the order in which they are learned: keys that move on a date first, those that wait behind all others, the
    most minutes for a new stroke first. A stroke that several programs have is one line, and new once; a family is as good as
    one stroke, as its members follow from the first. `moved`: strokes that meant something else until lately, with what; who
    has them in the fingers learns them later."""
    groups: dict[str, list[CardLine]] = {}
    for line in lines:
        family = tasks.family_of(line.id.split(" ")[0])
        groups.setdefault(f"family {family.id}" if family is not None else line.id, []).append(line)
    found = [_lesson(group, own.startswith("family "), moved) for own, group in groups.items()]
    return sorted(found, key=lambda v: (not v.on, v.on, bool(v.was), -v.minutes / v.new, v.lines[0].name))


def weeks(learned: Sequence[Lesson], pace: int) -> list[tuple[Lesson, ...]]:
    """Lessons by weeks, so that no week has more than `pace` new strokes, unless one lesson alone has. Their order stays."""
    found: list[list[Lesson]] = []
    room = 0
    for lesson in learned:
        if not found or lesson.new > room:
            found.append([])
            room = pace
        found[-1].append(lesson)
        room -= lesson.new
    return [tuple(week) for week in found]


def _lesson(lines: Sequence[CardLine], family: bool, moved: Mapping[str, str]) -> Lesson:
    strokes = {key.text for line in lines for key in line.keys[:1]}
    was = next((moved[text] for text in sorted(strokes) if text in moved), "")
    on = min((line.on for line in lines if line.on), default="")
    return Lesson(tuple(lines), 1 if family else len(strokes), sum(line.minutes for line in lines), was, on)
