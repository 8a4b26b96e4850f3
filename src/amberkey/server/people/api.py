"""Signing in and out."""

from typing import Annotated, Literal

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router
from ninja.utils import check_csrf
from pydantic import Field

from amberkey.server.people.addresses import address_of
from amberkey.server.people.gate import gate
from amberkey.server.people.models import Role, User
from amberkey.server.problems import Problem, TryLater, respond, too_old_to_write
from amberkey.server.schema import Schema

router = Router(tags=["people"])


class Me(Schema):
    name: str
    role: Literal["reader", "editor", "releaser", "administrator"]
    may_edit: bool
    may_release: bool


class Session(Schema):
    me: Me | None
    csrf: str


class Credentials(Schema):
    name: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=1000)]


def _session(request: HttpRequest) -> Session:
    user = request.user
    me = None
    if isinstance(user, User):
        rank = user.acting_role.rank
        me = Me(
            name=user.display_name,
            role=user.acting_role.value,
            may_edit=rank >= Role.EDITOR.rank,
            may_release=rank >= Role.RELEASER.rank,
        )
    return Session(me=me, csrf=get_token(request))


@router.get("/session", response=Session, auth=None)
def session(request: HttpRequest) -> Session:
    """Who is signed in, and the token that writing requests carry."""
    return _session(request)


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
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


@router.delete("/session", response=Session)
def sign_out(request: HttpRequest) -> Session:
    logout(request)
    return _session(request)
