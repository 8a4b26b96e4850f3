"""Dropping old revisions: told first, then done by a job."""

import datetime
from typing import Annotated

from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import Field

from amberkey.core.documents.thinning import Rule
from amberkey.server.library.models import Thinning
from amberkey.server.library.tasks import put_to_work
from amberkey.server.library.verbs.thin import begin_thinning, kept, plan_thinning
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema

router = Router(tags=["library"])


class RuleIn(Schema):
    """How long all stay, then one a day, then one a week or none; `budget`: how many bytes they may take in all."""

    all_days: Annotated[int, Field(ge=0, le=36_500)] = 7
    daily_days: Annotated[int, Field(ge=0, le=36_500)] = 91
    weekly: bool = True
    budget: Annotated[int, Field(ge=0, le=10**15)] | None = None

    def rule(self) -> Rule:
        return Rule(self.all_days, self.daily_days, self.weekly, self.budget)


class DroppedOfOut(Schema):
    document: str
    count: int
    oldest: int
    newest: int


class ThinningPlanOut(Schema):
    """Bytes as they are kept, compressed. `must`: of what has to stay; `over`: by how much the budget is too small for that."""

    count: int
    drop: int
    freed: int
    left: int
    must: int
    over: int
    documents: list[DroppedOfOut]


class ThinningOut(Schema):
    id: str
    state: str
    dropped: int
    freed: int
    at: datetime.datetime
    says: str


class SpaceOut(Schema):
    """What revisions take: how many there are, their bytes, and of one on average; the last thinning."""

    revisions: int
    bytes: int
    one: int
    last: ThinningOut | None


@router.get("/space", response=SpaceOut, auth=By(Role.ADMINISTRATOR))
def space(request: HttpRequest) -> SpaceOut:
    """What the revisions of all documents take."""
    found = kept()
    taken = sum({k.body: k.size for k in found}.values())
    last = Thinning.objects.first()
    return SpaceOut(
        revisions=len(found), bytes=taken, one=taken // len(found) if found else 0, last=_out(last) if last else None
    )


@router.post("/space/plan", response=ThinningPlanOut, auth=By(Role.ADMINISTRATOR))
def plan(request: HttpRequest, given: RuleIn) -> ThinningPlanOut:
    """What a rule would drop, and what that frees. Nothing is done."""
    found = plan_thinning(given.rule(), timezone.now())
    numbers: dict[str, list[int]] = {}
    for one in found.drop:
        numbers.setdefault(one.document, []).append(one.number)
    return ThinningPlanOut(
        count=len(kept()),
        drop=len(found.drop),
        freed=found.freed,
        left=found.left,
        must=found.must,
        over=found.over,
        documents=[
            DroppedOfOut(document=key, count=len(of), oldest=min(of), newest=max(of)) for key, of in sorted(numbers.items())
        ],
    )


@router.post("/space/thin", response=ThinningOut, auth=By(Role.ADMINISTRATOR))
def thin_now(request: HttpRequest, given: RuleIn) -> ThinningOut:
    """Drop what the rule drops, by a job. This can't be undone."""
    now = timezone.now()
    found = plan_thinning(given.rule(), now)
    if found.over:
        raise Problem(
            409,
            "The budget is too small for what has to stay.",
            f"That alone takes {found.must:,} bytes, {found.over:,} more.",
            "Give it a larger one.",
        )
    if not found.drop:
        raise Problem(409, "Nothing would go.", "All revisions stay by this rule.")
    with transaction.atomic():
        begun = begin_thinning(actor_of(request), given.rule(), now)
        put_to_work(begun)
    return _out(begun)


def _out(found: Thinning) -> ThinningOut:
    return ThinningOut(
        id=str(found.id), state=found.state, dropped=found.dropped, freed=found.freed, at=found.now, says=found.says
    )
