"""What waits for a releaser's yes: what it would do, who wrote it, and saying yes or taking it back."""

import datetime
from typing import Literal

from django.http import HttpRequest
from ninja import Router

from amberkey.server.library.approving import Standing, author_of, standing
from amberkey.server.library.verbs.approve import approve, withdraw_approval
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role, User
from amberkey.server.schema import Schema, Words

router = Router(tags=["library"])


class SensitiveOut(Schema):
    """Something that runs, or says where files are written. `id` is of this very content. `approved_by`: empty for what was
    released before approvals began; `mine`: whoever asks wrote it, so somebody else has to say yes."""

    id: str
    kind: Literal["launcher", "macro", "path"]
    key: str
    says: str
    content: str
    written_by: str
    written_at: datetime.datetime | None
    mine: bool
    approved: bool
    approved_by: str
    approved_at: datetime.datetime | None


class ApproveIn(Schema):
    id: Words


@router.get("/approvals", response=list[SensitiveOut])
def approvals(request: HttpRequest) -> list[SensitiveOut]:
    """What needs approval as documents say it now, that which waits first."""
    user = actor_of(request).user
    return [_out(s, user) for s in standing()]


@router.post("/approvals", response=list[SensitiveOut], auth=By(Role.RELEASER))
def say_yes(request: HttpRequest, given: ApproveIn) -> list[SensitiveOut]:
    """Approve a content; whoever wrote it can't."""
    approve(actor_of(request), given.id)
    return approvals(request)


@router.post("/approvals/withdrawn", response=list[SensitiveOut], auth=By(Role.RELEASER))
def take_back(request: HttpRequest, given: ApproveIn) -> list[SensitiveOut]:
    """Take an approval back: what was approved goes nowhere any more; what machines have stays there."""
    withdraw_approval(actor_of(request), given.id)
    return approvals(request)


def _out(one: Standing, user: User) -> SensitiveOut:
    approval = one.approval
    written = author_of(one.key, one.sensitive) if approval is None else None
    author = approval.author if approval is not None else written.author if written is not None else None
    return SensitiveOut(
        id=one.sensitive.digest,
        kind=one.sensitive.kind,
        key=one.key,
        says=one.sensitive.says,
        content=one.sensitive.content,
        written_by=author.display_name if author is not None else "",
        written_at=written.at if written is not None else None,
        mine=author is not None and author.pk == user.pk,
        approved=approval is not None,
        approved_by=approval.by.display_name if approval is not None and approval.by is not None else "",
        approved_at=approval.at if approval is not None else None,
    )
