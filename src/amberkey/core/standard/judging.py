"""How far one program follows the standard, task by task.

Judged by stroke: what is another shortcut on paper may be the same keys on this keyboard, and the other way round.
"""

import datetime
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple, get_args

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.part import Part
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Keyboard, Way, ways_of
from amberkey.core.profiles.effective import EffectiveCommand
from amberkey.core.programs.limits import why_not
from amberkey.core.programs.model import Command, Program
from amberkey.core.standard.model import Ruling

State = Literal["not_offered", "cannot", "excepted", "unbound", "differs", "clashes", "agrees"]
STATES: tuple[State, ...] = get_args(State)
"""The first that holds, in this order."""
COUNTED: frozenset[State] = frozenset({"unbound", "differs", "clashes", "agrees"})
"""Those that could agree; the others are left out of what coverage is a share of."""
STATE_WORDS: Mapping[State, str] = {
    "not_offered": "not offered",
    "cannot": "can't",
    "excepted": "excepted",
    "unbound": "no key",
    "differs": "differs",
    "clashes": "clashes",
    "agrees": "agrees",
}
CARD_ONLY = "its shortcuts can't be set from outside"


class Cell(NamedTuple):
    """One task in one program. `shortcuts` are what the command has now, `layer` what set them, `why` why it can't or needn't.

    `agrees`: the binding that is the standard's press, if there is one; `others` are so as well.
    """

    state: State
    command: Command | None = None
    shortcuts: tuple[Shortcut, ...] = ()
    layer: str = ""
    why: str = ""
    agrees: Binding | None = None
    others: tuple[Binding, ...] = ()


NOT_OFFERED = Cell("not_offered")


@dataclass(frozen=True, eq=False)
class Column:
    """The cells of one program on one part of the board, before anybody asks what clashes there. Only tasks that it offers."""

    part: Part
    rulings: Mapping[str, Ruling]
    cells: Mapping[str, Cell]


def judge(part: Part, rulings: Mapping[str, Ruling], today: datetime.date | None, before: Column | None = None) -> Column:
    """The column of a part. What an earlier column of the same part was told of a task in the same words is taken over."""
    known = before.cells if before is not None and before.part is part else {}
    told = before.rulings if before is not None and before.part is part else {}
    cells: dict[str, Cell] = {}
    for task, commands in part.effective.all_by_task.items():
        ruling = rulings.get(task)
        if ruling is None:
            continue
        old = told.get(task)
        if old is not None and (old is ruling or old == ruling):
            cells[task] = known[task]
        else:
            cells[task] = _cell(part, commands, ruling, today)
    return Column(part, rulings, cells)


def _cell(part: Part, commands: Sequence[EffectiveCommand], ruling: Ruling, today: datetime.date | None) -> Cell:
    """Of several commands for one task it is enough that one agrees; where none does, the first is told of."""
    program = part.program
    wanted, unreachable = ways_of(ruling.line.shortcut, part.ground.keyboard, part.reads, part.pad)
    found = [(one, press) for one in commands for press in _same_presses(part, one.command, wanted)]
    effective, agrees = found[0] if found else (commands[0], None)
    command, now = effective.command, effective.now
    shortcuts = tuple([s for s, _ in now.shortcuts])
    if agrees is None:
        why = why_it_cannot(program, ruling.line.shortcut, unreachable, part.ground.keyboard)
        if why:
            return Cell("cannot", command, shortcuts, now.layer, why)
    exempt = ruling.exempt.get(program.id)
    if exempt is not None and exempt.holds(today):
        return Cell("excepted", command, shortcuts, now.layer, exempt.reason, agrees)
    if not shortcuts:
        return Cell("unbound", command, (), now.layer)
    others = tuple([press for _, press in found[1:]])
    return Cell("differs" if agrees is None else "agrees", command, shortcuts, now.layer, "", agrees, others)


def why_it_cannot(program: Program, shortcut: Shortcut, unreachable: str, keyboard: Keyboard) -> str:
    """Why a program can't be given a shortcut on a keyboard; "" where it can. `unreachable`: why no stroke makes it."""
    if unreachable:
        return f"no key makes it here: {unreachable}"
    if program.card_only:
        return CARD_ONLY
    return why_not(program, shortcut, keyboard)


def _same_presses(part: Part, command: Command, wanted: tuple[Way, ...]) -> list[Binding]:
    return [
        binding
        for binding in part.commanded(command.id)
        if not binding.arguments and not binding.refused and any(way in wanted for way in binding.ways)
    ]
