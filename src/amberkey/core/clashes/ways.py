"""Ways out of a clash: what each would change, and what that would solve and make, found by computing it.

move         the newcomer gets another shortcut
move_family  so do the rest of its family, which keeps its shape
take_over    the holder is cleared
narrow       the shortcut is live in fewer scopes, where it takes nothing
translate    where a program can't take a key: in its window that press becomes one that it takes
tidy         an entry that means nothing, or a shortcut that stands twice, is taken out
allow        nothing changes; with a reason and an end
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import ASSISTIVE, LAUNCHERS, TRANSLATIONS, Board
from amberkey.core.clashes.candidates import Candidate, Wish, candidates_for, is_free
from amberkey.core.clashes.changes import Change, entries_for, operations_of
from amberkey.core.clashes.consequences import NO_CONSEQUENCES, Consequences, consequences_of
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.families import shapes_for
from amberkey.core.clashes.model import Clash
from amberkey.core.compare.operations import Operation
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.reach import Reach, reach_of_sequence
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand
from amberkey.core.profiles.model import Entry, Given, Launcher, Translation, ring_of_translations

WayKind = Literal["move", "move_family", "take_over", "narrow", "translate", "tidy", "allow"]
Shortcuts = tuple[tuple[Shortcut, str | None], ...]
# Further candidates are tried where the first ones turn out to make a clash.
_TRIES = 3


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


def ways_out(estate: Estate, group: Group, target: str, most: int = 3) -> list[WayOut]:
    """The ways out of a clash, entries landing in the profile `target` unless a nearer layer set the shortcut."""
    return [
        *_moves(estate, group, target, most),
        *_family(estate, group, target),
        *_take_over(estate, group, target),
        *_narrow(estate, group, target),
        *_translate(estate, group, target),
        *_tidy(estate, group),
        WayOut("allow", "allow", group.clash.subject, None, None, None, (), {}, NO_CONSEQUENCES),
    ]


def move_to(estate: Estate, group: Group, shortcut: Shortcut, target: str) -> WayOut:
    """Moving a clash's subject to a shortcut of the specialist's own choice, with its consequences."""
    return _move(estate, group, shortcut, None, (), target)


def assign(
    estate: Estate, binding_of: tuple[str, str], setup_id: str, shortcuts: Shortcuts, target: str
) -> tuple[Mapping[str, tuple[Operation, ...]], Consequences]:
    """Giving a command its shortcuts (none: unbinding it) in a profile; the operations and their consequences."""
    changes = _entry_change(estate, *binding_of, setup_id, shortcuts, target)
    return operations_of(changes), consequences_of(estate, changes)


def boards_with(estate: Estate, group: Group) -> list[Board]:
    """Boards of every setup of the clash's platform in which the subject's program runs."""
    program = group.clash.subject.program.id
    boards = [estate.board(i) for i, s in estate.setups.items() if s.platform == group.clash.platform]
    return [b for b in boards if program in b.parts]


def _can_move(clash: Clash) -> bool:
    subject = clash.subject
    if clash.kind in ("orphan", "duplicate") or subject.program.id in (ASSISTIVE, TRANSLATIONS, LAUNCHERS):
        return False
    return subject.program.kind != "system" or subject.command.grip == "can be reassigned"


def _moves(estate: Estate, group: Group, target: str, most: int) -> Iterator[WayOut]:
    """The best candidates that make no clash."""
    if not _can_move(group.clash):
        return
    found = 0
    for candidate in candidates_for(group.clash.subject, boards_with(estate, group), most * _TRIES):
        way = _move(estate, group, candidate.shortcut, candidate.reach, candidate.reasons, target)
        if not way.consequences.makes:
            yield way
            found += 1
            if found == most:
                return


def _move(
    estate: Estate, group: Group, shortcut: Shortcut, reach: Reach | None, reasons: tuple[str, ...], target: str
) -> WayOut:
    subject = group.clash.subject
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    changes = _entry_change(
        estate, subject.program.id, subject.command.id, setup_id, _replaced(board, subject, (shortcut, subject.scope)), target
    )
    told = consequences_of(estate, changes, group)
    return WayOut(
        f"move:{shortcut}", "move", subject, shortcut, reach, _reach_of(subject, board), reasons, operations_of(changes), told
    )


def _reach_of(binding: Binding, board: Board) -> Reach | None:
    ground = board.ground
    if not binding.ways:
        return None
    return reach_of_sequence(binding.ways[0], ground.keyboard.body, ground.keyboard.remaps, ground.mouse_hand)


def _family(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """Moving a whole family: the first shape in which every member's shortcut is free."""
    clash = group.clash
    subject = clash.subject
    if not _can_move(clash) or subject.command.task is None:
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
    setup_id = group.setups[0].id
    for candidate in candidates_for(first, boards, 200):
        shapes = shapes_for(family, candidate.shortcut, tasks)
        wishes = [(Wish(subject.program, c, c.scope, None), shapes.get(t)) for t, c in members]
        if not all(s is not None and is_free(s, w, boards) for w, s in wishes):
            continue
        changes: list[Change] = []
        for (_, command), (_, shape) in zip(members, wishes, strict=True):
            assert shape is not None
            changes += _entry_change(estate, subject.program.id, command.id, setup_id, ((shape, command.scope),), target)
        told = consequences_of(estate, changes, group)
        if told.makes:
            continue
        shown = next(s for w, s in wishes if w.command.id == subject.command.id)
        reasons = (f"{len(members)} commands of {family.name} keep one shape", *candidate.reasons)
        yield WayOut(
            *(f"family:{candidate.shortcut}", "move_family", subject, shown, candidate.reach, _reach_of(subject, boards[0])),
            *(reasons, operations_of(changes), told),
        )
        return


def _take_over(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """Clearing the holder, where it can be cleared: a command of a program, a hotkey that lets go, a launcher."""
    clash = group.clash
    holder = clash.holder
    if clash.kind not in ("system", "utility", "same_scope", "shadow", "prefix") or holder is None or clash.loser is None:
        return
    if holder.program.id == ASSISTIVE or holder.station == "system_fixed":
        return
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    next_best = None
    if holder.program.id in (LAUNCHERS, TRANSLATIONS):
        changes = _cleared_item(estate, holder, group)
        reasons: tuple[str, ...] = (f"{holder.command.name} is taken out",)
    else:
        current = board.bindings_of(holder.program.id, holder.command.id)
        rest = tuple((b.shortcut, b.scope) for b in current if b is not holder and b.shortcut != holder.shortcut)
        changes = _entry_change(estate, holder.program.id, holder.command.id, setup_id, rest, target)
        if rest:
            reasons = (f"it keeps {' and '.join(str(s) for s, _ in rest)}",)
        else:
            reasons = ("it has no other shortcut",)
            next_best = _next_best(estate, group, holder)
            if next_best is not None:
                reasons = (*reasons, f"its next best is {next_best.shortcut}")
    told = consequences_of(estate, changes, group)
    if not changes:
        return
    yield WayOut(
        *("take_over", "take_over", holder, None, None, None, reasons, operations_of(changes), told), next_best=next_best
    )


def _next_best(estate: Estate, group: Group, holder: Binding) -> Candidate | None:
    if holder.program.kind == "system" and holder.command.grip != "can be reassigned":
        return None
    boards = [b for b in boards_with(estate, group) if holder.program.id in b.parts]
    return next(iter(candidates_for(holder, boards, 1)), None) if boards else None


def _narrow(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """Keeping the shortcut where it takes nothing: in the widest scopes inside its own in which no text is taken."""
    clash = group.clash
    if clash.kind not in ("swallows_text", "takes_caret") or clash.subject.everywhere:
        return
    subject = clash.subject
    program = subject.program
    scopes = [
        s.id
        for s in program.scopes
        if s.id != subject.scope
        and any(o.id == subject.scope for o in program.outward(s.id))
        and not program.texts_within(s.id)
        and s.parent is not None
        and (s.parent == subject.scope or program.texts_within(s.parent))
    ]
    if not scopes:
        return
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    shortcuts = _replaced(board, subject, *((subject.shortcut, scope) for scope in scopes))
    changes = _entry_change(estate, program.id, subject.command.id, setup_id, shortcuts, target)
    told = consequences_of(estate, changes, group)
    names = " and ".join(program.scope(s).name for s in scopes)
    reach = _reach_of(subject, board)
    reasons = (f"{names} takes no text" if len(scopes) == 1 else f"{names} take no text",)
    yield WayOut(
        *("narrow", "narrow", subject, subject.shortcut, reach, reach, reasons, operations_of(changes), told),
        scopes=tuple(scopes),
    )


def _translate(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """In the program's window, the press that it can't take becomes one that it can."""
    clash = group.clash
    subject = clash.subject
    if clash.kind != "cannot" or len(subject.shortcut.presses) != 1 or not subject.ways:
        return
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    if strokes_are_taken(board, subject):
        return
    working = next(
        (b for b in board.bindings_of(subject.program.id, subject.command.id) if b.live and len(b.shortcut.presses) == 1), None
    )
    if working is not None:
        becomes, shortcuts = working.shortcut, _replaced(board, subject)
    else:
        best = next(iter(candidates_for(subject, boards_with(estate, group), 1)), None)
        if best is None or len(best.shortcut.presses) != 1:
            return
        becomes, shortcuts = best.shortcut, _replaced(board, subject, (best.shortcut, subject.scope))
    changes = _entry_change(estate, subject.program.id, subject.command.id, setup_id, shortcuts, target)
    profile = changes[0].profile if changes else target
    root = subject.program.root.id
    translation = Translation(
        program=subject.program.id,
        scope=None if subject.scope == root else subject.scope,
        platform=clash.platform,
        keys=subject.shortcut,
        becomes=becomes,
    )
    others = [t for t in estate.profiles[profile].translations if t.key != translation.key]
    if ring_of_translations([*others, translation]):
        return
    standing = next((t for t in estate.profiles[profile].translations if t.key == translation.key), None)
    changes = (*changes, Change(profile, standing, translation))
    told = consequences_of(estate, changes, group)
    reasons = (f"{subject.program.name} hears {becomes} instead",)
    reach = _reach_of(subject, board)
    yield WayOut(*("translate", "translate", subject, subject.shortcut, reach, reach, reasons, operations_of(changes), told))


def strokes_are_taken(board: Board, binding: Binding) -> bool:
    """Whether somebody before the program takes a press, so that no translation would hear it."""
    return any(s in board.fixed or s in board.intercept for way in binding.ways for s in way)


def _tidy(estate: Estate, group: Group) -> Iterator[WayOut]:
    """Taking out what means nothing."""
    clash = group.clash
    if clash.kind not in ("orphan", "duplicate"):
        return
    subject = clash.subject
    if subject.layer == DEFAULT:
        return
    profile = estate.profiles[subject.layer]
    if clash.kind == "orphan":
        entry = next(
            (
                e
                for e in profile.by_command.get((subject.program.id, subject.command.id, clash.platform), ())
                if tuple(sorted(e.arguments.items())) == subject.arguments
            ),
            None,
        )
        if entry is None:
            return
        changes: tuple[Change, ...] = (Change(subject.layer, entry, None),)
        reasons = ("the entry means nothing here",)
    else:
        setup_id = group.setups[0].id
        rest = _replaced(estate.board(setup_id), subject)
        changes = _entry_change(estate, subject.program.id, subject.command.id, setup_id, rest, subject.layer)
        reasons = ("the shortcut stays once",)
    told = consequences_of(estate, changes, group)
    yield WayOut("tidy", "tidy", subject, None, None, None, reasons, operations_of(changes), told)


def _replaced(board: Board, subject: Binding, *instead: tuple[Shortcut, str | None]) -> Shortcuts:
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


def _entry_change(
    estate: Estate, program_id: str, command_id: str, setup_id: str, shortcuts: Shortcuts, target: str
) -> tuple[Change, ...]:
    """What sets a command's shortcuts in the layer where it counts: the one that set it, else the target."""
    board = estate.board(setup_id)
    setup = board.setup.setup
    part = board.parts[program_id]
    effective: EffectiveCommand = part.effective.commands[part.effective.places[command_id, ()]]
    command = effective.command
    layer = target if effective.now.layer == DEFAULT else effective.now.layer
    profile = estate.profiles[layer]
    standing = entries_for(profile, part.program, command, setup.platform)
    standing = tuple(e for e in standing if not e.arguments and e.command == command.id)
    exact = next((e for e in standing if e.layouts and setup.layout in e.layouts), None)
    exact = exact or next((e for e in standing if not e.layouts), None)
    now = tuple(s for s, _ in effective.now.shortcuts)
    entry = Entry(
        program=program_id,
        command=command_id,
        platform=setup.platform,
        layouts=exact.layouts if exact else (),
        shortcuts=tuple(Given(keys=s, scope=None if scope == command.scope else scope) for s, scope in shortcuts),
        over=exact.over if exact else now,
        since=estate.today,
    )
    if exact is not None and exact.shortcuts == entry.shortcuts:
        return ()
    return (Change(layer, exact, entry),)


def _cleared_item(estate: Estate, holder: Binding, group: Group) -> tuple[Change, ...]:
    """A launcher without its shortcut on this platform, or a translation taken out."""
    profile = estate.profiles[holder.layer]
    platform = group.clash.platform
    if holder.program.id == LAUNCHERS:
        launcher = next((v for v in profile.launchers if v.id == holder.command.id), None)
        if launcher is None:
            return ()
        rest = tuple(s for s in launcher.shortcuts.get(platform, ()) if s.resolve(platform) != holder.shortcut)
        shortcuts = {**launcher.shortcuts, platform: rest}
        after = Launcher(
            id=launcher.id, name=launcher.name, runs=launcher.runs, shortcuts={p: s for p, s in shortcuts.items() if s}
        )
        return (Change(holder.layer, launcher, after),)
    translation = next((t for t in profile.translations if t.program == holder.command.id and t.keys == holder.shortcut), None)
    return (Change(holder.layer, translation, None),) if translation else ()
