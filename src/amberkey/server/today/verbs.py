"""Putting matters aside, and the address of one's feed."""

import hashlib
import secrets

from django.db import transaction
from django.utils import timezone

from amberkey.core.today.matters import Put, next_monday
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import User
from amberkey.server.today.models import Aside, Feed

MOST_ASIDE = 500
"""Of one person: older ones go, so that what is not there any more doesn't gather for ever."""


@transaction.atomic
def put(actor: Actor, matter: str, how: Put) -> None:
    """Put a matter aside for whoever asks, and for nobody else."""
    until = next_monday(timezone.localdate()) if how == "until Monday" else None
    Aside.objects.update_or_create(user=actor.user, matter=matter, defaults={"until": until})
    kept = Aside.objects.filter(user=actor.user).order_by("-pk").values_list("pk", flat=True)[:MOST_ASIDE]
    Aside.objects.filter(user=actor.user).exclude(pk__in=list(kept)).delete()


def take_back(actor: Actor, matter: str) -> None:
    """Bring a matter back that one has put aside; nothing where one hasn't."""
    Aside.objects.filter(user=actor.user, matter=matter).delete()


def make_feed(actor: Actor) -> str:
    """A token for one's feed, told this once; the one before leads nowhere any more."""
    token = secrets.token_urlsafe(24)
    Feed.objects.filter(user=actor.user).delete()
    Feed.objects.create(user=actor.user, token_hash=hash_of(token))
    actor.record("made a feed", actor.name)
    return token


def end_feed(actor: Actor) -> None:
    """One's feed leads nowhere any more."""
    if Feed.objects.filter(user=actor.user).delete()[0]:
        actor.record("ended a feed", actor.name)


def reader_of(token: str) -> User | None:
    """Whose feed a token is for; None for one that is none, or of an account that is closed."""
    feed = Feed.objects.filter(token_hash=hash_of(token), user__is_active=True).select_related("user").first()
    if feed is None:
        return None
    Feed.objects.filter(pk=feed.pk).update(read_at=timezone.now())
    return feed.user


def hash_of(token: str) -> str:
    """By which a token is found; itself it is kept nowhere."""
    return hashlib.sha256(token.encode()).hexdigest()
