"""What taking a bundle's profile into another one would do: differences told in sentences, each to take or to leave."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import cast

from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.exchange.telling import Difference, tell
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program


@dataclass(frozen=True, slots=True)
class Preview:
    differences: tuple[Difference, ...]
    unchanged: int


def preview_import(into: Profile, incoming: Profile, programs: Mapping[str, Program], *, replace: bool) -> Preview:
    """What the incoming profile would do to `into`: merging adds and changes; replacing also removes what it doesn't have.

    Every section is taken, item by item; name, description and other fields of the profile here stay.
    """
    here, there = cast(JsonDocument, into.to_json()), cast(JsonDocument, incoming.to_json())
    taken = [o for o in compare(here, there) if o.section in into.sections and (o.after is not None or replace)]
    touched = {(o.section, o.key) for o in taken}
    items = [(name, getattr(i, section.by)) for name, section in incoming.sections.items() for i in getattr(incoming, name)]
    return Preview(tuple(tell(taken, programs)), sum(item not in touched for item in items))
