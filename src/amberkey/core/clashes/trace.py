"""The way of presses through the stations, in order, to their effect.

    remap           key remaps and NumLock: settled before anybody is asked
    input_method    an input method that is on: its own keys, and more of them while a text is being composed
    guarded         presses that the system guards: nobody gets in before it but an input method
    intercept       utilities, an assistive program and per-window translations that intercept, last started first
    system          the system's other hotkeys, those that utilities and launchers registered; first registered wins
    browser_keeps   for a web program, the presses of add-ons and those that the browser keeps
    program         the program's scopes: focused one first and outward, or outer ones first
    menu            menu letters, where the platform has them; for a web program in a tab the browser's
    browser         browser presses that the page let through
    system_last     presses that the system keeps for itself only where no program wants them
    text            text, an accent begun, or a press that every text field answers to

Each station takes a press, lets it through though it knows it, or doesn't know it, and says why. Every press of a sequence
passes all of them.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from amberkey.core.clashes.binding import STATIONS, Binding, Station
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.ground import would_if
from amberkey.core.clashes.part import Part
from amberkey.core.clashes.winners import waits, winner_of
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.typing import types
from amberkey.core.programs.model import Scope

__all__ = ["STATIONS", "Station", "trace", "trace_heard", "trace_stroke"]

_ENDS_COMPOSING = frozenset({"Enter", "Escape"})
Outcome = Literal["takes", "passes", "unknown"]
EffectKind = Literal["command", "wait", "text", "accent", "caret", "menu", "assistive", "input_method", "nothing"]


class Step(NamedTuple):
    """What one station did. `scope` is named at the program station, `binding` where one is concerned."""

    station: Station
    outcome: Outcome
    says: str
    scope: str | None = None
    binding: Binding | None = None


class Effect(NamedTuple):
    """What comes of a press in the end. `waiting`: the longer shortcuts that it may begin; after `after_ms` without a
    further press, `otherwise` runs (None: it waits as long as it takes)."""

    kind: EffectKind
    binding: Binding | None = None
    text: str = ""
    waiting: tuple[Binding, ...] = ()
    after_ms: int | None = None
    otherwise: Binding | None = None
    undefined: tuple[Binding, ...] = ()
    """All who may get it, where nobody can say who does."""
    replayed: "tuple[Effect, ...]" = ()
    """What comes, before that, of presses that led no sequence on and are played again."""


@dataclass(frozen=True, slots=True)
class Trace:
    """The way of one press. `stroke` is what the fingers did, `heard` what became of it by remaps, NumLock, translations."""

    stroke: Stroke
    heard: Stroke
    steps: tuple[Step, ...]
    effect: Effect

    @property
    def taken_at(self) -> Station | None:
        """The last station that took the press, or None where nobody did."""
        return next((s.station for s in reversed(self.steps) if s.outcome == "takes"), None)


class Focus(NamedTuple):
    """Where people are: a program and one of its scopes. Raises nothing itself; `trace` refuses one that isn't there."""

    program: str
    scope: str


@dataclass(slots=True)
class _Waiting:
    """What a program has heard of a sequence so far, and what came of it where the present press led it wrong; what everybody
    heard in this row of presses; and whether a text is being composed."""

    strokes: list[Stroke] = field(default_factory=list)
    replayed: tuple[Effect, ...] = ()
    history: list[Stroke] = field(default_factory=list)
    composing: bool = False


def trace(board: Board, strokes: Sequence[Stroke], focus: Focus | None) -> list[Trace]:
    """The ways of several presses in a row, with the same focus. `strokes` are what the fingers do.

    Raises KeyError for a program or scope that isn't there.
    """
    part, scope = _focused(board, focus)
    waiting = _Waiting()
    return [_press(board, stroke, part, scope, waiting) for stroke in strokes]


def trace_heard(board: Board, strokes: Sequence[Stroke], focus: Focus | None) -> list[Trace]:
    """The same for strokes as they are heard, such as those of a binding: the fingers do what makes them."""
    return trace(board, [board.ground.keyboard.fingers(s) for s in strokes], focus)


def trace_stroke(board: Board, stroke: Stroke, program_id: str | None, scope_id: str | None) -> Trace:
    """One stroke, with a program and a scope in focus (or nothing of the program: None), to its effect."""
    focus = Focus(program_id, scope_id) if program_id is not None and scope_id is not None else None
    return trace(board, (stroke,), focus)[0]


def _focused(board: Board, focus: Focus | None) -> tuple[Part | None, Scope | None]:
    if focus is None:
        return None, None
    part = board.parts[focus.program]
    return part, part.program.scope(focus.scope)


def _press(board: Board, stroke: Stroke, part: Part | None, scope: Scope | None, waiting: _Waiting) -> Trace:
    steps: list[Step] = []
    waiting.replayed = ()
    heard = _remapped(board, stroke, steps)
    waiting.history.append(heard)
    effect = _composed(board, heard, scope, waiting, steps)
    if effect is None:
        effect = _guarded(board, heard, waiting, steps)
    if effect is None:
        effect, heard = _intercepted(board, heard, part, scope, waiting, steps)
    if effect is None:
        effect = _registered(board, heard, waiting, steps)
    if effect is None and part is not None and scope is not None:
        effect = _in_program(board, heard, part, scope, waiting, steps)
    if effect is None:
        effect = _left_to_system(board, heard, steps)
    if effect is None:
        effect = _typed(board, heard, part, scope, steps)
        waiting.composing = board.composer is not None and effect.kind == "text"
    if waiting.replayed:
        effect = effect._replace(replayed=waiting.replayed)
    return Trace(stroke, heard, tuple(steps), effect)


def _remapped(board: Board, stroke: Stroke, steps: list[Step]) -> Stroke:
    keyboard = board.ground.keyboard
    heard = keyboard.heard(stroke)
    if heard != stroke:
        moved = stroke.code is not None and stroke.code in keyboard.remaps
        says = f"{stroke.code} acts as {keyboard.remaps[stroke.code]}" if moved and stroke.code else f"it is heard as {heard}"
        steps.append(Step("remap", "passes", says))
    else:
        steps.append(Step("remap", "unknown", "no remap of this key" if keyboard.remaps else "no key is remapped here"))
    return heard


def _composed(board: Board, stroke: Stroke, scope: Scope | None, waiting: _Waiting, steps: list[Step]) -> Effect | None:
    """Without a focus, and where text is taken, a text may be composed. What ends it is the input method's own business."""
    composer = board.composer
    if composer is None:
        return None
    name = composer.binding.program.name
    if stroke in composer.takes or (waiting.composing and stroke in composer.composing):
        while_composing = stroke not in composer.takes
        waiting.composing = waiting.composing and stroke.code not in _ENDS_COMPOSING
        says = f"{name} takes it while a text is being composed" if while_composing else f"{name} takes it"
        steps.append(Step("input_method", "takes", says, None, composer.binding))
        return Effect("input_method", composer.binding)
    if stroke in composer.composing:
        steps.append(Step("input_method", "passes", f"{name} would take it while a text is being composed"))
    else:
        steps.append(Step("input_method", "unknown", f"no key of {name}"))
    return None


def _chained(board: Board, station: Station, waiting: _Waiting) -> list[Binding]:
    return [b for b in board.chained(waiting.history) if b.station == station]


def _guarded(board: Board, stroke: Stroke, waiting: _Waiting, steps: list[Step]) -> Effect | None:
    found = board.guarded.get(stroke) or _chained(board, "guarded", waiting)
    if found:
        steps.append(Step("guarded", "takes", found[0].command.name, None, found[0]))
        return Effect("command", found[0])
    passed = board.passed_on.get(stroke)
    if passed:
        remote = board.setup.setup.remote
        where = remote.name if remote else "the remote session"
        steps.append(Step("guarded", "passes", f"{where} passes it on: {passed[0].command.name}", None, passed[0]))
    else:
        steps.append(Step("guarded", "unknown", "the system doesn't guard it"))
    return None


def _intercepted(
    board: Board, stroke: Stroke, part: Part | None, scope: Scope | None, waiting: _Waiting, steps: list[Step]
) -> tuple[Effect | None, Stroke]:
    taker = next(iter(board.intercept.get(stroke) or _chained(board, "intercept", waiting)), None)
    if taker is not None:
        steps.append(Step("intercept", "takes", taker.command.name, None, taker))
        return Effect("command", taker), stroke
    assistive = board.assistive
    if assistive is not None and stroke.code == assistive.ways[0][0].code:
        says = f"{assistive.program.name} holds {stroke.code} as a modifier of its own"
        steps.append(Step("intercept", "takes", says, None, assistive))
        return Effect("assistive", assistive), stroke
    if part is not None and scope is not None:
        inside = {s.id for s in part.program.outward(scope.id)}
        for translated in board.translations.get((part.program.id, stroke), ()):
            if translated.scope is not None and translated.scope not in inside:
                continue
            says = f"in this window it {translated.binding.command.name}"
            steps.append(Step("intercept", "takes", says, None, translated.binding))
            if translated.becomes is None:  # it closes the window, or starts something
                return Effect("command", translated.binding), stroke
            return None, translated.becomes
    steps.append(Step("intercept", "unknown", "no utility intercepts it"))
    return None, stroke


def _registered(board: Board, stroke: Stroke, waiting: _Waiting, steps: list[Step]) -> Effect | None:
    registered = board.registered.get(stroke) or _chained(board, "system", waiting)
    if registered:
        steps.append(Step("system", "takes", registered[0].command.name, None, registered[0]))
        return Effect("command", registered[0])
    let_go = next(_let_go(board, stroke), None)
    steps.append(Step("system", "passes", let_go) if let_go else Step("system", "unknown", "no hotkey is registered"))
    return None


def _let_go(board: Board, stroke: Stroke) -> Iterator[str]:
    """A hotkey that the system had or would have: the layer that took it away, or what it waits for."""
    for part in board.parts.values():
        if part.program.kind != "system":
            continue
        for command, layer in part.cleared.get(stroke, ()):
            yield f"{command.name} was here; {layer} took it away"
        for binding in part.asleep.get(stroke, ()):
            if (stroke,) in binding.ways:
                yield f"would take it if {would_if(binding.asleep)}: {binding.command.name}"


def _in_program(board: Board, stroke: Stroke, part: Part, scope: Scope, waiting: _Waiting, steps: list[Step]) -> Effect | None:
    program = part.program
    if program.kind == "web":
        kept = board.kept_from(program).get(stroke)
        if kept is not None:
            steps.append(Step("browser_keeps", "takes", kept.command.name, None, kept))
            return Effect("command", kept)
        where = "the browser doesn't keep it" if board.in_a_tab(program) else "it runs in a window of its own"
        steps.append(Step("browser_keeps", "unknown", where))
    effect = _in_scopes(part, stroke, scope, waiting, steps)
    if effect is None and waiting.strokes:
        effect = _missed(board, stroke, part, scope, waiting, steps)
    if effect is not None:
        return effect
    _say_unknown(part, scope, stroke, steps)
    menu = board.menu_at(part, stroke)
    if menu is not None:
        steps.append(Step("menu", "takes", f"opens {menu.command.name}", None, menu))
        return Effect("menu", None, menu.command.name)
    if board.ground.platform == "macos":
        steps.append(Step("menu", "unknown", f"{PLATFORM_NAMES['macos']} has no menu letters"))
    else:
        steps.append(Step("menu", "unknown", "no menu has that letter"))
    browsers = board.browsers_of(program)
    if browsers:
        taker = next(iter(board.left_to_browsers(program, stroke)), None)
        if taker is not None:
            steps.append(Step("browser", "takes", taker.command.name, None, taker))
            return Effect("command", taker)
        have = "has" if len(browsers) == 1 else "have"
        names = " and ".join(b.program.name for b in browsers)
        steps.append(Step("browser", "unknown", f"{names} {have} nothing for it"))
    return None


def _left_to_system(board: Board, stroke: Stroke, steps: list[Step]) -> Effect | None:
    """The system's own presses that programs may have first; said only where there is one."""
    last = board.last.get(stroke)
    if not last:
        return None
    steps.append(Step("system_last", "takes", f"no program wanted it: {last[0].command.name}", None, last[0]))
    return Effect("command", last[0])


def _in_scopes(part: Part, stroke: Stroke, scope: Scope, waiting: _Waiting, steps: list[Step]) -> Effect | None:
    """Asks the scopes in the program's order. None: nobody there knows it."""
    program = part.program
    typed = (*waiting.strokes, stroke)
    length = len(typed)
    order = program.asked_order[scope.id]
    known = [b for b in part.first.get(typed[0], ()) if b.scope in order and not b.everywhere]
    exact: dict[str, list[Binding]] = {}
    longer: list[Binding] = []
    for binding in known:
        for way in binding.ways:
            if way[:length] == typed:
                if len(way) == length:
                    exact.setdefault(binding.scope, []).append(binding)
                else:
                    longer.append(binding)
                break
    if not exact and not longer:
        return None
    rule = program.on_prefix
    place = min(exact, key=order.__getitem__, default=None)
    if place is not None and not waits(program, order, place, (b.scope for b in longer)):
        waiting.strokes.clear()
        return _runs(part, exact[place], place, steps)
    waiting.strokes.append(stroke)
    longer.sort(key=lambda b: (order[b.scope], b.order))
    otherwise = winner_of(exact[place]) if place is not None else None
    says = "waits for the next press"
    after = None
    if otherwise is not None and rule.waits_ms is not None:
        after = rule.waits_ms
        says = f"waits {after} ms for the next press, then {otherwise.command.name}"
    elif otherwise is not None:
        says = f"waits for the next press; {otherwise.command.name} never runs"
    steps.append(Step("program", "takes", says, longer[0].scope, longer[0]))
    return Effect("wait", longer[0], "", tuple(longer), after, otherwise if after else None)


def _runs(part: Part, rivals: list[Binding], place: str, steps: list[Step]) -> Effect:
    winner = winner_of(rivals)
    says = winner.command.name
    undefined: tuple[Binding, ...] = ()
    others = [b for b in rivals if not b.same_command(winner)]
    if others and part.program.on_tie == "either":
        says = " or ".join(b.command.name for b in rivals) + ": nobody can say which"
        undefined = tuple(rivals)
    steps.append(Step("program", "takes", says, place, winner))
    return Effect("command", winner, undefined=undefined)


def _missed(board: Board, stroke: Stroke, part: Part, scope: Scope, waiting: _Waiting, steps: list[Step]) -> Effect | None:
    """A press that leads no sequence on: all of it is dropped, or what was waiting is played again on its own."""
    before = list(waiting.strokes)
    waiting.strokes.clear()
    if part.program.after_miss == "drop":
        steps.append(Step("program", "takes", "leads no sequence on; the presses are dropped", scope.id))
        return Effect("nothing")
    waiting.replayed = tuple(_played_again(board, before, part, scope))
    what = ", then ".join(say(e) for e in waiting.replayed)
    steps.append(Step("program", "passes", f"leads no sequence on; the presses before it play again: {what}", scope.id))
    return _in_scopes(part, stroke, scope, waiting, steps)


def _played_again(board: Board, strokes: Sequence[Stroke], part: Part, scope: Scope) -> Iterator[Effect]:
    """What comes of presses that began a sequence in vain: the longest shortcuts that they are, and else what each is alone."""
    rest = tuple(strokes)
    order = part.program.asked_order[scope.id]
    while rest:
        known = [b for b in part.first.get(rest[0], ()) if b.scope in order and not b.everywhere]
        for length in range(len(rest), 0, -1):
            exact = [b for b in known if rest[:length] in b.ways]
            if exact:
                place = min((b.scope for b in exact), key=order.__getitem__)
                yield Effect("command", winner_of([b for b in exact if b.scope == place]))
                rest = rest[length:]
                break
        else:
            yield _typed(board, rest[0], part, scope, [])
            rest = rest[1:]


def say(effect: Effect) -> str:
    """What comes of a press in half a sentence, whichever program does it."""
    if effect.binding is not None:
        return effect.binding.command.name
    return {"text": f"types {effect.text}", "accent": f"begins the accent {effect.text}", "nothing": "nothing"}.get(
        effect.kind, effect.text
    )


def _say_unknown(part: Part, scope: Scope, stroke: Stroke, steps: list[Step]) -> None:
    asleep = part.asleep.get(stroke, ())
    for reached in part.program.outward(scope.id):
        sleeper = next((b for b in asleep if b.scope == reached.id), None)
        if sleeper is not None:
            says = f"{sleeper.command.name} isn't live: {sleeper.asleep}"
            steps.append(Step("program", "passes", says, reached.id, sleeper))
        else:
            steps.append(Step("program", "unknown", f"nothing in {reached.name}", reached.id))


def _typed(board: Board, stroke: Stroke, part: Part | None, scope: Scope | None, steps: list[Step]) -> Effect:
    """Text entry, the last station. Without a focus, text is taken to be taken."""
    takes_text = scope is None or scope.takes_text
    if not takes_text:
        steps.append(Step("text", "unknown", "no text is taken here"))
        return Effect("nothing")
    level = types(stroke, board.ground.layout, board.ground.numlock)
    if level is not None:
        steps.append(Step("text", "takes", f"begins the accent {level.text}" if level.dead else f"types {level.text}"))
        return Effect("accent" if level.dead else "text", None, level.text)
    table = part.caret if part is not None else board.ground.caret
    caret = table.get(stroke)
    if caret is not None:
        steps.append(Step("text", "takes", caret.name))
        return Effect("caret", None, caret.name)
    steps.append(Step("text", "unknown", "types nothing"))
    return Effect("nothing")
