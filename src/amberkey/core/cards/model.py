"""What stands on a card: keys, lines, parts."""

from collections.abc import Mapping
from dataclasses import dataclass

Caps = tuple[tuple[str, ...], ...]
"""One list of key caps for each press."""


@dataclass(frozen=True, slots=True)
class Key:
    """A shortcut as a card shows it. `text` is canonical, `words` for people."""

    text: str
    words: str
    caps: Caps


@dataclass(frozen=True, slots=True)
class CardLine:
    """One thing to do with its keys (several: any of them). `id`: by which it is left out; `programs`: where it holds, which
    isn't said where that is `everywhere`, `but` in some; `notes`: at which desks it doesn't, and what the `old` keys do now;
    `minutes`: what its key saves in a week, by `known` uses or assumed ones; `on`: the day on which people get its key by a
    release, as ISO 8601; empty where they have it."""

    id: str
    name: str
    keys: tuple[Key, ...]
    programs: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    old: tuple[Key, ...] = ()
    minutes: float = 0.0
    known: bool = False
    everywhere: bool = False
    but: str = ""
    on: str = ""

    @property
    def where(self) -> tuple[str, ...]:
        """The programs to be named beside it."""
        return () if self.everywhere else self.programs

    @property
    def said(self) -> tuple[str, ...]:
        """Everything that has to be known of it, in a few words each."""
        return (self.but, *self.notes) if self.but else self.notes


@dataclass(frozen=True, slots=True)
class CardPart:
    """A part of a card, under its title. `learned`: what is worth most, or a week of it, to be learned first."""

    title: str
    lines: tuple[CardLine, ...]
    learned: bool = False


@dataclass(frozen=True, slots=True)
class Card:
    """`left_out`: what isn't on it, by line with the reason; `stood`: every key that holds for these people, by which the next
    card tells what has changed."""

    parts: tuple[CardPart, ...]
    left_out: tuple[tuple[str, str, str], ...]
    stood: Mapping[str, tuple[str, ...]]
    setups: tuple[str, ...]
    people: int
