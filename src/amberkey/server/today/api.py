"""Today over the API: what needs whoever asks, what they put aside, and the same as a feed."""

import datetime
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.utils.feedgenerator import Atom1Feed
from ninja import Router
from pydantic import Field

from amberkey.core.today.matters import Matter, MatterKind, Put, put_aside
from amberkey.server.people.acting import actor_of
from amberkey.server.people.models import User
from amberkey.server.people.sight import look_as
from amberkey.server.problems import NotFound
from amberkey.server.schema import Schema
from amberkey.server.today.gathering import matters_for
from amberkey.server.today.models import Aside, Feed
from amberkey.server.today.verbs import end_feed, make_feed, put, reader_of, take_back

router = Router(tags=["today"])
MatterId = Annotated[str, Field(min_length=1, max_length=200)]


class MatterOut(Schema):
    """`to`: the address of the place where it is decided; `worse_on`: the day on which it gets worse; `until`: that on which it
    comes back, of one that was put aside (null: never by itself)."""

    id: str
    kind: MatterKind
    says: str
    to: str
    people: int
    worse_on: datetime.date | None
    until: datetime.date | None = None


class TodayOut(Schema):
    """`matters`: what needs somebody, in order; `aside`: what whoever asks put aside; `feed`: they have one."""

    matters: list[MatterOut]
    aside: list[MatterOut]
    feed: bool


class PutAsideIn(Schema):
    id: MatterId
    how: Put


class TakeBackIn(Schema):
    id: MatterId


class FeedMadeOut(Schema):
    """The address of the feed, told this once."""

    address: str


@router.get("/today", response=TodayOut)
def today(request: HttpRequest) -> TodayOut:
    """What needs whoever asks, today."""
    return today_of(actor_of(request).user)


def today_of(user: User) -> TodayOut:
    found = matters_for(user)
    aside = dict(Aside.objects.filter(user=user).values_list("matter", "until"))
    hidden = put_aside(found, aside, timezone.localdate())
    return TodayOut(
        matters=[_out(m) for m in found if m.id not in hidden],
        aside=[_out(m, aside[m.id]) for m in found if m.id in hidden],
        feed=Feed.objects.filter(user=user).exists(),
    )


def _out(matter: Matter, until: datetime.date | None = None) -> MatterOut:
    of = {name: getattr(matter, name) for name in ("id", "kind", "says", "to", "people", "worse_on")}
    return MatterOut(**of, until=until)


@router.post("/today/aside", response=TodayOut)
def put_matter_aside(request: HttpRequest, given: PutAsideIn) -> TodayOut:
    """Put a matter aside: it is another one's, or it can wait until Monday."""
    actor = actor_of(request)
    put(actor, given.id, given.how)
    return today_of(actor.user)


@router.post("/today/back", response=TodayOut)
def bring_matter_back(request: HttpRequest, given: TakeBackIn) -> TodayOut:
    """Bring back what one has put aside."""
    actor = actor_of(request)
    take_back(actor, given.id)
    return today_of(actor.user)


@router.post("/today/feed", response=FeedMadeOut)
def make_own_feed(request: HttpRequest) -> FeedMadeOut:
    """A new address of one's feed; the one before leads nowhere any more."""
    return FeedMadeOut(address=request.build_absolute_uri(f"/api/feed/{make_feed(actor_of(request))}/today.atom"))


@router.post("/today/feed/end", response=TodayOut)
def end_own_feed(request: HttpRequest) -> TodayOut:
    """End one's feed."""
    actor = actor_of(request)
    end_feed(actor)
    return today_of(actor.user)


feed = Router(tags=["today"])


@feed.get("/feed/{token}/today.atom", response={200: None}, auth=None)
def read_feed(request: HttpRequest, token: str) -> HttpResponse:
    """Today of whoever made the address, as an Atom feed: an entry for each matter. Nobody signs in for it."""
    user = reader_of(token)
    if user is None:
        raise NotFound("feed at this address")
    look_as(user.acting_role)
    found = today_of(user)
    home = request.build_absolute_uri("/")
    atom = Atom1Feed(title="Amber Key: what needs you today", link=f"{home}today", description="", language="en")
    day = datetime.datetime.combine(timezone.localdate(), datetime.time(), timezone.get_current_timezone())
    for one in found.matters:
        what = f"{one.says} {one.people} people." if one.people else one.says
        link = home.rstrip("/") + one.to
        atom.add_item(title=one.says, link=link, description=what, unique_id=f"urn:amberkey:{one.id}", updateddate=day)
    answer = HttpResponse(atom.writeString("utf-8"), content_type="application/atom+xml; charset=utf-8")
    answer["Cache-Control"] = "private, no-store"
    return answer
