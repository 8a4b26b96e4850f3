"""Clashes within one program. Bindings are compared only where they share a stroke, so what is looked at grows with the
bindings and the clashes, never with their pairs.

`alone` finds what a binding is by itself, `on_stroke` what happens where one stroke leads. Together they are all there is;
a change is judged by looking again at the bindings and strokes that it touches.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import chain

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part, placeholder
from amberkey.core.layouts.keyboard import Way
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.typing import need_of, types
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.model import Severity
from amberkey.core.programs.model import Scope

_FAR_STRETCH = 1.5  # key widths beyond an easy span


def clashes_within(part: Part) -> list[Clash]:
    """Every clash that the bindings of a program have among themselves, with the text and with what people need."""
    if part.program.kind == "system":
        return []
    found: list[Clash] = list(orphans(part))
    awkward: dict[Stroke, str] = {}
    for binding in part.bindings:
        found.extend(alone(part, binding, awkward))
    for bindings in part.by_command.values():
        if len(bindings) > 1:
            found.extend(doubled(part, bindings))
    for stroke, bucket in part.first.items():
        found.extend(on_stroke(part, stroke, bucket, part.retired))
    return found


def orphans(part: Part) -> Iterator[Clash]:
    """Entries that name a command or a scope that the program doesn't have."""
    for orphan in part.effective.orphans:
        lost = placeholder(orphan, part.effective, part.ground.platform)
        yield Clash("orphan", "medium", part.ground.platform, None, None, lost, None, note=orphan.what)


def alone(part: Part, binding: Binding, awkward: dict[Stroke, str]) -> Iterator[Clash]:
    """What is wrong with a binding whatever else there is. `awkward` keeps what was found of a stroke."""
    platform = part.ground.platform
    if binding.unreachable:
        note = binding.unreachable
        yield Clash("out_of_reach", "blocker", platform, None, None, binding, None, note=note, focus=focus_of(binding))
    elif binding.refused:
        yield Clash("cannot", "blocker", platform, None, None, binding, None, note=binding.refused, focus=focus_of(binding))
    elif binding.ways:
        for stroke in binding.ways[0]:
            note = awkward.get(stroke, "?")
            if note == "?":
                note = awkward[stroke] = why_awkward(stroke, part)
            if note:
                yield Clash("awkward", "low", platform, stroke, binding, None, None, note=note, focus=focus_of(binding))
                return


def why_awkward(stroke: Stroke, part: Part) -> str:
    mods = stroke.modifiers
    if not mods:
        return ""
    if "AltGraph" in mods and len(mods) > 1:
        return "AltGr with another modifier"
    if len(mods) >= 3:
        return f"{len(mods)} modifiers at once"
    reach = reach_of(stroke, part.ground.keyboard.body, part.ground.keyboard.remaps)
    if reach.stretch > _FAR_STRETCH:
        return f"one hand stretches {reach.stretch:.0f} key widths too far"
    if len(mods) == 2 and "far" in reach.flags:
        return "two modifiers and a far key"
    return ""


def doubled(part: Part, bindings: Sequence[Binding]) -> Iterator[Clash]:
    """The same shortcut twice on one command."""
    seen: dict[tuple[object, ...], Binding] = {}
    for binding in bindings:
        if not binding.live:
            continue
        key = (binding.arguments, binding.scope, binding.ways)
        first = seen.setdefault(key, binding)
        if first is not binding:
            meet = first.shortcut != binding.shortcut
            stroke = binding.ways[0][0]
            yield Clash(
                *("duplicate", "low", part.ground.platform, stroke, first, binding, None),
                spellings_meet=meet,
                focus=focus_of(binding),
            )


def on_stroke(
    part: Part, stroke: Stroke, bucket: Sequence[Binding], retired: Mapping[Stroke, tuple[Binding, ...]]
) -> Iterator[Clash]:
    """What happens where one stroke leads: `bucket` are the program's live bindings of which a way begins with it."""
    at: dict[tuple[str, Way], list[Binding]] = {}
    for binding in bucket:
        for way in binding.ways:
            if way[0] == stroke:
                at.setdefault((binding.scope, way), []).append(binding)
    if len(bucket) > 1:
        yield from _same_scope(part, stroke, at)
        winners = {place: winner_of(rivals) for place, rivals in at.items()}
        if len(winners) > 1:
            yield from _shadows(part, stroke, winners)
            yield from _prefixes(part, stroke, winners)
    else:
        winners = {place: rivals[0] for place, rivals in at.items()}
    typed = types(stroke, part.ground.layout, part.ground.numlock)
    caret = part.caret.get(stroke)
    if typed is not None or caret is not None:
        yield from _taken_from_people(part, stroke, winners)
    if stroke in part.protected:
        yield from _protected(part, stroke, winners)
    if stroke in retired:
        yield from _recycled(part, stroke, winners, retired[stroke])


def winner_of(rivals: Sequence[Binding]) -> Binding:
    """Who gets the press when several commands have one stroke in one scope, by the program's `on_tie`.

    With `either` nobody can say; the first one stands for it.
    """
    if len(rivals) == 1:
        return rivals[0]
    return rivals[-1] if rivals[0].program.on_tie == "last" else rivals[0]


def focus_of(binding: Binding) -> tuple[str, str]:
    return binding.program.id, binding.scope


def _same_scope(part: Part, stroke: Stroke, at: Mapping[tuple[str, Way], list[Binding]]) -> Iterator[Clash]:
    for rivals in at.values():
        if len(rivals) < 2:
            continue
        winner = winner_of(rivals)
        focus = focus_of(winner)
        for loser in rivals:
            if loser is winner or loser.same_command(winner):
                continue
            meet = winner.shortcut != loser.shortcut
            yield Clash(
                *("same_scope", "high", part.ground.platform, stroke, winner, loser, "program"),
                spellings_meet=meet,
                focus=focus,
            )


def _shadows(part: Part, stroke: Stroke, winners: Mapping[tuple[str, Way], Binding]) -> Iterator[Clash]:
    """An inner scope hides the command of an outer one, or the other way round where the program asks outer scopes first."""
    program = part.program
    for (scope, way), binding in winners.items():
        around = program.outward(scope)[1:]
        for outer in around if program.scope_order == "inner" else reversed(around):
            other = winners.get((outer.id, way))
            if other is None:
                continue
            if not other.same_command(binding):
                holder, loser = (binding, other) if program.scope_order == "inner" else (other, binding)
                meant = other.layer == DEFAULT and binding.layer == DEFAULT
                severity: Severity = "high" if _is_protected(part, loser) and not meant else "medium"
                yield Clash(
                    *("shadow", severity, part.ground.platform, stroke, holder, loser, "program"),
                    focus=(program.id, scope),
                    meant=meant,
                )
            break


def _is_protected(part: Part, binding: Binding) -> bool:
    return binding.command.task in part.ground.protected_ids


def _prefixes(part: Part, stroke: Stroke, winners: Mapping[tuple[str, Way], Binding]) -> Iterator[Clash]:
    """A shortcut that begins a longer one in reach: in the same scope, one around it or one inside it."""
    if all(len(way) == 1 for _, way in winners):
        return
    program = part.program
    beginnings: dict[tuple[str, Way], list[tuple[Binding, Way]]] = {}
    for (scope, way), binding in winners.items():
        for length in range(1, len(way)):
            beginnings.setdefault((scope, way[:length]), []).append((binding, way))
    for (scope, way), longer in beginnings.items():
        for outer in program.outward(scope):
            short = winners.get((outer.id, way))
            if short is not None:
                yield from (_prefix(part, stroke, short, one, scope) for one, _ in longer if not one.same_command(short))
    for (scope, way), short in winners.items():
        for outer in program.outward(scope)[1:]:
            for longer_one, _ in beginnings.get((outer.id, way), ()):
                if not longer_one.same_command(short):
                    yield _prefix(part, stroke, short, longer_one, scope)


def _prefix(part: Part, stroke: Stroke, short: Binding, longer: Binding, scope: str) -> Clash:
    """`scope` is the inner one of the two: there both are in reach."""
    rule = part.program.on_prefix
    platform, focus = part.ground.platform, (part.program.id, scope)
    if rule.wins == "short":
        return Clash("prefix", "high", platform, stroke, short, longer, "program", note="short", focus=focus)
    if rule.waits_ms is None:
        return Clash("prefix", "high", platform, stroke, longer, short, "program", note="long", focus=focus)
    return Clash("prefix", "medium", platform, stroke, longer, short, "program", note=f"waits {rule.waits_ms}", focus=focus)


def _taken_from_people(part: Part, stroke: Stroke, winners: Mapping[tuple[str, Way], Binding]) -> Iterator[Clash]:
    """The stroke types, or moves the caret, in a text scope where a binding gets it instead."""
    seen: set[int] = set()
    for binding in winners.values():
        if id(binding) in seen:
            continue
        seen.add(id(binding))
        if binding.everywhere:
            focus = None
        else:
            text = next((t for t in part.program.texts_within(binding.scope) if takes_in(t, binding, winners)), None)
            if text is None:
                continue
            focus = (part.program.id, text.id)
        yield from taken_from_people(part, stroke, binding, focus)


def taken_from_people(part: Part, stroke: Stroke, binding: Binding, focus: tuple[str, str] | None) -> Iterator[Clash]:
    layout, platform, station = part.ground.layout, part.ground.platform, binding.station
    typed = types(stroke, layout, part.ground.numlock)
    if typed is not None:
        severity: Severity = "high" if need_of(stroke, layout) == "needed" else "medium"
        note = "accent" if typed.dead else ""
        yield Clash(*("swallows_text", severity, platform, stroke, binding, None, station, typed.text), note=note, focus=focus)
    caret = part.caret.get(stroke)
    if caret is not None and not binding.command.caret:
        severity = "high" if caret.basic else "medium"
        yield Clash("takes_caret", severity, platform, stroke, binding, None, station, caret.name, focus=focus)


def takes_in(text: Scope, binding: Binding, winners: Mapping[tuple[str, Way], Binding]) -> bool:
    """Whether it is this binding that gets the stroke with the focus in a text scope."""
    program = binding.program
    around: Iterable[Scope] = program.outward(text.id)
    if program.scope_order == "outer":
        around = reversed(tuple(around))
    has: dict[str, list[Binding]] = {}
    for (scope, _), one in winners.items():
        has.setdefault(scope, []).append(one)
    taker = next((s.id for s in around if s.id in has), None)
    return taker is not None and any(one is binding for one in has[taker])


def _protected(part: Part, stroke: Stroke, winners: Mapping[tuple[str, Way], Binding]) -> Iterator[Clash]:
    program = part.program
    for task in part.protected[stroke]:
        own = [b for b in winners.values() if b.command.task == task.id]
        for binding in winners.values():
            if binding.command.task == task.id or any(program.nested(binding.scope, o.scope) for o in own):
                continue  # against the task's own binding it is a shadow or shares the scope, which is told already
            if any(way == (stroke,) for way in binding.ways):
                yield Clash(
                    *("protected", "high", part.ground.platform, stroke, binding, None, "program", task.name),
                    focus=focus_of(binding),
                )


def _recycled(
    part: Part, stroke: Stroke, winners: Mapping[tuple[str, Way], Binding], retired: Sequence[Binding]
) -> Iterator[Clash]:
    program = part.program
    for old in retired:
        for binding in winners.values():
            if binding.same_command(old) or not program.nested(binding.scope, old.scope):
                continue
            if stroke in chain.from_iterable(w[:1] for w in old.ways if w in binding.ways):
                yield Clash(
                    *("recycled", "low", part.ground.platform, stroke, binding, old, "program"),
                    note=old.asleep,
                    focus=focus_of(binding),
                )
