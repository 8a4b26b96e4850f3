"""What a change of profiles asks of the standard: to let a program off a line, or to change the line."""

import datetime
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from amberkey.core.clashes.estate import Estate
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.standard.judging import State, judge
from amberkey.core.standard.model import Exempt, Line, Ruling, Standard
from amberkey.core.tasks.model import Task


@dataclass(frozen=True, slots=True)
class Asked:
    """A task whose command in one program answers to something else afterwards.

    `gets`: the shortcut that it didn't have before; None where it only loses one. `state`: how it stands to `ruling` then; None
    where the standard says nothing of it.
    """

    task: Task
    program: Program
    setup: Setup
    gets: Shortcut | None
    ruling: Ruling | None
    state: State | None

    @property
    def could_be_let_off(self) -> bool:
        """Whether there is a line that the program departs from, so that it could be let off."""
        return self.state in ("unbound", "differs", "clashes")

    @property
    def could_be_the_line(self) -> bool:
        """Whether what the command gets could become the line: it gets something, and doesn't agree already."""
        return self.gets is not None and self.state != "agrees"


def asked_by(before: Estate, after: Estate, setup_id: str, standard: Standard) -> tuple[Asked, ...]:
    """The tasks that a change touches, as one setup has it: in the order of the setup's programs and their commands."""
    return tuple(_asked(before, after, setup_id, standard))


def _asked(before: Estate, after: Estate, setup_id: str, standard: Standard) -> Iterator[Asked]:
    setup = after.setups[setup_id]
    rulings = standard.rulings(setup.works_on, setup.reads_by)
    old = before.board(setup_id).parts
    for program_id, part in after.board(setup_id).parts.items():
        was = old.get(program_id)
        if was is None or was is part:
            continue
        cells = judge(part, rulings, after.today).cells
        for task_id, effective in part.effective.by_task.items():
            task, earlier = after.tasks.task(task_id), was.effective.by_task.get(task_id)
            had = [s for s, _ in earlier.now.shortcuts] if earlier else []
            has = [s for s, _ in effective.now.shortcuts]
            if task is None or had == has:
                continue
            cell = cells.get(task_id)
            gets = next((s for s in has if s not in had), None)
            yield Asked(task, part.program, setup, gets, rulings.get(task_id), cell.state if cell else None)


def lines_for(asked: Iterable[Asked], reason: str, owner: str, today: datetime.date) -> list[Line]:
    """The lines that would say what the change makes: for the layouts of the line that rules now, or for all of them."""
    found: dict[str, Line] = {}
    for one in asked:
        if not one.could_be_the_line or one.gets is None:
            continue
        line = Line(
            task=one.task.id,
            platform=one.setup.works_on,
            layouts=one.ruling.line.layouts if one.ruling else (),
            keys=one.gets,
            reason=reason,
            owner=owner,
            since=today,
        )
        found.setdefault(line.key, line)
    return list(found.values())


def exceptions_for(asked: Iterable[Asked], reason: str, owner: str, until: datetime.date | None) -> list[Exempt]:
    """The exceptions that would let each program off the line that it no longer follows."""
    return [
        Exempt(
            task=one.task.id,
            program=one.program.id,
            platform=one.setup.works_on,
            layouts=one.ruling.line.layouts,
            reason=reason,
            owner=owner,
            until=until,
        )
        for one in asked
        if one.could_be_let_off and one.ruling is not None
    ]


def with_exceptions(standard: Standard, exceptions: Iterable[Exempt], without: Sequence[str] = ()) -> Standard:
    """A standard with some exceptions (in the place of those with the same key), and those of some keys taken out."""
    return standard.having("exceptions", exceptions, without)
