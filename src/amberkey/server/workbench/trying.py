"""Trying presses: their way through the stations for up to three focuses or setups side by side, with drafts not yet saved."""

from collections.abc import Sequence

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.clashes.binding import Station
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.showing import say_effect
from amberkey.core.clashes.trace import STATIONS, EffectKind, Focus, Outcome, Step, Trace, trace
from amberkey.core.clashes.trying import say_outcome, typed_by
from amberkey.core.clashes.wording import STATION_WORDS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import pressed as ways_pressed
from amberkey.core.layouts.naming import press_for
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.programs.model import Program
from amberkey.core.ways.drafting import Draft, Drafted, drafted
from amberkey.server.estate import board_of, current_estate, target_of
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.clashes.told import brief
from amberkey.server.workbench.press import press_of_stroke, stroke_of
from amberkey.server.workbench.verbs.assign import checked
from amberkey.server.workbench.words import ShortcutOut, StrokeOut, shortcut_out, stroke_out
from amberkey.server.workbench.worth import WorthOut, worth_of

router = Router(tags=["workbench"])
LANES = 3


class LaneIn(Schema):
    """Where people are: a setup, and a program with one of its scopes in focus (or none of both)."""

    setup: str
    program: str | None = None
    scope: str | None = None


class TriedDraftIn(Schema):
    """A command's shortcuts as they would be, in a layer of a setup."""

    setup: str
    program: str
    command: str
    shortcuts: list[str]
    target: str | None = None


class TryIn(Schema):
    """What is pressed: a text, or physical keys with the modifiers held."""

    lanes: list[LaneIn]
    text: Words | None = None
    strokes: list[StrokeOut] | None = None
    drafts: list[TriedDraftIn] = Field(default=[], max_length=40)


class StepOut(Schema):
    """What one station did with a press: takes, passes or unknown, and why; `source`: where it was read that it takes it."""

    station: Station
    station_name: str
    outcome: Outcome
    says: str
    scope_name: str
    program_name: str
    source: str


class PressedOut(Schema):
    """One press on its way. `wait`: the program waits for the next one after it."""

    shortcut: ShortcutOut
    stroke: StrokeOut
    steps: list[StepOut]
    effect: EffectKind
    says: str
    taken_at: Station | None


class TriedOut(Schema):
    """A lane with the way of every press. `typed`: the text that the presses leave behind. `before`: what comes of it without
    the drafts, where that is something else."""

    setup: str
    setup_name: str
    program_name: str
    scope_name: str
    shortcut: ShortcutOut
    unreachable: str
    presses: list[PressedOut]
    outcome: str
    typed: str
    before: str


class DraftedOut(Schema):
    entries: int
    people: int
    solves: list[str]
    makes: list[str]
    worth: WorthOut


class TryOut(Schema):
    stations: list[str]
    lanes: list[TriedOut]
    drafts: DraftedOut | None


@router.post("/try", response=TryOut)
def try_press(request: HttpRequest, given: TryIn) -> TryOut:
    """The way of some presses through the stations in each lane, with the drafts as if they were saved. Nothing is."""
    estate = current_estate()
    if not given.lanes or len(given.lanes) > LANES:
        raise Problem(400, f"There are {len(given.lanes)} places to try in.", cure=f"Choose one to {LANES}.")
    found = draft(estate, given.drafts) if given.drafts else None
    board = board_of(estate, given.lanes[0].setup)
    return TryOut(
        stations=[STATION_WORDS[s] for s in STATIONS],
        lanes=[_lane(estate, found.after if found else None, lane, given) for lane in given.lanes],
        drafts=None
        if found is None
        else DraftedOut(
            entries=sum(map(len, found.operations.values())),
            people=found.people,
            solves=[brief(g, board) for g in found.solves],
            makes=[brief(g, board) for g in found.makes],
            worth=worth_of(estate, found.after),
        ),
    )


def draft(estate: Estate, drafts: Sequence[TriedDraftIn]) -> Drafted:
    """The drafts over an estate. Raises Problem, naming the draft, where a program can't take one."""
    checked_ones = []
    for one in drafts:
        setup = board_of(estate, one.setup).setup.setup
        _, _, shortcuts = checked(estate, one.setup, one.program, one.command, one.shortcuts)
        checked_ones.append(Draft(one.setup, one.program, one.command, shortcuts, target_of(setup, one.target)))
    return drafted(estate, checked_ones)


def focus_of(board: Board, lane: LaneIn) -> Focus | None:
    """Raises NotFound for a focus that the setup doesn't have."""
    if lane.program is None or lane.scope is None:
        return None
    part = board.parts.get(lane.program)
    if part is None or not part.program.has_scope(lane.scope):
        raise NotFound(f"focus {lane.program[:60]}, {lane.scope[:60]}")
    return Focus(lane.program, lane.scope)


def pressed(board: Board, focus: Focus | None, given: TryIn) -> tuple[Shortcut, tuple[Stroke, ...], str]:
    """What is pressed in a lane: the shortcut by its name there, its strokes, or why nobody can make it."""
    part = board.parts[focus.program] if focus else None
    if given.strokes:
        strokes = tuple(stroke_of(board, s) for s in given.strokes[:12])
        program = part.program if part else None
        return Shortcut(tuple(press_of_stroke(board, s, program) for s in given.strokes[:12])), strokes, ""
    if given.text is None or not given.text.strip():
        raise Problem(400, "There is no press here.", cure="Press, click or type one.")
    shortcut = read_shortcut(given.text).resolve(board.ground.platform)
    reads = part.reads if part else "character"
    ways, unreachable = ways_pressed(shortcut, board.ground.keyboard, reads, bool(part and part.pad))
    if not ways:
        return shortcut, (), unreachable
    # A key that was given by its place is called by what it types in this lane.
    named = (press_for(s, board.ground.layout, reads) if p.code else p for s, p in zip(ways[0], shortcut.presses, strict=True))
    return Shortcut(tuple(named)), ways[0], unreachable


def _lane(estate: Estate, after: Estate | None, lane: LaneIn, given: TryIn) -> TriedOut:
    board = board_of(after or estate, lane.setup)
    focus = focus_of(board, lane)
    shortcut, strokes, unreachable = pressed(board, focus, given)
    traces = trace(board, strokes, focus)
    program = board.parts[focus.program].program if focus else None
    outcome = say_outcome(traces)
    before = say_outcome(trace(estate.board(lane.setup), strokes, focus)) if after else ""
    return TriedOut(
        setup=lane.setup,
        setup_name=board.setup.setup.name,
        program_name=program.name if program else "no program",
        scope_name=program.scope(focus.scope).name if program and focus else "nothing in focus",
        shortcut=shortcut_out(shortcut, board),
        unreachable=unreachable,
        presses=[
            _pressed(one, Shortcut((press,)), board, program) for one, press in zip(traces, shortcut.presses, strict=False)
        ],
        outcome=outcome,
        typed=typed_by(traces),
        before=before if before != outcome else "",
    )


def _pressed(one: Trace, press: Shortcut, board: Board, in_focus: Program | None) -> PressedOut:
    return PressedOut(
        shortcut=shortcut_out(press, board),
        stroke=stroke_out(one.stroke),
        steps=[_step(s, in_focus) for s in one.steps],
        effect=one.effect.kind,
        says=say_effect(one),
        taken_at=one.taken_at,
    )


def _step(step: Step, in_focus: Program | None) -> StepOut:
    program = step.binding.program if step.binding else None
    scope = step.scope or ""
    owner = program if program is not None and program.has_scope(scope) else in_focus
    return StepOut(
        station=step.station,
        station_name=STATION_WORDS[step.station],
        outcome=step.outcome,
        says=step.says,
        scope_name=owner.scope(scope).name if owner is not None and owner.has_scope(scope) else "",
        program_name=program.name if program else "",
        source=step.binding.source if step.binding else "",
    )
