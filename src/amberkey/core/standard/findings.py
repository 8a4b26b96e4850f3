"""What is worth a look: tasks with many keys, keys with two meanings, openers without a closer, exceptions running out."""

import datetime
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.profiles.setup import Setup
from amberkey.core.standard.judging import why_it_cannot
from amberkey.core.standard.model import Exempt, Line, Standard
from amberkey.core.standard.setting import family_is_whole

Kind = Literal[
    "broken_line", "many_keys", "two_meanings", "no_closer", "two_key_toggle", "running_out", "not_offered", "broken_family"
]
KIND_WORDS: Mapping[Kind, str] = {
    "broken_line": "What the standard names and isn't there, or can't be",
    "broken_family": "Families that don't keep one shape",
    "running_out": "Exceptions running out",
    "many_keys": "One task, many keys",
    "two_meanings": "One key, two meanings",
    "no_closer": "Opens something that nothing closes",
    "two_key_toggle": "Two keys where one could open and close",
    "not_offered": "Tasks that no program offers",
}
SOON = datetime.timedelta(days=30)


Parts = Sequence[tuple[Board, Part, tuple[Setup, ...]]]


@dataclass(frozen=True, slots=True)
class Finding:
    """`says` in a sentence; `tasks` and `programs` are those that it is about. `allowed`: the reason that somebody gave."""

    kind: Kind
    says: str
    platform: Platform | None = None
    tasks: tuple[str, ...] = ()
    programs: tuple[str, ...] = ()
    shortcut: Shortcut | None = None
    people: int = 0
    item: str = ""
    """The key of the item of the standard that it is about."""
    allowed: str = ""


@dataclass(frozen=True, slots=True)
class _Press:
    """A task's shortcut in one program, with the setups where it is so."""

    task: str
    program: str
    shortcut: Shortcut
    setups: tuple[Setup, ...]


def findings(estate: Estate, standard: Standard) -> list[Finding]:
    """Everything worth a look, by kind; within one, those that most people meet first."""
    parts = _parts(estate)
    found = [
        *_broken_lines(estate, standard, parts),
        *_broken_families(estate, standard),
        *running_out(estate, standard),
        *_many_keys(estate, parts),
        *_two_meanings(estate, standard, parts),
        *_openers(estate, parts),
        *_not_offered(estate, parts),
    ]
    order = list(KIND_WORDS)
    return sorted(found, key=lambda f: (order.index(f.kind), bool(f.allowed), -f.people, f.says))


def _parts(estate: Estate) -> Parts:
    """Each part in use once, with the setups that have it, and the board of one of them."""
    found: dict[int, tuple[Board, Part, list[Setup]]] = {}
    for setup_id, setup in estate.setups.items():
        board = estate.board(setup_id)
        for part in board.parts.values():
            if part.program.kind != "system":
                found.setdefault(id(part), (board, part, []))[2].append(setup)
    return [(board, part, tuple(setups)) for board, part, setups in found.values()]


def _name(estate: Estate, task: str) -> str:
    found = estate.tasks.task(task)
    return found.name if found else task


def _broken_lines(estate: Estate, standard: Standard, parts: Parts) -> Iterator[Finding]:
    """Lines and exceptions that name what isn't there, and lines that no program can take."""
    known = {t.id for t in estate.tasks.tasks}
    programs = {i for i, _ in estate.programs}
    offering: dict[tuple[Platform, str], list[tuple[Part, tuple[Setup, ...]]]] = {}
    for _, part, setups in parts:
        for task in part.effective.by_task:
            offering.setdefault((part.ground.platform, task), []).append((part, setups))
    for line in standard.lines:
        if line.task not in known:
            yield Finding("broken_line", f"The line {line.key} names a task that isn't there. Take it out.", item=line.key)
            continue
        able = offering.get((line.platform, line.task), [])
        refusing = {part.program.name: why for part, _ in able if (why := _why_not(part, line))}
        where = {part.program.name for part, _ in able}
        if able and where == refusing.keys():
            told = "; ".join(f"{name}: {why}" for name, why in sorted(refusing.items()))
            keys = words_of(line.shortcut, line.platform)
            says = f"No program can take {keys} for {_name(estate, line.task)} on {PLATFORM_NAMES[line.platform]}: {told}."
            names = tuple(sorted(where))
            people = estate.people_of({s.id: s for _, own in able for s in own}.values())
            yield Finding("broken_line", says, line.platform, (line.task,), names, line.shortcut, people, line.key)
    for one in standard.exceptions:
        if one.task not in known or one.program not in programs:
            what = "task" if one.task not in known else "program"
            yield Finding("broken_line", f"The exception {one.key} names a {what} that isn't there. Take it out.", item=one.key)


def _why_not(part: Part, line: Line) -> str:
    if line.layouts and part.ground.layout.id not in line.layouts:
        return ""
    return why_it_cannot(
        *(part.program, line.shortcut),
        ways_of(line.shortcut, part.ground.keyboard, part.reads, part.pad).unreachable,
        part.ground.keyboard,
    )


def _broken_families(estate: Estate, standard: Standard) -> Iterator[Finding]:
    for platform in dict.fromkeys(line.platform for line in standard.lines):
        for family in estate.tasks.families:
            if not family_is_whole(standard, family, platform, estate.tasks):
                lines = [standard.lines_of(t, platform) for t in family.members]
                told = ", ".join(f"{_name(estate, v[0].task)} {words_of(v[0].shortcut, platform)}" for v in lines if v)
                says = f"{family.name} on {PLATFORM_NAMES[platform]} doesn't keep one shape: {told}."
                yield Finding("broken_family", says, platform, family.members)


def running_out(estate: Estate, standard: Standard) -> Iterator[Finding]:
    """The exceptions whose last day is near, or over."""
    today = estate.today
    for one in standard.exceptions:
        if one.until is None or today is None or one.until > today + SOON:
            continue
        ran = f"ran out on {one.until}: it counts no longer" if one.until < today else f"runs out on {one.until}"
        says = f"The exception of {_name(estate, one.task)} in {_program_name(estate, one)} {ran}. {one.reason}"
        yield Finding("running_out", says, one.platform, (one.task,), (one.program,), item=one.key)


def _program_name(estate: Estate, one: Exempt) -> str:
    return next((p.name for (i, _), p in estate.programs.items() if i == one.program and p is not None), one.program)


def _presses(parts: Parts) -> Iterator[_Press]:
    for _, part, setups in parts:
        for task, effective in part.effective.by_task.items():
            for shortcut, _ in effective.now.shortcuts[:1]:
                yield _Press(task, part.program.name, shortcut, setups)


def _many_keys(estate: Estate, parts: Parts) -> Iterator[Finding]:
    """Tasks that have another first key in another program."""
    by_task: dict[tuple[Platform, str], dict[Shortcut, dict[str, None]]] = {}
    setups: dict[tuple[Platform, str], dict[str, Setup]] = {}
    for press in _presses(parts):
        at = (press.setups[0].works_on, press.task)
        by_task.setdefault(at, {}).setdefault(press.shortcut, {})[press.program] = None
        setups.setdefault(at, {}).update({s.id: s for s in press.setups})
    for (platform, task), keys in by_task.items():
        if len(keys) < 2:
            continue
        told = "; ".join(
            f"{words_of(s, platform)} in {', '.join(programs)}"
            for s, programs in sorted(keys.items(), key=lambda k: -len(k[1]))
        )
        says = f"{_name(estate, task)} has {len(keys)} keys on {PLATFORM_NAMES[platform]}: {told}."
        names = tuple(dict.fromkeys(p for programs in keys.values() for p in programs))
        yield Finding("many_keys", says, platform, (task,), names, people=estate.people_of(setups[platform, task].values()))


def _two_meanings(estate: Estate, standard: Standard, parts: Parts) -> Iterator[Finding]:
    """Keys that do one task here and another one there."""
    allowed = {(m.platform, m.keys.resolve(m.platform)): m for m in standard.meanings}
    by_key: dict[tuple[Platform, Shortcut], dict[str, dict[str, None]]] = {}
    setups: dict[tuple[Platform, Shortcut], dict[str, Setup]] = {}
    for press in _presses(parts):
        at = (press.setups[0].works_on, press.shortcut)
        by_key.setdefault(at, {}).setdefault(press.task, {})[press.program] = None
        setups.setdefault(at, {}).update({s.id: s for s in press.setups})
    for (platform, shortcut), tasks in by_key.items():
        if len(tasks) < 2:
            continue
        said = allowed.get((platform, shortcut))
        told = "; ".join(f"{_name(estate, t)} in {', '.join(p)}" for t, p in sorted(tasks.items(), key=lambda k: -len(k[1])))
        says = f"{words_of(shortcut, platform)} means {len(tasks)} things on {PLATFORM_NAMES[platform]}: {told}."
        names = tuple(dict.fromkeys(p for programs in tasks.values() for p in programs))
        people = estate.people_of(setups[platform, shortcut].values())
        yield Finding(
            *("two_meanings", says, platform, tuple(tasks), names, shortcut, people),
            item=said.key if said else "",
            allowed=said.reason if said else "",
        )


def _openers(estate: Estate, parts: Parts) -> Iterator[Finding]:
    """What opens something: without anything that closes it, or with another key for that."""
    found: dict[tuple[Kind, str, str, Platform], tuple[Part, dict[str, Setup]]] = {}
    told: dict[tuple[Kind, str, str, Platform], str] = {}
    for board, part, setups in parts:
        for one in part.effective.commands:
            command = one.command
            if not command.opens or one.arguments:
                continue
            closer = part.program.command(command.closes) if command.closes else None
            if closer is None:
                says = f"{command.name} in {part.program.name} opens {command.opens}, and no command closes it."
                kind: Kind = "no_closer"
            elif closer is not command:
                keys = [part.commanded(c.id) for c in (command, closer)]
                if not all(keys) or set(keys[0][0].ways) & set(keys[1][0].ways):
                    continue
                kind = "two_key_toggle"
                pressed = [say_shortcut(own[0].shortcut, board) for own in keys]
                says = f"{command.name} in {part.program.name} is {pressed[0]}, and {closer.name} {pressed[1]}."
            else:
                continue
            at = (kind, part.program.id, command.id, part.ground.platform)
            found.setdefault(at, (part, {}))[1].update({s.id: s for s in setups})
            told.setdefault(at, says)
    for at, (part, own) in found.items():
        yield Finding(at[0], told[at], part.ground.platform, (), (part.program.name,), people=estate.people_of(own.values()))


def _not_offered(estate: Estate, parts: Parts) -> Iterator[Finding]:
    offered = {task for _, part, _ in parts for task in part.effective.by_task}
    for task in estate.tasks.tasks:
        if task.id not in offered:
            yield Finding("not_offered", f"No program in use offers {task.name}.", tasks=(task.id,))
