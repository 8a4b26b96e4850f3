"""`amberkey trace`: the way of presses through the stations of a setup."""

from argparse import Namespace

from amberkey.cli.answer import Answer, Facts, columns, stroke_facts
from amberkey.cli.errors import Wrong
from amberkey.cli.files import board_from, estate_of, read_one, shelf_of
from amberkey.cli.keyboards import shortcut_from
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.trace import Effect, Focus, Step, Trace
from amberkey.core.clashes.trace import trace as trace_presses
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import pressed
from amberkey.core.profiles.setup import Setup


def trace(asked: Namespace) -> tuple[list[Answer], int]:
    """Each shortcut in each focus. Exit code 1 where a shortcut can't be made there."""
    setup = read_one(asked.setup, Setup)
    shelf = shelf_of([asked.setup], asked.more)
    board = board_from(estate_of([setup], shelf), setup.id, shelf)
    focuses: list[Focus | None] = [*(_focus(text, board) for text in asked.focus)] or [None]
    shortcuts = [shortcut_from(text).resolve(setup.works_on) for text in asked.shortcut]
    answers = [_answer(board, s, f) for s in shortcuts for f in focuses]
    return answers, int(any(a.facts["unreachable"] for a in answers))


def _focus(text: str, board: Board) -> Focus:
    """PROGRAM/SCOPE, or a program alone for its whole window."""
    name, _, scope = text.partition("/")
    part = board.parts.get(name)
    if part is None:
        known = ", ".join(i for i, p in board.parts.items() if p.program.kind != "system")
        raise Wrong(f"The setup has no program {name[:60]!r}. There are {known}.", {"focus": text})
    scope = scope or part.program.root.id
    if not part.program.has_scope(scope):
        known = ", ".join(s.id for s in part.program.scopes)
        raise Wrong(f"{part.program.name} has no scope {scope[:60]!r}. There are {known}.", {"focus": text})
    return Focus(name, scope)


def _answer(board: Board, shortcut: Shortcut, focus: Focus | None) -> Answer:
    part = board.parts[focus.program] if focus else None
    reads = part.reads if part else "character"
    ways, unreachable = pressed(shortcut, board.ground.keyboard, reads, bool(part and part.pad))
    traces = trace_presses(board, ways[0], focus) if ways else []
    where = f"{focus.program}/{focus.scope}" if focus else None
    facts: Facts = {
        "setup": board.setup.setup.id,
        "shortcut": str(shortcut),
        "focus": where,
        "unreachable": unreachable or None,
        "presses": [_press(t) for t in traces],
        "stations": [_step(s) for s in traces[-1].steps] if traces else [],
        "effect": _effect(traces[-1].effect) if traces else None,
    }
    lines = [f"{shortcut} in {where or 'no program'}"]
    if unreachable:
        lines.append(f"Nobody can press it here: {unreachable}.")
    for one in traces:
        lines.append(f"{one.stroke}")
        lines.append(columns([("  " + s.station, s.outcome, s.says) for s in one.steps]))
        lines.append(f"  => {_told(one.effect)}")
    return Answer("\n".join(lines), facts)


def _press(one: Trace) -> Facts:
    return {
        "stroke": stroke_facts(one.stroke),
        "heard": stroke_facts(one.heard),
        "stations": [_step(s) for s in one.steps],
        "effect": _effect(one.effect),
    }


def _step(step: Step) -> Facts:
    return {
        "station": step.station,
        "outcome": step.outcome,
        **({"source": step.binding.source} if step.binding and step.binding.source and step.outcome == "takes" else {}),
        "says": step.says,
        "scope": step.scope,
        "by": _named(step.binding),
    }


def _named(binding: Binding | None) -> Facts | None:
    if binding is None:
        return None
    return {"program": binding.program.id, "command": binding.command.id, "name": binding.command.name}


def _effect(effect: Effect) -> Facts:
    return {
        "kind": effect.kind,
        "by": _named(effect.binding),
        "text": effect.text or None,
        "waiting": [_named(b) for b in effect.waiting],
        "after_ms": effect.after_ms,
        "otherwise": _named(effect.otherwise),
        "undefined": [_named(b) for b in effect.undefined],
    }


def _told(effect: Effect) -> str:
    match effect.kind:
        case "command":
            assert effect.binding is not None
            return f"{effect.binding.command.name} ({effect.binding.program.name})"
        case "wait":
            return f"waits for more: {', '.join(b.command.name for b in effect.waiting)}"
        case "text" | "accent" | "caret" | "menu":
            return f"{effect.kind}: {effect.text}"
        case _:
            return effect.kind
