"""How far we are: the cells of all programs in all setups, and the shares of those that could agree and do.

One count is one task in one program in one setup. Plainly each counts once; by people it counts as many times as people have
the setup. A share is agreeing counts of those that could agree, so what isn't offered, can't, or is excepted stands aside.
"""

import datetime
from collections import Counter, OrderedDict
from collections.abc import Container, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple, TypeVar

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.model import Clash
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.setup import Setup
from amberkey.core.standard.judging import COUNTED, NOT_OFFERED, Cell, Column, State, judge
from amberkey.core.standard.model import Ruling, Standard

# How many states are kept: as released, as it is, and as it may be after some changes that are being thought of.
_STATES = 4
_ENOUGH = 2_000
K = TypeVar("K")
V = TypeVar("V")
BROWSER_KEEPS = "the browser keeps it from pages"


class Count(NamedTuple):
    """How many agree, of how many that could."""

    agree: int = 0
    could: int = 0

    def __add__(self, other: object) -> "Count":
        assert isinstance(other, Count)
        return Count(self.agree + other.agree, self.could + other.could)

    def times(self, weight: int) -> "Count":
        """The count of so many that are alike."""
        return Count(self.agree * weight, self.could * weight)

    @property
    def share(self) -> float | None:
        """Between 0 and 1; None where nothing could agree."""
        return self.agree / self.could if self.could else None


NOTHING = Count()


class Covered(NamedTuple):
    """A figure both ways: plain, and weighted by people."""

    plain: Count = NOTHING
    people: Count = NOTHING

    def __add__(self, other: object) -> "Covered":
        assert isinstance(other, Covered)
        return Covered(self.plain + other.plain, self.people + other.people)

    @classmethod
    def of(cls, count: Count, setups: Iterable[Setup]) -> "Covered":
        """What some setups that all count alike make."""
        own = list(setups)
        return cls(count.times(len(own)), count.times(sum(s.people for s in own)))


@dataclass(frozen=True, eq=False)
class Strip:
    """A column with what clashes in it. One object for all setups in which it is the same."""

    column: Column
    cells: Mapping[str, Cell]
    clashes: Mapping[str, Clash]
    """By task, the clash that keeps the standard's press from working."""

    @cached_property
    def count(self) -> Count:
        """How many of the tasks that could agree do so."""
        return Count(sum(agrees for _, agrees in self.counted), len(self.counted))

    @cached_property
    def states(self) -> Mapping[State, int]:
        """How many tasks are in each state."""
        return Counter(c.state for c in self.cells.values())

    @cached_property
    def counted(self) -> Sequence[tuple[str, bool]]:
        """The tasks that could agree, and whether they do."""
        return [(task, c.state == "agrees") for task, c in self.cells.items() if c.state in COUNTED]

    @property
    def program(self) -> str:
        """The program whose tasks are counted."""
        return self.column.part.program.id


Troubles = Mapping[tuple[str, Shortcut], Clash]
_NONE: Troubles = {}


class _Key(NamedTuple):
    column: Column
    kept: frozenset[Stroke]
    clashing: frozenset[tuple[str, Shortcut]]


class _Here(NamedTuple):
    """What was measured of a setup, and of what."""

    board: Board
    rulings: Mapping[str, Ruling]
    allowed: Container[str]
    strips: Mapping[str, Strip]


@dataclass(eq=False)
class Gauge:
    """What several states of an estate, and of a standard, are measured with: what hasn't changed isn't measured again."""

    _columns: OrderedDict[int, Column] = field(default_factory=OrderedDict)
    _strips: OrderedDict[_Key, Strip] = field(default_factory=OrderedDict)
    _here: dict[str, _Here] = field(default_factory=dict)
    _today: datetime.date | None = None

    def measure(self, estate: Estate, standard: Standard, allowed: Container[str] = frozenset()) -> "Coverage":
        """`allowed`: identities of clashes that somebody accepted; they don't count as such."""
        if estate.today != self._today:  # exceptions run out with the days
            self._columns, self._strips, self._today = OrderedDict(), OrderedDict(), estate.today
            self._here = {}
        columns: dict[int, Column] = {}
        strips: dict[_Key, Strip] = {}
        found: dict[str, Mapping[str, Strip]] = {}
        for setup_id, setup in estate.setups.items():
            board = estate.board(setup_id)
            rulings = standard.rulings(setup.works_on, setup.reads_by)
            here = self._here.get(setup_id)
            if here is not None and here.board is board and here.rulings is rulings and here.allowed == allowed:
                for strip in here.strips.values():
                    columns[id(strip.column.part)] = strip.column
                found[setup_id] = here.strips
                continue
            troubles = _troubles(estate.clashes(setup_id), allowed)
            own: dict[str, Strip] = {}
            for program_id, part in board.parts.items():
                if part.program.kind == "system":
                    continue
                column = columns.get(id(part))
                if column is None:
                    known = self._columns.get(id(part))
                    same = known is not None and known.part is part and known.rulings is rulings
                    column = known if same and known is not None else judge(part, rulings, estate.today, known)
                    columns[id(part)] = column
                own[program_id] = self._strip(strips, column, board, troubles.get(program_id, _NONE))
            found[setup_id] = own
            self._here[setup_id] = _Here(board, rulings, allowed, own)
        _keep(self._columns, columns)
        _keep(self._strips, strips)
        return Coverage(estate, standard, found)

    def _strip(self, strips: dict[_Key, Strip], column: Column, board: Board, troubles: Troubles) -> Strip:
        part = column.part
        kept = board.kept_from(part.program) if part.program.kind == "web" else {}
        key = _Key(column, frozenset(kept), frozenset(troubles))
        strip = strips.get(key) or self._strips.get(key)
        if strip is None:
            strip = _laid_over(column, kept, troubles)
        strips[key] = strip
        return strip


def _keep(known: OrderedDict[K, V], now: Mapping[K, V]) -> None:
    """Keep what is in use now, and of what was before as much as some states of an estate need."""
    for key, value in now.items():
        known[key] = value
        known.move_to_end(key)
    while len(known) > max(_ENOUGH, _STATES * len(now)):
        known.popitem(last=False)


def _troubles(clashes: Iterable[Clash], allowed: Container[str]) -> Mapping[str, Troubles]:
    """By program, the commands and shortcuts that won't do what they say, or take what people need."""
    found: dict[str, dict[tuple[str, Shortcut], Clash]] = {}
    for clash in clashes:
        if clash.severity == "low" or clash.identity in allowed:
            continue
        for one in (clash.subject, *([clash.holder, *clash.also] if clash.kind == "same_scope" else ())):
            if one is not None:
                found.setdefault(one.program.id, {}).setdefault((one.command.id, one.shortcut), clash)
    return found


def _laid_over(column: Column, kept: Container[Stroke], troubles: Troubles) -> Strip:
    if not kept and not troubles:
        return Strip(column, column.cells, {})
    cells = dict(column.cells)
    clashes: dict[str, Clash] = {}
    for task, cell in column.cells.items():
        if cell.state not in COUNTED:
            continue
        if kept and _is_kept(column, task, kept):
            cells[task] = cell._replace(state="cannot", why=BROWSER_KEEPS)
            continue
        clash = troubles.get(_named(cell.agrees)) if cell.agrees is not None else None
        if clash is None:
            continue
        works = next((b for b in cell.others if _named(b) not in troubles), None)
        if works is not None:  # of several that are the standard's press it is enough that one does what it says
            own = tuple([b.shortcut for b in column.part.commanded(works.command.id) if not b.arguments])
            cells[task] = cell._replace(command=works.command, shortcuts=own, layer=works.layer, agrees=works)
        else:
            cells[task] = cell._replace(state="clashes")
            clashes[task] = clash
    return Strip(column, cells, clashes)


def _named(binding: Binding) -> tuple[str, Shortcut]:
    """As what a binding is in trouble."""
    return binding.command.id, binding.shortcut


def _is_kept(column: Column, task: str, kept: Container[Stroke]) -> bool:
    part = column.part
    ways = ways_of(column.rulings[task].line.shortcut, part.ground.keyboard, part.reads, part.pad).ways
    return bool(ways) and all(any(stroke in kept for stroke in way) for way in ways)


@dataclass(frozen=True, eq=False)
class Coverage:
    """`strips` by setup and program."""

    estate: Estate
    standard: Standard
    strips: Mapping[str, Mapping[str, Strip]]

    def cell(self, setup: str, program: str, task: str) -> Cell:
        """How a task stands in a program of a setup; not offered where the setup doesn't have the program."""
        strip = self.strips[setup].get(program)
        return strip.cells.get(task, NOT_OFFERED) if strip else NOT_OFFERED

    def whole(self, setups: Sequence[str] | None = None) -> Covered:
        """All tasks in all programs, in some setups or in all."""
        return sum(self.by_program(setups).values(), Covered())

    def by_program(self, setups: Sequence[str] | None = None) -> Mapping[str, Covered]:
        """By program, what is covered in some setups (or in all): plain, and by people."""
        return self._by_program if setups is None else self._programs(setups)

    @cached_property
    def _by_program(self) -> Mapping[str, Covered]:
        return self._programs(None)

    def _programs(self, setups: Sequence[str] | None) -> Mapping[str, Covered]:
        found: dict[str, Covered] = {}
        for strip, own in self.copies(setups):
            found[strip.program] = found.get(strip.program, Covered()) + Covered.of(strip.count, own)
        return found

    def by_task(self, setups: Sequence[str] | None = None) -> Mapping[str, Covered]:
        """By task, what is covered in some setups (or in all): plain, and by people."""
        plain: dict[str, list[int]] = {}
        for strip, own in self.copies(setups):
            times, people = len(own), sum(s.people for s in own)
            for task, agrees in strip.counted:
                counts = plain.get(task)
                if counts is None:
                    counts = plain[task] = [0, 0, 0, 0]
                counts[1] += times
                counts[3] += people
                if agrees:
                    counts[0] += times
                    counts[2] += people
        return {task: Covered(Count(a, b), Count(c, d)) for task, (a, b, c, d) in plain.items()}

    def states(self, setups: Sequence[str] | None = None) -> Mapping[State, int]:
        """How many of the counts are in each state."""
        found: dict[State, int] = {}
        for strip, own in self.copies(setups):
            for state, count in strip.states.items():
                found[state] = found.get(state, 0) + count * len(own)
        return found

    def copies(self, setups: Sequence[str] | None = None) -> list[tuple[Strip, list[Setup]]]:
        """Each strip once, with the setups that have it."""
        if setups is None:
            return self._all
        return self._copies(setups)

    @cached_property
    def _all(self) -> list[tuple[Strip, list[Setup]]]:
        return self._copies(self.strips)

    def _copies(self, setups: Iterable[str]) -> list[tuple[Strip, list[Setup]]]:
        found: dict[int, tuple[Strip, list[Setup]]] = {}
        for setup_id in setups:
            for strip in self.strips[setup_id].values():
                found.setdefault(id(strip), (strip, []))[1].append(self.estate.setups[setup_id])
        return list(found.values())
