"""What was decided on clashes: who, when, why, whether it stands, and whether it can still be undone."""

import datetime

from django.db.models import Exists, OuterRef, Q
from django.http import HttpRequest
from ninja import Router

from amberkey.server.library.models import ChangeSet, SettledClash
from amberkey.server.library.verbs.undo import why_not_undone
from amberkey.server.schema import Schema

router = Router(tags=["workbench"])
PAGE = 50


class DecidedOut(Schema):
    """A decision on a clash, or on several. `why_not`: why it can't be undone (or done again) any more; empty where it can."""

    id: int
    title: str
    reason: str
    by: str
    at: datetime.datetime
    undone: bool
    why_not: str


class DecisionsOut(Schema):
    """`total`: how many there are of these words; `decided` has one page of them, the newest first."""

    total: int
    page: int
    pages: int
    decided: list[DecidedOut]


@router.get("/clashes/decided", response=DecisionsOut)
def decided(request: HttpRequest, words: str = "", page: int = 1) -> DecisionsOut:
    """The decisions on clashes with all of some words in their title, reason or decider's name."""
    rows = ChangeSet.objects.filter(Exists(SettledClash.objects.filter(change_set=OuterRef("pk"))), undoes=None).select_related(
        "actor"
    )
    for word in words.split()[:12]:
        rows = rows.filter(Q(title__icontains=word) | Q(reason__icontains=word) | Q(actor__first_name__icontains=word))
    total = rows.count()
    pages = max(1, -(-total // PAGE))
    page = min(max(1, page), pages)
    shown = list(rows[(page - 1) * PAGE : page * PAGE])
    why = why_not_undone(shown)
    return DecisionsOut(
        total=total,
        page=page,
        pages=pages,
        decided=[
            DecidedOut(
                id=c.id,
                title=c.title,
                reason=c.reason,
                by=c.actor.display_name,
                at=c.at,
                undone=c.undone,
                why_not=why.get(c.id, ""),
            )
            for c in shown
        ],
    )
