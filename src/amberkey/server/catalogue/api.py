"""Lists of commands: in by upload or pasting, understood anew as often as wanted, taken; and commands to tasks."""

from typing import Annotated, Any, Literal, cast
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile
from pydantic import Field as Within

from amberkey.core.catalogue.headings import Field, match_headings
from amberkey.core.catalogue.listing import FoundBy, What
from amberkey.core.catalogue.proposing import Proposer
from amberkey.core.documents.errors import DocumentError
from amberkey.core.exchange.as_sheets.commands import command_heads, command_rows
from amberkey.core.keys.platform import Platform
from amberkey.core.programs.model import Program
from amberkey.server.catalogue.models import CommandList, RefusedTask
from amberkey.server.catalogue.verbs.lists import ask, begin, take_it
from amberkey.server.catalogue.verbs.proposals import give_tasks, refuse
from amberkey.server.catalogue.working import Asked, matching_of, names_of, platforms_of, program_of, tables_of
from amberkey.server.estate import current_estate, language_of
from amberkey.server.library.documents import digests, load, parsed, programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.schema import FaultOut, Schema
from amberkey.server.sheets import sheet_response

router = Router(tags=["catalogue"])
MOST_AT_ONCE = 200
_Pasted = Annotated[str, Within(max_length=8 * 1024 * 1024)]


class PastedIn(Schema):
    """What the clipboard had: as text, and as HTML where it had that."""

    text: _Pasted
    html: _Pasted = ""


class CommandListOut(Schema):
    """A list on its way. `columns`: what each column is, by its place; `heads`: what stands above it; `says`: what was guessed
    of the headings, or why the list ended; `keys_count_on`: where keys count of which nothing says where, of the platforms
    `keys_may_count_on`; `told`: what taking it would do; `counts`: rows by what they are."""

    id: str
    name: str
    state: Literal["opening", "checking", "checked", "taking", "taken", "failed"]
    done: int
    total: int
    tables: list[str]
    asked: Asked
    head: int
    heads: list[str]
    columns: dict[int, Field]
    keys_count_on: list[Platform]
    keys_may_count_on: list[Platform]
    says: list[str]
    told: list[str]
    counts: dict[str, int]
    change: int | None
    program: str


class ListedCellOut(Schema):
    text: str
    read: str
    state: Literal["sure", "guessed", "none", "unread"]
    says: str


class ListedDifferenceOut(Schema):
    """A field that differs: what it is in the program, what the list says, and whether that is taken."""

    field: str
    now: str
    then: str
    taken: bool


class ListedRowOut(Schema):
    row: int
    what: What
    name: str
    command: str
    found_by: FoundBy
    guessed: bool
    cells: dict[str, ListedCellOut]
    differs: list[ListedDifferenceOut]
    faults: list[FaultOut]


class ListedRowsOut(Schema):
    """Some rows of those that are asked for, from `start` on, and how many there are."""

    total: int
    start: int
    rows: list[ListedRowOut]


class CandidateOut(Schema):
    """A task that a command may do; `score` from 0 to 1; `beside`: the command that does it already."""

    task: str
    name: str
    score: float
    reasons: list[str]
    beside: str


class ProposalOut(Schema):
    """`task`: the one that the matching gives the command; none where it gives none. `sure`: it can be taken unseen."""

    command: str
    name: str
    group: str
    task: str | None
    sure: bool
    candidates: list[CandidateOut]


class GiveTasksIn(Schema):
    """Tasks by command, null takes one away; `made_of`: commands after which a task is made."""

    tasks: Annotated[dict[str, str | None], Within(max_length=5_000)] = {}
    made_of: Annotated[list[str], Within(max_length=5_000)] = []


class RefuseIn(Schema):
    """`refused`: no is said to a proposal; without it that is taken back."""

    command: Annotated[str, Within(max_length=80)]
    task: Annotated[str, Within(max_length=80)]
    refused: bool = True


@router.post("/command-lists", response=CommandListOut, auth=By(Role.EDITOR))
def upload_commands(request: HttpRequest, file: File[UploadedFile]) -> CommandListOut:
    """Bring in a file with a table of commands. Nothing of any program is changed yet."""
    return _out(begin(actor_of(request), file.name or "a file", file.read()))


@router.post("/command-lists/pasted", response=CommandListOut, auth=By(Role.EDITOR))
def paste_commands(request: HttpRequest, given: PastedIn) -> CommandListOut:
    """Bring in a table from the clipboard."""
    data = (given.html or given.text).encode()
    return _out(begin(actor_of(request), "the clipboard", data, text=given.text, html=given.html))


@router.get("/command-lists/{list_id}", response=CommandListOut, auth=By(Role.EDITOR))
def see_commands(request: HttpRequest, list_id: UUID) -> CommandListOut:
    return _out(_found(list_id))


@router.put("/command-lists/{list_id}", response=CommandListOut, auth=By(Role.EDITOR))
def check_commands(request: HttpRequest, list_id: UUID, given: Asked) -> CommandListOut:
    """Understand the list in another way: another table, program, columns, or with corrections."""
    return _out(ask(actor_of(request), list_id, given))


@router.get("/command-lists/{list_id}/rows", response=ListedRowsOut, auth=By(Role.EDITOR))
def rows_of_commands(
    request: HttpRequest,
    list_id: UUID,
    which: Literal["all", "guessed", "adds", "changes", "same", "contradicts", "unread", "heading"] = "all",
    start: Annotated[int, Within(ge=0, le=100_000)] = 0,
    count: Annotated[int, Within(ge=1, le=MOST_AT_ONCE)] = 100,
) -> ListedRowsOut:
    """The rows of a list that was checked, with what was understood of each cell."""
    rows = _result(_found(list_id)).get("rows", [])
    if which != "all":
        rows = [r for r in rows if (r["guessed"] and r["what"] != "unread" if which == "guessed" else r["what"] == which)]
    return ListedRowsOut(total=len(rows), start=start, rows=[ListedRowOut(**r) for r in rows[start : start + count]])


@router.post("/command-lists/{list_id}/take", response=CommandListOut, auth=By(Role.EDITOR))
def take_commands(request: HttpRequest, list_id: UUID) -> CommandListOut:
    """Take the good rows, as one change that can be undone."""
    return _out(take_it(actor_of(request), list_id))


@router.get("/catalogue/{program}/{version}/proposals", response=list[ProposalOut])
def proposals(request: HttpRequest, program: str, version: str) -> list[ProposalOut]:
    """For each command without a task the one that it may do, with reasons."""
    value = _program(program, version)
    tasks = current_estate().tasks
    names = {t.id: t.name for t in tasks.tasks}
    others = [p for p in programs_by_key().values() if p.id != program]
    refused = RefusedTask.objects.filter(program=program).values_list("program", "command", "task")
    by_id = {c.id: c for c in value.commands}
    return [
        ProposalOut(
            command=one.command,
            name=by_id[one.command].name,
            group=by_id[one.command].group,
            task=one.task,
            sure=one.sure,
            candidates=[
                CandidateOut(task=c.task, name=names[c.task], score=c.score, reasons=list(c.reasons), beside=c.beside)
                for c in one.candidates
            ],
        )
        for one in Proposer(tasks, others, list(refused)).propose(value)
    ]


@router.get("/catalogue/{program}/{version}/commands.{form}", response={200: None})
def command_sheet(request: HttpRequest, program: str, version: str, form: str, setup: str = "") -> HttpResponse:
    """The commands of a program as CSV, ODS or XLSX; the same sheet as a list of commands changes nothing."""
    found = load(f"program/{program}@{version}", Program)
    rows = command_rows(found, current_estate().tasks, language_of(setup))
    return sheet_response(form, f"{found.id}-{found.version}-commands", command_heads(found), rows, f"{found.name} commands")


@router.post("/catalogue/{program}/{version}/tasks", response=ChangeOut, auth=By(Role.EDITOR))
def give_commands_tasks(request: HttpRequest, program: str, version: str, given: GiveTasksIn) -> ChangeOut:
    """Give commands their tasks, and make tasks of commands: one change that can be undone."""
    done = give_tasks(actor_of(request), _program(program, version), given.tasks, given.made_of)
    return ChangeOut(id=done.id, title=done.title)


@router.post("/catalogue/{program}/{version}/refusals", response=RefuseIn, auth=By(Role.EDITOR))
def refuse_task(request: HttpRequest, program: str, version: str, given: RefuseIn) -> RefuseIn:
    """Say that a command doesn't do a task, so that it isn't proposed again; or take that back."""
    refuse(actor_of(request), _program(program, version), given.command, given.task, refused=given.refused)
    return given


def _found(list_id: UUID) -> CommandList:
    found = CommandList.objects.select_related("result", "tables").filter(id=list_id).first()
    if found is None:
        raise NotFound("such list")
    return found


def _result(found: CommandList) -> dict[str, Any]:
    return cast(dict[str, Any], found.result.json()) if found.result else {}


def _program(program: str, version: str) -> Program:
    digest = digests().get(f"program/{program}@{version}")
    value = parsed(digest) if digest else None
    if not isinstance(value, Program):
        raise NotFound(f"program {program[:60]} {version[:40]}")
    return value


def _platforms(asked: Asked) -> tuple[list[Platform], list[Platform]]:
    """Where keys of no platform count, and where they may; nowhere where the program is gone since, or made of
    this very list."""
    try:
        program, _ = program_of(asked)
    except (NotFound, DocumentError):
        return [], []
    return platforms_of(asked, program), list(program.platforms)


def _out(found: CommandList) -> CommandListOut:
    asked = Asked.model_validate(found.asked)
    count_on, may_count_on = _platforms(asked)
    tables, result = tables_of(found), _result(found)
    table = tables[asked.table] if asked.table < len(tables) else None
    matching = matching_of(asked, table) if table else None
    head = next((r for r in table.rows if r.number == matching.head), None) if table and matching else None
    guessed = match_headings(table).says if table and asked.columns is None else ()
    return CommandListOut(
        id=str(found.id),
        name=found.name,
        state=cast(Any, found.state),
        done=found.done,
        total=found.total,
        tables=names_of(tables),
        asked=asked,
        head=matching.head if matching else 0,
        heads=[*(head.cells if head else ()), *[""] * ((table.width if table else 0) - len(head.cells if head else ()))],
        columns=dict(matching.columns) if matching else {},
        keys_count_on=count_on,
        keys_may_count_on=may_count_on,
        says=[found.says] if found.says else list(guessed),
        told=result.get("told", []),
        counts=result.get("counts", {}),
        change=found.change_set_id,
        program=found.program,
    )
