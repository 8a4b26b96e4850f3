"""What taking a bundle's profile into another one would do: differences told in sentences, each to take or to leave."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.compare.operations import JsonDocument, Operation, compare
from amberkey.core.exchange.telling import Difference, tell
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program

How = Literal["add", "replace", "missing"]
"""Adding takes what is new or other there; replacing also removes what isn't there; missing takes only what isn't here."""


@dataclass(frozen=True, slots=True)
class Preview:
    differences: tuple[Difference, ...]
    unchanged: int


def preview_import(into: Profile, incoming: Profile, programs: Mapping[str, Program], *, how: How) -> Preview:
    """What the incoming profile would do to `into`, in one of the three ways.

    Every section is taken, item by item; name, description and other fields of the profile here stay.
    """
    here, there = cast(JsonDocument, into.to_json()), cast(JsonDocument, incoming.to_json())
    taken = [o for o in compare(here, there) if o.section in into.sections and _wanted(o, how)]
    touched = {(o.section, o.key) for o in taken}
    items = [(name, getattr(i, section.by)) for name, section in incoming.sections.items() for i in getattr(incoming, name)]
    return Preview(tuple(tell(taken, programs)), sum(item not in touched for item in items))


def _wanted(operation: Operation, how: How) -> bool:
    match how:
        case "replace":
            return True
        case "missing":
            return operation.before is None
        case _:
            return operation.after is not None
