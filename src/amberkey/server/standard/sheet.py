"""The sheet of tasks by programs through a lens, one task of it in full, and the whole as sheets."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from amberkey.core.exchange.as_sheets.found import COVERAGE_HEADS, coverage_rows
from amberkey.core.exchange.as_sheets.standard import HEADS, standard_rows
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.standard.judging import STATE_WORDS
from amberkey.core.standard.looking import tasks_on
from amberkey.core.standard.model import Standard
from amberkey.server.estate import (
    STANDARD,
    board_of,
    current_derived,
    current_estate,
    current_organisation,
    language_of,
)
from amberkey.server.library.documents import digests, known_programs
from amberkey.server.library.models import Document
from amberkey.server.schema import Schema, as_json
from amberkey.server.sheets import sheet_response
from amberkey.server.standard.matrix import (
    PointOut,
    Shown,
    StandardOut,
    WaitingOut,
    count_of,
    count_out,
    departments_of,
    families_of,
    programs_of,
    states_of,
    tasks_of,
)
from amberkey.server.standard.models import CoveragePoint
from amberkey.server.standard.rows import TaskRowOut, row_out
from amberkey.server.standard.state import compiled, current_coverage, current_layer, setups_seen


class OnKeysOut(Schema):
    """The ids of the tasks that some keys have to do with."""

    tasks: list[str]


router = Router(tags=["standard"])
POINTS = 40


@router.get("/standard", response=StandardOut)
def standard(
    request: HttpRequest, setup: str, everywhere: bool = False, layout: str = "", department: str = ""
) -> HttpResponse:
    """Tasks by programs through a lens; in all setups of its platform, or of one layout or department of these."""
    coverage = current_coverage()
    estate, value = coverage.estate, coverage.standard
    board = board_of(estate, setup)
    every = _seen(setup, everywhere, "", "")
    seen = _seen(setup, everywhere, layout, department)
    if layout and seen:
        board = estate.board(seen[0])
    platform = board.ground.platform
    names = {d.id: d.name for d in current_organisation().departments}
    return as_json(
        StandardOut(
            name=value.name,
            digest=digests().get(STANDARD, ""),
            platform=platform,
            layouts=sorted({estate.setups[i].layout for i in every}),
            programs=programs_of(coverage, seen),
            tasks=tasks_of(coverage, seen, board),
            families=families_of(value, estate.tasks, platform),
            departments=departments_of(coverage, current_derived(), names, every),
            states=states_of(coverage, seen),
            whole=count_out(coverage.whole(seen)),
            people=estate.people_of(estate.setups[i] for i in seen),
            points=_points(),
            waiting=_waiting(value),
        )
    )


def _points() -> list[PointOut]:
    rows = CoveragePoint.objects.select_related("revision").order_by("-id")[:POINTS]
    return [
        PointOut(
            revision=r.revision.number,
            at=r.at,
            released=r.released,
            covered=count_of(r.agree, r.could, r.people_agree, r.people_could),
        )
        for r in reversed(rows)
    ]


def _waiting(value: Standard) -> WaitingOut:
    document = Document.objects.select_related("newest", "released").filter(key=STANDARD).first()
    if document is None or document.newest is None:
        return WaitingOut(entries=0, revision=0, released=None)
    layer, now = compiled(value, document.newest.digest), current_layer(current_estate())
    here = {e.key: e for e in now.entries} if now else {}
    there = {e.key: e for e in layer.entries}
    differing = sum(here.get(k) != there.get(k) for k in here.keys() | there.keys())
    released = document.released.number if document.released else None
    return WaitingOut(entries=differing, revision=document.newest.number, released=released)


@router.get("/standard/tasks/{task}", response=TaskRowOut)
def row(
    request: HttpRequest, task: str, setup: str, everywhere: bool = False, layout: str = "", department: str = ""
) -> TaskRowOut:
    """One task in full: its lines on all platforms, who has what, and what it could have."""
    seen = _seen(setup, everywhere, layout, department)
    return row_out(current_coverage(), task, seen, board_of(current_estate(), setup))


@router.get("/standard/keys", response=OnKeysOut)
def on_keys(
    request: HttpRequest, pressed: str, setup: str, everywhere: bool = False, layout: str = "", department: str = ""
) -> OnKeysOut:
    """The tasks that have these keys in the standard or in a program, judged by stroke in every setup that is looked at."""
    seen = _seen(setup, everywhere, layout, department)
    return OnKeysOut(tasks=sorted(tasks_on(current_coverage(), seen, read_shortcut(pressed))))


@router.get("/standard.{form}", response={200: None})
def matrix(
    request: HttpRequest, form: str, setup: str, everywhere: bool = False, layout: str = "", department: str = ""
) -> HttpResponse:
    """The matrix through a lens as CSV, ODS or XLSX: a row a task, a column a program."""
    coverage = current_coverage()
    seen = _seen(setup, everywhere, layout, department)
    board = board_of(coverage.estate, seen[0] if layout and seen else setup)
    programs, tasks = programs_of(coverage, seen), tasks_of(coverage, seen, board)
    rows = []
    for task in tasks:
        cells = {c.program: c for c in task.cells}
        told = [_told(cells[p.id].state, [k.words for k in cells[p.id].keys]) if p.id in cells else "" for p in programs]
        rows.append([task.name, task.line.shortcut.words if task.line else "", *told])
    return sheet_response(form, "tasks-by-programs", ["Task", "Standard", *(p.name for p in programs)], rows)


@router.get("/standard/lines.{form}", response={200: None})
def lines(request: HttpRequest, form: str, setup: str = "") -> HttpResponse:
    """The standard itself as CSV, ODS or XLSX; what is held against it again unchanged changes nothing."""
    coverage = current_coverage()
    names = {p.id: p.name for p in known_programs().values()}
    rows = standard_rows(coverage.standard, coverage.estate.tasks, names, language_of(setup))
    return sheet_response(form, "standard", HEADS, rows)


@router.get("/coverage.{form}", response={200: None})
def covered(
    request: HttpRequest, form: str, setup: str, everywhere: bool = False, layout: str = "", department: str = ""
) -> HttpResponse:
    """How far programs follow the standard as CSV, ODS or XLSX: a row for each task in each program and state."""
    seen = _seen(setup, everywhere, layout, department)
    rows = coverage_rows(current_coverage(), seen, language_of(setup))
    return sheet_response(form, "coverage", COVERAGE_HEADS, rows)


def _told(state: Shown, keys: list[str]) -> str:
    says = "no line" if state == "no_line" else STATE_WORDS[state]
    return says + (f": {' and '.join(keys)}" if keys else "")


def _seen(setup: str, everywhere: bool, layout: str, department: str) -> list[str]:
    estate = current_estate()
    board_of(estate, setup)
    derived = current_derived()
    among = [i for i in estate.setups if department in derived.departments.get(i, ())] if department else None
    return setups_seen(estate, setup, everywhere, layout, among)
