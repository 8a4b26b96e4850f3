"""Tasks by programs through a lens: what each program does for each task, and how far that is from the standard."""

import datetime
from collections.abc import Iterator, Mapping, Sequence
from typing import Literal, NamedTuple

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.organisation.deriving import Derived
from amberkey.core.programs.model import Kind
from amberkey.core.standard.coverage import Count, Coverage, Covered, Strip
from amberkey.core.standard.judging import STATES, State
from amberkey.core.standard.model import Line, Standard
from amberkey.core.standard.setting import family_is_whole
from amberkey.core.tasks.model import Tasks
from amberkey.server.schema import Schema
from amberkey.server.workbench.words import ShortcutOut, shortcut_out


class CountOut(Schema):
    """How many agree of how many that could, plainly and by people."""

    agree: int
    could: int
    people_agree: int
    people_could: int


class MatrixProgramOut(Schema):
    id: str
    name: str
    kind: Kind
    people: int
    covered: CountOut


class LineOut(Schema):
    """`layouts`: the only ones that it is for; none: all."""

    key: str
    layouts: list[str]
    shortcut: ShortcutOut
    reason: str
    owner: str
    since: datetime.date | None


Shown = State | Literal["no_line"]


class CellOut(Schema):
    """A task in a program, as most people of the lens have it. `people` of `of` have it so; `keys` is what they press now.

    `no_line`: the standard says nothing of the task.
    """

    program: str
    state: Shown
    keys: list[ShortcutOut]
    why: str
    layer: str
    people: int
    of: int
    clash: str | None
    seen_in: str


class TaskOut(Schema):
    id: str
    name: str
    other_words: list[str]
    group: str
    protected: bool
    family: str | None
    line: LineOut | None
    further: list[LineOut]
    cells: list[CellOut]
    covered: CountOut


class FamilyOut(Schema):
    id: str
    name: str
    members: list[str]
    whole: bool


class FigureOut(Schema):
    id: str
    name: str
    covered: CountOut


class StateOut(Schema):
    state: State
    count: int


class PointOut(Schema):
    revision: int
    at: datetime.datetime
    released: bool
    covered: CountOut


class WaitingOut(Schema):
    """What is saved and not in effect yet: entries that a release would change."""

    entries: int
    revision: int
    released: int | None


class StandardOut(Schema):
    """`digest` names the revision that this is; saving says it, so that nobody's work is lost."""

    name: str
    digest: str
    platform: Platform
    layouts: list[str]
    programs: list[MatrixProgramOut]
    tasks: list[TaskOut]
    families: list[FamilyOut]
    departments: list[FigureOut]
    states: list[StateOut]
    whole: CountOut
    people: int
    points: list[PointOut]
    waiting: WaitingOut


_WORST: tuple[Shown, ...] = ("no_line", *STATES)


def count_out(covered: Covered) -> CountOut:
    return CountOut(
        agree=covered.plain.agree,
        could=covered.plain.could,
        people_agree=covered.people.agree,
        people_could=covered.people.could,
    )


def count_of(agree: int, could: int, people_agree: int, people_could: int) -> CountOut:
    return count_out(Covered(Count(agree, could), Count(people_agree, people_could)))


class Had(NamedTuple):
    """What tells the ways apart in which one task is done in one program."""

    state: Shown
    shortcuts: tuple[Shortcut, ...]
    why: str
    layer: str


def programs_of(coverage: Coverage, setups: Sequence[str]) -> list[MatrixProgramOut]:
    """The programs of some setups that offer any task, those of most people first."""
    found: dict[str, tuple[Strip, list[str]]] = {}
    for setup in setups:
        for program, strip in coverage.strips[setup].items():
            if strip.cells or any(c.task for c in strip.column.part.program.commands):
                found.setdefault(program, (strip, []))[1].append(setup)
    figures = coverage.by_program(setups)
    estate = coverage.estate
    rows = [
        MatrixProgramOut(
            id=program,
            name=strip.column.part.program.name,
            kind=strip.column.part.program.kind,
            people=estate.people_of(estate.setups[i] for i in own),
            covered=count_out(figures.get(program, Covered())),
        )
        for program, (strip, own) in found.items()
    ]
    return sorted(rows, key=lambda p: (-p.people, p.name))


def tasks_of(coverage: Coverage, setups: Sequence[str], board: Board) -> list[TaskOut]:
    """Every task that some setups offer or the standard names for their platform, in the order of the tasks."""
    standard, tasks = coverage.standard, coverage.estate.tasks
    platform, layout = board.ground.platform, board.setup.setup.reads_by
    cells = _cells(coverage, setups, board)
    figures = coverage.by_task(setups)
    offered = _offered(coverage, setups)
    rulings = standard.rulings(platform, layout)
    found = []
    for task in tasks.tasks:
        lines = standard.lines_of(task.id, platform)
        if task.id not in offered and not lines:
            continue
        ruling = rulings.get(task.id)
        shown = ruling.line if ruling else (lines[0] if lines else None)
        family = tasks.family_of(task.id)
        found.append(
            TaskOut(
                id=task.id,
                name=task.name,
                other_words=list(task.other_words),
                group=task.group,
                protected=task.protected,
                family=family.id if family else None,
                line=line_out(shown, board) if shown else None,
                further=[line_out(v, board) for v in lines if v is not shown],
                cells=cells.get(task.id, []),
                covered=count_out(figures.get(task.id, Covered())),
            )
        )
    return _in_groups(found, tasks)


def _in_groups(found: Sequence[TaskOut], tasks: Tasks) -> list[TaskOut]:
    """Group by group, those without one last; by name, but that a family stays together in its own order."""
    firsts: dict[tuple[str, str], str] = {}
    for task in found:
        if task.family is not None:
            known = firsts.get((task.group, task.family), task.name)
            firsts[task.group, task.family] = min(known, task.name, key=str.casefold)

    def place(task: TaskOut) -> tuple[object, ...]:
        family = tasks.family_of(task.id)
        first = firsts[task.group, task.family] if task.family is not None else task.name
        nth = family.members.index(task.id) if family is not None else 0
        return task.group == "", task.group.casefold(), first.casefold(), task.family or "", nth, task.name.casefold(), task.id

    return sorted(found, key=place)


def _offered(coverage: Coverage, setups: Sequence[str]) -> set[str]:
    return {c.task for strip, _ in coverage.copies(setups) for c in strip.column.part.program.commands if c.task is not None}


def line_out(line: Line, board: Board) -> LineOut:
    return LineOut(
        key=line.key,
        layouts=list(line.layouts),
        shortcut=shortcut_out(line.shortcut, board),
        reason=line.reason,
        owner=line.owner,
        since=line.since,
    )


def _cells(coverage: Coverage, setups: Sequence[str], board: Board) -> Mapping[str, list[CellOut]]:
    """By task, a cell for each program that offers it."""
    found: dict[tuple[str, str], dict[Had, list[str]]] = {}
    clashes: dict[tuple[str, str, str], str] = {}
    for setup in setups:
        for program, strip in coverage.strips[setup].items():
            for task, had in had_in(strip):
                found.setdefault((task, program), {}).setdefault(had, []).append(setup)
                if task in strip.clashes:
                    clashes[task, program, setup] = strip.clashes[task].identity
    estate = coverage.estate
    cells: dict[str, list[CellOut]] = {}
    for (task, program), ways in found.items():
        # The state that most people are in speaks for all; of those who are equally many, the worse one.
        had, own = max(ways.items(), key=lambda w: (_people(estate, w[1]), -_WORST.index(w[0].state)))
        every = [s for setups_so in ways.values() for s in setups_so]
        cells.setdefault(task, []).append(
            CellOut(
                program=program,
                state=had.state,
                keys=[] if had.state == "agrees" else [shortcut_out(s, board) for s in had.shortcuts],
                why=had.why,
                layer=had.layer,
                people=_people(estate, own),
                of=_people(estate, every),
                clash=clashes.get((task, program, own[0])),
                seen_in=own[0],
            )
        )
    return cells


def had_in(strip: Strip) -> Iterator[tuple[str, Had]]:
    """Every task that a program offers, with what its people press for it."""
    for task, effective in strip.column.part.effective.by_task.items():
        cell = strip.cells.get(task)
        if cell is not None:
            yield task, Had(cell.state, cell.shortcuts, cell.why, cell.layer)
        else:
            shortcuts = tuple(s for s, _ in effective.now.shortcuts)
            yield task, Had("no_line", shortcuts, "", effective.now.layer)


def _people(estate: Estate, setups: Sequence[str]) -> int:
    return estate.people_of(estate.setups[i] for i in setups)


def families_of(standard: Standard, tasks: Tasks, platform: Platform) -> list[FamilyOut]:
    return [
        FamilyOut(id=f.id, name=f.name, members=list(f.members), whole=family_is_whole(standard, f, platform, tasks))
        for f in tasks.families
    ]


def departments_of(coverage: Coverage, derived: Derived, names: Mapping[str, str], setups: Sequence[str]) -> list[FigureOut]:
    """Coverage of the setups that each department's people have."""
    found: dict[str, list[str]] = {}
    for setup in setups:
        for department in derived.departments.get(setup, ()):
            found.setdefault(department, []).append(setup)
    return [FigureOut(id=d, name=names.get(d, d), covered=count_out(coverage.whole(own))) for d, own in sorted(found.items())]


def states_of(coverage: Coverage, setups: Sequence[str]) -> list[StateOut]:
    counts = coverage.states(setups)
    return [StateOut(state=s, count=counts[s]) for s in STATES if counts.get(s)]
