"""Lists of people, machines and uses: out as sheets, and in by upload, matching, check and taking."""

from typing import Annotated, Any, Literal, cast
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile
from pydantic import Field

from amberkey.core.exchange.lists.columns import COLUMNS, LIST_KINDS, ListKind
from amberkey.core.exchange.lists.writing import heads_of, rows_of
from amberkey.server.estate import current_organisation
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.verbs.lists import begin, check, take
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.schema import FaultOut, Schema
from amberkey.server.sheets import sheet_response

router = Router(tags=["organisation"])


class ColumnOut(Schema):
    id: str
    title: str
    says: str
    needed: bool


ListState = Literal["opening", "new", "checking", "checked", "taking", "taken", "failed"]


class ListOut(Schema):
    """An import on its way. `matching`: the place of each column among `heads`; `told`: what taking it would do; `guessed`:
    what was made of cells that say it in an inventory's words."""

    id: str
    kind: ListKind
    name: str
    heads: list[str]
    first: list[list[str]]
    columns: list[ColumnOut]
    matching: dict[str, int]
    state: ListState
    done: int
    total: int
    told: list[str]
    faults: list[FaultOut]
    guessed: list[FaultOut]
    bad: int
    good: int
    says: str
    change: int | None


class MatchingIn(Schema):
    matching: dict[str, Annotated[int, Field(ge=0, le=10_000)]]


class TakeIn(Schema):
    only_good: bool = False


def _kind(kind: str) -> ListKind:
    if kind not in LIST_KINDS:
        raise NotFound(f"list of {kind[:40]}")
    return kind


def found_or_404(import_id: UUID) -> ListImport:
    found = ListImport.objects.select_related("result").filter(id=import_id).first()
    if found is None:
        raise NotFound("such import")
    return found


@router.get("/organisation/lists/{kind}.{form}", response={200: None})
def write_list(request: HttpRequest, kind: str, form: str, names: bool = True) -> HttpResponse:
    """People, machines or uses as CSV, ODS or XLSX; what is read back unchanged changes nothing. Without `names` people stand
    there by their ids alone; the name of the file says which."""
    asked = _kind(kind)
    organisation = current_organisation()
    rows, heads = rows_of(asked, organisation, names=names), heads_of(asked, names=names)
    called = f"{asked}-{'with' if names else 'without'}-names" if asked == "people" else asked
    title = called.replace("-", " ").capitalize()
    return sheet_response(form, called, heads, rows, title)


@router.post("/organisation/lists/{kind}", response=ListOut, auth=By(Role.EDITOR))
def upload_list(request: HttpRequest, kind: str, file: File[UploadedFile]) -> ListOut:
    """Bring in a sheet: its headings are matched by guess, nothing is changed yet."""
    return _out(begin(actor_of(request), _kind(kind), file.name or "sheet", file.read()))


@router.get("/organisation/imports/{import_id}", response=ListOut, auth=By(Role.EDITOR))
def see_import(request: HttpRequest, import_id: UUID) -> ListOut:
    return _out(found_or_404(import_id))


@router.post("/organisation/imports/{import_id}/check", response=ListOut, auth=By(Role.EDITOR))
def check_import(request: HttpRequest, import_id: UUID, given: MatchingIn) -> ListOut:
    """Check every row with this matching, as a job."""
    return _out(check(actor_of(request), import_id, given.matching))


@router.post("/organisation/imports/{import_id}/take", response=ListOut, auth=By(Role.EDITOR))
def take_import(request: HttpRequest, import_id: UUID, given: TakeIn) -> ListOut:
    """Take what was checked, as a job; with faults only if `only_good` says so."""
    return _out(take(actor_of(request), import_id, only_good=given.only_good))


def _out(found: ListImport) -> ListOut:
    kind = _kind(found.kind)
    result: dict[str, Any] = cast(dict[str, Any], found.result.json()) if found.result else {}
    return ListOut(
        id=str(found.id),
        kind=kind,
        name=found.name,
        heads=found.heads,
        first=found.first,
        columns=[ColumnOut(id=c.id, title=c.title, says=c.says, needed=c.needed) for c in COLUMNS[kind]],
        matching=found.matching,
        state=cast(ListState, found.state),
        done=found.done,
        total=found.total,
        told=result.get("told", []),
        faults=[FaultOut(**f) for f in result.get("faults", [])[:200]],
        guessed=[FaultOut(**f) for f in result.get("guessed", [])[:200]],
        bad=result.get("bad", 0),
        good=result.get("good", 0),
        says=found.says,
        change=found.change_set_id,
    )
