"""Which tasks a press has to do with: those whose line it is, and those that a program does by it."""

from collections.abc import Iterable, Iterator, Mapping

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.part import Part
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.standard.coverage import Coverage
from amberkey.core.standard.model import Standard


def tasks_on(coverage: Coverage, setup_ids: Iterable[str], shortcut: Shortcut) -> frozenset[str]:
    """By stroke, as each keyboard makes the shortcut: what is written otherwise and pressed the same is found too."""
    found: set[str] = set()
    parts: dict[int, Part] = {}
    for setup_id in setup_ids:
        board = coverage.estate.board(setup_id)
        setup, keyboard = board.setup.setup, board.ground.keyboard
        wanted = set(ways_of(shortcut.resolve(setup.works_on), keyboard, "character", False)[0])
        for task, ruling in coverage.standard.rulings(setup.works_on, setup.reads_by).items():
            if task not in found and not wanted.isdisjoint(ways_of(ruling.line.shortcut, keyboard, "character", False)[0]):
                found.add(task)
        parts |= {id(p): p for p in board.parts.values() if p.program.kind != "system"}
    for part in parts.values():
        found.update(_done_by(part, shortcut))
    return frozenset(found)


def lines_on_keys(standard: Standard, board: Board) -> Mapping[Stroke, tuple[str, ...]]:
    """By the first stroke that makes a line's shortcut on a board's keyboard, the tasks of the lines that hold there, in their
    order. A shortcut that can be made in several ways is on each of them."""
    found: dict[Stroke, dict[str, None]] = {}
    setup = board.setup.setup
    for task, ruling in standard.rulings(setup.works_on, setup.reads_by).items():
        for way in ways_of(ruling.line.shortcut, board.ground.keyboard, "character", False)[0]:
            found.setdefault(way[0], {})[task] = None
    return {stroke: tuple(tasks) for stroke, tasks in found.items()}


def _done_by(part: Part, shortcut: Shortcut) -> Iterator[str]:
    ground = part.ground
    wanted = set(ways_of(shortcut.resolve(ground.platform), ground.keyboard, part.reads, part.pad)[0])
    for task, effective in part.effective.by_task.items():
        if any(not wanted.isdisjoint(b.ways) for b in part.commanded(effective.command.id)):
            yield task
