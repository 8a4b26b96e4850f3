"""One task in full: its lines everywhere, who has what, what it could have."""

from typing import Literal

from amberkey.core.clashes.board import Board
from amberkey.core.keys.platform import Platform
from amberkey.core.standard.choices import choices_for
from amberkey.core.standard.coverage import Coverage
from amberkey.core.standard.model import Exempt
from amberkey.server.estate import layer_names
from amberkey.server.problems import NotFound
from amberkey.server.schema import Schema
from amberkey.server.standard.matrix import Had, LineOut, Shown, had_in, line_out
from amberkey.server.workbench.words import ShortcutOut, shortcut_out


class KeyChoiceOut(Schema):
    kind: Literal["free", "pressed", "programs"]
    shortcut: ShortcutOut
    reasons: list[str]
    people: int
    programs: list[str]
    reach: int | None


class HadOut(Schema):
    """How some people have the task in a program. `layer`: the profile that set it; "" for the program's own default."""

    program: str
    program_name: str
    state: Shown
    keys: list[ShortcutOut]
    layer: str
    why: str
    setups: list[str]
    people: int
    clash: str | None


class ExceptionOut(Schema):
    key: str
    program: str
    program_name: str
    platform: Platform
    layouts: list[str]
    reason: str
    owner: str
    until: str | None
    ran_out: bool


class PlatformLineOut(LineOut):
    platform: Platform


class TaskRowOut(Schema):
    task: str
    name: str
    family: list[str]
    lines: list[PlatformLineOut]
    choices: list[KeyChoiceOut]
    had: list[HadOut]
    exceptions: list[ExceptionOut]


def row_out(coverage: Coverage, task_id: str, setups: list[str], board: Board) -> TaskRowOut:
    """Raises NotFound for a task that isn't there."""
    estate, standard = coverage.estate, coverage.standard
    task = estate.tasks.task(task_id)
    if task is None:
        raise NotFound(f"task {task_id[:60]}")
    platform = board.ground.platform
    family = estate.tasks.family_of(task_id)
    spoken_for = {v.shortcut for v in standard.lines if v.platform == platform and v.task != task_id}
    choices = choices_for(estate, task_id, platform, family=family is not None, without=spoken_for)
    if family is not None and all(c.kind != "free" for c in choices):  # nothing free leaves room for its kin
        choices = choices_for(estate, task_id, platform, without=spoken_for)
    names = {m: found.name for m in (family.members if family else ()) if (found := estate.tasks.task(m))}
    return TaskRowOut(
        task=task.id,
        name=task.name,
        family=[name for m, name in names.items() if m != task_id],
        lines=[
            PlatformLineOut(**line_out(v, board).model_dump(), platform=v.platform) for v in standard.lines if v.task == task_id
        ],
        choices=[
            KeyChoiceOut(
                kind=c.kind,
                shortcut=shortcut_out(c.shortcut, board),
                reasons=list(c.reasons),
                people=c.people,
                programs=list(c.programs),
                reach=c.reach,
            )
            for c in choices
        ],
        had=_had(coverage, task_id, setups),
        exceptions=[exception_out(e, coverage) for e in standard.exceptions if e.task == task_id],
    )


def _had(coverage: Coverage, task: str, setups: list[str]) -> list[HadOut]:
    found: dict[tuple[str, Had, str | None], tuple[str, list[str]]] = {}
    for strip, own in coverage.copies(setups):
        had = next((h for t, h in had_in(strip) if t == task), None)
        if had is not None:
            clash = strip.clashes.get(task)
            key = (strip.program, had, clash.identity if clash else None)
            found.setdefault(key, (strip.column.part.program.name, []))[1].extend(s.id for s in own)
    estate = coverage.estate
    names = layer_names(estate)
    rows = []
    for (program, had, clash_id), (name, setups_so) in found.items():
        board = estate.board(setups_so[0])
        rows.append(
            HadOut(
                program=program,
                program_name=name,
                state=had.state,
                keys=[shortcut_out(s, board) for s in had.shortcuts],
                layer=names.get(had.layer, ""),
                why=had.why,
                setups=setups_so,
                people=estate.people_of(estate.setups[i] for i in setups_so),
                clash=clash_id,
            )
        )
    return sorted(rows, key=lambda r: (-r.people, r.program_name))


def exception_out(one: Exempt, coverage: Coverage) -> ExceptionOut:
    programs = {i: p.name for (i, _), p in coverage.estate.programs.items()}
    return ExceptionOut(
        key=one.key,
        program=one.program,
        program_name=programs.get(one.program, one.program),
        platform=one.platform,
        layouts=list(one.layouts),
        reason=one.reason,
        owner=one.owner,
        until=one.until.isoformat() if one.until else None,
        ran_out=not one.holds(coverage.estate.today),
    )
