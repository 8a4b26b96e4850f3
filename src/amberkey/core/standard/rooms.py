"""The commands that make room in a standard: for which of its lines, and what each would have without that."""

from collections.abc import Container, Iterable, Iterator
from typing import NamedTuple

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.part import Part
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Way, ways_of
from amberkey.core.programs.model import Command
from amberkey.core.standard.model import Line, MakesRoom, Standard

_AROUND = frozenset({"browser", "utility"})
"""Programs that take keys from others: they make room for those others' lines, too."""


class Making(NamedTuple):
    """A command that makes room. `had`: what it has by default; `lines`: those whose key it gave up, none where it makes room
    for nobody any more; `people`: who have its program on that platform, 0 with no `command` where nobody has."""

    room: MakesRoom
    command: Command | None
    had: tuple[Shortcut, ...]
    lines: tuple[Line, ...]
    people: int


def making_room(estate: Estate, standard: Standard) -> list[Making]:
    """Every command that makes room, in the standard's order."""
    return [_making(estate, standard, room) for room in standard.makes_room]


def _making(estate: Estate, standard: Standard, room: MakesRoom) -> Making:
    command: Command | None = None
    lines: dict[str, Line] = {}
    setups = []
    seen: set[tuple[object, ...]] = set()
    for setup_id, setup in sorted(estate.setups.items()):
        if setup.works_on != room.platform:
            continue
        board = estate.board(setup_id)
        part = board.parts.get(room.program)
        here = part.program.command(room.command) if part is not None else None
        if part is None or here is None:
            continue
        setups.append(setup)
        command = command or here
        # The same program before the same keyboard, among the same others, gives the same up.
        alike = (id(part.program), id(part.ground), setup.reads_by, tuple(id(p.program) for p in board.parts.values()))
        if alike not in seen:
            seen.add(alike)
            lines.update((line.key, line) for line in _served(standard, board, part, here, room))
    had = tuple(command.defaults_on(room.platform)) if command is not None else ()
    ordered = tuple(line for line in standard.lines if line.key in lines)
    return Making(room, command, had, ordered, estate.people_of(setups))


def _served(standard: Standard, board: Board, part: Part, command: Command, room: MakesRoom) -> Iterator[Line]:
    """The lines of tasks in use here whose key the command would have without making room."""
    given_up = _ways(part, command.defaults_on(room.platform)) - _ways(part, room.shortcuts)
    programs = [p.program for p in board.parts.values()] if part.program.kind in _AROUND else [part.program]
    offered = {task for program in programs for task in program.commands_by_task} - {command.task}
    for task, ruling in standard.rulings(room.platform, board.setup.setup.reads_by).items():
        if task in offered and not given_up.isdisjoint(_ways(part, [ruling.line.shortcut])):
            yield ruling.line


def _ways(part: Part, shortcuts: Iterable[Shortcut]) -> set[Way]:
    """How some shortcuts are made before the keyboard of a program."""
    return {way for s in shortcuts for way in ways_of(s, part.ground.keyboard, part.reads, part.pad).ways}


def with_rooms(standard: Standard, rooms: Iterable[MakesRoom], without: Container[str] = ()) -> Standard:
    """A standard with some commands making room (in the place of those with the same key), and those of some keys taken out."""
    return standard.having("makes_room", rooms, without)
