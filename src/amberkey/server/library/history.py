"""What was changed, newest first, and taking it back."""

import datetime

from django.http import HttpRequest
from ninja import Router

from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.undo import redo, undo
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.schema import Number, Schema

router = Router(tags=["library"])


class ChangeOut(Schema):
    id: int
    title: str


class HistoryItemOut(Schema):
    id: int
    title: str
    by: str
    at: datetime.datetime
    undone: bool
    mine: bool


def _change(change_set: ChangeSet) -> ChangeOut:
    return ChangeOut(id=change_set.id, title=change_set.title)


@router.get("/history", response=list[HistoryItemOut])
def history(request: HttpRequest) -> list[HistoryItemOut]:
    """The newest changes, undone ones among them; an undo itself isn't listed."""
    rows = ChangeSet.objects.filter(undoes=None).select_related("actor")[:60]
    user = request.user
    return [
        HistoryItemOut(id=c.id, title=c.title, by=c.actor.display_name, at=c.at, undone=c.undone, mine=c.actor_id == user.pk)
        for c in rows
    ]


@router.post("/history/{change_id}/undo", response=ChangeOut, auth=By(Role.EDITOR))
def undo_change(request: HttpRequest, change_id: Number) -> ChangeOut:
    return _change(undo(actor_of(request), change_id))


@router.post("/history/{change_id}/redo", response=ChangeOut, auth=By(Role.EDITOR))
def redo_change(request: HttpRequest, change_id: Number) -> ChangeOut:
    return _change(redo(actor_of(request), change_id))
