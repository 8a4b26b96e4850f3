"""Keeping a test record, taking one out, and bringing it back."""

from dataclasses import dataclass

from amberkey.core.clashes.trace import Focus, trace
from amberkey.core.clashes.trying import outcome_key, say_outcome
from amberkey.core.clashes.wording import say_shortcut
from amberkey.server.estate import board_of, current_estate
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.records.models import Record
from amberkey.server.workbench.trying import LaneIn, TryIn, focus_of, pressed


@dataclass(frozen=True)
class Seen:
    """What somebody saw, and whether it was what Amber Key expected."""

    seen: str
    passed: bool


def keep(actor: Actor, lane: LaneIn, given: TryIn, what: Seen) -> Record:
    """Keep what somebody saw when they pressed something in a lane. What was expected is worked out here and now."""
    actor.require(Role.EDITOR)
    board = board_of(current_estate(), lane.setup)
    focus: Focus | None = focus_of(board, lane)
    shortcut, strokes, _ = pressed(board, focus, given)
    traces = trace(board, strokes, focus)
    expected = say_outcome(traces)
    seen = what.seen.strip() or (expected if what.passed else "")
    if not seen:
        raise Problem(400, "What was seen is missing.", cure="Say in a few words what happened instead.")
    program = board.parts[focus.program].program if focus else None
    record = Record.objects.create(
        actor=actor.user,
        setup=lane.setup,
        setup_name=board.setup.setup.name,
        program=program.id if program else "",
        program_name=program.name if program else "",
        scope=focus.scope if focus else "",
        scope_name=program.scope(focus.scope).name if program and focus else "",
        shortcut=str(shortcut),
        pressed=say_shortcut(shortcut, board)[:400],
        expected=expected[:400],
        outcome=outcome_key(traces)[:300],
        seen=seen[:400],
        passed=what.passed,
    )
    actor.record("tested", str(shortcut), f"{record.setup_name}: {seen}")
    return record


def remove(actor: Actor, record_id: int, removed: bool) -> Record:
    """Take a record out of the list, or bring it back; it is never lost."""
    actor.require(Role.EDITOR)
    record = Record.objects.filter(id=record_id).first()
    if record is None:
        raise NotFound("such record")
    record.removed = removed
    record.save(update_fields=["removed"])
    actor.record("removed" if removed else "brought back", f"test record {record.id}", record.pressed)
    return record
