"""A card with everything that stands on it: whom it is for, the last one before it, its title."""

import datetime
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from django.utils import timezone

from amberkey.core.cards.content import card_of, setups_for
from amberkey.core.cards.model import Card
from amberkey.core.cards.telling import say_card
from amberkey.core.cards.wish import CardWish
from amberkey.core.cards.words import word
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.organisation.model import Department, Person
from amberkey.core.organisation.model import Role as OrganisationRole
from amberkey.server.cards.models import CardGiven
from amberkey.server.estate import current_derived, current_estate, current_organisation
from amberkey.server.library.names import SOMEBODY
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem

Moves = Mapping[str, Mapping[str, datetime.date]]
"""By the ids of commands on cards, from when setups have their keys."""
dated: list[Callable[[Sequence[str]], Moves]] = []
"""Whoever moves keys on a date says which, of some setups."""


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
        return self._text(self.title)

    @property
    def kept_title(self) -> str:
        """Its title where it is kept when it is handed out: who somebody is stands with people alone."""
        return word("yours", self.wish.language) if self.wish.of == "person" else self.title

    @property
    def kept_text(self) -> str:
        return self._text(self.kept_title)

    def _text(self, title: str) -> str:
        return say_card(self.card, title, self.wish.language)

    @property
    def foot(self) -> str:
        """What stands at its foot: its number, the day, or that it is a draft."""
        day = timezone.localdate().isoformat()
        which = word("card", self.wish.language, number=self.number) if self.number else word("draft", self.wish.language)
        return f"{which}, {day}"


def drawn(wish: CardWish, number: int | None = None) -> Drawn:
    """A card as it is now. Raises NotFound for a role, department or person that isn't there; Problem where nobody would get
    it, and where whoever asks may not see what somebody has set for themselves."""
    if wish.of == "person" and not sees_personal():
        raise hidden()
    estate, organisation = current_estate(), current_organisation()
    whom = whom_of(wish)
    if whom is None:
        raise NotFound(f"{wish.of} {(wish.who or '')[:60]}")
    setups = setups_for(estate, wish, current_derived())
    if not setups:
        where = f"{PLATFORM_NAMES[wish.platform]} with the layout {wish.layout}"
        raise Problem(409, "Nobody would get this card.", f"{whom}: nobody of them is on {where}.", "Choose another keyboard.")
    last = CardGiven.objects.filter(audience=wish.audience).order_by("-number").first()
    before, since = (last.stood, timezone.localtime(last.at).date()) if last is not None else (None, None)
    people = organisation.people_by_id[wish.who].stands_for if wish.of == "person" and wish.who else None
    card = card_of(estate, wish, setups, before, since, people, _moves(setups))
    return Drawn(card, wish, whom, organisation.name, last, number)


def _moves(setups: Sequence[str]) -> Moves:
    found: dict[str, dict[str, datetime.date]] = {}
    for ask in dated:
        for command, days in ask(setups).items():
            found.setdefault(command, {}).update(days)
    return found


def hidden() -> Problem:
    """What is answered where somebody asks for a person's card who may not see it."""
    return Problem(
        403,
        "A card for one person shows what they have set for themselves.",
        cure="Ask an editor for it, or take the card of their role.",
    )


def whom_of(wish: CardWish) -> str | None:
    """What those are called whom a card is for, now; None where there is no such role, department or person any more."""
    organisation = current_organisation()
    if wish.who is None:
        return word("everybody", wish.language)
    named: Mapping[str, Sequence[OrganisationRole | Department | Person]] = {
        "role": organisation.roles,
        "department": organisation.departments,
        "person": organisation.people,
    }
    return next((one.name for one in named[wish.of] if one.id == wish.who), None)


def title_of(given: CardGiven) -> str:
    """The title of a card that was handed out: that of one person's says who it is, as they are called now."""
    wish = CardWish.model_validate(given.wish)
    return (whom_of(wish) or SOMEBODY) if wish.of == "person" else given.title
