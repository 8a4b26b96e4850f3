"""Two people who made something else of the same items: both are told, with what it was, and whose is to count is chosen."""

from collections.abc import Sequence
from typing import cast

from amberkey.core.compare.merging import Chosen, Contradiction, Whose
from amberkey.core.compare.operations import operation
from amberkey.core.documents.canonical import Json
from amberkey.core.exchange.telling import tell_one
from amberkey.server.library.documents import known_programs
from amberkey.server.library.names import with_names
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema


class ChosenItemIn(Schema):
    """Whose version of an item counts, where two people made something else of it: `value`, or what is `sent` with it."""

    section: str
    key: str
    value: dict[str, object] | list[object] | str | int | bool | None = None
    sent: bool = False


def chosen_items(given: Sequence[ChosenItemIn]) -> Chosen:
    return {(c.section, c.key): Whose.OURS if c.sent else cast(Json, c.value) for c in given}


def contradiction(found: Sequence[Contradiction], by: str, **more: object) -> Problem:
    """The refusal, with each item as it was, as it is now, and as it would be, and what each made of it in words."""
    return Problem(
        409,
        f"{by} made something else of the same.",
        "; ".join(c.key or "the same" for c in found[:5]) + ".",
        "Choose for each whose is to count, and save again.",
        "Nothing of yours was saved and nothing of theirs was lost.",
        by=by,
        contradictions=[_told(c) for c in found],
        **more,
    )


def _told(one: Contradiction) -> dict[str, object]:
    return {
        "section": one.section,
        "key": one.key,
        "base": one.base,
        "ours": one.ours,
        "theirs": one.theirs,
        "says_ours": _says(one, one.ours),
        "says_theirs": _says(one, one.theirs),
    }


def _says(one: Contradiction, made: Json) -> str:
    if made == one.base:
        return ""
    (told,) = with_names([operation(one.section, one.key, one.base, made)])
    return tell_one(told, known_programs()).says
