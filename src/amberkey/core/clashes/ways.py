"""Ways out of a clash: what each would change, and what that would solve and make, found by computing it."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.clashes.board import Binding, Board
from amberkey.core.clashes.candidates import Candidate, candidates_for
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.model import Clash
from amberkey.core.compare.operations import JsonDocument, Operation, apply, set_item
from amberkey.core.documents.model import read_document
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.reach import Reach, reach_of
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.model import Entry, Given, Profile, Setup

WayKind = Literal["move", "take_over", "allow"]


@dataclass(frozen=True, slots=True)
class Consequences:
    """Clashes that a change solves and makes, each with the setups where it does, and the setups in which any key moves."""

    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    setups: tuple[str, ...]
    people: int
    remains: tuple[Setup, ...] = ()
    """Setups that keep the clash in question, as they don't stand on the changed profile."""


@dataclass(frozen=True, slots=True)
class WayOut:
    """`key` names it within its clash. `changes` maps a profile's id to the operations on it; empty for allow."""

    key: str
    kind: WayKind
    subject: Binding
    shortcut: Shortcut | None
    reach: Reach | None
    reach_before: Reach | None
    reasons: tuple[str, ...]
    changes: Mapping[str, tuple[Operation, ...]]
    consequences: Consequences


def ways_out(estate: Estate, group: Group, target: str, most: int = 3) -> list[WayOut]:
    """The ways out of a clash, entries landing in the profile `target` unless a nearer layer set the shortcut."""
    clash = group.clash
    ways = [_move(estate, group, c.shortcut, c.reach, c.reasons, target) for c in _candidates(estate, group, most)]
    taken = _take_over(estate, group, target)
    if taken is not None:
        ways.append(taken)
    nothing = Consequences((), (), (), 0)
    ways.append(WayOut("allow", "allow", clash.subject, None, None, None, (), {}, nothing))
    return ways


def move_to(estate: Estate, group: Group, shortcut: Shortcut, target: str) -> WayOut:
    """Moving a clash's subject to a shortcut of the specialist's own choice, with its consequences."""
    return _move(estate, group, shortcut, None, (), target)


def assign(
    estate: Estate, binding_of: tuple[str, str], setup_id: str, shortcuts: tuple[tuple[Shortcut, str | None], ...], target: str
) -> tuple[Mapping[str, tuple[Operation, ...]], Consequences]:
    """Giving a command its shortcuts (none: unbinding it) in a profile; the operations and their consequences."""
    program, command = binding_of
    changes = _entry_change(estate, program, command, setup_id, shortcuts, target)
    return changes, consequences_of(estate, changes)


def consequences_of(estate: Estate, changes: Mapping[str, tuple[Operation, ...]], solving: Group | None = None) -> Consequences:
    """Recomputes every setup that a change reaches and tells the clashes gone and new, and who relearns.

    With `solving`, also the setups that keep that clash.
    """
    after = estate.with_profiles(_changed_profiles(estate, changes))
    touched = [i for i, s in estate.setups.items() if set(s.layers) & changes.keys()]
    moved = tuple(i for i in touched if _shortcuts(estate.board(i)) != _shortcuts(after.board(i)))
    return Consequences(
        solves=_only_in(estate, after, touched),
        makes=_only_in(after, estate, touched),
        setups=moved,
        people=sum(estate.setups[i].people for i in moved),
        remains=tuple(s for s in solving.setups if _has(after, s.id, solving.clash.identity)) if solving else (),
    )


def _only_in(one: Estate, other: Estate, setups: Iterable[str]) -> tuple[Group, ...]:
    """The clashes that a setup has in one estate and not in the other, grouped, each with those setups only."""
    found = []
    for group in one.groups(setups):
        here = tuple(s for s in group.setups if not _has(other, s.id, group.clash.identity))
        if here:
            found.append(Group(group.clash, here))
    return tuple(found)


def _has(estate: Estate, setup_id: str, identity: str) -> bool:
    return any(c.identity == identity for c in estate.clashes(setup_id))


def _changed_profiles(estate: Estate, changes: Mapping[str, tuple[Operation, ...]]) -> Iterable[Profile]:
    for profile_id, operations in changes.items():
        document = apply(cast(JsonDocument, estate.profiles[profile_id].to_json()), operations)
        yield read_document(document, {"amberkey/profile@1": Profile})


def _shortcuts(board: Board) -> set[tuple[str, str, str, str]]:
    return {(b.program.id, b.command.id, b.scope, str(b.shortcut)) for b in board.bindings}


def _boards_with(estate: Estate, group: Group) -> list[Board]:
    """Boards of every setup of the clash's platform in which the subject's program runs."""
    program = group.clash.subject.program.id
    boards = [estate.board(i) for i, s in estate.setups.items() if s.platform == group.clash.platform]
    return [b for b in boards if b.setup.program(program) is not None]


def _candidates(estate: Estate, group: Group, most: int) -> list[Candidate]:
    return candidates_for(group.clash.subject, _boards_with(estate, group), most)


def _move(
    estate: Estate, group: Group, shortcut: Shortcut, reach: Reach | None, reasons: tuple[str, ...], target: str
) -> WayOut:
    subject = group.clash.subject
    setup_id = group.setups[0].id
    current = _bindings_of(estate.board(setup_id), subject.program.id, subject.command.id)
    shortcuts = tuple(
        (shortcut if b.shortcut == subject.shortcut and b.scope == subject.scope else b.shortcut, b.scope) for b in current
    )
    changes = _entry_change(estate, subject.program.id, subject.command.id, setup_id, shortcuts, target)
    before = reach_of(subject.ways[0][-1], estate.board(setup_id).setup.body) if subject.ways else None
    key = f"move:{shortcut}"
    return WayOut(key, "move", subject, shortcut, reach, before, reasons, changes, consequences_of(estate, changes, group))


def _take_over(estate: Estate, group: Group, target: str) -> WayOut | None:
    """Clearing the holder, where it can be cleared: a command of a program, or a system hotkey that lets go."""
    clash: Clash = group.clash
    holder = clash.holder
    if clash.kind not in ("system", "same_scope", "shadow") or holder is None:
        return None
    setup_id = group.setups[0].id
    current = _bindings_of(estate.board(setup_id), holder.program.id, holder.command.id)
    rest = tuple((b.shortcut, b.scope) for b in current if b.shortcut != holder.shortcut or b.scope != holder.scope)
    changes = _entry_change(estate, holder.program.id, holder.command.id, setup_id, rest, target)
    reasons = ("it keeps another shortcut",) if rest else ("it has no other shortcut",)
    return WayOut("take_over", "take_over", holder, None, None, None, reasons, changes, consequences_of(estate, changes, group))


def _bindings_of(board: Board, program: str, command: str) -> list[Binding]:
    return [b for b in board.bindings if b.program.id == program and b.command.id == command]


def _entry_change(
    estate: Estate,
    program_id: str,
    command_id: str,
    setup_id: str,
    shortcuts: tuple[tuple[Shortcut, str | None], ...],
    target: str,
) -> dict[str, tuple[Operation, ...]]:
    """The operation that sets a command's shortcuts in the layer where it counts: the one that set it, else the target."""
    board = estate.board(setup_id)
    setup = board.setup.setup
    effective = next(e for e in board.setup.commands[program_id] if e.command.id == command_id)
    layer = target if effective.now.layer == DEFAULT else effective.now.layer
    profile = estate.profiles[layer]
    own_scope = effective.command.scope
    key_base = Entry(program=program_id, command=command_id, platform=setup.platform, shortcuts=())
    standing = [e for e in profile.entries if e.key.startswith(key_base.key) and e.command == command_id]
    exact = next((e for e in standing if e.layouts and setup.layout in e.layouts), None)
    exact = exact or next((e for e in standing if not e.layouts), None)
    entry = Entry(
        program=program_id,
        command=command_id,
        platform=setup.platform,
        layouts=exact.layouts if exact else (),
        shortcuts=tuple(Given(keys=s, scope=None if scope == own_scope else scope) for s, scope in shortcuts),
        over=exact.over if exact else tuple(s for s, _ in effective.now.shortcuts),
    )
    document = cast(JsonDocument, profile.to_json())
    value = entry.model_dump(mode="json", exclude_defaults=True)
    operation = set_item(document, "entries", entry.key, value)
    return {layer: (operation,) if operation is not None else ()}
