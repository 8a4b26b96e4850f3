"""What a change of tasks would do, told before it is saved: commands, lines of the standard, agreement, clashes."""

from collections.abc import Hashable, Mapping
from dataclasses import replace

from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.model import Document
from amberkey.core.programs.model import Program
from amberkey.core.standard.findings import Finding, findings
from amberkey.core.standard.model import Standard
from amberkey.core.tasks.model import Tasks
from amberkey.server.estate import STANDARD, TASKS, current_estate, current_standard
from amberkey.server.library.documents import programs_by_key
from amberkey.server.schema import Schema
from amberkey.server.standard.state import coverage_of, current_coverage, current_findings
from amberkey.server.workbench.clashes.difference import clash_difference

_SHOWN = 6


class TaskPlanOut(Schema):
    """What it would touch: programs by name, lines of the standard, and how many cells agree of those that could, before and
    after. `lines_apart`: lines that say other keys than the usual ones, before and after. `come` and `go`: what is worth a look
    in the standard, in sentences, the first of each with their number."""

    commands: int
    programs: list[str]
    lines: int
    lines_gone: int
    lines_apart: int
    lines_apart_then: int
    agree: int
    could: int
    agree_then: int
    could_then: int
    solves: list[str]
    makes: list[str]
    solved: int
    made: int
    come: list[str]
    coming: int
    go: list[str]
    going: int


def plan_of(task: str | None, changes: Mapping[str, Document]) -> TaskPlanOut:
    """What documents as they shall be would do. `task`: the one that is changed; none for families."""
    programs = [p for p in changes.values() if isinstance(p, Program)]
    now, standard = current_estate(), current_standard()
    then, standard_then = _then(now, standard, changes)
    known = programs_by_key()
    doing = [p for k, p in known.items() if task in p.all_by_task and (k in changes or len(changes) == 1)]
    before, after = current_coverage().whole().plain, coverage_of(then, standard_then).whole().plain
    clashes = clash_difference(now, then)
    look, look_then = ({_same(f): f.says for f in found} for found in (current_findings(), findings(then, standard_then)))
    come, go = ([says for i, says in a.items() if i not in b] for a, b in ((look_then, look), (look, look_then)))
    return TaskPlanOut(
        commands=sum(len(p.all_by_task[task]) for p in doing if task is not None),
        programs=sorted({p.name for p in programs or doing}),
        lines=sum(v.task == task for v in standard.lines),
        lines_gone=len(standard.lines) - len(standard_then.lines),
        lines_apart=_apart(standard, now.tasks, task),
        lines_apart_then=_apart(standard_then, then.tasks, task),
        agree=before.agree,
        could=before.could,
        agree_then=after.agree,
        could_then=after.could,
        solves=clashes.solves[:_SHOWN],
        makes=clashes.makes[:_SHOWN],
        solved=clashes.solved,
        made=clashes.made,
        come=come[:_SHOWN],
        coming=len(come),
        go=go[:_SHOWN],
        going=len(go),
    )


def _then(now: Estate, standard: Standard, changes: Mapping[str, Document]) -> tuple[Estate, Standard]:
    programs = {(p.id, p.version): p for p in changes.values() if isinstance(p, Program)}
    tasks, standard_then = changes[TASKS], changes.get(STANDARD, standard)
    assert isinstance(tasks, Tasks)
    assert isinstance(standard_then, Standard)
    return replace(now, programs={**now.programs, **programs}, tasks=tasks), standard_then


def _same(finding: Finding) -> Hashable:
    """What makes two findings the same one, though its words may have changed."""
    about = finding.shortcut or finding.tasks or finding.says
    return finding.kind, finding.platform, about, finding.item


def _apart(standard: Standard, tasks: Tasks, task_id: str | None) -> int:
    """How many lines of a task say another key than its usual ones on that platform."""
    task = tasks.task(task_id) if task_id is not None else None
    if task is None:
        return 0
    lines = (v for v in standard.lines if v.task == task.id)
    return sum(bool(usual := task.usual_on(v.platform)) and v.shortcut not in usual for v in lines)
