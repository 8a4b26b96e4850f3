"""A card with everything that stands on it: whom it is for, the last one before it, its title."""

from collections.abc import Mapping
from dataclasses import dataclass

from django.utils import timezone

from amberkey.core.cards.content import card_of, setups_for
from amberkey.core.cards.model import Card
from amberkey.core.cards.telling import say_card
from amberkey.core.cards.wish import CardWish
from amberkey.core.cards.words import word
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.server.cards.models import CardGiven
from amberkey.server.estate import current_derived, current_estate, current_organisation
from amberkey.server.problems import NotFound, Problem


@dataclass(frozen=True)
class Drawn:
    """`last`: the card that the same people were handed before; `title` in the card's language."""

    card: Card
    wish: CardWish
    title: str
    organisation: str
    last: CardGiven | None
    number: int | None = None

    @property
    def text(self) -> str:
        return say_card(self.card, self.title, self.wish.language)

    @property
    def foot(self) -> str:
        """What stands at its foot: its number, the day, or that it is a draft."""
        day = timezone.localdate().isoformat()
        which = word("card", self.wish.language, number=self.number) if self.number else word("draft", self.wish.language)
        return f"{which}, {day}"


def drawn(wish: CardWish, number: int | None = None) -> Drawn:
    """A card as it is now. Raises NotFound for a role or department that isn't there, Problem where nobody would get it."""
    estate, organisation = current_estate(), current_organisation()
    names: Mapping[str, str] = {}
    if wish.of == "role":
        names = {r.id: r.name for r in organisation.roles}
    elif wish.of == "department":
        names = {d.id: d.name for d in organisation.departments}
    if wish.who is not None and wish.who not in names:
        raise NotFound(f"{wish.of} {wish.who[:60]}")
    setups = setups_for(estate, wish, current_derived().departments)
    whom = names[wish.who] if wish.who is not None else word("everybody", wish.language)
    if not setups:
        where = f"{PLATFORM_NAMES[wish.platform]} with the layout {wish.layout}"
        raise Problem(409, "Nobody would get this card.", f"{whom}: nobody of them is on {where}.", "Choose another keyboard.")
    last = CardGiven.objects.filter(audience=wish.audience).order_by("-number").first()
    before, since = (last.stood, timezone.localtime(last.at).date()) if last is not None else (None, None)
    card = card_of(estate, wish, setups, before, since)
    return Drawn(card, wish, whom, organisation.name, last, number)
