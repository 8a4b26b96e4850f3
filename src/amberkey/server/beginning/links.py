"""Using a one-time link: setting a password and being signed in; the first one begins everything."""

import datetime
from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from ninja.utils import check_csrf
from pydantic import Field

from amberkey.server.library.verbs.first import first_documents
from amberkey.server.people.acting import Actor
from amberkey.server.people.addresses import address_of
from amberkey.server.people.api import Session, session_of
from amberkey.server.people.gate import gate
from amberkey.server.people.sessions import begin_session
from amberkey.server.people.verbs.link import look_at_link, use_link
from amberkey.server.problems import too_old_to_write
from amberkey.server.schema import Schema

router = Router(tags=["people"])
Secret = Annotated[str, Field(max_length=200)]


class LinkLookIn(Schema):
    secret: Secret


class LinkLookOut(Schema):
    """`first`: whoever has it becomes the first administrator, and chooses the name. Else it is for `signs_in_as`."""

    first: bool
    signs_in_as: str
    name: str
    until: datetime.datetime


class LinkUseIn(Schema):
    secret: Secret
    signs_in_as: Annotated[str, Field(max_length=150)] = ""
    name: Annotated[str, Field(max_length=150)] = ""
    password: Annotated[str, Field(max_length=1000)]


@router.post("/links/look", response=LinkLookOut, auth=None)
def look(request: HttpRequest, given: LinkLookIn) -> LinkLookOut:
    """Whose a one-time link is. Refused where it doesn't work, with the reason."""
    with gate.one_try(address_of(request)) as was_right:
        link = look_at_link(given.secret)
        was_right()
    user = link.user
    return LinkLookOut(
        first=user is None,
        signs_in_as=user.username if user else "",
        name=user.display_name if user else "",
        until=link.expires_at,
    )


@router.post("/links/use", response=Session, auth=None)
def use(request: HttpRequest, given: LinkUseIn) -> Session:
    """Set a password by a one-time link, and be signed in."""
    if check_csrf(request) is not None:
        raise too_old_to_write()
    with gate.one_try(address_of(request)) as was_right:
        user = use_link(given.secret, given.signs_in_as, given.name, given.password)
        was_right()
    if user.acting_role.value == "administrator":
        first_documents(Actor(user))
    begin_session(request, user)
    return session_of(request)
