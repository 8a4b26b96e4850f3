"""Carrying a standard's lines to another platform: the same keys with that platform's own modifiers, or why not."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.wording import say_clash
from amberkey.core.keys.platform import MAIN, PLATFORM_NAMES, Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.standard.choices import choices_for
from amberkey.core.standard.model import Line, Standard
from amberkey.core.standard.setting import Planner, with_lines


@dataclass(frozen=True, slots=True)
class Carried:
    """`line` as it would be there; None where it can't be. `why` says why not, or what is against it; `proposal`: instead."""

    origin: Line
    line: Line | None
    why: str = ""
    proposal: Shortcut | None = None
    standing: bool = False
    """There is a line for the task already."""


def equivalent(shortcut: Shortcut, origin: Platform, target: Platform) -> Shortcut:
    """The same keys with the other platform's modifiers: its main one for the main one, Alt and Shift as they are.

    Where the modifier that is the main one there stands beside the main one here (Control with Command), the two change places.
    """
    here, there = MAIN[origin], MAIN[target]
    if here == there:
        return shortcut
    swap = {here: there, there: here, "AltGraph": "Alt"}
    return Shortcut(tuple(Press.of((swap.get(m, m) for m in p.modifiers), p.key, p.code) for p in shortcut.presses))


def carry(estate: Estate, standard: Standard, origin: Platform, target: Platform, tasks: Iterable[str] = ()) -> list[Carried]:
    """Every line of a platform (or of some tasks) for all layouts, as it would be on another one."""
    wanted = set(tasks)
    found: list[Carried] = []
    lines = [v for v in standard.lines if v.platform == origin and not v.layouts and (not wanted or v.task in wanted)]
    taken = {v.shortcut: v.task for v in standard.lines if v.platform == target and not v.layouts}
    offered = _offered(estate, target)
    for line in lines:
        there = equivalent(line.shortcut, origin, target)
        carried = line.model_copy(update={"platform": target, "keys": there, "layouts": ()})
        standing = next((v for v in standard.lines_of(line.task, target) if not v.layouts), None)
        if standing is not None:
            if standing.shortcut != there:
                found.append(
                    Carried(line, None, f"{PLATFORM_NAMES[target]} has a line for it already: {standing.keys}", standing=True)
                )
            continue
        if line.task not in offered:
            found.append(Carried(line, None, f"no program in use on {PLATFORM_NAMES[target]} offers it"))
        elif taken.get(there, line.task) != line.task:
            other = estate.tasks.task(taken[there])
            found.append(Carried(line, None, f"{other.name if other else taken[there]} has it there"))
        else:
            taken[there] = line.task
            found.append(Carried(line, carried))
    return _with_proposals(estate, target, _judged(estate, standard, found, target), set(taken))


def _offered(estate: Estate, platform: Platform) -> set[str]:
    found: set[str] = set()
    for setup_id, setup in estate.setups.items():
        if setup.works_on == platform:
            for part in estate.board(setup_id).parts.values():
                if part.program.kind != "system":
                    found |= {c.task for c in part.program.commands if c.task}
    return found


def _judged(estate: Estate, standard: Standard, carried: list[Carried], target: Platform) -> list[Carried]:
    """The same, with what the system or a layout has against single lines."""
    lines = [c.line for c in carried if c.line is not None]
    if not lines:
        return carried
    plan = Planner().plan(estate, standard, with_lines(standard, lines))
    against: dict[Shortcut, str] = {}
    for group in plan.makes:
        if group.clash.severity in ("blocker", "high") and group.clash.platform == target:
            board = plan.after.board(group.setups[0].id)
            against.setdefault(group.clash.subject.shortcut, say_clash(group.clash, board))
    boards = [estate.board(i) for i, s in estate.setups.items() if s.works_on == target]
    result = []
    for one in carried:
        why = ""
        if one.line is not None:
            why = against.get(one.line.shortcut, "") or _out_of_reach(one.line.shortcut, boards)
        result.append(Carried(one.origin, None, why) if why else one)
    return result


def _with_proposals(estate: Estate, target: Platform, carried: list[Carried], taken: set[Shortcut]) -> list[Carried]:
    """The same, with something else for each that fails: no key that a line has there, and none twice."""
    offered = _offered(estate, target)
    result = []
    for one in carried:
        if one.line is None and one.origin.task in offered and not one.standing:
            choices = choices_for(estate, one.origin.task, target, without=taken)
            proposal = next((c.shortcut for c in choices if c.kind == "free"), None)
            one = replace(one, proposal=proposal)
            taken |= {proposal} if proposal else set()
        result.append(one)
    return result


def _out_of_reach(shortcut: Shortcut, boards: Sequence[Board]) -> str:
    for board in boards:
        ways = ways_of(shortcut, board.ground.keyboard, "character")
        if ways.unreachable:
            return f"{board.setup.setup.name}: {ways.unreachable}"
    return ""
