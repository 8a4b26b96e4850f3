"""When a wave opens: worked out each time from how the machines of the wave before stand, and from the clock."""

import datetime
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from amberkey.core.rollout.model import Gate, Window

State = Literal["to come", "asked", "in step", "stopped", "own change", "left out", "taken back"]
"""How a file of a release stands. `asked`: its machine was given the order. `stopped`: it can't be read or written. `own
change`: somebody changed it, and nobody has said yet what becomes of that. `left out`: the release goes on without it."""
WORST: tuple[State, ...] = ("stopped", "own change", "asked", "to come", "taken back", "in step", "left out")
"""A machine stands as the first of its files in this order."""
SETTLED = frozenset[State]({"in step", "left out", "taken back"})


@dataclass(frozen=True, slots=True)
class Stands:
    """A machine in a wave: how, since when, and whether its agent hasn't been heard for long."""

    machine: str
    state: State
    since: datetime.datetime
    silent: bool = False


@dataclass(frozen=True, slots=True)
class Opening:
    """Whether a wave is open, why or why not in a sentence, and when it will be, where only the clock keeps it."""

    open: bool
    says: str
    at: datetime.datetime | None = None


def by_machine(rows: Iterable[Stands]) -> list[Stands]:
    """Of several files of a machine the one that stands worst, and since the last of them changed."""
    found: dict[str, Stands] = {}
    for row in rows:
        before = found.get(row.machine)
        if before is None:
            found[row.machine] = row
            continue
        worse = min(before, row, key=lambda r: WORST.index(r.state))
        found[row.machine] = Stands(row.machine, worse.state, max(before.since, row.since), before.silent or row.silent)
    return list(found.values())


def gate_stands(gate: Gate, before: Sequence[Stands], now: datetime.datetime) -> Opening:
    """Whether a gate lets the next wave go, from the machines of the wave before it. It depends on nothing else: whatever order
    their reports came in, the answer is the same."""
    machines = [one for one in by_machine(before) if one.state != "left out"]
    if not machines:
        return Opening(True, "Open: no machine is before it")
    states = Counter(one.state for one in machines)
    many = len(machines)
    stopped = states["stopped"]
    if stopped * 100 > gate.most_stopped * many:
        told = f"{stopped} of {many} is {_percent(stopped, many)} %"
        return Opening(False, f"Shut while more than {gate.most_stopped} % of a wave is stopped: {told}")
    own = states["own change"]
    if own and not gate.drift:
        what = "a change of somebody's own waits" if own == 1 else f"changes of their own wait on {own} machines"
        return Opening(False, f"Shut while {what} for a word")
    awaited = sum(one.state in ("to come", "asked") and not one.silent for one in machines)
    if awaited:
        return Opening(False, f"Shut until the wave before is done: {awaited} of {many} still to come")
    if not states["in step"]:
        return Opening(False, "Shut until a machine of the wave before is in step")
    quiet = max(one.since for one in machines if one.state in ("in step", "stopped", "own change"))
    at = quiet + datetime.timedelta(hours=gate.quiet_hours)
    hours = f"{gate.quiet_hours} hour{'' if gate.quiet_hours == 1 else 's'}"
    if now < at:
        return Opening(False, f"Shut until {hours} went by without anything new", at)
    without = "without a fault" if not stopped else f"with {stopped} of {many} stopped"
    after = f"after {hours} " if gate.quiet_hours else ""
    return Opening(True, f"Opened {after}{without}{'' if own else ' and without drift'}")


def _percent(part: int, whole: int) -> int:
    return round(100 * part / whole)


def window_stands(window: Window, now: datetime.datetime) -> Opening:
    """Whether machines may be written to at a time, which is one of the organisation's clock."""
    if _is_open(window, now):
        return Opening(True, "Open now")
    at = opens(window, now)
    return Opening(False, f"Not before {at:%A} {at.hour}:{at.minute:02}", at)


def _is_open(window: Window, at: datetime.datetime) -> bool:
    """What runs over midnight belongs to the day on which it began."""
    begins, ends = window.begins, window.ends
    if begins < ends:
        day, inside = at, begins <= at.hour < ends
    else:
        inside = at.hour >= begins or at.hour < ends
        day = at if at.hour >= begins else at - datetime.timedelta(days=1)
    started = window.not_before is None or day.date() >= window.not_before
    return inside and started and day.weekday() in window.days


def opens(window: Window, after: datetime.datetime) -> datetime.datetime:
    """The next full hour at which it is open, or now where it is."""
    if _is_open(window, after):
        return after
    at = after.replace(minute=0, second=0, microsecond=0)
    if window.not_before is not None and at.date() < window.not_before:
        at = at.replace(year=window.not_before.year, month=window.not_before.month, day=window.not_before.day, hour=0)
        if _is_open(window, at):
            return at
    for _ in range(24 * 8):
        at += datetime.timedelta(hours=1)
        if _is_open(window, at):
            return at
    raise AssertionError("a window that never opens can't be made")


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a wave's machines that stand alike."""

    state: State | Literal["silent"]
    machines: tuple[str, ...]


def parts(rows: Iterable[Stands]) -> list[Part]:
    """A wave's machines by how they stand: a machine that is awaited and isn't heard counts as silent."""
    found: dict[State | Literal["silent"], list[str]] = {}
    for one in by_machine(rows):
        silent = one.silent and one.state in ("to come", "asked")
        found.setdefault("silent" if silent else one.state, []).append(one.machine)
    return [Part(state, tuple(sorted(found[state]))) for state in _SHOWN if state in found]


_SHOWN: tuple[State | Literal["silent"], ...] = (
    "in step",
    "taken back",
    "stopped",
    "own change",
    "asked",
    "silent",
    "to come",
    "left out",
)
