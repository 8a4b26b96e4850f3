"""What should be tried on a real machine: entries that were changed since anybody tested them, and tests whose answer is
another one by now."""

import datetime
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.trace import Focus, trace
from amberkey.core.clashes.trying import outcome_key, say_outcome
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import pressed
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.setup import grain_of


@dataclass(frozen=True, slots=True)
class Changed:
    """The last change of what the profiles say of a command on a platform. `before`: the shortcuts that it replaced."""

    program: str
    command: str
    platform: Platform
    at: datetime.datetime
    by: str
    title: str
    before: tuple[Shortcut, ...] = ()


@dataclass(frozen=True, slots=True)
class Trial:
    """A test that somebody made: where, which shortcut, what should have come of it (see `outcome_key`)."""

    id: int
    setup: str
    focus: Focus | None
    shortcut: Shortcut
    expected: str
    at: datetime.datetime


@dataclass(frozen=True, slots=True)
class Untested:
    """A press to try. `why`: its command was changed since, or another answer is expected now than when it was tested.
    `command` is the changed command's binding where it has one."""

    why: Literal["changed", "other now"]
    setup: str
    focus: Focus | None
    shortcut: Shortcut
    expects: str
    command: Binding | None = None
    changed: Changed | None = None
    tested: Trial | None = None


def untested(estate: Estate, changes: Iterable[Changed], tests: Iterable[Trial]) -> list[Untested]:
    """The newest change first, then tests to be made again; of several tests of one press in one place the last one counts."""
    latest: dict[tuple[str, Focus | None, Shortcut], Trial] = {}
    for test in sorted(tests, key=lambda t: t.at):
        latest[grain_of(test.setup), test.focus, test.shortcut] = test
    found = [u for c in sorted(changes, key=lambda c: c.at, reverse=True) for u in _since(estate, c, latest.values())]
    seen = {(u.setup, u.shortcut) for u in found}
    for test in latest.values():
        again = _again(estate, test)
        if again is not None and (again.setup, again.shortcut) not in seen:
            found.append(again)
    return found


def expected_of(estate: Estate, setup_id: str, focus: Focus | None, shortcut: Shortcut) -> tuple[str, str]:
    """What a shortcut comes to in a focus of a setup: its key, and in words."""
    board = estate.board(setup_id)
    traces = trace(board, strokes_in(estate, setup_id, focus, shortcut), focus)
    return outcome_key(traces), say_outcome(traces)


def strokes_in(estate: Estate, setup_id: str, focus: Focus | None, shortcut: Shortcut) -> tuple[Stroke, ...]:
    """What the fingers do for a shortcut as the program in focus reads it; nothing where it is out of reach."""
    board = estate.board(setup_id)
    part = board.parts[focus.program] if focus else None
    reads = part.reads if part else "character"
    ways, _ = pressed(shortcut, board.ground.keyboard, reads, bool(part and part.pad))
    return ways[0] if ways else ()


def _since(estate: Estate, changed: Changed, tests: Iterable[Trial]) -> Iterator[Untested]:
    """The presses of a changed command that nobody tested since, in the setup in use that most people have."""
    for setup in sorted(estate.setups.values(), key=lambda s: (-s.people, s.id)):
        board = estate.board(setup.id)
        part = board.parts.get(changed.program)
        if setup.works_on != changed.platform or part is None or part.program.command(changed.command) is None:
            continue
        live = [b for b in board.bindings_of(changed.program, changed.command) if b.live]
        for binding in live:
            focus = None if binding.everywhere else Focus(binding.program.id, binding.scope)
            if not any(_covers(t, changed, estate, binding.shortcut) for t in tests):
                says = expected_of(estate, setup.id, focus, binding.shortcut)[1]
                yield Untested("changed", setup.id, focus, binding.shortcut, says, binding, changed)
        if not live and changed.before:
            command = part.program.command(changed.command)
            assert command is not None
            hotkey = part.program.kind in ("system", "utility")
            focus = None if hotkey else Focus(changed.program, command.scope)
            if not any(_covers(t, changed, estate, changed.before[0]) for t in tests):
                says = expected_of(estate, setup.id, focus, changed.before[0])[1]
                yield Untested("changed", setup.id, focus, changed.before[0], says, None, changed)
        return


def _covers(test: Trial, changed: Changed, estate: Estate, shortcut: Shortcut) -> bool:
    setup = estate.setups.get(test.setup)
    same_place = test.focus is None or test.focus.program == changed.program
    return (
        test.at > changed.at
        and test.shortcut == shortcut
        and same_place
        and setup is not None
        and setup.works_on == changed.platform
    )


def _again(estate: Estate, test: Trial) -> Untested | None:
    """A test to be made again, since another answer is expected now. Where its setup is gone, nothing can be said."""
    if test.setup not in estate.setups:
        return None
    board = estate.board(test.setup)
    if test.focus is not None:
        part = board.parts.get(test.focus.program)
        if part is None or not part.program.has_scope(test.focus.scope):
            return None
    key, says = expected_of(estate, test.setup, test.focus, test.shortcut)
    if key == test.expected:
        return None
    return Untested("other now", test.setup, test.focus, test.shortcut, says, tested=test)
