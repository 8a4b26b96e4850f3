"""Handing a card out."""

from django.db import connection, transaction

from amberkey.core.cards.wish import CardWish
from amberkey.server.cards.drawing import drawn
from amberkey.server.cards.models import CardGiven
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role

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
        title=card.title[:200],
        wish=wish.model_dump(mode="json", exclude_defaults=True),
        stood={i: list(keys) for i, keys in card.card.stood.items()},
        text=card.text,
        people=card.card.people,
        by=actor.user,
    )
    actor.record("handed out a card", made.title, f"card {made.number}")
    return made


@transaction.atomic
def take_back(actor: Actor, number: int) -> None:
    """Forget that a card was handed out; the ones before it count again. Only the newest of its audience can be taken back."""
    actor.require(Role.EDITOR)
    given = CardGiven.objects.filter(number=number).first()
    if given is not None:
        actor.record("took a card back", given.title, f"card {given.number}")
        given.delete()
