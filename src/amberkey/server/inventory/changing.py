"""Changing several commands at once: reset, given a task, their keys brought to another layer. Each is planned first."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, cast

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.clashes.relearning import relearned
from amberkey.core.compare.operations import JsonDocument, Operation, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.inventory.bringing import Brought, bring
from amberkey.core.inventory.resetting import Reset, ResetTo, reset, reset_profile
from amberkey.core.inventory.rows import Row, Sheet
from amberkey.core.ways.several import with_operations
from amberkey.server.estate import current_estate
from amberkey.server.inventory.sheets import rows_named, sheet_through
from amberkey.server.inventory.told import keys_out
from amberkey.server.library.documents import find, key_of, newest_of, programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import NamedOut, Schema, Words
from amberkey.server.workbench.words import ShortcutOut
from amberkey.server.workbench.would import WouldOut, would_all

router = Router(tags=["commands"])
_SHOWN = 40


class ResetIn(Schema):
    """What is reset through a lens: chosen rows by their ids, or all of a program (`program`), of a group of it, of a profile
    (`profile`). `only`: no other profile than this one is touched."""

    setup: Words
    rows: Annotated[list[Words], Field(max_length=20_000)] = []
    program: Words = ""
    group: Words | None = None
    profile: Words = ""
    to: ResetTo = "what is beneath"
    only: Words = ""


class ReturnsOut(Schema):
    """A command with its keys before and after; `layers`: whose word goes."""

    id: str
    program_name: str
    name: str
    before: list[ShortcutOut]
    after: list[ShortcutOut]
    layers: list[str]


class NotResetOut(Schema):
    name: str
    why: str


class SurprisedOut(Schema):
    """How many people would find just these commands on other keys."""

    people: int
    says: list[str]


class ResetPlanOut(Schema):
    """`count`: how many commands something is taken away of; the first 40 of them in `returns`. `unseen`: how many shortcuts
    more go that count elsewhere, as on another platform. `surprises`: whom it surprises, by what they would find changed."""

    count: int
    unseen: int
    returns: list[ReturnsOut]
    stays: list[NotResetOut]
    would: WouldOut
    surprises: list[SurprisedOut]


class BringKeysIn(Schema):
    """Commands whose keys are brought into the profile `to`, as they hold through a lens."""

    setup: Words
    rows: Annotated[list[Words], Field(max_length=2_000)]
    to: Words


class BringKeysPlanOut(Schema):
    """`count`: of how many commands something is brought; `stays`: of which nothing is, and why."""

    count: int
    stays: list[NotResetOut]
    would: WouldOut
    surprises: list[SurprisedOut]


class GiveTaskIn(Schema):
    """Commands that are to do a task; null: none."""

    setup: Words
    rows: Annotated[list[Words], Field(max_length=2_000)]
    task: Words | None


class RowsIn(Schema):
    """Some rows of the sheet."""

    setup: Words
    rows: Annotated[list[Words], Field(max_length=2_000)]


class TasksOfRowsOut(Schema):
    """The tasks of some commands, each once, in the order of the rows; `stays`: the first of those that have none."""

    tasks: list[NamedOut]
    stays: list[NotResetOut]


@router.post("/commands/tasks", response=TasksOfRowsOut)
def tasks_of_rows(request: HttpRequest, given: RowsIn) -> TasksOfRowsOut:
    """Which tasks some commands do, so that they can be made one family."""
    sheet = sheet_through(given.setup)
    tasks: dict[str, str] = {}
    stays: list[NotResetOut] = []
    for row in rows_named(sheet, given.rows):
        task = sheet.task(row.command.task)
        if task is not None:
            tasks[task.id] = task.name
        elif len(stays) < _SHOWN:
            stays.append(NotResetOut(name=f"{row.command.name} in {row.program.name}", why="it has no task"))
    return TasksOfRowsOut(tasks=[NamedOut(id=i, name=n) for i, n in tasks.items()], stays=stays)


@router.post("/commands/reset/plan", response=ResetPlanOut, auth=By(Role.EDITOR))
def plan_reset(request: HttpRequest, given: ResetIn) -> ResetPlanOut:
    """What resetting commands would give back, what that clashes with, whom it surprises; saves nothing."""
    sheet, found = _reset(given)
    estate = current_estate()
    names = {p.id: p.name for p in estate.profiles.values()}
    return ResetPlanOut(
        count=len(found.returns),
        unseen=found.unseen,
        returns=[
            ReturnsOut(
                id=r.row.id,
                program_name=r.row.program.name,
                name=r.row.command.name,
                before=keys_out(r.before, r.row, sheet),
                after=keys_out(r.after, r.row, sheet),
                layers=[names[layer] for layer in r.layers],
            )
            for r in found.returns[:_SHOWN]
        ],
        stays=[NotResetOut(name=f"{row.command.name} in {row.program.name}", why=why) for row, why in found.stays[:_SHOWN]],
        would=would_all(found.operations),
        surprises=_surprises(found.operations),
    )


def _surprises(operations: Mapping[str, Sequence[Operation]]) -> list[SurprisedOut]:
    """Whom operations on profiles surprise, those first who are most."""
    estate = current_estate()
    after = with_operations(estate, operations) if operations else estate
    found = [
        SurprisedOut(
            people=estate.people_of(setups),
            says=[f"{r.command} in {r.program}: {r.before or 'none'}, then {r.after or 'none'}" for r in rows[:_SHOWN]],
        )
        for rows, setups in relearned(estate, after)
    ]
    return sorted(found, key=lambda s: -s.people)


@router.post("/commands/bring/plan", response=BringKeysPlanOut, auth=By(Role.EDITOR))
def plan_bringing(request: HttpRequest, given: BringKeysIn) -> BringKeysPlanOut:
    """What bringing what holds for commands into another layer would do; saves nothing."""
    found = _brought(given)
    return BringKeysPlanOut(
        count=len(found.rows),
        stays=[NotResetOut(name=f"{row.command.name} in {row.program.name}", why=why) for row, why in found.stays[:_SHOWN]],
        would=would_all(found.operations),
        surprises=_surprises(found.operations),
    )


@router.post("/commands/bring", response=ChangeOut, auth=By(Role.EDITOR))
def bring_commands(request: HttpRequest, given: BringKeysIn) -> ChangeOut:
    """Bring what holds for commands into another layer, as one change."""
    actor, found = actor_of(request), _brought(given)
    if not found.rows:
        raise Problem(409, "There is nothing to bring there.", f"{found.stays[0][1].capitalize()}.")
    what = "1 command" if len(found.rows) == 1 else f"{len(found.rows)} commands"
    title = f"Brought the keys of {what} into {current_estate().profiles[given.to].name}"
    done = change(actor, title, {f"profile/{layer}": operations for layer, operations in found.operations.items()})
    return ChangeOut(id=done.id, title=done.title)


def _brought(given: BringKeysIn) -> Brought:
    sheet, estate = sheet_through(given.setup), current_estate()
    if given.to not in estate.profiles or not sees_document(f"profile/{given.to}"):
        raise NotFound(f"profile {given.to[:60]}")
    return bring(estate, rows_named(sheet, given.rows), given.to)


@router.post("/commands/reset", response=ChangeOut, auth=By(Role.EDITOR))
def reset_commands(request: HttpRequest, given: ResetIn) -> ChangeOut:
    """Reset commands, as one change that can be undone."""
    actor = actor_of(request)
    _, found = _reset(given)
    if not found.operations:
        why = f"{found.stays[0][1]}." if found.stays else "They have their default keys."
        raise Problem(409, "There is nothing to reset.", why)
    title = f"Reset {_what(found, given)} to {given.to}"
    done = change(actor, title, {f"profile/{layer}": operations for layer, operations in found.operations.items()})
    return ChangeOut(id=done.id, title=done.title)


@router.post("/commands/task", response=ChangeOut, auth=By(Role.EDITOR))
def give_task(request: HttpRequest, given: GiveTaskIn) -> ChangeOut:
    """Give commands a task, or none, in every version of their programs that has them; one change."""
    actor = actor_of(request)
    sheet = sheet_through(given.setup)
    task = sheet.task(given.task)
    if given.task is not None and task is None:
        raise NotFound(f"task {given.task[:60]}")
    rows = rows_named(sheet, given.rows)
    own = next((r for r in rows if r.program.kind == "system"), None)
    if own is not None:
        raise Problem(409, f"{own.program.name} isn't asked for tasks.", "Tasks are for programs.", "Leave its commands out.")
    changes = dict(_with_task(rows, given.task))
    what = f"{rows[0].command.name} in {rows[0].program.name}" if len(rows) == 1 else f"{len(rows)} commands"
    title = f"Gave {what} the task {task.name}" if task else f"Took the task from {what}"
    done = change(actor, title, changes)
    return ChangeOut(id=done.id, title=done.title)


def _with_task(rows: Sequence[Row], task: str | None) -> Iterator[tuple[str, list[Operation]]]:
    wanted: dict[str, set[str]] = {}
    for row in rows:
        wanted.setdefault(row.program.id, set()).add(row.command.id)
    for program in programs_by_key().values():
        commands = [c for c in program.commands if c.id in wanted.get(program.id, ())]
        if not commands:
            continue
        document = cast(JsonDocument, newest_of(find(key_of(program))).body.json())
        items = {cast(str, c["id"]): c for c in cast(list[dict[str, Json]], document.get("commands", []))}
        operations = []
        for command in commands:
            item = {k: v for k, v in items[command.id].items() if k != "task"}
            after: dict[str, Json] = {**item, "task": task} if task is not None else item
            operations.append(set_item(document, "commands", command.id, after))
        found = [o for o in operations if o is not None]
        if found:
            yield key_of(program), found


def _reset(given: ResetIn) -> tuple[Sheet, Reset]:
    sheet = sheet_through(given.setup)
    estate = current_estate()
    for profile in filter(None, (given.profile, given.only)):
        if profile not in estate.profiles:
            raise NotFound(f"profile {profile[:60]}")
    rows = _rows(sheet, given)
    if given.profile and not given.rows and not given.program:
        return sheet, reset_profile(estate, rows, given.profile)
    only = {p for p in (given.profile, given.only) if p}
    return sheet, reset(estate, rows, given.to, only or None)


def _what(found: Reset, given: ResetIn) -> str:
    if given.profile and not given.rows and not given.program:
        return f"all of {current_estate().profiles[given.profile].name}"
    if len(found.returns) > 1:
        return f"{len(found.returns)} commands"
    row = found.returns[0].row
    return f"{row.command.name} in {row.program.name}"


def _rows(sheet: Sheet, given: ResetIn) -> Sequence[Row]:
    if given.rows:
        return rows_named(sheet, given.rows)
    if given.program:
        rows = [r for r in sheet.rows if r.program.id == given.program and given.group in (None, r.command.group)]
        if not rows:
            raise NotFound(f"program {given.program[:60]}" + (f", group {given.group[:60]}" if given.group else ""))
        return rows
    if given.profile:
        return [r for r in sheet.rows if any(s.layer == given.profile for s in (r.effective.now, *r.effective.hid))]
    raise Problem(400, "Nothing is named to reset.", cure="Choose commands, a program or a profile.")
