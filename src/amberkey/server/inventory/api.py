"""Looking through all commands of all programs at once."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router
from pydantic import Field

from amberkey.core.inventory.choosing import Asked, chosen, counts
from amberkey.core.inventory.rows import Order, Sheet, State
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.programs.model import CommandKind, Kind
from amberkey.server.estate import current_estate, layer_names
from amberkey.server.inventory import changing, life, lookup, upgrades
from amberkey.server.inventory.sheets import rows_named, sheet_through
from amberkey.server.inventory.told import ShownCommandOut, layer_words, row_out, shown_out
from amberkey.server.schema import NamedOut, Schema, Words
from amberkey.server.sheets import sheet_response
from amberkey.server.workbench.keeping import kept
from amberkey.server.workbench.programs import told_habits

router = Router(tags=["commands"])
for part in (life, changing, upgrades, lookup):
    router.add_router("", part.router)
_MOST = 80
"""Rows of one answer."""


class CommandsIn(Schema):
    """What rows have to be, all of it at once; empty for what doesn't matter. `setup`: the lens, `all` for every setup in use.
    `keys`: a press that one of their keys is or begins with. `program`, `closed`: ids with blanks between them."""

    setup: Words
    words: Words = ""
    program: Words = ""
    state: State | None = None
    scope: Words = ""
    kind: CommandKind | None = None
    group: Words = ""
    task: Words = ""
    layer: Words = ""
    keys: Words = ""
    order: Order | None = None
    by_groups: bool = False
    closed: Annotated[str, Field(max_length=8000)] = ""


class OneProgramOut(NamedOut):
    """The program that is looked at alone."""

    version: str
    kind: Kind
    description: str
    habits: list[str]


class CommandsOut(Schema):
    """A piece of the rows that fit. `total`: all commands of the programs looked at; `found`: those that fit; `lines`: rows and
    heads together; `at`: the place of the first of them here; `place`: that of the row that was asked for by its id, if it is
    among them. `order`: that in which they are."""

    total: int
    programs: int
    found: int
    lines: int
    at: int
    place: int | None
    order: Order
    changed: int
    program: OneProgramOut | None
    shown: list[ShownCommandOut]


class CountedOut(NamedOut):
    rows: int


class ChoicesOut(Schema):
    """What rows can be asked for by, each with how many rows there are of it."""

    programs: list[CountedOut]
    states: list[CountedOut]
    scopes: list[CountedOut]
    kinds: list[CountedOut]
    groups: list[CountedOut]
    tasks: list[CountedOut]
    layers: list[CountedOut]


class ChosenRowsIn(Schema):
    """Rows by their ids, of the sheet through a lens."""

    setup: Words
    rows: Annotated[list[Words], Field(max_length=20_000)]


@router.get("/commands", response=CommandsOut)
@kept
def commands(
    request: HttpRequest,
    asked: Query[CommandsIn],
    at: Annotated[int, Field(ge=0, le=1_000_000)] = 0,
    count: int = _MOST,
    row: Words = "",
) -> CommandsOut:
    """The commands that fit, a piece of them at a time. `row`: one of which the place among them is told."""
    sheet = sheet_through(asked.setup)
    wanted = _asked(sheet, asked)
    shown = chosen(sheet, wanted)
    names = layer_words(layer_names(current_estate()))
    return CommandsOut(
        total=len(sheet.own),
        programs=len(sheet.programs.keys() - sheet.systems),
        found=shown.rows,
        lines=len(shown),
        at=at,
        place=shown.place_of(row) if row else None,
        order=wanted.order,
        program=_one_program(sheet, wanted),
        changed=sum(sheet.rows[n].program.id not in sheet.systems for n in sheet.in_state("changed since the release")),
        shown=[shown_out(s, sheet, names, sheet.programs) for s in shown[at : at + max(1, min(count, _MOST))]],
    )


@router.get("/commands/choices", response=ChoicesOut)
@kept
def command_choices(request: HttpRequest, setup: Words) -> ChoicesOut:
    """By what the commands through a lens can be asked for."""
    sheet = sheet_through(setup)
    found = counts(sheet.rows)
    programs = {r.program.id: r.program.name for r in sheet.rows}
    layers = layer_words(layer_names(current_estate()))
    tasks = {t.id: t.name for t in sheet.tasks.tasks}

    def choices(what: str, names: dict[str, str]) -> list[CountedOut]:
        return [CountedOut(id=i, name=names.get(i, i), rows=n) for i, n in found[what].items()]

    by_name = {what: sorted(choices(what, {}), key=lambda c: c.name.casefold()) for what in ("state", "scope", "kind", "group")}
    return ChoicesOut(
        programs=choices("program", programs),
        states=by_name["state"],
        scopes=by_name["scope"],
        kinds=by_name["kind"],
        groups=by_name["group"],
        tasks=sorted(choices("task", tasks), key=lambda c: c.name.casefold()),
        layers=choices("layer", layers),
    )


@router.get("/commands/ids", response=list[str])
def command_ids(request: HttpRequest, asked: Query[CommandsIn]) -> list[str]:
    """The ids of all rows that fit, so that they can be chosen together."""
    sheet = sheet_through(asked.setup)
    return [s.row.id for s in chosen(sheet, _asked(sheet, asked)) if s.row is not None]


@router.post("/commands/list.{form}", response={200: None})
def command_list(request: HttpRequest, form: str, given: ChosenRowsIn) -> HttpResponse:
    """Chosen commands as a list: CSV, ODS or XLSX."""
    sheet = sheet_through(given.setup)
    names = layer_words(layer_names(current_estate()))
    heads = ("Keys", "Command", "Program", "Version", "Scope", "Group", "Task", "Set by", "People", "States", "Command id")
    rows = []
    for row in rows_named(sheet, given.rows):
        out = row_out(row, sheet, names)
        keys = " or ".join(k.words for k in out.keys)
        place = (out.program_name, out.version, out.scope_name, out.group, out.task_name, out.layers[-1], str(out.people))
        rows.append((keys, out.name, *place, ", ".join(out.states), out.command))
    return sheet_response(form, "commands", heads, rows)


def _asked(sheet: Sheet, given: CommandsIn) -> Asked:
    words = given.words.strip()
    return Asked(
        words=words,
        programs=tuple(given.program.split()),
        state=given.state,
        scope=given.scope,
        kind=given.kind,
        group=given.group,
        task=given.task,
        layer=given.layer,
        ways=sheet.ways_of(read_shortcut(given.keys)) if given.keys.strip() else None,
        order=given.order or ("best first" if words and not given.by_groups else "program"),
        by_groups=given.by_groups,
        closed=frozenset(given.closed.split("|")),
    )


def _one_program(sheet: Sheet, asked: Asked) -> OneProgramOut | None:
    row = next((r for r in sheet.rows if asked.programs == (r.program.id,)), None)
    if row is None:
        return None
    one = row.program
    return OneProgramOut(
        id=one.id,
        name=one.name,
        version=one.version,
        kind=one.kind,
        description=one.description,
        habits=told_habits(one, sheet.boards[row.setup]),
    )
