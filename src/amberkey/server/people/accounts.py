"""Looking after who may sign in: for administrators."""

import datetime
from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import OneTimeLink, Role, User
from amberkey.server.people.sessions import SessionRowOut, rows_of
from amberkey.server.people.verbs.account import add_account, change_account, end_sessions, find_account, open_sessions
from amberkey.server.people.verbs.link import LIVES, make_link
from amberkey.server.schema import Number, Schema

router = Router(tags=["people"])
RoleName = Literal["reader", "editor", "releaser", "administrator"]


class AccountOut(Schema):
    """Somebody who may sign in, or might once. `waits`: until when a one-time link of theirs works that nobody used yet."""

    id: int
    signs_in_as: str
    name: str
    role: RoleName
    active: bool
    has_password: bool
    waits: datetime.datetime | None
    last: datetime.datetime | None
    sessions: list[SessionRowOut]
    me: bool


class AccountIn(Schema):
    signs_in_as: Annotated[str, Field(max_length=150)]
    name: Annotated[str, Field(max_length=150)] = ""
    role: RoleName = "reader"


class AccountChangeIn(Schema):
    """What shall be so; what isn't given stays."""

    name: Annotated[str, Field(max_length=150)] | None = None
    role: RoleName | None = None
    active: bool | None = None


class LinkOut(Schema):
    """The secret of a one-time link: told once, to be handed over."""

    secret: str
    hours: int


class AddedOut(Schema):
    account: AccountOut
    link: LinkOut


class EndedSessionsOut(Schema):
    ended: int


@router.get("/accounts", response=list[AccountOut], auth=By(Role.ADMINISTRATOR))
def accounts(request: HttpRequest) -> list[AccountOut]:
    """Everybody who may sign in or might once, by name."""
    return _out(list(User.objects.order_by("-is_active", "first_name", "username")), request)


@router.post("/accounts", response=AddedOut, auth=By(Role.ADMINISTRATOR))
def add(request: HttpRequest, given: AccountIn) -> AddedOut:
    """Somebody new, with a one-time link to hand over."""
    actor = actor_of(request)
    user = add_account(actor, given.signs_in_as, given.name, Role(given.role))
    secret = make_link(actor, user.pk)
    return AddedOut(account=_out([user], request)[0], link=_link(secret))


@router.put("/accounts/{account_id}", response=AccountOut, auth=By(Role.ADMINISTRATOR))
def change(request: HttpRequest, account_id: Number, given: AccountChangeIn) -> AccountOut:
    """Another role, another name to be called, or whether they may sign in."""
    role = Role(given.role) if given.role else None
    user = change_account(actor_of(request), account_id, called=given.name, role=role, active=given.active)
    return _out([user], request)[0]


@router.post("/accounts/{account_id}/link", response=LinkOut, auth=By(Role.ADMINISTRATOR))
def link(request: HttpRequest, account_id: Number) -> LinkOut:
    """A new one-time link for somebody; ones made before don't work any more."""
    return _link(make_link(actor_of(request), account_id))


@router.post("/accounts/{account_id}/sessions/end", response=EndedSessionsOut, auth=By(Role.ADMINISTRATOR))
def end(request: HttpRequest, account_id: Number) -> EndedSessionsOut:
    """End all sessions of somebody; of one's own all but this."""
    user = find_account(account_id)
    return EndedSessionsOut(ended=end_sessions(actor_of(request), user.pk, but=request.session.session_key))


def _link(secret: str) -> LinkOut:
    return LinkOut(secret=secret, hours=int(LIVES.total_seconds() // 3600))


def _out(users: list[User], request: HttpRequest) -> list[AccountOut]:
    sessions = open_sessions(users)
    waiting = {v.user_id: v.expires_at for v in OneTimeLink.objects.filter(user__in=users, used_at=None)}
    return [
        AccountOut(
            id=u.pk,
            signs_in_as=u.username,
            name=u.display_name,
            role=u.acting_role.value,
            active=u.is_active,
            has_password=u.has_usable_password(),
            waits=waiting.get(u.pk),
            last=u.last_login,
            sessions=rows_of(sessions.get(u.pk, []), request),
            me=u.pk == actor_of(request).user.pk,
        )
        for u in users
    ]
