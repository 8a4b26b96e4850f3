"""What a key costs whoever has it: its reach, its letter, a line that becomes another one, other platforms' shapes."""

from collections.abc import Mapping

from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import PLATFORMS, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.ground import Ground, Post
from amberkey.core.proposing.options import Wanted
from amberkey.core.proposing.question import Question
from amberkey.core.standard.carrying import equivalent
from amberkey.core.tasks.model import Task


def reach_points(ground: Ground, post: Post, key: Shortcut) -> int:
    """What the reach of a key costs those who have a command."""
    question = ground.question
    reach = min(ground.hearings(post.free).reach(key), question.weights.reach_most)
    return round(question.weights.reach_share * reach * post.weight(post.free))


def line_cost(ground: Ground, wanted: Wanted, keys: Mapping[str, Shortcut]) -> int:
    """Reach and letters for everybody who has one of a line's tasks, and its present lines that become others."""
    weights, platform = ground.question.weights, ground.question.platform
    total = 0.0
    for task in wanted.tasks:
        key = keys.get(task.id)
        if key is None:
            continue
        weight, hearings = wanted.asked(ground, task.id)
        total += weights.reach_share * min(hearings.reach(key), weights.reach_most) * weight
        total += _letters(ground.question, task, key) * weight
        lines = [v for v in ground.standard.lines_of(task.id, platform) if v.layouts == wanted.layouts]
        total += weights.changed_line * any(v.shortcut != key for v in lines)
        total += weights.unlike * _people_unlike(ground, task, wanted.layouts, key)
    return round(total)


def _people_unlike(ground: Ground, task: Task, layouts: tuple[str, ...], key: Shortcut) -> int:
    """For how many people a key has another shape than another platform's line, summed over the platforms that have one and
    keep it."""
    here, found = ground.question.platform, 0
    for other in PLATFORMS:
        if other == here or other in ground.question.beside:
            continue
        lines = [v for v in ground.standard.lines_of(task.id, other) if v.layouts == layouts]
        if lines and not any(alike(key, here, v.shortcut, other) for v in lines):
            found += people_of_both(ground, other, task.id)
    return found


def people_of_both(ground: Ground, other: Platform, task: str) -> int:
    """The people who have a task on the one of two platforms where fewer have it."""
    return min(ground.people_having(ground.question.platform, task), ground.people_having(other, task))


def alike(key: Shortcut, platform: Platform, other_key: Shortcut, other: Platform) -> bool:
    """Whether two platforms' keys have one shape: the same keys, each with its own platform's modifiers."""
    return shape_of(key, platform) == shape_of(other_key, other)


def shape_of(key: Shortcut, platform: Platform) -> Shortcut:
    """As what keys of all platforms are held against each other: macOS tells Control from Command, and AltGraph is Alt."""
    return equivalent(key, platform, "macos")


def _letters(question: Question, task: Task, key: Shortcut) -> int:
    """0 for the first letter of a word of the task, more for others."""
    last = key.presses[-1].key or ""
    if len(last) != 1 or not last.isalpha():
        return question.weights.other_key
    initials = {case_of_key(word[0]) for word in task.name.split() if word[0].isalpha()}
    return 0 if case_of_key(last) in initials else question.weights.strange_letter
