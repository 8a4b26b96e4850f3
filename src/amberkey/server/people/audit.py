"""Who did what to which document, when: looked through, and as CSV."""

import datetime
from collections.abc import Iterator
from typing import Annotated

from django.db.models import Q, QuerySet
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router
from pydantic import Field

from amberkey.core.exchange.sheets_out import write_csv
from amberkey.server.people.acting import By
from amberkey.server.people.models import AuditEntry, Role
from amberkey.server.schema import Schema, Words

router = Router(tags=["people"])
PAGE = 100
HEADS = ("Day", "Time (UTC)", "Who", "Did", "To", "What")


class AuditIn(Schema):
    """What is looked for: a person's or machine's name, what was done, words in subject or detail, days (both included)."""

    who: Words = ""
    did: Words = ""
    words: Words = ""
    since: datetime.date | None = None
    until: datetime.date | None = None
    page: Annotated[int, Field(ge=1, le=10**6)] = 1


class AuditRowOut(Schema):
    at: datetime.datetime
    who: str
    machine: bool
    did: str
    subject: str
    detail: str


class AuditOut(Schema):
    """`actors` and `actions`: all that there are, to choose from."""

    total: int
    page: int
    pages: int
    rows: list[AuditRowOut]
    actors: list[str]
    actions: list[str]


@router.get("/audit", response=AuditOut, auth=By(Role.ADMINISTRATOR))
def audit(request: HttpRequest, asked: Query[AuditIn]) -> AuditOut:
    """What was done, the newest first."""
    rows = _found(asked)
    total = rows.count()
    start = (asked.page - 1) * PAGE
    people = AuditEntry.objects.exclude(actor=None).order_by().values_list("actor__first_name", "actor__username").distinct()
    machines = AuditEntry.objects.exclude(machine="").order_by().values_list("machine", flat=True).distinct()
    return AuditOut(
        total=total,
        page=asked.page,
        pages=max(1, -(-total // PAGE)),
        rows=[_row(r) for r in rows[start : start + PAGE]],
        actors=[*sorted({called or name for called, name in people}), *sorted(machines)],
        actions=sorted(AuditEntry.objects.order_by().values_list("action", flat=True).distinct()),
    )


@router.get("/audit.csv", response={200: None}, auth=By(Role.ADMINISTRATOR))
def audit_csv(request: HttpRequest, asked: Query[AuditIn]) -> HttpResponse:
    """All that is found, as a list."""
    response = HttpResponse(write_csv(HEADS, _sheet(asked)), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="who-did-what-with-names.csv"'
    return response


def _sheet(asked: AuditIn) -> Iterator[tuple[str, ...]]:
    for row in map(_row, _found(asked)):
        yield f"{row.at:%Y-%m-%d}", f"{row.at:%H:%M:%S}", row.who, row.did, row.subject, row.detail


def _found(asked: AuditIn) -> QuerySet[AuditEntry]:
    rows = AuditEntry.objects.select_related("actor").order_by("-at", "-id")
    if asked.who:
        rows = rows.filter(Q(actor__first_name=asked.who) | Q(actor__username=asked.who) | Q(machine=asked.who))
    if asked.did:
        rows = rows.filter(action=asked.did)
    for word in asked.words.split():
        rows = rows.filter(Q(subject__icontains=word) | Q(detail__icontains=word))
    if asked.since:
        rows = rows.filter(at__date__gte=asked.since)
    if asked.until:
        rows = rows.filter(at__date__lte=asked.until)
    return rows


def _row(entry: AuditEntry) -> AuditRowOut:
    return AuditRowOut(
        at=entry.at,
        who=entry.actor.display_name if entry.actor else entry.machine,
        machine=entry.actor is None,
        did=entry.action,
        subject=entry.subject,
        detail=entry.detail,
    )
