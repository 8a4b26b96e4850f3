"""Handing a card out."""

import datetime
import hashlib
import secrets
from dataclasses import asdict

from django.db import connection, transaction
from django.utils import timezone

from amberkey.core.cards.wish import CardWish
from amberkey.server.cards.drawing import drawn
from amberkey.server.cards.models import CardGiven
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound

_LOCK = 0x414B_4331  # of the numbers of cards, in this database


@transaction.atomic
def give(actor: Actor, wish: CardWish) -> CardGiven:
    """Hand a card out: what holds for its people is kept, so that the next one tells what has changed since."""
    actor.require(Role.EDITOR)
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
    card = drawn(wish)
    newest = CardGiven.objects.order_by("-number").values_list("number", flat=True).first() or 0
    made = CardGiven.objects.create(
        number=newest + 1,
        audience=wish.audience,
        title=card.kept_title[:200],
        wish=wish.model_dump(mode="json", exclude_defaults=True),
        stood={i: list(keys) for i, keys in card.card.stood.items()},
        text=card.kept_text,
        parts=[asdict(part) for part in card.card.parts],
        people=card.card.people,
        by=actor.user,
    )
    actor.record("handed out a card", made.title, f"card {made.number}")
    return made


@transaction.atomic
def open_page(actor: Actor, number: int, days: int) -> str:
    """An address by which people read a card that was handed out, for some days; told this once. The one before leads nowhere
    any more. Raises NotFound."""
    actor.require(Role.EDITOR)
    given = CardGiven.objects.select_for_update().filter(number=number).first()
    if given is None:
        raise NotFound(f"card {number}")
    token = secrets.token_urlsafe(24)
    given.token_hash, given.open_until = hash_of(token), timezone.localdate() + datetime.timedelta(days=days)
    given.save(update_fields=["token_hash", "open_until"])
    actor.record("opened the page of a card", given.title, f"card {number}, until {given.open_until}")
    return token


@transaction.atomic
def close_page(actor: Actor, number: int) -> None:
    """The address of a card leads nowhere any more."""
    actor.require(Role.EDITOR)
    if CardGiven.objects.filter(number=number).exclude(token_hash="").update(token_hash="", open_until=None):
        actor.record("closed the page of a card", f"card {number}")


def card_at(token: str) -> CardGiven | None:
    """The card whose address a token is, while it is open."""
    return CardGiven.objects.filter(token_hash=hash_of(token), open_until__gte=timezone.localdate()).first()


def hash_of(token: str) -> str:
    """By which a token is found; itself it is kept nowhere."""
    return hashlib.sha256(token.encode()).hexdigest()


@transaction.atomic
def take_back(actor: Actor, number: int) -> None:
    """Forget that a card was handed out; the ones before it count again. Only the newest of its audience can be taken back."""
    actor.require(Role.EDITOR)
    given = CardGiven.objects.filter(number=number).first()
    if given is not None:
        actor.record("took a card back", given.title, f"card {given.number}")
        given.delete()
