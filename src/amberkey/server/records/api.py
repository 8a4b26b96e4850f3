"""Test records: seeing, keeping, taking out, writing as CSV; and what nobody has tested since it was changed."""

import datetime

from django.db.models import Q, QuerySet
from django.http import HttpRequest, HttpResponse
from ninja import Router

from amberkey.core.clashes.untested import Untested, untested
from amberkey.core.exchange.sheets_out import write_csv
from amberkey.server.estate import current_estate
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.records.models import Record
from amberkey.server.records.untested import changes, tests
from amberkey.server.records.verbs.keep import Seen, keep, remove
from amberkey.server.schema import Number, Schema, Words
from amberkey.server.workbench.trying import LaneIn, TryIn
from amberkey.server.workbench.words import ShortcutOut, StrokeOut, shortcut_out

router = Router(tags=["records"])
PAGE = 100
HEADS = ("Day", "Time", "Who", "Setup", "Program", "Focus", "Pressed", "Shortcut", "Expected", "Seen", "Passed")


class RecordIn(Schema):
    """What somebody pressed where (as for trying), what they saw, and whether that was what was expected."""

    lane: LaneIn
    text: Words | None = None
    strokes: list[StrokeOut] | None = None
    seen: Words = ""
    passed: bool


class RecordOut(Schema):
    id: int
    at: datetime.datetime
    by: str
    setup: str
    setup_name: str
    program: str
    program_name: str
    scope: str
    scope_name: str
    shortcut: str
    pressed: str
    expected: str
    seen: str
    passed: bool


class RecordsOut(Schema):
    total: int
    failed: int
    page: int
    pages: int
    records: list[RecordOut]


class RemovalIn(Schema):
    removed: bool


class UntestedOut(Schema):
    """A press to try. `why`: its command was changed since anybody tested it, or another answer is expected than when it was
    tested (`was`)."""

    why: str
    says: str
    setup: str
    setup_name: str
    program: str | None
    program_name: str
    scope: str | None
    scope_name: str
    shortcut: ShortcutOut
    expects: str
    was: str
    by: str
    at: datetime.datetime


@router.get("/records", response=RecordsOut)
def records(request: HttpRequest, words: str = "", failed: bool = False, page: int = 1) -> RecordsOut:
    """Test records with all of some words in them, the newest first."""
    rows = _found(words)
    wrong = rows.filter(passed=False).count()
    if failed:
        rows = rows.filter(passed=False)
    total = rows.count()
    pages = max(1, -(-total // PAGE))
    page = min(max(1, page), pages)
    shown = rows[(page - 1) * PAGE : page * PAGE]
    return RecordsOut(total=total, failed=wrong, page=page, pages=pages, records=[_out(r) for r in shown])


@router.post("/records", response=RecordOut, auth=By(Role.EDITOR))
def keep_record(request: HttpRequest, given: RecordIn) -> RecordOut:
    """Keep what somebody saw on a real machine."""
    asked = TryIn(lanes=[given.lane], text=given.text, strokes=given.strokes)
    return _out(keep(actor_of(request), given.lane, asked, Seen(given.seen, given.passed)))


@router.post("/records/{record_id}/removal", response=RecordOut, auth=By(Role.EDITOR))
def remove_record(request: HttpRequest, record_id: Number, given: RemovalIn) -> RecordOut:
    """Take a record out of the list, or bring it back."""
    return _out(remove(actor_of(request), record_id, given.removed))


@router.get("/records/untested", response=list[UntestedOut])
def see_untested(request: HttpRequest) -> list[UntestedOut]:
    """What should be tried: what was changed since anybody tested it, and tests whose answer is another one by now."""
    estate = current_estate()
    kept = {r.id: r for r in Record.objects.filter(removed=False).select_related("actor")}
    return [_untested(one, kept) for one in untested(estate, changes(), tests(kept.values()))]


@router.get("/records.csv", response={200: None})
def write_records(request: HttpRequest, words: str = "", failed: bool = False) -> HttpResponse:
    """The records as a sheet."""
    rows = _found(words)
    if failed:
        rows = rows.filter(passed=False)
    sheet = [_row(r) for r in rows]
    response = HttpResponse(write_csv(HEADS, sheet), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="test-records-with-names.csv"'
    return response


def _found(words: str) -> QuerySet[Record]:
    rows = Record.objects.filter(removed=False).select_related("actor")
    for word in words.split()[:12]:
        fields = ("setup_name", "program_name", "scope_name", "pressed", "shortcut", "expected", "seen", "actor__first_name")
        wanted = Q()
        for name in fields:
            wanted |= Q(**{f"{name}__icontains": word})
        rows = rows.filter(wanted)
    return rows


def _row(one: Record) -> tuple[str, ...]:
    return (
        *(one.at.date().isoformat(), one.at.strftime("%H:%M"), one.actor.display_name, one.setup_name),
        *(one.program_name, one.scope_name, one.pressed, one.shortcut, one.expected, one.seen),
        "yes" if one.passed else "no",
    )


def _out(one: Record) -> RecordOut:
    return RecordOut(
        id=one.id,
        at=one.at,
        by=one.actor.display_name,
        setup=one.setup,
        setup_name=one.setup_name,
        program=one.program,
        program_name=one.program_name,
        scope=one.scope,
        scope_name=one.scope_name,
        shortcut=one.shortcut,
        pressed=one.pressed,
        expected=one.expected,
        seen=one.seen,
        passed=one.passed,
    )


def _untested(one: Untested, kept: dict[int, Record]) -> UntestedOut:
    board = current_estate().board(one.setup)
    program = board.parts[one.focus.program].program if one.focus else None
    record = kept[one.tested.id] if one.tested else None
    if one.changed is not None:
        says, by, at = one.changed.title, one.changed.by, one.changed.at
    else:
        assert record is not None
        says, by, at = "Another answer is expected now than when it was tested.", record.actor.display_name, record.at
    return UntestedOut(
        why=one.why,
        says=says,
        setup=one.setup,
        setup_name=board.setup.setup.name,
        program=program.id if program else None,
        program_name=program.name if program else "anywhere",
        scope=one.focus.scope if one.focus else None,
        scope_name=program.scope(one.focus.scope).name if program and one.focus else "",
        shortcut=shortcut_out(one.shortcut, board),
        expects=one.expects,
        was=record.expected if record else "",
        by=by,
        at=at,
    )
