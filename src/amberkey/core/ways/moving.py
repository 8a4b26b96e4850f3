"""Ways out that give a command another shortcut: alone, or with its family."""

from collections.abc import Iterator

from amberkey.core.clashes.binding import ASSISTIVE, INPUT_METHOD, LAUNCHERS, MENUS, REMAPS, TRANSLATIONS
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.model import Clash
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.reach import Reach
from amberkey.core.tasks.families import shapes_for
from amberkey.core.ways.candidates import Wish, candidates_for, free_for
from amberkey.core.ways.changes import Change, operations_of
from amberkey.core.ways.consequences import consequences_of
from amberkey.core.ways.placing import is_placed
from amberkey.core.ways.wayout import WayOut, boards_with, change_of, entry_change, reach_here, replaced

# What stands for these has no entry in a profile that could say otherwise.
_NO_ENTRIES = (ASSISTIVE, TRANSLATIONS, LAUNCHERS, INPUT_METHOD, MENUS, REMAPS)
# Further candidates are tried where the first ones turn out to make a clash.
_TRIES = 3


def can_move(clash: Clash) -> bool:
    """Whether an entry can give the subject of a clash another shortcut."""
    subject = clash.subject
    if is_placed(subject):
        return False
    if clash.kind in ("orphan", "duplicate") or subject.program.id in _NO_ENTRIES:
        return False
    if subject.program.card_only:
        return False
    return subject.program.kind != "system" or subject.command.grip == "can be reassigned"


def moves(estate: Estate, group: Group, target: str, most: int) -> Iterator[WayOut]:
    """The best candidates that make no clash."""
    if not can_move(group.clash):
        return
    found = 0
    for candidate in candidates_for(group.clash.subject, boards_with(estate, group), most * _TRIES):
        way = move(estate, group, candidate.shortcut, candidate.reach, candidate.reasons, target)
        if not way.consequences.makes:
            yield way
            found += 1
            if found == most:
                return


def move(
    estate: Estate, group: Group, shortcut: Shortcut, reach: Reach | None, reasons: tuple[str, ...], target: str
) -> WayOut:
    """The way out that gives the subject another shortcut, with everything that follows from it."""
    subject = group.clash.subject
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    changes = change_of(estate, subject, setup_id, replaced(board, subject, (shortcut, subject.scope)), target)
    told = consequences_of(estate, changes, group)
    return WayOut(
        f"move:{shortcut}", "move", subject, shortcut, reach, reach_here(subject, board), reasons, operations_of(changes), told
    )


def family_moves(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """Moving a whole family: the first shape in which every member's shortcut is free."""
    clash = group.clash
    subject = clash.subject
    if not can_move(clash) or subject.command.task is None or subject.arguments:
        return
    boards = boards_with(estate, group)
    tasks = boards[0].setup.tasks
    family = tasks.family_of(subject.command.task)
    if family is None:
        return
    members = []
    for task in family.members:
        own = subject.command if subject.command.task == task else None
        command = own or next((c for c in subject.program.commands if c.task == task), None)
        if command is not None:
            members.append((task, command))
    if len(members) < 2:
        return
    first = Wish(subject.program, members[0][1], members[0][1].scope, None)
    free = [free_for(Wish(subject.program, c, c.scope, None), boards) for _, c in members]
    setup_id = group.setups[0].id
    for candidate in candidates_for(first, boards, 200):
        shapes = shapes_for(family, candidate.shortcut, tasks)
        found = [shapes[t] for t, _ in members if t in shapes]
        if len(found) < len(members) or not all(is_free(s) for is_free, s in zip(free, found, strict=True)):
            continue
        changes: list[Change] = []
        for (_, command), shape in zip(members, found, strict=True):
            changes += entry_change(estate, subject.program.id, command.id, setup_id, ((shape, command.scope),), target)
        told = consequences_of(estate, changes, group)
        if told.makes:
            continue
        shown = next(s for (_, c), s in zip(members, found, strict=True) if c.id == subject.command.id)
        reasons = (f"{len(members)} commands of {family.name} keep one shape", *candidate.reasons)
        yield WayOut(
            *(f"family:{candidate.shortcut}", "move_family", subject, shown, candidate.reach, reach_here(subject, boards[0])),
            *(reasons, operations_of(changes), told),
        )
        return
