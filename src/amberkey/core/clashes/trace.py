"""Who gets a press: the stations it passes, in order, and its one effect.

Stations here: the system's fixed hotkeys, its changeable ones, the focused program's scopes (by its scope order), text entry.
"""

from dataclasses import dataclass
from typing import Literal

from amberkey.core.clashes.board import Binding, Board, winner_of
from amberkey.core.layouts.strokes import Stroke
from amberkey.core.layouts.typing import types

Station = Literal["system_fixed", "system", "program", "text"]
STATIONS: tuple[Station, ...] = ("system_fixed", "system", "program", "text")
Outcome = Literal["takes", "passes"]
EffectKind = Literal["command", "wait", "text", "accent", "nothing"]


@dataclass(frozen=True, slots=True)
class Step:
    station: Station
    outcome: Outcome
    says: str
    scope: str | None = None
    binding: Binding | None = None


@dataclass(frozen=True, slots=True)
class Effect:
    kind: EffectKind
    binding: Binding | None = None
    text: str = ""


@dataclass(frozen=True, slots=True)
class Trace:
    stroke: Stroke
    steps: tuple[Step, ...]
    effect: Effect

    @property
    def taken_at(self) -> Station | None:
        return next((s.station for s in self.steps if s.outcome == "takes"), None)


def trace_stroke(board: Board, stroke: Stroke, program_id: str | None, scope_id: str | None) -> Trace:
    """One stroke, with a program and a scope in focus (or nothing of the program: None), to its effect."""
    steps: list[Step] = []
    for station, table in (("system_fixed", board.fixed), ("system", board.changeable)):
        holder = table.get(stroke)
        if holder is not None:
            steps.append(Step(station, "takes", holder.command.name, None, holder))  # type: ignore[arg-type]
            return Trace(stroke, tuple(steps), Effect("command", holder))
        steps.append(Step(station, "passes", "doesn't know it"))  # type: ignore[arg-type]
    program = board.setup.program(program_id) if program_id else None
    takes_text = True
    if program is not None and scope_id is not None:
        scopes = program.outward(scope_id)
        takes_text = scopes[0].takes_text
        for scope in scopes if program.scope_order == "inner" else reversed(scopes):
            rivals = board.in_scope.get((program.id, scope.id, (stroke,)))
            if rivals:
                winner = winner_of(rivals)
                says = winner.command.name
                if len({b.command.id for b in rivals}) > 1 and program.on_tie == "either":
                    says = " or ".join(b.command.name for b in rivals) + ": nobody can say which"
                steps.append(Step("program", "takes", says, scope.id, winner))
                return Trace(stroke, tuple(steps), Effect("command", winner))
            longer = board.beginning.get((program.id, scope.id, stroke))
            if longer:
                steps.append(Step("program", "takes", "waits for the next press", scope.id, longer[0]))
                return Trace(stroke, tuple(steps), Effect("wait", longer[0]))
            steps.append(Step("program", "passes", f"nothing in {scope.name}", scope.id))
    level = types(stroke, board.setup.layout)
    if level is not None and takes_text:
        steps.append(Step("text", "takes", f"begins the accent {level.text}" if level.dead else f"types {level.text}"))
        return Trace(stroke, tuple(steps), Effect("accent" if level.dead else "text", None, level.text))
    steps.append(Step("text", "passes", "types nothing" if takes_text else "no text is taken here"))
    return Trace(stroke, tuple(steps), Effect("nothing"))
