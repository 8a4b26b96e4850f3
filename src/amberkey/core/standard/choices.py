"""Shortcuts that a task could have: the easiest that is free in every program, what most people press today, what most
programs have."""

from collections.abc import Container, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Command, Program
from amberkey.core.tasks.families import shapes_for
from amberkey.core.ways.candidates import Wish, candidates_for, free_for

Kind = Literal["free", "pressed", "programs"]
# How many free ones of one program are tried in the others.
_TRIES = 400


@dataclass(frozen=True, slots=True)
class Choice:
    """`people` and `programs` have it for the task today. `reach`: on the worst of the keyboards, for free ones."""

    kind: Kind
    shortcut: Shortcut
    reasons: tuple[str, ...]
    people: int
    programs: tuple[str, ...]
    reach: int | None = None


@dataclass(frozen=True, slots=True)
class _Offer:
    """A program that offers the task, with the setups that have it so."""

    program: Program
    command: Command
    shortcuts: tuple[Shortcut, ...]
    setups: tuple[Setup, ...]
    boards: tuple[Board, ...]


def choices_for(
    estate: Estate, task: str, platform: Platform, *, family: bool = False, without: Container[Shortcut] = frozenset()
) -> list[Choice]:
    """One of each kind that there is, each shortcut once. `family`: of free ones, only those that leave room for its kin;
    `without`: none of these, since they are spoken for.
    """
    offers = list(_offers(estate, task, platform))
    had = _had(estate, offers)
    found: list[Choice] = []
    free = _free(offers, estate, task, family, without)
    if free is not None:
        shortcut, reasons, reach = free
        people, programs = had.get(shortcut, (0, ()))
        found.append(Choice("free", shortcut, reasons, people, programs, reach))
    if had:
        pressed = max(had, key=lambda s: (had[s][0], len(had[s][1]), str(s)))
        most = max(had, key=lambda s: (len(had[s][1]), had[s][0], str(s)))
        people, programs = had[pressed]
        found.append(Choice("pressed", pressed, (f"{people} people press it today",), people, programs))
        people, programs = had[most]
        of = len({o.program.id for o in offers})
        found.append(Choice("programs", most, (f"{len(programs)} of {of} programs have it",), people, programs))
    return list({c.shortcut: c for c in reversed(found)}.values())[::-1]


def _offers(estate: Estate, task: str, platform: Platform) -> Iterator[_Offer]:
    by_part: dict[int, tuple[Program, Command, tuple[Shortcut, ...], list[Setup], list[Board]]] = {}
    for setup_id, setup in estate.setups.items():
        if setup.works_on != platform:
            continue
        board = estate.board(setup_id)
        for part in board.parts.values():
            if part.program.kind == "system":
                continue
            known = by_part.get(id(part))
            if known is None:
                effective = part.effective.by_task.get(task)
                if effective is None:
                    continue
                shortcuts = tuple(s for s, _ in effective.now.shortcuts)
                known = by_part[id(part)] = (part.program, effective.command, shortcuts, [], [])
            known[3].append(setup)
            known[4].append(board)
    for program, command, shortcuts, setups, boards in by_part.values():
        yield _Offer(program, command, shortcuts, tuple(setups), tuple(boards))


def _had(estate: Estate, offers: Sequence[_Offer]) -> dict[Shortcut, tuple[int, tuple[str, ...]]]:
    """By shortcut, the people who have it for the task in some program today, and the programs."""
    setups: dict[Shortcut, dict[str, Setup]] = {}
    programs: dict[Shortcut, dict[str, None]] = {}
    for offer in offers:
        for shortcut in offer.shortcuts:
            setups.setdefault(shortcut, {}).update({s.id: s for s in offer.setups})
            programs.setdefault(shortcut, {})[offer.program.name] = None
    return {s: (estate.people_of(own.values()), tuple(programs[s])) for s, own in setups.items()}


def _free(
    offers: Sequence[_Offer], estate: Estate, task: str, family: bool, without: Container[Shortcut]
) -> tuple[Shortcut, tuple[str, ...], int] | None:
    """The best one that is free in all programs that could be given it, in every setup."""
    able = [o for o in offers if not o.program.card_only]
    if not able:
        return None
    wishes = [(Wish(o.program, o.command, o.command.scope, o.shortcuts[0] if o.shortcuts else None), o.boards) for o in able]
    # The one in most setups proposes: what is free there has passed most of the search already.
    first, boards = max(wishes, key=lambda w: len(w[1]))
    is_free = [free_for(wish, there) for wish, there in wishes]
    group = estate.tasks.family_of(task) if family else None
    for candidate in candidates_for(first, boards, _TRIES):
        wanted = [candidate.shortcut]
        if group is not None:
            wanted = list(shapes_for(group, candidate.shortcut, estate.tasks).values())
        if wanted and not any(s in without for s in wanted) and all(fits(s) for fits in is_free for s in wanted):
            return candidate.shortcut, candidate.reasons, candidate.reach.score
    return None
