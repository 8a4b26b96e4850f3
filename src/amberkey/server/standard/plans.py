"""What a change of the standard would do, told before it is saved."""

from collections.abc import Sequence

from django.utils import timezone

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.standard.model import Line, Standard
from amberkey.core.standard.setting import Plan, family_lines, with_lines
from amberkey.core.tasks.model import Tasks
from amberkey.server.estate import current_estate
from amberkey.server.people.acting import Actor
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Reason, Schema
from amberkey.server.standard.matrix import CountOut, count_out
from amberkey.server.standard.state import plan_for
from amberkey.server.workbench.clashes.told import brief
from amberkey.server.workbench.worth import WorthOut, worth_out


class LineIn(Schema):
    """A line as it is to be: `keys` as somebody writes a shortcut; None takes the line out."""

    task: str
    platform: Platform
    layouts: list[str] = []
    keys: str | None
    reason: Reason = ""


class LinesIn(Schema):
    """`family`: the rest of each task's family follows in its shape. `seen`: the digest of the standard
    that somebody saw, "" where there was none; without it they mean the newest.
    """

    lines: list[LineIn]
    family: bool = False
    seen: str | None = None


class SetLineOut(Schema):
    task: str
    name: str
    platform: Platform
    layouts: list[str]
    before: str
    after: str


class RelearnOut(Schema):
    program: str
    command: str
    before: str
    after: str


class LearnersOut(Schema):
    """People who all relearn the same."""

    people: int
    setups: list[str]
    relearn: list[RelearnOut]


class StaysOut(Schema):
    program: str
    task: str
    why: str
    people: int


class PlanOfStandardOut(Schema):
    lines: list[SetLineOut]
    programs: list[str]
    entries: int
    people: int
    stays: list[StaysOut]
    learners: list[LearnersOut]
    solves: list[str]
    makes: list[str]
    broken: list[str]
    before: CountOut
    after: CountOut
    worth: WorthOut


def lines_from(given: Sequence[LineIn], standard: Standard, tasks: Tasks, owner: str, today: object, family: bool) -> Standard:
    """A standard with what somebody asks for. Raises ShortcutError, NotFound, or Problem where a family can't follow."""
    wanted: dict[str, Line] = {}
    gone: list[str] = []
    for one in given:
        if tasks.task(one.task) is None:
            raise NotFound(f"task {one.task[:60]}")
        values = {"task": one.task, "platform": one.platform, "layouts": tuple(sorted(one.layouts))}
        if one.keys is None:
            for line in standard.lines_of(one.task, one.platform):
                if line.layouts == values["layouts"]:
                    gone.append(line.key)
            continue
        shortcut = read_shortcut(one.keys)
        old = next((v for v in standard.lines_of(one.task, one.platform) if v.layouts == values["layouts"]), None)
        reason = one.reason.strip() or (old.reason if old else "")
        line = Line.model_validate({**values, "keys": shortcut, "reason": reason, "owner": owner, "since": today})
        kin = family_lines(line, tasks) if family and tasks.family_of(one.task) else {one.task: line}
        if not kin:
            raise Problem(
                *(400, f"The family can't keep its shape with {words_of(line.shortcut, one.platform)}."),
                cure="Choose another key, or set the line alone.",
            )
        for task, own in kin.items():
            before = next((v for v in standard.lines_of(task, one.platform) if v.layouts == own.layouts), None)
            if before is None or before.shortcut != own.shortcut or before.reason != own.reason:
                wanted[own.key] = own
    return with_lines(standard, wanted.values(), gone)


def plan_out(plan: Plan, now: Standard, before: Estate, tasks: Tasks) -> PlanOfStandardOut:
    old = {line.key: line for line in now.lines}
    new = {line.key: line for line in plan.standard.lines}
    differing = [k for k in sorted(old.keys() | new.keys()) if not _same(old.get(k), new.get(k))]
    return PlanOfStandardOut(
        lines=[_set_line(old.get(k), new.get(k), tasks) for k in differing],
        programs=list(plan.programs),
        entries=plan.entries,
        people=plan.people,
        stays=[StaysOut(program=s.program, task=_name(tasks, s.task), why=s.why, people=s.people) for s in plan.stays],
        learners=[
            LearnersOut(
                people=v.people,
                setups=list(v.setups),
                relearn=[RelearnOut(**r._asdict()) for r in v.relearn],
            )
            for v in plan.learners
        ],
        solves=_briefs(plan.solves, before),
        makes=_briefs(plan.makes, plan.after),
        broken=[f.name for f in plan.broken],
        before=count_out(plan.covered_before),
        after=count_out(plan.covered_after),
        worth=worth_out(plan.worth),
    )


def _briefs(groups: Sequence[Group], estate: Estate) -> list[str]:
    return [brief(g, estate.board(g.setups[0].id)) for g in groups if g.clash.severity != "low"]


def _same(one: Line | None, other: Line | None) -> bool:
    return one is other or (one is not None and other is not None and one.shortcut == other.shortcut)


def _set_line(old: Line | None, new: Line | None, tasks: Tasks) -> SetLineOut:
    line = new or old
    assert line is not None
    return SetLineOut(
        task=line.task,
        name=_name(tasks, line.task),
        platform=line.platform,
        layouts=list(line.layouts),
        before=words_of(old.shortcut, line.platform) if old else "",
        after=words_of(new.shortcut, line.platform) if new else "",
    )


def _name(tasks: Tasks, task: str) -> str:
    found = tasks.task(task)
    return found.name if found else task


def title_of(now: Standard, wanted: Standard, tasks: Tasks) -> str:
    """What a change of the standard is, in a sentence for the history."""
    old = {line.key: line for line in now.lines}
    new = {line.key: line for line in wanted.lines}
    told = [_told(old.get(k), new.get(k), tasks) for k in sorted(old.keys() | new.keys()) if old.get(k) != new.get(k)]
    if not told:
        return "Changed the standard"
    return told[0] if len(told) == 1 else f"Set {len(told)} lines of the standard: {told[0]}, and others"


def _told(old: Line | None, new: Line | None, tasks: Tasks) -> str:
    line = new or old
    assert line is not None
    where = f"on {PLATFORM_NAMES[line.platform]}" + (f" for {', '.join(line.layouts)}" if line.layouts else "")
    name = _name(tasks, line.task)
    if new is None:
        return f"Took the standard's line for {name} {where} out"
    return f"Set {name} {where} to {words_of(new.shortcut, new.platform)} in the standard"


def wanted_by(actor: Actor, lines: Sequence[LineIn], family: bool, over: Standard) -> Standard:
    """A standard with the lines that somebody asks for, in their name and of today."""
    return lines_from(lines, over, current_estate().tasks, actor.name, timezone.localdate(), family)


def planned(now: Standard, wanted: Standard) -> PlanOfStandardOut:
    """What another standard would do, in the words of the API."""
    estate = current_estate()
    return plan_out(plan_for(now, wanted), now, estate, estate.tasks)
