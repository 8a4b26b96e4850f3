"""Beginning sessions so that they can be listed and ended."""

import datetime
from collections.abc import Iterable

from django.contrib.auth import login
from django.http import HttpRequest

from amberkey.server.people.addresses import address_of
from amberkey.server.people.models import SignedIn, User
from amberkey.server.schema import Schema


class SessionRowOut(Schema):
    """A session: since when, from which address, and whether it is the one that asks."""

    at: datetime.datetime
    address: str
    this: bool


def begin_session(request: HttpRequest, user: User) -> None:
    """Sign somebody in, in this browser."""
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    if request.session.session_key is None:
        request.session.save()
    SignedIn.objects.update_or_create(
        session_key=request.session.session_key, defaults={"user": user, "address": address_of(request)[:60]}
    )


def rows_of(found: Iterable[SignedIn], request: HttpRequest) -> list[SessionRowOut]:
    here = request.session.session_key
    return [SessionRowOut(at=s.at, address=s.address, this=s.session_key == here) for s in found]
