"""Clashes with those who take a press before a program hears of it: the system, utilities, launchers, the browser."""

from collections.abc import Iterator, Mapping, Sequence, Set

from amberkey.core.clashes.binding import STATIONS, Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.model import Clash, ClashKind
from amberkey.core.clashes.part import Part, placeholder
from amberkey.core.clashes.winners import by_way_of, focus_of, getters, winners_of
from amberkey.core.clashes.within import taken_from_people
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.decisions import Severity

_RANK = {station: n for n, station in enumerate(STATIONS)}
_KINDS: Mapping[str, tuple[ClashKind, Severity]] = {
    "system_fixed": ("system_fixed", "blocker"),
    "system": ("system", "high"),
    "intercept": ("utility", "high"),
    "browser_keeps": ("browser", "blocker"),
}


def strokes_taken_before(board: Board, part: Part, strokes: Set[Stroke]) -> Set[Stroke]:
    """Those of some strokes that never reach a program."""
    if part.program.kind in ("system", "utility"):
        return frozenset()  # hotkeys themselves: asked one by one
    found = strokes & board.taken
    kept = board.kept_from(part.program)
    if kept:
        found |= strokes & kept.keys()
    if board.translations:
        found |= {
            s
            for (program, s), translated in board.translations.items()
            if program == part.program.id and s in strokes and any(t.scope is None for t in translated)
        }
    if board.assistive is not None:
        code = board.assistive.ways[0][0].code
        found |= {s for s in strokes if s.code == code}
    return found


def strokes_asked_before(board: Board, part: Part, strokes: Set[Stroke]) -> Set[Stroke]:
    """Those of some strokes at which somebody before a program has a say."""
    if part.program.kind == "system":
        found: Set[Stroke] = strokes & board.intercept.keys()
    elif part.program.kind == "utility":
        found = strokes & board.taken
    else:
        found = strokes_taken_before(board, part, strokes)
    if board.translations:
        found = found | {s for (program, s) in board.translations if program == part.program.id and s in strokes}
    return found


def arrives(board: Board, part: Part, clash: Clash, stroke: Stroke) -> bool:
    """Whether the stroke of a clash within a program gets there at all, as far as its hotkeys and translations go."""
    for translated in board.translations.get((part.program.id, stroke), ()):
        inside = part.program.outward(clash.focus[1]) if clash.focus else ()
        if any(s.id == translated.scope for s in inside):
            return False
    if part.program.kind == "utility" and (clash.holder or clash.subject).everywhere:
        # Where several utilities want one press, all of them are told together.
        here = board.intercept if clash.subject.station == "intercept" else board.registered
        sooner = stroke in board.fixed or (
            here is board.registered and (stroke in board.intercept or _held_by_assistive(board, stroke))
        )
        return not sooner and len({b.program.id for b in here.get(stroke, ())}) < 2
    return True


def _held_by_assistive(board: Board, stroke: Stroke) -> bool:
    return board.assistive is not None and board.assistive.ways[0][0].code == stroke.code


def candidates_in(part: Part, strokes: Set[Stroke]) -> list[Binding]:
    """The live bindings that have one of the strokes in one of their presses, each once, always in the same order."""
    found: dict[int, Binding] = {}
    for stroke in strokes:
        for binding in (*part.first.get(stroke, ()), *part.later.get(stroke, ())):
            found[id(binding)] = binding
    return sorted(found.values(), key=lambda b: (b.order, b.participant))


def taken_before(board: Board, part: Part, binding: Binding) -> Clash | None:
    """Someone takes one of the presses. If there are several ways to make the shortcut, all must be taken."""
    first: tuple[list[Binding], Stroke] | None = None
    for way in binding.ways:
        found = next(((takers, s) for s in way if (takers := takers_of(board, part, binding, s))), None)
        if found is None:
            return None
        first = first or found
    if first is None:
        return None
    takers, stroke = first
    holder = takers[0]
    station = "browser_keeps" if holder.program.kind == "browser" else holder.station
    kind, severity = _KINDS[station]
    if holder.program.kind == "utility":
        kind, severity = "utility", "high"
    also = tuple(takers[1:]) if kind == "utility" else ()
    if kind == "utility" and binding.everywhere and station == binding.station:
        others = _contest(board, holder, binding, stroke)
        if others is None:
            return None
        also = others
    return Clash(
        *(kind, severity, board.ground.platform, stroke, holder, binding, station),
        also=also,
        focus=None if binding.everywhere else focus_of(binding),
    )


def _contest(board: Board, holder: Binding, binding: Binding, stroke: Stroke) -> tuple[Binding, ...] | None:
    """Hotkeys at one station are told once, all together, so that their order doesn't make other clashes of them: by the
    second in line, with the others. None for the rest, and where all are of one program, which are told within it."""
    station = board.intercept if binding.station == "intercept" else board.registered
    line = {b.participant: b for b in reversed(station.get(stroke, ()))}
    if len({b.program.id for b in line.values()}) < 2:
        return None
    second = next((b for b in reversed(line.values()) if not b.same_command(holder)), None)
    if second is None or second.participant != binding.participant:
        return None
    return tuple(b for b in line.values() if b.participant not in (holder.participant, binding.participant))


def takers_of(board: Board, part: Part, binding: Binding, stroke: Stroke) -> list[Binding]:
    """Who takes a stroke before a binding of a program gets it: the first one, and the others that would at that station.

    For a hotkey only those before it count. Empty: nobody.
    """
    rank = _RANK[binding.station] if binding.everywhere else _RANK["program"]
    if rank > _RANK["system_fixed"]:
        fixed = board.fixed.get(stroke)
        if fixed:
            return fixed[:1]
    if rank >= _RANK["intercept"]:
        held = list(board.intercept.get(stroke, ()))
        if board.assistive is not None and _held_by_assistive(board, stroke):
            held.append(board.assistive)
        held += [
            t.binding
            for t in board.translations.get((part.program.id, stroke), ())
            if t.scope is None or part.program.nested(t.scope, binding.scope)
        ]
        held = _before(held, binding)
        if held:
            return held
    if rank >= _RANK["system"]:
        registered = _before(board.registered.get(stroke, []), binding)
        if registered:
            return registered if registered[0].program.kind == "utility" else registered[:1]
    kept = board.kept_from(part.program).get(stroke)
    return [kept] if kept is not None else []


def _before(takers: Sequence[Binding], binding: Binding) -> list[Binding]:
    """Those in front of a hotkey in the order of its station; all of them for anybody else. Its own command is nobody else."""
    found = []
    for one in takers:
        if one is binding:
            break
        if not one.same_command(binding):
            found.append(one)
    return found


def clashes_before(board: Board, part: Part, bindings: Sequence[Binding]) -> Iterator[Clash]:
    """The clashes that some bindings of a program have with whoever is asked before."""
    for binding in bindings:
        clash = taken_before(board, part, binding)
        if clash is not None:
            yield clash


def browser_loses(board: Board, part: Part, strokes: Set[Stroke]) -> Iterator[Clash]:
    """Presses of the browser that a web program takes first, so that they do nothing while its page has the focus."""
    browser = board.browser_of(part.program)
    if browser is None:
        return
    for stroke, bucket in browser.first.items():
        if stroke not in strokes:
            continue
        lost = next((b for b in bucket if not b.command.keeps and _is_root(b)), None)
        if lost is None or (stroke,) not in lost.ways:
            continue
        winners = winners_of(by_way_of(stroke, part.first.get(stroke, ())))
        for scope in dict.fromkeys(s for scopes in winners.values() for s in scopes):
            for binding in getters(part.program, scope, stroke, winners):
                if binding.scope == scope:
                    yield Clash(
                        *("browser", "medium", board.ground.platform, stroke, binding, lost, "program"),
                        focus=focus_of(binding),
                    )


def _is_root(binding: Binding) -> bool:
    return binding.program.scope(binding.scope).parent is None


def outside_programs(board: Board) -> Iterator[Clash]:
    """What hotkeys take from people, what launchers do wrong, and entries that name a program that isn't there."""
    platform = board.ground.platform
    for orphan in board.setup.orphans:
        lost = placeholder(orphan, None, platform)
        yield Clash("orphan", "medium", platform, None, None, lost, None, why=orphan.what)
    system = board.system_part()
    for binding in board.extra:
        if binding.unreachable:
            yield Clash("out_of_reach", "blocker", platform, None, None, binding, None, why=binding.unreachable)
        elif binding.station == "system" and system is not None:
            clash = taken_before(board, system, binding)
            if clash is not None:
                yield clash
    if board.hotkey_clashes is None:
        board.hotkey_clashes = list(_hotkeys_and_people(board))
    yield from board.hotkey_clashes


def _hotkeys_and_people(board: Board) -> Iterator[Clash]:
    """Text and caret presses that utilities and launchers take everywhere; all that would take one at a station together."""
    ground = board.ground
    telling = ground.telling | ground.caret.keys()
    for station, before in ((board.intercept, ()), (board.registered, (board.intercept,))):
        for stroke, (first, *others) in station.items():
            if stroke not in telling or stroke in board.fixed or any(stroke in earlier for earlier in before):
                continue
            if before and _held_by_assistive(board, stroke):
                continue
            if first.program.kind != "system":
                yield from taken_from_people(ground, ground.caret, stroke, first, None, tuple(others))
