"""Giving a program another program's shortcuts, matched by task, as a set that can be taken off again."""

from dataclasses import dataclass

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.profiles.effective import EffectiveCommand
from amberkey.core.profiles.model import Entry, Given, NamedSet, Profile
from amberkey.core.standard.judging import why_it_cannot


@dataclass(frozen=True, slots=True)
class Taken:
    """A command that gets the other program's keys for its task; in the words of the keyboard where most people have it."""

    task: str
    command: str
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class Refused:
    task: str
    command: str
    wanted: str
    why: str


@dataclass(frozen=True, eq=False)
class Borrowed:
    """What a program would take from another one. `same` tasks have the same keys already; `lacking` it doesn't offer."""

    entries: NamedSet
    after: Estate
    taken: tuple[Taken, ...]
    refused: tuple[Refused, ...]
    same: tuple[str, ...]
    lacking: tuple[str, ...]
    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    people: int


class NotTogether(ValueError):
    """One of two programs isn't in use on a platform, or they are the same."""


def set_id(program: str, source: str, platform: Platform) -> str:
    """The id of the set by which a program has another one's shortcuts on a platform."""
    return f"{program}-as-{source}-{platform}"


def borrow(estate: Estate, program_id: str, source_id: str, platform: Platform, profile: Profile) -> Borrowed:
    """What `profile` would give to a program from another one, on a platform. Raises NotTogether."""
    if program_id == source_id:
        raise NotTogether("A program can't take its own shortcuts. Choose another one to take them from.")
    board, part = _most_used(estate, program_id, platform)
    other, source = _most_used(estate, source_id, platform)
    own, theirs = part.effective.by_task, source.effective.by_task
    entries: list[Entry] = []
    taken: list[Taken] = []
    refused: list[Refused] = []
    same: list[str] = []
    lacking: list[str] = []
    for task, lent in theirs.items():
        name = _task_name(estate, task)
        if not lent.now.shortcuts:
            continue
        mine = own.get(task)
        if mine is None:
            lacking.append(name)
            continue
        wanted = tuple(s for s, _ in lent.now.shortcuts)
        why = _why_not(part, wanted)
        now = tuple(s for s, _ in mine.now.shortcuts)
        if set(wanted) <= set(now):
            same.append(name)
        elif why:
            refused.append(Refused(name, mine.command.name, _words(wanted, other), why))
        else:
            taken.append(Taken(name, mine.command.name, _words(now, board), _words(wanted, other)))
            entries.append(_entry(program_id, mine, platform, wanted, now, estate))
    found = NamedSet(
        id=set_id(program_id, source_id, platform),
        name=f"{part.program.name} as {source.program.name}",
        entries=tuple(sorted(entries, key=lambda e: e.key)),
    )
    after = estate.with_profiles([with_set(profile, found)]) if entries else estate
    touched = [s for i, s in estate.setups.items() if profile.id in s.layers and program_id in estate.board(i).parts]
    return Borrowed(
        *(found, after, tuple(taken), tuple(refused), tuple(same), tuple(lacking)),
        solves=tuple(after.new_in(estate)) if entries else (),
        makes=tuple(estate.new_in(after)) if entries else (),
        people=estate.people_of(s for s in touched if s.works_on == platform) if entries else 0,
    )


def with_set(profile: Profile, found: NamedSet) -> Profile:
    """A profile with a set put in, in the place of an earlier one of the same id."""
    sets = {s.id: s for s in profile.sets} | {found.id: found}
    return profile.model_copy(update={"sets": tuple(sets[i] for i in sorted(sets))})


def _most_used(estate: Estate, program_id: str, platform: Platform) -> tuple[Board, Part]:
    """Where most people have a program."""
    people: dict[int, int] = {}
    found: dict[int, tuple[Board, Part]] = {}
    for setup_id, setup in estate.setups.items():
        if setup.works_on == platform:
            board = estate.board(setup_id)
            part = board.parts.get(program_id)
            if part is not None:
                people[id(part)] = people.get(id(part), 0) + setup.people
                found.setdefault(id(part), (board, part))
    if not found:
        raise NotTogether(f"Nobody has {program_id} on {platform}. Choose a program that is in use there.")
    return found[max(people, key=lambda k: people[k])]


def _why_not(part: Part, wanted: tuple[Shortcut, ...]) -> str:
    keyboard = part.ground.keyboard
    if len(wanted) > part.program.limits.shortcuts_per_command:
        return f"it takes at most {part.program.limits.shortcuts_per_command} shortcuts for a command"
    for shortcut in wanted:
        why = why_it_cannot(part.program, shortcut, ways_of(shortcut, keyboard, part.reads, part.pad).unreachable, keyboard)
        if why:
            return why
    return ""


def _entry(
    program: str,
    mine: EffectiveCommand,
    platform: Platform,
    wanted: tuple[Shortcut, ...],
    now: tuple[Shortcut, ...],
    estate: Estate,
) -> Entry:
    over = tuple(s for s in now if s not in wanted)
    return Entry(
        program=program,
        command=mine.command.id,
        platform=platform,
        shortcuts=tuple(Given(keys=s) for s in wanted),
        over=over,
        since=estate.today if over else None,
    )


def _words(shortcuts: tuple[Shortcut, ...], board: Board) -> str:
    return " and ".join(say_shortcut(s, board) for s in shortcuts)


def _task_name(estate: Estate, task: str) -> str:
    found = estate.tasks.task(task)
    return found.name if found else task
