"""A way out of a clash, and what every kind of way is made of."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.compare.operations import Operation
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.reach import Reach, reach_of_sequence
from amberkey.core.profiles.effective import DEFAULT, Arguments, effective_command
from amberkey.core.profiles.model import Entry, Given
from amberkey.core.ways.candidates import Candidate
from amberkey.core.ways.changes import Change, entries_for
from amberkey.core.ways.consequences import Consequences

WayKind = Literal[
    "move", "move_family", "move_task", "take_over", "narrow", "translate", "tidy", "begin", "on_key", "take_off", "allow"
]


Shortcuts = tuple[tuple[Shortcut, str | None], ...]


@dataclass(frozen=True, slots=True)
class WayOut:
    """`key` names it within its clash. `changes` maps a profile's id to the operations on it; empty for allow.

    `scopes`: where a narrowed shortcut stays live. `next_best`: what a holder that loses its only shortcut could have instead.
    """

    key: str
    kind: WayKind
    subject: Binding
    shortcut: Shortcut | None
    reach: Reach | None
    reach_before: Reach | None
    reasons: tuple[str, ...]
    changes: Mapping[str, tuple[Operation, ...]]
    consequences: Consequences
    scopes: tuple[str, ...] = ()
    next_best: Candidate | None = None


def boards_with(estate: Estate, group: Group) -> list[Board]:
    """Boards of every setup of the clash's platform in which the subject's program runs."""
    program = group.clash.subject.program.id
    boards = [estate.board(i) for i, s in estate.setups.items() if s.works_on == group.clash.platform]
    return [b for b in boards if program in b.parts]


def reach_here(binding: Binding, board: Board) -> Reach | None:
    """How easily a binding's first way is pressed on a board's keyboard; None where nobody can."""
    ground = board.ground
    if not binding.ways:
        return None
    return reach_of_sequence(binding.ways[0], ground.keyboard.body, ground.keyboard.remaps, ground.mouse_hand)


def replaced(board: Board, subject: Binding, *instead: tuple[Shortcut, str | None]) -> Shortcuts:
    """The shortcuts of the subject's command with others in its place."""
    found: list[tuple[Shortcut, str | None]] = []
    for binding in board.bindings_of(subject.program.id, subject.command.id):
        if binding.arguments != subject.arguments:
            continue
        if binding is subject or (
            binding.shortcut == subject.shortcut and binding.scope == subject.scope and not _in(board, subject)
        ):
            found += instead
        else:
            found.append((binding.shortcut, binding.scope))
    return tuple(dict.fromkeys(found))


def _in(board: Board, subject: Binding) -> bool:
    return any(b is subject for b in board.bindings_of(subject.program.id, subject.command.id))


def entry_change(
    estate: Estate,
    program_id: str,
    command_id: str,
    setup_id: str,
    shortcuts: Shortcuts,
    target: str,
    arguments: Arguments = (),
) -> tuple[Change, ...]:
    """What sets the shortcuts of a command (of a template with some arguments, in the order of their names) in the layer where
    it counts: the target, or the one that set them where that is nearer or locked them, since the target's word would come to
    nothing there."""
    board = estate.board(setup_id)
    setup = board.setup.setup
    part = board.part_of(program_id)
    plain = part.effective.commands[part.effective.places[command_id, ()]]
    command = plain.command
    place = part.effective.places.get((command_id, arguments))
    if place is None:  # nobody gave it these arguments yet
        effective = effective_command(part.program, command, arguments, part.ground.platform, ())
    else:
        effective = part.effective.commands[place]
    set_in = effective.now.layer

    def standing_in(layer: str) -> tuple[Entry, ...]:
        found = entries_for(estate.profiles[layer], part.program, command, part.ground.platform, part.ground.layout.id)
        return tuple(e for e in found if tuple(sorted(e.arguments.items())) == arguments and e.command == command.id)

    layer = target
    if set_in != DEFAULT and (
        target not in setup.layers
        or setup.layers.index(set_in) > setup.layers.index(target)
        or any(e.locked for e in standing_in(set_in))
    ):
        layer = set_in
    standing = standing_in(layer)
    exact = next((e for e in standing if e.layouts and part.ground.layout.id in e.layouts), None)
    exact = exact or next((e for e in standing if not e.layouts), None)
    now = tuple(s for s, _ in effective.now.shortcuts)
    entry = Entry(
        program=program_id,
        command=command_id,
        arguments=dict(arguments),
        platform=part.ground.platform,
        layouts=exact.layouts if exact else (),
        shortcuts=tuple(Given(keys=s, scope=None if scope == command.scope else scope) for s, scope in shortcuts),
        over=exact.over if exact else now,
        since=estate.today,
        locked=exact is not None and exact.locked,
    )
    if exact is not None and exact.shortcuts == entry.shortcuts:
        return ()
    # An entry of a set stays in its set: the profile's own goes before it.
    own = exact if any(e is exact for e in estate.profiles[layer].entries) else None
    return (Change(layer, own, entry),)


def change_of(estate: Estate, subject: Binding, setup_id: str, shortcuts: Shortcuts, target: str) -> tuple[Change, ...]:
    """The same for the command of a binding, with its arguments."""
    at = (subject.program.id, subject.command.id)
    return entry_change(estate, *at, setup_id, shortcuts, target, subject.arguments)
