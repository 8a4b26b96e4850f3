"""What other lines would do, before they are saved: which programs change, which can't, what would clash, who relearns what."""

from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass, field

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.relearning import Learners, relearned
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.setup import Setup
from amberkey.core.standard.compiling import LAYER, Compiler, with_layer
from amberkey.core.standard.coverage import Coverage, Covered, Gauge
from amberkey.core.standard.model import Line, Standard
from amberkey.core.tasks.families import is_whole, mirrored, shapes_for
from amberkey.core.tasks.model import Family, Tasks
from amberkey.core.worth.weighing import Worth, worth_between


@dataclass(frozen=True, slots=True)
class Stays:
    """A program that won't follow a line, and why: it can't, it is excepted, or a nearer layer says otherwise."""

    program: str
    task: str
    why: str
    people: int


@dataclass(frozen=True, eq=False)
class Plan:
    """What a standard would be instead of another one, once its layer is compiled.

    `after` and `layer` are what it leads to; `entries` of the layer differ; `programs` follow in something new; `stays` don't
    follow the lines that differ.
    """

    standard: Standard
    layer: Profile
    after: Estate
    covered_before: Covered
    covered_after: Covered
    entries: int
    programs: tuple[str, ...]
    stays: tuple[Stays, ...]
    learners: tuple[Learners, ...]
    people: int
    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    broken: tuple[Family, ...]
    """Families that the lines keep no longer in one shape, and did before."""
    worth: Worth
    """What it saves people, and what old habits cost them."""


def with_lines(standard: Standard, lines: Iterable[Line], without: Container[str] = ()) -> Standard:
    """A standard with some lines set (in the place of those with the same key), and those of some keys taken out."""
    return standard.having("lines", lines, without)


@dataclass(eq=False)
class Planner:
    """Works plans out. `gauge` measures; what several plans share is kept in it and in the estate."""

    gauge: Gauge = field(default_factory=Gauge)
    compiler: Compiler = field(default_factory=Compiler)

    def plan(self, estate: Estate, now: Standard, wanted: Standard) -> Plan:
        """What an estate would be under another standard than it is under the present one, both of them compiled."""
        layer, old_layer = self.compiler.compile(wanted, estate), self.compiler.compile(now, estate)
        before = with_layer(estate, old_layer)
        after = with_layer(before, layer)
        measured = self.gauge.measure(before, now), self.gauge.measure(after, wanted)
        moved = relearned(before, after)
        differing = {line.key for line in (*now.lines, *wanted.lines)} - {
            line.key for line in wanted.lines if any(line == old for old in now.lines_of(line.task, line.platform))
        }
        tasks = {line.task for line in (*now.lines, *wanted.lines) if line.key in differing}
        return Plan(
            standard=wanted,
            layer=layer,
            after=after,
            covered_before=measured[0].whole(),
            covered_after=measured[1].whole(),
            entries=len(_differing(old_layer, layer)),
            programs=tuple(dict.fromkeys(r.program for relearn, _ in moved for r in relearn)),
            stays=tuple(_stays(measured[1], tasks)),
            learners=tuple(
                sorted(
                    (Learners(after.people_of(s), tuple(one.id for one in s), relearn) for relearn, s in moved),
                    key=lambda found: -found.people,
                )
            ),
            people=after.people_of({s.id: s for _, own in moved for s in own}.values()),
            solves=tuple(after.new_in(before)) if after is not before else (),
            makes=tuple(before.new_in(after)) if after is not before else (),
            broken=tuple(_broken(now, wanted, estate.tasks)),
            worth=worth_between(before, after),
        )


def _differing(one: Profile, other: Profile) -> set[str]:
    """The keys of entries that two profiles don't share."""
    here, there = {e.key: e for e in one.entries}, {e.key: e for e in other.entries}
    return {key for key in here.keys() | there.keys() if here.get(key) != there.get(key)}


def _stays(coverage: Coverage, tasks: Container[str]) -> Iterator[Stays]:
    """The programs that don't follow the lines of some tasks, most people first."""
    found: dict[tuple[str, str, str], list[Setup]] = {}
    names = {p.id: p.name for p in coverage.estate.profiles.values()}
    for strip, setups in coverage.copies():
        for task, cell in strip.cells.items():
            if task not in tasks or cell.state not in ("cannot", "excepted", "unbound", "differs"):
                continue
            why = f"{names.get(cell.layer, cell.layer)} says otherwise" if cell.layer not in (DEFAULT, LAYER) else "it differs"
            found.setdefault((strip.column.part.program.name, task, cell.why or why), []).extend(setups)
    told = [Stays(*key, coverage.estate.people_of(setups)) for key, setups in found.items()]
    yield from sorted(told, key=lambda s: (-s.people, s.program))


def _broken(now: Standard, wanted: Standard, tasks: Tasks) -> Iterator[Family]:
    platforms: dict[Platform, None] = dict.fromkeys(line.platform for line in wanted.lines)
    for family in tasks.families:
        if any(family_is_whole(now, family, p, tasks) and not family_is_whole(wanted, family, p, tasks) for p in platforms):
            yield family


def family_is_whole(standard: Standard, family: Family, platform: Platform, tasks: Tasks) -> bool:
    """Whether the lines of a family for all layouts differ only by its step."""
    lines = {t: standard.lines_of(t, platform) for t in family.members}
    return is_whole(family, {t: found[0].shortcut for t, found in lines.items() if found and not found[0].layouts}, tasks)


def family_lines(line: Line, tasks: Tasks) -> Mapping[str, Line]:
    """By task, the lines that a family's shape gives to all its members if one of them has a line. Empty where it can't be."""
    family = tasks.family_of(line.task)
    first = first_of(family, line.task, line.shortcut, tasks) if family else None
    if family is None or first is None:
        return {}
    shapes = shapes_for(family, first, tasks)
    if shapes.get(line.task) != line.shortcut:
        return {}
    return {t: line.model_copy(update={"task": t, "keys": s}) for t, s in shapes.items()}


def first_of(family: Family, task: str, shortcut: Shortcut, tasks: Tasks) -> Shortcut | None:
    """What the first member of a family must have for a later one to have a shortcut; None where no shape gives it that."""
    if task == family.members[0]:
        return shortcut
    last = shortcut.presses[-1]
    thinkable = [Press.of(set(last.modifiers) - {"Shift"}, last.key, last.code), *mirrored(last)]
    thinkable += [Press.of(last.modifiers, "1")] if family.step == "digit" else []
    task_one = tasks.task(family.members[0])
    if family.step == "letter" and task_one is not None:
        thinkable.append(Press.of(last.modifiers, case_of_key(task_one.name[0])))
    for press in thinkable:
        first = Shortcut((*shortcut.presses[:-1], press))
        if shapes_for(family, first, tasks).get(task) == shortcut:
            return first
    return None
