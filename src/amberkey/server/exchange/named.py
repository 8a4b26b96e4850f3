"""Names of tasks and commands in the languages of the organisation's people, out as a sheet and in again."""

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile

from amberkey.core.documents.field import LANGUAGES
from amberkey.core.exchange.as_sheets.names import HEADS, Named, name_rows, names_from
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.sheets import read_sheet, too_large
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import Tasks
from amberkey.server.estate import TASKS, current_estate
from amberkey.server.library.documents import known_programs, programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.verbs.become import become
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema
from amberkey.server.sheets import WHILE_WAITING, sheet_response

router = Router(tags=["exchange"])
_SHOWN = 200


class RenamedOut(Schema):
    """A name that becomes another one; `before` or `after` is empty where there is none. `of`: the task, or the program with
    its command; `language` in words."""

    of: str
    language: str
    before: str
    after: str


class NamesComingOut(Schema):
    """What a sheet of names would change: the first of `count` names, of how many `things`."""

    changes: list[RenamedOut]
    count: int
    things: int


@router.get("/names.{form}", response={200: None})
def names_sheet(request: HttpRequest, form: str, program: str = "") -> HttpResponse:
    """The names of all tasks and commands as CSV, ODS or XLSX, or of one program's commands; what comes back unchanged changes
    nothing. A program has the commands of its newest version, and the names go to all that have them."""
    known = known_programs()
    if program and program not in known:
        raise NotFound(f"program {program[:60]}")
    tasks = () if program else current_estate().tasks.tasks
    programs = [known[program]] if program else sorted(known.values(), key=lambda p: p.name.casefold())
    shipped = [p for p in programs if program or p.kind != "system"]
    return sheet_response(form, f"{program}-names" if program else "names", HEADS, name_rows(tasks, shipped), "Names")


@router.post("/names/preview", response=NamesComingOut)
def preview_names(request: HttpRequest, file: File[UploadedFile]) -> NamesComingOut:
    """What bringing in a sheet of names would change. Nothing is written."""
    _, found = _coming(file)
    told = [RenamedOut(of=c.of, language=LANGUAGES[c.language], before=c.before, after=c.after) for c in found.changes[:_SHOWN]]
    return NamesComingOut(changes=told, count=len(found.changes), things=len({c.of for c in found.changes}))


@router.post("/names", response=ChangeOut, auth=By(Role.EDITOR))
def take_names(request: HttpRequest, file: File[UploadedFile]) -> ChangeOut:
    """Give tasks and commands the names of a sheet: one change that can be undone."""
    programs, found = _coming(file)
    if not found.changes:
        raise Problem(409, "Nothing would change.", "All names of the sheet are those that there are.", "Change some in it.")
    key_of = {(p.id, p.version): key for key, p in programs.items()}
    wanted: dict[str, Program | Tasks] = {key_of[p.id, p.version]: p for p in found.programs}
    if found.tasks != current_estate().tasks:
        wanted[TASKS] = found.tasks
    count = len(found.changes)
    done = become(actor_of(request), f"{count} name{'s' if count != 1 else ''} from a sheet", wanted)
    return ChangeOut(id=done.id, title=done.title)


def _coming(file: UploadedFile) -> tuple[dict[str, Program], Named]:
    """The programs as they are, by key, and what the sheet comes to. Raises SheetError."""
    if (file.size or 0) > WHILE_WAITING.packed:
        raise SheetError([too_large(file.size or 0, WHILE_WAITING)])
    programs = programs_by_key()
    sheet = read_sheet(file.read(), WHILE_WAITING)
    return programs, names_from(sheet, current_estate().tasks, programs.values())
