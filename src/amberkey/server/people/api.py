"""Signing in and out, and one's own password and sessions."""

from typing import Annotated, Literal

from django.contrib.auth import authenticate, logout, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router
from ninja.utils import check_csrf
from pydantic import Field

from amberkey.server.people import accounts, audit
from amberkey.server.people.acting import actor_of
from amberkey.server.people.addresses import address_of
from amberkey.server.people.gate import gate
from amberkey.server.people.models import Role, SignedIn, User
from amberkey.server.people.sessions import SessionRowOut, begin_session, rows_of
from amberkey.server.people.verbs.account import end_sessions, open_sessions
from amberkey.server.people.verbs.password import change_password
from amberkey.server.problems import Problem, TryLater, respond, too_old_to_write
from amberkey.server.schema import Schema

router = Router(tags=["people"])
router.add_router("", accounts.router)
router.add_router("", audit.router)


class Me(Schema):
    """`signs_in_as`: the name that was typed; `name`: what the person is called."""

    signs_in_as: str
    name: str
    role: Literal["reader", "editor", "releaser", "administrator"]
    may_edit: bool
    may_release: bool
    may_administer: bool


class Session(Schema):
    me: Me | None
    csrf: str


class Credentials(Schema):
    name: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=1000)]


def session_of(request: HttpRequest) -> Session:
    user = request.user
    me = None
    if isinstance(user, User):
        rank = user.acting_role.rank
        me = Me(
            signs_in_as=user.username,
            name=user.display_name,
            role=user.acting_role.value,
            may_edit=rank >= Role.EDITOR.rank,
            may_release=rank >= Role.RELEASER.rank,
            may_administer=rank >= Role.ADMINISTRATOR.rank,
        )
    return Session(me=me, csrf=get_token(request))


@router.get("/session", response=Session, auth=None)
def session(request: HttpRequest) -> Session:
    """Who is signed in, and the token that writing requests carry."""
    return session_of(request)


def locked_out(request: HttpRequest, *args: object, **more: object) -> HttpResponse:
    """The answer after too many wrong tries, whatever was sent."""
    says = "Signing in is closed for this name for 15 minutes."
    return respond(TryLater(429, "Too many wrong tries.", says, "Wait, then try again.", 900))


@router.post("/session", response=Session, auth=None)
def sign_in(request: HttpRequest, given: Credentials) -> Session:
    """Sign in with a name and a password. The page's token goes with it, as with every writing request: nobody is signed in as
    somebody else by another site."""
    refused = check_csrf(request)
    if refused is not None:
        raise too_old_to_write()
    with gate.one_try(address_of(request)) as was_right:
        user = authenticate(request, username=given.name, password=given.password)
        if user is not None:
            was_right()
    if user is None:
        raise Problem(401, "Name and password don't belong together.", cure="Check both and try again.")
    assert isinstance(user, User)
    begin_session(request, user)
    return session_of(request)


@router.delete("/session", response=Session)
def sign_out(request: HttpRequest) -> Session:
    SignedIn.objects.filter(session_key=request.session.session_key).delete()
    logout(request)
    return session_of(request)


class PasswordIn(Schema):
    now: Annotated[str, Field(max_length=1000)]
    after: Annotated[str, Field(max_length=1000)]


class EndedOut(Schema):
    ended: int


@router.put("/session/password", response=Session)
def change_own_password(request: HttpRequest, given: PasswordIn) -> Session:
    """Change one's own password, knowing the present one. Other sessions end by it; this one stays."""
    actor = actor_of(request)
    before = request.session.session_key
    with gate.one_try(address_of(request)) as was_right:
        change_password(actor, given.now, given.after)
        was_right()
    actor.user.refresh_from_db()
    update_session_auth_hash(request, actor.user)
    SignedIn.objects.filter(session_key=before).update(session_key=request.session.session_key)
    end_sessions(actor, actor.user.pk, but=request.session.session_key)
    return session_of(request)


@router.get("/session/open", response=list[SessionRowOut])
def own_sessions(request: HttpRequest) -> list[SessionRowOut]:
    """Where whoever asks is signed in."""
    user = actor_of(request).user
    return rows_of(open_sessions([user]).get(user.pk, []), request)


@router.post("/session/others/end", response=EndedOut)
def end_other_sessions(request: HttpRequest) -> EndedOut:
    """End one's other sessions."""
    actor = actor_of(request)
    return EndedOut(ended=end_sessions(actor, actor.user.pk, but=request.session.session_key))
