"""Judging a press while it is held or typed: what it is here, who has it, what it types, how far it is."""

from collections.abc import Iterator
from typing import Literal

from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.binding import Station
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.trace import Focus, Trace, trace_heard
from amberkey.core.keys.codes import ALL_CODES, MODIFIER_CODES
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.naming import press_for
from amberkey.core.layouts.reach import reach_of_sequence
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Reading, canonical_on, say_derived
from amberkey.core.layouts.typing import types
from amberkey.core.programs.limits import why_not
from amberkey.core.programs.model import Program
from amberkey.server.estate import board_of, current_estate
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.words import ShortcutOut, StrokeOut, shortcut_out, stroke_out

router = Router(tags=["workbench"])


class HeardIn(StrokeOut):
    """A stroke as the specialist's browser reports it; `key` is what it says that their own keyboard makes of it."""

    key: str = ""


class PressIn(Schema):
    """Either a text, or a physical key with the modifiers held (several of them for a sequence)."""

    setup: str
    program: str | None = None
    scope: str | None = None
    text: Words | None = None
    strokes: list[HeardIn] | None = None


Verdict = Literal["free", "taken", "types", "impossible"]


class HolderOut(Schema):
    station: Station
    program: str
    command: str
    command_name: str
    says: str
    source: str
    """Where it was read that it takes the press; empty where that is a setting here."""


class JudgementOut(Schema):
    """`differs`: where the specialist's own keyboard has something else on that key. `longest`: how many presses in a row the
    program takes."""

    shortcut: ShortcutOut
    strokes: list[list[StrokeOut]]
    unreachable: str
    note: str
    refused: str
    types: str
    caret: str
    reach: int | None
    flags: list[str]
    holders: list[HolderOut]
    verdict: Verdict
    differs: str
    longest: int


@router.post("/press", response=JudgementOut)
def judge(request: HttpRequest, given: PressIn) -> JudgementOut:
    """What a press means through a lens. A text that can't be read is answered with the span of its fault."""
    board = board_of(current_estate(), given.setup)
    program = _program(board, given)
    if given.strokes:
        shortcut = Shortcut(tuple(press_of_stroke(board, s, program) for s in given.strokes[:12]))
    elif given.text is not None:
        shortcut = read_shortcut(given.text).resolve(board.ground.platform)
    else:
        raise Problem(400, "There is no press here.", cure="Press, click or type one.")
    differs = next(filter(None, (_differs(board, s) for s in given.strokes or ())), "")
    return _judge(board, shortcut, program, given.scope, differs)


def _differs(board: Board, heard: HeardIn) -> str:
    """Where the specialist's keyboard types something else with this key than the lens's, in a sentence."""
    levels = board.ground.layout.keys.get(heard.code or "")
    level = levels[1 if "Shift" in heard.modifiers else 0] if levels else None
    if level is None or len(heard.key) != 1 or "AltGraph" in heard.modifiers or "Alt" in heard.modifiers:
        return ""
    if heard.key.casefold() == level.text.casefold():
        return ""
    return f"Your keyboard has {heard.key} on this key; the {board.ground.layout.name} one of this lens has {level.text}."


def _program(board: Board, given: PressIn) -> Program | None:
    if given.program is None:
        return None
    program = board.setup.program(given.program)
    if program is None or (given.scope is not None and given.scope not in {s.id for s in program.scopes}):
        raise NotFound(f"focus {given.program}, {given.scope}")
    return program


def press_of_stroke(board: Board, given: StrokeOut, program: Program | None) -> Press:
    """The press that a physical stroke is on the lens's layout, as the program would read it."""
    stroke = stroke_of(board, given)
    if stroke.code is None:
        return Press.of(stroke.modifiers)
    reads = program.reads_on(board.ground.platform) if program else "character"
    return press_for(stroke, board.ground.layout, reads)


def stroke_of(board: Board, given: StrokeOut) -> Stroke:
    """A physical stroke as a browser reports it. AltGr is Control with Alt where the layout says so; modifiers alone have no
    code. Raises Problem for what is no key."""
    held = frozenset(given.modifiers)
    if not held <= {"Control", "Alt", "Shift", "Meta", "AltGraph", "Fn"}:
        raise Problem(400, "An unknown modifier is held.")
    if "AltGraph" in held and board.ground.platform != "linux" and board.ground.layout.has_altgr:
        held = held - {"AltGraph"} | {"Control", "Alt"}
    code = given.code
    if code is None or code in MODIFIER_CODES:
        return Stroke(None, held)
    if code not in ALL_CODES:
        raise Problem(400, f"{code[:40]} is not the code of a key.", cure="Type the shortcut instead.")
    return Stroke(code, held)


def _judge(board: Board, shortcut: Shortcut, program: Program | None, scope: str | None, differs: str) -> JudgementOut:
    ground = board.ground
    reads = program.reads_on(ground.platform) if program else "character"
    ways, unreachable = ways_of(shortcut, ground.keyboard, reads, bool(program and ground.pad_answers(program)))
    said = (f(p, ground.layout, reads) for p in shortcut.presses for f in (_needs_shift, say_derived))
    first = ways[0][0] if ways else None
    level = types(first, ground.layout, ground.numlock) if first else None
    moved = ground.caret.get(first) if first else None
    typed = "" if level is None else f"accent {level.text}" if level.dead else level.text
    caret = moved.name if moved else ""
    reach = reach_of_sequence(ways[0], ground.keyboard.body, ground.keyboard.remaps, ground.mouse_hand) if ways else None
    focus = Focus(program.id, scope) if program is not None and scope is not None else None
    holders = list(_holders(trace_heard(board, ways[0], focus))) if ways else []
    each = [dict.fromkeys(way[n] for way in ways) for n in range(len(shortcut.presses) if ways else 0)]
    refused = why_not(program, shortcut, ground.keyboard) if program else ""
    return JudgementOut(
        shortcut=shortcut_out(shortcut, board),
        strokes=[[stroke_out(s) for s in strokes] for strokes in each],
        unreachable=unreachable,
        note="; ".join(filter(None, said)),
        refused=f"{program.name} can't take it: {refused}." if program and refused else "",
        types=typed,
        caret=caret,
        reach=reach.score if reach else None,
        flags=list(reach.flags) if reach else [],
        holders=holders,
        verdict=_verdict(unreachable, refused, holders, typed or caret, program, scope),
        differs=differs,
        longest=program.limits.sequence_length if program else 12,
    )


def _needs_shift(press: Press, layout: Layout, reads: Reading) -> str | None:
    return canonical_on(press, layout, reads)[1]


def _holders(traces: list[Trace]) -> Iterator[HolderOut]:
    """Who takes one of the presses. That a program waits for the rest is no taking, but at the last press it is."""
    for n, one in enumerate(traces):
        for step in one.steps:
            waits = step.station == "program" and one.effect.kind == "wait" and n < len(traces) - 1
            if step.outcome == "takes" and step.binding is not None and not waits:
                yield HolderOut(
                    station=step.station,
                    program=step.binding.program.name,
                    command=step.binding.command.id,
                    command_name=step.binding.command.name,
                    says=step.says,
                    source=step.binding.source,
                )


def _verdict(
    unreachable: str, refused: str, holders: list[HolderOut], typed: str, program: Program | None, scope: str | None
) -> Verdict:
    """The worst that is true."""
    if unreachable or refused:
        return "impossible"
    if holders:
        return "taken"
    if typed and (program is None or scope is None or program.text_is_taken_within(scope)):
        return "types"
    return "free"
