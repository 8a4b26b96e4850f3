"""Who relearns what: which commands answer to other keys than before."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.setup import Setup


class Relearned(NamedTuple):
    """One command that answers to other keys afterwards, in the words of a keyboard; "" for none."""

    program: str
    command: str
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class Learners:
    """People who all relearn the same."""

    people: int
    setups: tuple[str, ...]
    relearn: tuple[Relearned, ...]


def relearned(before: Estate, after: Estate) -> list[tuple[tuple[Relearned, ...], list[Setup]]]:
    """What people relearn, each with the setups whose people relearn just that."""
    if before is after:
        return []
    known: dict[tuple[int, int], tuple[Relearned, ...]] = {}
    found: dict[tuple[Relearned, ...], list[Setup]] = {}
    for setup_id, setup in after.setups.items():
        relearn = relearned_on(before.board(setup_id), after.board(setup_id), known)
        if relearn:
            found.setdefault(relearn, []).append(setup)
    return list(found.items())


def relearned_on(
    old: Board, new: Board, known: dict[tuple[int, int], tuple[Relearned, ...]] | None = None
) -> tuple[Relearned, ...]:
    """What people relearn on one setup, in programs that they had before too. `known`: kept between calls for the same boards,
    of which many share their parts."""
    known = {} if known is None else known
    relearn: list[Relearned] = []
    for program_id, part in new.parts.items():
        was = old.parts.get(program_id)
        if was is None or was is part:
            continue
        key = (id(was), id(part))
        if key not in known:
            known[key] = tuple(_relearned(was, part, new))
        relearn += known[key]
    return tuple(relearn)


def _relearned(was: Part, part: Part, board: Board) -> Iterator[Relearned]:
    for one in part.effective.commands:
        place = was.effective.places.get((one.command.id, one.arguments))
        old = was.effective.commands[place].now.shortcuts if place is not None else ()
        if old != one.now.shortcuts:
            yield Relearned(part.program.name, one.command.name, _words(old, board), _words(one.now.shortcuts, board))
    yield from _relearned_by_place(was, part, board)


def _relearned_by_place(was: Part, part: Part, board: Board) -> Iterator[Relearned]:
    """Keys of places, menus and macros that people had and that are others now; what is new there is nothing to relearn."""
    old, new = _by_place(was), _by_place(part)
    for at, (name, keys) in old.items():
        now = new.get(at, (name, ()))[1]
        if keys != now:
            yield Relearned(part.program.name, name, _words(keys, board), _words(now, board))


_Keys = tuple[tuple[Shortcut, str], ...]


def _by_place(part: Part) -> dict[tuple[str, str], tuple[str, _Keys]]:
    """By section and command, what is placed in a program: its name with where it is, and its keys with their scopes."""
    found: dict[tuple[str, str], tuple[str, _Keys]] = {}
    for one in part.effective.placed:
        if not one.lost and not one.refused and one.shortcut.presses:
            at = (one.section, one.command.id)
            _, keys = found.get(at, ("", ()))
            found[at] = f"{one.command.name} ({SECTION_SAID[one.section]})", (*keys, (one.shortcut, one.scope))
    return found


SECTION_SAID = {"shelves": "on a shelf", "menu_groups": "in a menu", "macros": "a macro"}


def _words(shortcuts: Sequence[tuple[Shortcut, str]], board: Board) -> str:
    return " and ".join(dict.fromkeys(say_shortcut(s, board) for s, _ in shortcuts))
