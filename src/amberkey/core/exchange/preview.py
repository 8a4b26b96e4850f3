"""What taking a bundle's profile into another one would do: differences told in sentences, each to take or to leave."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.compare.merging import merge
from amberkey.core.compare.operations import JsonDocument, Operation, compare, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.exchange.telling import Difference, Programs, tell, tell_one
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program

How = Literal["add", "replace", "missing", "merge"]
"""Adding takes what is new or other there; replacing also removes what isn't there; missing takes only what isn't here;
merging does what was done there since both were the same, and leaves what was done here."""


@dataclass(frozen=True, slots=True)
class Preview:
    """`against`: by the key of a difference what was done here with the same item since both were the same, in words. To take
    such a difference is to give that up.
    """

    differences: tuple[Difference, ...]
    unchanged: int
    against: Mapping[str, str]


def preview_import(
    into: Profile,
    incoming: Profile,
    programs: Mapping[str, Program],
    *,
    how: How,
    base: Profile | None = None,
    speaks_of: Callable[[Operation], bool] | None = None,
) -> Preview:
    """What the incoming profile would do to `into`, in one of the four ways. `base`: what both were made from, for merging;
    ValueError where that is wanted and there is none. `speaks_of`: whether what comes in says anything of a difference, where
    it doesn't speak of everything: what it is silent about isn't missing there.

    Every section is taken, item by item; name, description and other fields of the profile here stay.
    """
    here, there = cast(JsonDocument, into.to_json()), cast(JsonDocument, incoming.to_json())
    against: dict[tuple[str, str], str] = {}
    if how == "merge":
        if base is None:
            raise ValueError("what both were made from isn't known")
        found, against = _since(cast(JsonDocument, base.to_json()), here, there, programs)
    else:
        found = compare(here, there)
    taken = [o for o in found if o.section in into.sections and _wanted(o, how) and (speaks_of is None or speaks_of(o))]
    touched = {(o.section, o.key) for o in taken}
    items = [(name, getattr(i, section.by)) for name, section in incoming.sections.items() for i in getattr(incoming, name)]
    told = tuple(tell(taken, programs))
    words = {t.key: against[o.section, o.key] for t, o in zip(told, taken, strict=True) if (o.section, o.key) in against}
    return Preview(told, sum(item not in touched for item in items), words)


def _since(
    base: JsonDocument, here: JsonDocument, there: JsonDocument, programs: Programs
) -> tuple[Sequence[Operation], dict[tuple[str, str], str]]:
    """What was done there since `base`, on what there is here; and where something else was done here, what that was."""
    merged = merge(base, there, here)
    both = {(c.section, c.key): c for c in merged.contradictions}
    found = [*merged.operations, *(operation(c.section, c.key, c.theirs, c.ours) for c in both.values())]
    found.sort(key=lambda o: (o.section, o.key))
    return found, {at: _done(c.section, c.key, c.base, c.theirs, programs) for at, c in both.items()}


def _done(section: str, key: str, before: Json, after: Json, programs: Programs) -> str:
    return tell_one(operation(section, key, before, after), programs).says


def _wanted(one: Operation, how: How) -> bool:
    match how:
        case "replace" | "merge":
            return True
        case "missing":
            return one.before is None
        case _:
            return one.after is not None
