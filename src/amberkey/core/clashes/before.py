"""Clashes with those who take a press before a program hears of it: an input method, the system, utilities, launchers,
translations, the browser; and with those who get it only where no program wants it."""

from collections.abc import Iterable, Iterator, Sequence, Set

from amberkey.core.clashes.binding import STATIONS, TRANSLATIONS, Binding, Station
from amberkey.core.clashes.board import Board, Takers, Translated
from amberkey.core.clashes.model import Clash, ClashKind
from amberkey.core.clashes.part import Part, placeholder
from amberkey.core.clashes.winners import by_way_of, focus_of, winners_of
from amberkey.core.clashes.within import getting, taken_from_people
from amberkey.core.layouts.keyboard import Way
from amberkey.core.layouts.sides import plain
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.decisions import Severity

_RANK = {station: n for n, station in enumerate(STATIONS)}


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
    if part.program.kind in ("system", "utility"):
        found: Set[Stroke] = strokes & board.taken
    else:
        found = strokes_taken_before(board, part, strokes)
    if board.translations:
        found = found | {s for (program, s) in board.translations if program == part.program.id and s in strokes}
    if board.chains:
        found = found | (strokes & board.chains.keys())
    if board.composer is not None:
        found = found | (strokes & board.composer.composing)
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
        sooner = stroke in board.guarded or (board.composer is not None and stroke in board.composer.takes)
        sooner = sooner or (here is board.registered and (stroke in board.intercept or _held_by_assistive(board, stroke)))
        return not sooner and len({b.owner for b in here.get(stroke, ())}) < 2
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


def taken_before(board: Board, part: Part | None, binding: Binding) -> Iterator[Clash]:
    """Someone takes one of the presses. If there are several ways to make the shortcut, all must be taken; of ways that differ
    in the side of a modifier only, one is enough, as people press either.

    `part`: its program's; None for a launcher or a translation, which have none.
    """
    found: list[tuple[list[Binding], Stroke]] = []
    partly = False
    for ways in _alike(board, binding.ways):
        taken = [one for way in ways if (one := _taken_on(board, part, binding, way))]
        if not taken:
            return
        found += taken
        partly = partly or len(taken) < len(ways)
    told: set[str] = set()
    for takers, stroke in found if board.ground.keyboard.sides else found[:1]:
        clash = _taken_by(board, part, binding, takers, stroke, partly=partly)
        if clash is not None and clash.identity not in told:
            told.add(clash.identity)
            yield clash


def _taken_by(
    board: Board, part: Part | None, binding: Binding, takers: Sequence[Binding], stroke: Stroke, *, partly: bool
) -> Clash | None:
    """The clash with those who take one stroke; `partly`: another way, with the other key of a modifier, still arrives."""
    holder = takers[0]
    station: Station = "browser_keeps" if holder.program.kind == "browser" else holder.station
    kind, severity = _kind_of(board, holder, station)
    if partly:
        severity = "medium"
    also = tuple(takers[1:]) if kind == "utility" else ()
    if kind == "utility" and binding.everywhere and station == binding.station:
        others = _contest(board, holder, binding, stroke)
        if others is None:
            return None
        also = others
    return Clash(
        *(kind, severity, board.ground.platform, stroke, holder, binding, station),
        also=also,
        focus=_focus_of(board, part, holder, binding, stroke),
    )


def _alike(board: Board, ways: tuple[Way, ...]) -> Iterable[Sequence[Way]]:
    """Ways in groups of those that differ only in the side of a modifier."""
    if not board.ground.keyboard.sides:
        return ((way,) for way in ways)
    found: dict[Way, list[Way]] = {}
    for way in ways:
        found.setdefault(tuple(map(plain, way)), []).append(way)
    return found.values()


def _taken_on(board: Board, part: Part | None, binding: Binding, way: Way) -> tuple[list[Binding], Stroke] | None:
    """Who takes the first press of a way that somebody takes, and that press."""
    return next(((takers, s) for n, s in enumerate(way) if (takers := takers_of(board, part, binding, way, n))), None)


def _kind_of(board: Board, holder: Binding, station: Station) -> tuple[ClashKind, Severity]:
    """The kind of clash that one is with somebody who takes a press before, and how bad that is."""
    if station == "input_method":
        return "input_method", "high"
    if station == "browser_keeps":
        return "browser", "blocker"
    if holder.program.kind != "system":
        return "utility", "high"
    if station != "guarded" and board.setup.setup.remote is not None:
        return "remote", "high"
    if station != "guarded" and holder.command.grip != "fixed":
        return "system", "high"
    # What nobody has read anywhere is no proof that people can't have the press.
    return "system_fixed", "high" if holder.program.is_likely(holder.command) else "blocker"


def _focus_of(board: Board, part: Part | None, holder: Binding, binding: Binding, stroke: Stroke) -> tuple[str, str] | None:
    """Where it can be seen: where the loser is live; of a translation inside that, in its own scope."""
    if binding.everywhere:
        return None
    if holder.program.id == TRANSLATIONS and part is not None:
        translated = next(t for t in _translations_of(board, part, binding, stroke) if t.binding is holder)
        if translated.scope is not None and binding.scope in part.program.scope_tree.around[translated.scope]:
            return part.program.id, translated.scope
    return focus_of(binding)


def _contest(board: Board, holder: Binding, binding: Binding, stroke: Stroke) -> tuple[Binding, ...] | None:
    """Hotkeys at one station are told once, all together, so that their order doesn't make other clashes of them: by the
    second in line, with the others. None for the rest, and where all are of one program, which are told within it."""
    line = {b.participant: b for b in reversed(_line(board, binding, stroke))}
    if len({b.owner for b in line.values()}) < 2:
        return None
    second = next((b for b in reversed(line.values()) if not b.same_command(holder)), None)
    if second is None or second.participant != binding.participant:
        return None
    return tuple(b for b in line.values() if b.participant not in (holder.participant, binding.participant))


def _line(board: Board, binding: Binding, stroke: Stroke) -> list[Binding]:
    """Those at the station of a hotkey that want a stroke, the one that gets it first."""
    if binding.station != "intercept":
        return board.registered.get(stroke, [])
    if binding.program.id != TRANSLATIONS:
        return board.intercept.get(stroke, [])
    return [*board.intercept.get(stroke, ()), *_translations_like(board, binding, stroke)]


def _translations_like(board: Board, binding: Binding, stroke: Stroke) -> list[Binding]:
    """The translations of one press in one window and scope, spelled in several ways: the nearest layer's first."""
    program = binding.command.id.partition(".")[0]
    return [t.binding for t in board.translations.get((program, stroke), ()) if t.binding.command.id == binding.command.id]


def takers_of(board: Board, part: Part | None, binding: Binding, way: Way, place: int) -> list[Binding]:
    """Who takes one press of a way before a binding gets it: the first one, and the others that would at that station.

    For a hotkey only those before it count. Empty: nobody.
    """
    stroke = way[place]
    rank = _RANK[binding.station]
    chained = board.chained(way[: place + 1])
    composer = board.composer
    if composer is not None and (stroke in composer.takes or _composes(board, part, binding, stroke)):
        return [composer.binding]
    if rank > _RANK["guarded"]:
        guarded = board.guarded.get(stroke) or _at(chained, "guarded", binding)
        if guarded:
            return guarded[:1]
    if rank >= _RANK["intercept"]:
        held = list(board.intercept.get(stroke) or _at(chained, "intercept", binding))
        if board.assistive is not None and _held_by_assistive(board, stroke):
            held.append(board.assistive)
        if binding.program.id == TRANSLATIONS:
            held += _translations_like(board, binding, stroke)
        elif part is not None:
            held += [t.binding for t in _translations_of(board, part, binding, stroke)]
        held = _before(held, binding)
        if held:
            return held
    if rank >= _RANK["system"]:
        registered = _before(board.registered.get(stroke) or _at(chained, "system", binding), binding)
        if registered:
            return registered if registered[0].program.kind == "utility" else registered[:1]
    kept = board.kept_from(part.program).get(stroke) if part is not None else None
    return [kept] if kept is not None else []


def _translations_of(board: Board, part: Part, binding: Binding, stroke: Stroke) -> list[Translated]:
    """The translations that take a stroke where a binding is live: first those that do so in all of its scope, then those of
    scopes inside it."""
    around = part.program.scope_tree.around
    own = (binding.scope, *around[binding.scope])
    found = board.translations.get((part.program.id, stroke), ())
    everywhere = [t for t in found if t.scope is None or t.scope in own]
    return everywhere + [t for t in found if t.scope is not None and binding.scope in around[t.scope]]


def _composes(board: Board, part: Part | None, binding: Binding, stroke: Stroke) -> bool:
    """Whether an input method has a press of a program while a text is being composed where the binding is live."""
    composer = board.composer
    if composer is None or part is None or binding.everywhere or stroke not in composer.composing:
        return False
    return bool(part.program.texts_within(binding.scope))


def _at(chained: Sequence[Binding], station: Station, binding: Binding) -> list[Binding]:
    """Those hotkeys of several presses at a station that are not of the binding's own command."""
    return [b for b in chained if b.station == station and not b.same_command(binding)]


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
    """The clashes that some bindings of a program have with whoever is asked before. What the system does among its own is its
    maker's business."""
    for binding in bindings:
        if board.passes_on(part, binding):
            continue
        for clash in taken_before(board, part, binding):
            if not (part.program.kind == "system" and _of_systems(clash)):
                yield clash


def _of_systems(clash: Clash) -> bool:
    return clash.holder is not None and clash.holder.program.kind == "system"


def lost_behind(board: Board, part: Part, strokes: Set[Stroke]) -> Iterator[Clash]:
    """What a program takes from those who are asked after it: from the browser of a web program, from its menus, from the
    system's own presses at which programs go first."""
    if part.program.kind in ("system", "utility"):
        return
    menus = [p for p in board.menus_of(part) if p is not part]
    wanted: set[Stroke] = set(board.last)
    for browser in board.browsers_of(part.program):
        wanted |= browser.first.keys()
    for owner in menus:
        wanted |= owner.menus.keys()
    for stroke in sorted(wanted & strokes & part.first.keys(), key=str):
        lost = list(_lost_at(board, part, stroke, menus))
        if lost:
            winners = winners_of(by_way_of(stroke, part.first[stroke]))
            for binding in getting(part.program, stroke, winners):
                for kind, one in lost:
                    clash = Clash(
                        kind, "medium", board.ground.platform, stroke, binding, one, "program", focus=focus_of(binding)
                    )
                    own = kind == "goes_first" and one.command.task is not None and one.command.task == binding.command.task
                    if not own and arrives(board, part, clash, stroke):
                        yield clash


def _lost_at(board: Board, part: Part, stroke: Stroke, menus: Sequence[Part]) -> Iterator[tuple[ClashKind, Binding]]:
    """Who would get a stroke after a program, each with the kind of clash that it is to take it from them."""
    menu = next((p.menus[stroke] for p in menus if stroke in p.menus), None)
    if menu is not None:
        yield "menu_letter", menu
    browsers = board.left_to_browsers(part.program, stroke)
    yield from (("browser", one) for one in browsers)
    if not browsers:
        yield from (("goes_first", one) for one in board.last.get(stroke, ())[:1])


def hidden_by_menus(board: Board, part: Part, strokes: Set[Stroke]) -> Iterator[Clash]:
    """What a menu's letter takes from those who are asked after it: the browser's commands, while a page lets the press
    through, and the system's last ones."""
    if part.program.kind in ("system", "utility"):
        return
    platform = board.ground.platform
    for owner in board.menus_of(part):
        for stroke, menu in owner.menus.items():
            if stroke not in strokes:
                continue
            lost = board.left_to_browsers(part.program, stroke) or board.last.get(stroke, [])[:1]
            for binding in lost:
                focus = (part.program.id, part.program.root.id)
                clash = Clash("menu_letter", "medium", platform, stroke, menu, binding, "menu", focus=focus)
                if arrives(board, part, clash, stroke):
                    yield clash


def outside_programs(board: Board) -> Iterator[Clash]:
    """What hotkeys and translations take from people, what is wrong with launchers, translations and remaps, and entries that
    name a program that isn't there."""
    platform = board.ground.platform
    for orphan in board.setup.orphans:
        lost = placeholder(orphan, None, platform)
        yield Clash("orphan", "medium", platform, None, None, lost, None, why=orphan.what)
    for wrong, abbreviation, other in board.abbreviations:
        severity: Severity = "high" if wrong.kind == "untypable" else "medium"
        yield Clash("abbreviation", severity, platform, None, other, abbreviation, None, why=wrong.says)
    for binding in board.extra:
        if binding.unreachable:
            yield Clash("out_of_reach", "blocker", platform, None, None, binding, None, why=binding.unreachable)
        elif binding.refused:
            yield Clash("cannot", "blocker", platform, None, None, binding, None, why=binding.refused)
        else:
            yield from taken_before(board, None, binding)
    if board.hotkey_clashes is None:
        board.hotkey_clashes = [*_hotkeys_and_people(board), *_translations_and_people(board), *_remaps_and_people(board)]
    yield from board.hotkey_clashes


def _hotkeys_and_people(board: Board) -> Iterator[Clash]:
    """Text and caret presses that utilities and launchers take everywhere; all that would take one at a station together."""
    ground = board.ground
    telling = ground.telling | ground.caret.keys()
    composing = board.composer.takes if board.composer else frozenset()
    stations: tuple[tuple[Takers, tuple[Takers, ...]], ...] = ((board.intercept, ()), (board.registered, (board.intercept,)))
    for station, before in stations:
        for stroke, (first, *others) in station.items():
            if stroke not in telling or stroke in board.guarded or any(stroke in earlier for earlier in before):
                continue
            if stroke in composing or (before and _held_by_assistive(board, stroke)):
                continue
            if first.program.kind != "system":
                yield from taken_from_people(ground, ground.caret, stroke, first, None, tuple(others))


def _translations_and_people(board: Board) -> Iterator[Clash]:
    """Text and caret presses that a translation takes where its program takes text."""
    ground = board.ground
    for (program_id, stroke), translated in board.translations.items():
        part = board.parts[program_id]
        if stroke not in ground.telling and stroke not in part.caret:
            continue
        if stroke in board.guarded or stroke in board.intercept or _held_by_assistive(board, stroke):
            continue
        if board.composer is not None and stroke in board.composer.takes:
            continue
        told: set[int] = set()
        for text in part.program.texts_within(part.program.root.id):
            inside = {s.id for s in part.program.outward(text.id)}
            taker = next((t.binding for t in translated if t.scope is None or t.scope in inside), None)
            if taker is not None and id(taker) not in told:
                told.add(id(taker))
                yield from taken_from_people(ground, part.caret, stroke, taker, (program_id, text.id))


def _remaps_and_people(board: Board) -> Iterator[Clash]:
    """Presses of the caret that a remap leaves nobody: no key makes them any more."""
    system = board.ground.system
    for code, remap in board.remaps:
        for caret in system.caret if system else ():
            (press,) = caret.keys.presses
            if press.key == code or press.code == code:
                yield Clash(
                    *("takes_caret", "high" if caret.basic else "medium", board.ground.platform, None, remap, None, None),
                    text=caret.name,
                )
                break
