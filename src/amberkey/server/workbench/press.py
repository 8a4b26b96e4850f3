"""Judging a press while it is held or typed: what it is here, who has it, what it types, how far it is."""

from django.http import HttpRequest
from ninja import Router, Schema

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.trace import trace_stroke
from amberkey.core.keys.codes import ALL_CODES, MODIFIER_CODES
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.naming import press_for
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import NotMade, canonical_on, strokes_of
from amberkey.core.layouts.typing import types
from amberkey.core.programs.model import Program
from amberkey.server.problems import NotFound, Problem
from amberkey.server.workbench.estate import board_of, current_estate
from amberkey.server.workbench.words import ShortcutOut, StrokeOut, shortcut_out, stroke_out

router = Router(tags=["workbench"])


class PressIn(Schema):
    """Either a text, or a physical key with the modifiers held (several of them for a sequence)."""

    setup: str
    program: str | None = None
    scope: str | None = None
    text: str | None = None
    strokes: list[StrokeOut] | None = None


class HolderOut(Schema):
    station: str
    program: str
    command: str
    command_name: str
    says: str


class JudgementOut(Schema):
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
    verdict: str


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
    return _judge(board, shortcut, program, given.scope)


def _program(board: Board, given: PressIn) -> Program | None:
    if given.program is None:
        return None
    program = board.setup.program(given.program)
    if program is None or (given.scope is not None and given.scope not in {s.id for s in program.scopes}):
        raise NotFound(f"focus {given.program}, {given.scope}")
    return program


def press_of_stroke(board: Board, given: StrokeOut, program: Program | None) -> Press:
    """The press that a physical stroke is on the lens's layout, as the program would read it."""
    held = frozenset(given.modifiers)
    if not held <= {"Control", "Alt", "Shift", "Meta", "AltGraph"}:
        raise Problem(400, "An unknown modifier is held.")
    code = given.code
    if code is None or code in MODIFIER_CODES:
        return Press.of(held)
    if code not in ALL_CODES:
        raise Problem(400, f"{code[:40]} is not the code of a key.", cure="Type the shortcut instead.")
    reads = program.reads_on(board.ground.platform) if program else "character"
    return press_for(Stroke(code, held), board.ground.layout, reads)


def _judge(board: Board, shortcut: Shortcut, program: Program | None, scope: str | None) -> JudgementOut:
    layout = board.ground.layout
    reads = program.reads_on(board.ground.platform) if program else "character"
    strokes: list[list[StrokeOut]] = []
    holders: list[HolderOut] = []
    unreachable = note = typed = caret = ""
    reach = None
    flags: list[str] = []
    for n, press in enumerate(shortcut.presses):
        made = strokes_of(press, layout, reads, bool(program and board.ground.pad_answers(program)))
        if isinstance(made, NotMade):
            unreachable = made.reason
            continue
        note = note or canonical_on(press, layout, reads)[1] or ""
        strokes.append([stroke_out(s) for s in made.strokes])
        stroke = made.strokes[0]
        score = reach_of(stroke, board.setup.body, board.ground.keyboard.remaps, board.ground.mouse_hand)
        reach = (reach or 0) + score.score
        flags = [*dict.fromkeys([*flags, *score.flags])]
        level = types(stroke, layout, board.ground.numlock)
        if level is not None and n == 0:
            typed = f"accent {level.text}" if level.dead else level.text
        moved = board.ground.caret.get(stroke)
        if moved is not None and n == 0:
            caret = moved.name
        for step in trace_stroke(board, stroke, program.id if program else None, scope).steps:
            if step.outcome == "takes" and step.binding is not None and (n == 0 or step.station != "program"):
                holders.append(
                    HolderOut(
                        station=step.station,
                        program=step.binding.program.name,
                        command=step.binding.command.id,
                        command_name=step.binding.command.name,
                        says=step.says,
                    )
                )
    refused = (program.limits.why_not(shortcut) or "") if program else ""
    return JudgementOut(
        shortcut=shortcut_out(shortcut, board),
        strokes=strokes,
        unreachable=unreachable,
        note=note,
        refused=f"{program.name} can't take it: {refused}." if program and refused else "",
        types=typed,
        caret=caret,
        reach=reach,
        flags=flags,
        holders=holders,
        verdict=_verdict(unreachable, refused, holders, typed or caret, program, scope),
    )


def _verdict(
    unreachable: str, refused: str, holders: list[HolderOut], typed: str, program: Program | None, scope: str | None
) -> str:
    """free, taken, types or impossible: the worst that is true."""
    if unreachable or refused:
        return "impossible"
    if holders:
        return "taken"
    if typed and (program is None or scope is None or program.text_is_taken_within(scope)):
        return "types"
    return "free"
