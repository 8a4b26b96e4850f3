"""Shelves: rows of commands whose places have keys. Which keys moving, adding or taking off would change, and what changes
fewest."""

from collections.abc import Sequence
from typing import Annotated, NamedTuple

from pydantic import Field

from amberkey.core.documents.field import Id
from amberkey.core.documents.model import Value
from amberkey.core.documents.sections import shelf_key
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.offers import ShelfPlaces


class Shelf(Value):
    """The commands on a program's row `shelf`, from the first place on. `begin`: the press that its keys begin with instead of
    the program's own. A layer's shelf stands for the whole row: nothing is mixed with those of further layers."""

    program: Id
    shelf: Id
    commands: Annotated[tuple[Id, ...], Field(max_length=500)] = ()
    begin: ShortcutField | None = None

    @property
    def key(self) -> str:
        """What makes it the same shelf in every revision: program and row."""
        return shelf_key(self.model_dump(mode="json"))


class Renumbered(NamedTuple):
    """A command whose key on a shelf is another one; None: it isn't on it, or its place has no key."""

    command: str
    before: Shortcut | None
    after: Shortcut | None


def on_places(places: ShelfPlaces, shelf: Shelf | None, platform: Platform) -> dict[str, Shortcut | None]:
    """The commands of a shelf with the keys of their places; None for those behind the last place. One that stands there
    twice counts where it stands first."""
    if shelf is None:
        return {}
    keys = places.keys_on(platform, shelf.begin)
    found: dict[str, Shortcut | None] = {}
    for n, command in enumerate(shelf.commands):
        found.setdefault(command, keys[n] if n < len(keys) else None)
    return found


def renumbered(places: ShelfPlaces, before: Shelf | None, after: Shelf | None, platform: Platform) -> tuple[Renumbered, ...]:
    """Every command whose key changes, those that stay or come in their new order, then those that go."""
    was, now = on_places(places, before, platform), on_places(places, after, platform)
    found = [Renumbered(c, was.get(c), keys) for c, keys in now.items() if was.get(c) != keys or c not in was]
    return (*found, *(Renumbered(c, keys, None) for c, keys in was.items() if c not in now))


def changing_fewest(before: Sequence[str], after: Sequence[str], about: str | None = None) -> tuple[str, ...]:
    """The commands of `after` in the order that leaves most of them at the places that they had before.

    `about`: the one that is put somewhere on purpose, which keeps its place of `after`. Those that were there before stay where
    they were, if the row is still so long and their place isn't taken by it; the others fill what is free, in the order of
    `after`.
    """
    rest = [c for c in after if c != about]
    places: list[str | None] = [None] * len(after)
    if about is not None and about in after:
        places[after.index(about)] = about
    stood = {c: n for n, c in enumerate(before)}
    waiting = []
    for command in rest:
        at = stood.get(command, len(places))
        if at < len(places) and places[at] is None:
            places[at] = command
        else:
            waiting.append(command)
    line = iter(waiting)
    return tuple(c if c is not None else next(line) for c in places)


def at_the_end(before: Sequence[str], after: Sequence[str], about: str) -> tuple[str, ...]:
    """The commands of `after` with the one that was put somewhere at the end of what was there before, so that none of these
    changes its place."""
    kept = [c for c in before if c in set(after) and c != about]
    return (*kept, *(c for c in after if c not in set(before) and c != about), about)
