"""Moving a task: what a command gets, the same task gets in every program that had the old key for it."""

from collections.abc import Iterator
from dataclasses import dataclass

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.reach import Reach
from amberkey.core.programs.limits import why_not
from amberkey.core.tasks.model import Task
from amberkey.core.ways.changes import Change, operations_of
from amberkey.core.ways.consequences import consequences_of
from amberkey.core.ways.placing import is_placed
from amberkey.core.ways.wayout import WayOut, entry_change, reach_here, replaced


@dataclass(frozen=True, slots=True)
class Follower:
    """Another program's command for the task. `why_not` says why it stays as it is; empty where it moves along."""

    binding: Binding
    setup: str
    why_not: str = ""


@dataclass(frozen=True, slots=True)
class TaskMove:
    """`way`: the subject and all followers that can, as one way out. `stays`: those that don't move, with the reason."""

    task: Task
    way: WayOut
    moves: tuple[Follower, ...]
    stays: tuple[Follower, ...]


def task_move(estate: Estate, group: Group, shortcut: Shortcut, target: str, reach: Reach | None = None) -> TaskMove | None:
    """The move of a clash's subject to a shortcut, and of its task with it. None where its command has no task."""
    subject = group.clash.subject
    if is_placed(subject) or subject.arguments:
        return None  # its place says its key, not its task; and a template with values stands for no task
    task = estate.tasks.task(subject.command.task) if subject.command.task else None
    if task is None:
        return None
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    followers = list(_followers(estate, group, board, shortcut))
    moves = tuple(f for f in followers if not f.why_not)
    stays = tuple(f for f in followers if f.why_not)
    changes: list[Change] = list(
        entry_change(
            *(estate, subject.program.id, subject.command.id, setup_id),
            *(replaced(board, subject, (shortcut, subject.scope)), target),
        )
    )
    for one in moves:
        there = estate.board(one.setup)
        shortcuts = replaced(there, one.binding, (shortcut, one.binding.scope))
        layers = estate.setups[one.setup].layers
        kept_in = target if target in layers else layers[-1]
        changes += entry_change(
            *(estate, one.binding.program.id, one.binding.command.id, one.setup, shortcuts, kept_in),
        )
    told = consequences_of(estate, changes, group)
    names = ", ".join(f.binding.program.name for f in moves)
    reasons = (f"{task.name} moves along in {names}",) if moves else (f"no other program has {task.name} on the old key",)
    way = WayOut(
        *(f"task:{shortcut}", "move_task", subject, shortcut, reach, reach_here(subject, board)),
        *(reasons, operations_of(changes), told),
    )
    return TaskMove(task, way, moves, stays)


def _followers(estate: Estate, group: Group, here: Board, shortcut: Shortcut) -> Iterator[Follower]:
    """One for each other program that offers the task on this platform, looked at where most people have it."""
    subject = group.clash.subject
    seen = {subject.program.id}
    setups = sorted(estate.setups.values(), key=lambda s: (s.id not in {g.id for g in group.setups}, -s.people, s.id))
    for setup in setups:
        if setup.works_on != group.clash.platform or not setup.layers:
            continue
        board = estate.board(setup.id)
        for program_id, part in board.parts.items():
            if program_id in seen or part.program.kind in ("system", "utility"):
                continue
            for command in part.program.commands:
                if command.task != subject.command.task:
                    continue
                seen.add(program_id)
                for binding in part.commanded(command.id):
                    yield Follower(binding, setup.id, _why_not(binding, subject, shortcut, here))


def _why_not(binding: Binding, subject: Binding, shortcut: Shortcut, board: Board) -> str:
    if binding.program.card_only:
        return "takes no shortcuts from outside"
    if binding.shortcut == shortcut:
        return "has it already"
    if binding.shortcut != subject.shortcut and not set(binding.ways) & set(subject.ways):
        return f"has {say_shortcut(binding.shortcut, board)} for it" if binding.shortcut.presses else "has no key for it"
    why = why_not(binding.program, shortcut, board.ground.keyboard)
    return f"can't take it: {why}" if why else ""
