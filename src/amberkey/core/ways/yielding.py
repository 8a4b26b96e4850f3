"""Ways out in which somebody gives way: the holder, some scopes, the press itself, an entry that means nothing."""

from collections.abc import Iterator

from amberkey.core.clashes.binding import ASSISTIVE, INPUT_METHOD, LAUNCHERS, MENUS, REMAPS, TRANSLATIONS, Binding
from amberkey.core.clashes.board import Board, translation_id
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.model import Launcher, Translation
from amberkey.core.ways.candidates import Candidate, candidates_for
from amberkey.core.ways.changes import Change, operations_of
from amberkey.core.ways.consequences import consequences_of
from amberkey.core.ways.placing import is_placed
from amberkey.core.ways.wayout import WayOut, boards_with, change_of, reach_here, replaced


def take_over(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """Clearing the holder, where it can be cleared: a command of a program, a hotkey that lets go, a launcher."""
    clash = group.clash
    holder = clash.holder
    if (
        clash.kind not in ("system", "utility", "remote", "same_scope", "shadow", "prefix")
        or holder is None
        or clash.loser is None
        or is_placed(holder)
    ):
        return
    if holder.program.id in (ASSISTIVE, INPUT_METHOD, MENUS, REMAPS) or holder.program.card_only:
        return
    if holder.program.kind == "system" and holder.command.grip == "fixed":
        return
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    next_best = None
    if holder.program.id in (LAUNCHERS, TRANSLATIONS):
        changes = _cleared_item(estate, holder, group)
        reasons: tuple[str, ...] = (f"{holder.command.name} is taken out",)
    else:
        current = [b for b in board.bindings_of(holder.program.id, holder.command.id) if b.arguments == holder.arguments]
        rest = tuple((b.shortcut, b.scope) for b in current if b is not holder and b.shortcut != holder.shortcut)
        changes = change_of(estate, holder, setup_id, rest, target)
        if rest:
            reasons = (f"it keeps {' and '.join(say_shortcut(s, board) for s, _ in rest)}",)
        else:
            reasons = ("it has no other shortcut",)
            next_best = _next_best(estate, group, holder)
            if next_best is not None:
                reasons = (*reasons, f"its next best is {say_shortcut(next_best.shortcut, board)}")
    told = consequences_of(estate, changes, group)
    if not changes:
        return
    uses = estate.uses_a_week(holder, group.setups)
    used = () if uses is None else (f"people use it {uses} times a week here",)
    if next_best is not None:
        yield _with_next_best(estate, group, holder, next_best, target, used)
    reasons = (*reasons, *used)
    yield WayOut(
        *("take_over", "take_over", holder, None, None, None, reasons, operations_of(changes), told), next_best=next_best
    )


def _with_next_best(
    estate: Estate, group: Group, holder: Binding, best: Candidate, target: str, used: tuple[str, ...]
) -> WayOut:
    """Clearing the holder and giving it its next best at once."""
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    shortcuts = replaced(board, holder, (best.shortcut, holder.scope))
    changes = change_of(estate, holder, setup_id, shortcuts, target)
    told = consequences_of(estate, changes, group)
    return WayOut(
        *(f"take_over:{best.shortcut}", "take_over", holder, best.shortcut, best.reach, reach_here(holder, board)),
        *((*best.reasons, *used), operations_of(changes), told),
        next_best=best,
    )


def is_used_less(estate: Estate, group: Group) -> bool:
    """Whether the holder of a clash is known to be used less than the command that loses."""
    holder, loser = group.clash.holder, group.clash.loser
    if holder is None or loser is None:
        return False
    of_holder, of_loser = (estate.uses_a_week(b, group.setups) for b in (holder, loser))
    return of_holder is not None and of_loser is not None and of_holder < of_loser


def _next_best(estate: Estate, group: Group, holder: Binding) -> Candidate | None:
    if holder.program.kind == "system" and holder.command.grip != "can be reassigned":
        return None
    boards = [b for b in boards_with(estate, group) if holder.program.id in b.parts]
    return next(iter(candidates_for(holder, boards, 1)), None) if boards else None


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
    translation = next(
        (t for t in profile.translations if translation_id(t) == holder.command.id and t.keys == holder.shortcut), None
    )
    return (Change(holder.layer, translation, None),) if translation else ()


def narrow(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """Keeping the shortcut where it takes nothing: in the widest scopes inside its own in which no text is taken."""
    clash = group.clash
    if is_placed(clash.subject):
        return
    if clash.kind not in ("swallows_text", "takes_caret") or clash.subject.everywhere or clash.subject.program.card_only:
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
    shortcuts = replaced(board, subject, *((subject.shortcut, scope) for scope in scopes))
    changes = change_of(estate, subject, setup_id, shortcuts, target)
    told = consequences_of(estate, changes, group)
    names = " and ".join(program.scope(s).name for s in scopes)
    reach = reach_here(subject, board)
    reasons = (f"{names} takes no text" if len(scopes) == 1 else f"{names} take no text",)
    yield WayOut(
        *("narrow", "narrow", subject, subject.shortcut, reach, reach, reasons, operations_of(changes), told),
        scopes=tuple(scopes),
    )


def translate(estate: Estate, group: Group, target: str) -> Iterator[WayOut]:
    """In the program's window, the press that it can't take becomes one that it can."""
    clash = group.clash
    subject = clash.subject
    if (
        is_placed(subject)
        or subject.program.id == TRANSLATIONS
        or clash.kind != "cannot"
        or len(subject.shortcut.presses) != 1
        or not subject.ways
    ):
        return
    setup_id = group.setups[0].id
    board = estate.board(setup_id)
    if _taken_anyway(board, subject):
        return
    working = next(
        (
            b
            for b in board.bindings_of(subject.program.id, subject.command.id)
            if b.live and b.arguments == subject.arguments and len(b.shortcut.presses) == 1
        ),
        None,
    )
    if working is not None:
        becomes, shortcuts = working.shortcut, replaced(board, subject)
    else:
        best = next(iter(candidates_for(subject, boards_with(estate, group), 1)), None)
        if best is None or len(best.shortcut.presses) != 1:
            return
        becomes, shortcuts = best.shortcut, replaced(board, subject, (best.shortcut, subject.scope))
    changes = change_of(estate, subject, setup_id, shortcuts, target)
    profile = changes[0].profile if changes else target
    root = subject.program.root.id
    if becomes == subject.shortcut:
        return
    translation = Translation(
        program=subject.program.id,
        scope=None if subject.scope == root else subject.scope,
        platform=clash.platform,
        keys=subject.shortcut,
        becomes=becomes,
    )
    standing = next((t for t in estate.profiles[profile].translations if t.key == translation.key), None)
    changes = (*changes, Change(profile, standing, translation))
    told = consequences_of(estate, changes, group)
    if any(g.clash.kind == "cannot" for g in told.makes):
        return  # as where the command has as many shortcuts as its program takes: it would hear neither
    reasons = (f"{subject.program.name} hears {say_shortcut(becomes, board)} instead",)
    reach = reach_here(subject, board)
    yield WayOut(*("translate", "translate", subject, subject.shortcut, reach, reach, reasons, operations_of(changes), told))


def _taken_anyway(board: Board, binding: Binding) -> bool:
    """Whether somebody before the program takes a press, so that no translation would hear it."""
    return any(s in board.guarded or s in board.intercept for way in binding.ways for s in way)


def tidy(estate: Estate, group: Group) -> Iterator[WayOut]:
    """Taking out what means nothing."""
    clash = group.clash
    if clash.subject.program.id == TRANSLATIONS and clash.kind in ("cannot", "out_of_reach"):
        changes = _cleared_item(estate, clash.subject, group)
        if changes:
            told = consequences_of(estate, changes, group)
            reasons: tuple[str, ...] = ("the translation does nothing here",)
            yield WayOut("tidy", "tidy", clash.subject, None, None, None, reasons, operations_of(changes), told)
        return
    if clash.kind not in ("orphan", "duplicate"):
        return
    subject = clash.subject
    if subject.layer == DEFAULT or is_placed(subject):
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
        changes = (Change(subject.layer, entry, None),)
        reasons = ("the entry means nothing here",)
    else:
        setup_id = group.setups[0].id
        rest = replaced(estate.board(setup_id), subject)
        changes = change_of(estate, subject, setup_id, rest, subject.layer)
        reasons = ("the shortcut stays once",)
    told = consequences_of(estate, changes, group)
    yield WayOut("tidy", "tidy", subject, None, None, None, reasons, operations_of(changes), told)
