"""Clashes within one program. Bindings are compared only where they share a stroke, so what is looked at grows with the
bindings and the clashes, never with their pairs.

`alone` finds what a binding is by itself, `on_stroke` what happens where one stroke leads. Together they are all there is;
a change is judged by looking again at the bindings and strokes that it touches.
"""

from collections.abc import Container, Iterable, Iterator, Mapping, Sequence

from amberkey.core.clashes.alone import alone, doubled, orphans, why_awkward
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.ground import Ground
from amberkey.core.clashes.model import Begins, Clash
from amberkey.core.clashes.part import Part, Since
from amberkey.core.clashes.winners import Winners, all_of, by_way_of, focus_of, getters, waits, winner_of, winners_of
from amberkey.core.layouts.keyboard import Way
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.typing import need_of, types
from amberkey.core.profiles.decisions import Severity
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.programs.model import CaretPress, Program

# What a binding is by itself, and what the bindings of one command are.
_ALONE = frozenset({"out_of_reach", "cannot", "awkward", "duplicate"})


def clashes_within(part: Part) -> list[Clash]:
    """Every clash that the bindings of a program have among themselves, with the text and with what people need."""
    if part.program.kind == "system":
        return []
    if part.since is not None:
        return list(_within_since(part, part.since))
    return _all_within(part)


def _within_since(part: Part, since: Since) -> Iterator[Clash]:
    """Only what came since the program had no layer is looked at, and what shares a stroke with it or with what went."""
    base = since.base
    if base.within is None:
        base.within = _all_within(base)
    yield from orphans(part)
    gone = {id(b) for b in since.gone}
    touched = {way[0] for b in (*since.gone, *since.come) for way in b.ways} | part.retired.keys()
    for clash in base.within:
        if clash.kind in _ALONE:
            if id(clash.holder or clash.loser) not in gone:
                yield clash
        elif clash.stroke not in touched:
            yield clash
    for binding in since.come:
        yield from alone(part, binding)
    places = {b.order for b in since.come}
    for bindings in part.several:
        if bindings[0].order in places:
            yield from doubled(part, bindings)
    for stroke in sorted(touched & part.first.keys(), key=str):
        yield from on_stroke(part, stroke, part.first[stroke], part.retired)


def _all_within(part: Part) -> list[Clash]:
    found: list[Clash] = list(orphans(part))
    looked = {id(b): b for b in part.bindings if b.unreachable or b.refused}
    for index in (part.first, part.later):
        for stroke, bucket in index.items():
            if why_awkward(stroke, part):
                looked |= {id(b): b for b in bucket}
    for binding in looked.values():
        found.extend(alone(part, binding))
    for bindings in part.several:
        found.extend(doubled(part, bindings))
    telling = part.telling
    for stroke, bucket in part.first.items():
        if len(bucket) > 1 or stroke in telling:
            found.extend(on_stroke(part, stroke, bucket, part.retired))
    return found


def meant_within(part: Part) -> Iterator[Clash]:
    """The shadows that the maker of the program meant."""
    for stroke, bucket in part.first.items() if part.program.kind != "system" else ():
        if len(bucket) > 1:
            by_way = by_way_of(stroke, bucket)
            for way, in_scopes in winners_of(by_way).items():
                yield from _shadows(part, stroke, in_scopes, by_way[way], meant=True)


def on_stroke(
    part: Part, stroke: Stroke, bucket: Sequence[Binding], retired: Mapping[Stroke, tuple[Binding, ...]]
) -> Iterator[Clash]:
    """What happens where one stroke leads: `bucket` are the program's live bindings of which a way begins with it."""
    by_way = by_way_of(stroke, bucket)
    winners = winners_of(by_way)
    if len(bucket) > 1:
        for scopes in by_way.values():
            for scope, rivals in scopes.items():
                if len(rivals) > 1 and not _outer_first(part, scope, scopes):
                    yield from _same_scope(part, stroke, rivals)
        for way, in_scopes in winners.items():
            if len(in_scopes) > 1:
                yield from _shadows(part, stroke, in_scopes, by_way[way])
        if len(winners) > 1:
            yield from _prefixes(part, stroke, winners)
    if stroke in part.telling:
        yield from _taken_from_people(part, stroke, winners)
        if stroke in part.protected:
            yield from _protected(part, stroke, winners)
        if stroke in part.menus:
            yield from _hides_menus(part, stroke, winners, part.menus[stroke])
    if stroke in retired:
        yield from _recycled(part, stroke, winners, retired[stroke])


def _same_scope(part: Part, stroke: Stroke, rivals: Sequence[Binding]) -> Iterator[Clash]:
    winner = winner_of(rivals)
    focus = focus_of(winner)
    for loser in rivals:
        if loser is winner or loser.same_command(winner):
            continue
        yield Clash(
            *("same_scope", "high", part.ground.platform, stroke, winner, loser, winner.station),
            spellings_meet=winner.shortcut != loser.shortcut,
            focus=focus,
        )


def _outer_first(part: Part, scope: str, scopes: Container[str]) -> bool:
    """Whether an outer scope is asked first and has the stroke too, so that it takes it from all in the inner one."""
    program = part.program
    return program.scope_order == "outer" and any(outer in scopes for outer in program.scope_tree.around[scope])


def _shadows(
    part: Part,
    stroke: Stroke,
    winners: Mapping[str, Binding],
    rivals: Mapping[str, Sequence[Binding]],
    meant: bool = False,
) -> Iterator[Clash]:
    """An inner scope hides the command of an outer one, or the other way round where the program asks outer scopes first.

    `winners` have one way in several scopes, out of `rivals`. `meant`: those that the maker meant, between two defaults.
    """
    program = part.program
    inner_first = program.scope_order == "inner"
    around = program.scope_tree.around
    for scope, binding in winners.items():
        for outer in around[scope] if inner_first else reversed(around[scope]):
            other = winners.get(outer)
            if other is None:
                continue
            # Where outer scopes are asked first, all of the inner one lose; else the inner one's winner hides the outer one's.
            for inner in (binding,) if inner_first else rivals[scope]:
                # A maker may mean that a part hides what the window does, but not that a command never runs.
                by_its_maker = inner_first and other.layer == DEFAULT and inner.layer == DEFAULT
                if by_its_maker != meant or other.same_command(inner):
                    continue
                holder, loser = (inner, other) if inner_first else (other, inner)
                severity: Severity = "high" if not meant and _is_protected(part, loser) else "medium"
                yield Clash(
                    *("shadow", severity, part.ground.platform, stroke, holder, loser, "program"),
                    focus=(program.id, scope),
                    meant=meant,
                )
            break


def _is_protected(part: Part, binding: Binding) -> bool:
    return binding.command.task in part.ground.protected_ids


def _prefixes(part: Part, stroke: Stroke, winners: Winners) -> Iterator[Clash]:
    """A shortcut that begins a longer one in reach: in the same scope, one around it or one inside it."""
    around = part.program.scope_tree.around
    beginnings: dict[Way, dict[str, list[Binding]]] = {}
    for way, scopes in winners.items():
        for length in range(1, len(way)):
            if way[:length] in winners:
                longer = beginnings.setdefault(way[:length], {})
                for scope, binding in scopes.items():
                    longer.setdefault(scope, []).append(binding)
    for way, longer in beginnings.items():
        shorts = winners[way]
        for scope, ones in longer.items():
            short = _asked_first(part, scope, shorts)
            if short is not None:
                yield from (_prefix(part, stroke, short, one, scope, longer) for one in ones)
        for scope, short in shorts.items():
            if _asked_first(part, scope, shorts) is short:
                for outer in around[scope]:
                    yield from (_prefix(part, stroke, short, one, scope, longer) for one in longer.get(outer, ()))


def _asked_first(part: Part, scope: str, winners: Mapping[str, Binding]) -> Binding | None:
    """Which of the winners of one way is asked first with the focus in a scope."""
    order = part.program.asked_order[scope]
    first = min((s for s in winners if s in order), key=order.__getitem__, default=None)
    return winners[first] if first is not None else None


def _prefix(part: Part, stroke: Stroke, short: Binding, longer: Binding, scope: str, beside: Iterable[str]) -> Clash:
    """`scope` is the inner one of the two: there both are in reach. `beside`: the scopes of all that the short one begins."""
    program = part.program
    rule = program.on_prefix
    platform, focus = part.ground.platform, (program.id, scope)
    order = program.asked_order[scope]
    if not waits(program, order, short.scope, (s for s in beside if s in order)):
        return Clash("prefix", "high", platform, stroke, short, longer, "program", begins=Begins("short"), focus=focus)
    if rule.waits_ms is None:
        return Clash("prefix", "high", platform, stroke, longer, short, "program", begins=Begins("long"), focus=focus)
    begins = Begins("pause", rule.waits_ms)
    return Clash("prefix", "medium", platform, stroke, longer, short, "program", begins=begins, focus=focus)


def _taken_from_people(part: Part, stroke: Stroke, winners: Winners) -> Iterator[Clash]:
    """The stroke types, or moves the caret, in a text scope where a binding gets it instead. Hotkeys are asked elsewhere."""
    for binding in all_of(winners):
        if binding.everywhere:
            continue
        program = part.program
        texts = program.texts_within(binding.scope)
        text = next((t for t in texts if any(b is binding for b in getters(program, t.id, stroke, winners))), None)
        if text is not None:
            yield from taken_from_people(part.ground, part.caret, stroke, binding, (program.id, text.id))


def taken_from_people(
    ground: Ground,
    caret: Mapping[Stroke, CaretPress],
    stroke: Stroke,
    binding: Binding,
    focus: tuple[str, str] | None,
    also: tuple[Binding, ...] = (),
) -> Iterator[Clash]:
    """What people lose where a binding gets a stroke: a text, an accent, a movement of the caret. `also` would get it next."""
    platform, station = ground.platform, binding.station
    typed = types(stroke, ground.layout, ground.numlock)
    if typed is not None:
        severity: Severity = "high" if need_of(stroke, ground.layout) == "needed" else "medium"
        yield Clash(
            *("swallows_text", severity, platform, stroke, binding, None, station, typed.text),
            accent=typed.dead,
            also=also,
            focus=focus,
        )
    moved = caret.get(stroke)
    own = moved is not None and (binding.command.caret or (moved.task is not None and binding.command.task == moved.task))
    if moved is not None and not own:
        severity = "high" if moved.basic else "medium"
        yield Clash("takes_caret", severity, platform, stroke, binding, None, station, moved.name, also=also, focus=focus)


def _hides_menus(part: Part, stroke: Stroke, winners: Winners, menu: Binding) -> Iterator[Clash]:
    """Commands on a menu's letter: the program asks its own shortcuts first."""
    for binding in getting(part.program, stroke, winners):
        if binding.placed is not None and binding.placed.section == "menu_groups":
            continue  # it is in the menus itself
        yield Clash(*("menu_letter", "medium", part.ground.platform, stroke, binding, menu, "program"), focus=focus_of(binding))


def getting(program: Program, stroke: Stroke, winners: Winners) -> Iterator[Binding]:
    """The bindings that get a stroke with the focus in their own scope, each once."""
    for scope in dict.fromkeys(s for scopes in winners.values() for s in scopes):
        for binding in getters(program, scope, stroke, winners):
            if binding.scope == scope and not binding.everywhere:
                yield binding


def _protected(part: Part, stroke: Stroke, winners: Winners) -> Iterator[Clash]:
    program = part.program
    everyone = all_of(winners)
    for task in part.protected[stroke]:
        own = [b for b in everyone if b.command.task == task.id]
        for scope in dict.fromkeys(b.scope for b in everyone):
            if any(program.nested(scope, o.scope) for o in own):
                continue  # against the task's own binding it is a shadow or shares the scope, which is told already
            for binding in getters(program, scope, stroke, winners):
                if binding.scope == scope and binding.command.task != task.id:
                    yield Clash(
                        *("protected", "high", part.ground.platform, stroke, binding, None, binding.station, task.name),
                        focus=focus_of(binding),
                    )


def _came_after(part: Part, binding: Binding, old: Binding) -> bool:
    """Whether a key was given to a command after another one had given it up. A maker's default was there all along."""
    if binding.layer == DEFAULT:
        return False
    if binding.placed is not None:
        return True  # nobody says since when it is placed there
    since = part.effective.commands[binding.order].now.since
    given_up = part.given_up[old.command.id]
    return since is None or since >= given_up


def _recycled(part: Part, stroke: Stroke, winners: Winners, retired: Sequence[Binding]) -> Iterator[Clash]:
    program = part.program
    for old in retired:
        for binding in all_of(winners):
            if binding.same_command(old) or not program.nested(binding.scope, old.scope) or not _came_after(part, binding, old):
                continue
            gets = any(b is binding for b in getters(program, binding.scope, stroke, winners))
            if gets and any(way[0] == stroke and way in binding.ways for way in old.ways):
                yield Clash(
                    *("recycled", "low", part.ground.platform, stroke, binding, old, binding.station),
                    why=old.asleep,
                    focus=focus_of(binding),
                )
