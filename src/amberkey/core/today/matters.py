"""Matters: what needs somebody, by the day on which it gets worse and by the people whom it touches."""

import datetime
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, get_args

MatterKind = Literal[
    "new clashes",
    "allowance",
    "exception",
    "release",
    "drift",
    "unreadable",
    "approval",
    "list",
    "upgrade",
    "untested",
    "unreleased",
    "without a task",
    "card",
]
KINDS: tuple[MatterKind, ...] = get_args(MatterKind)
Put = Literal["not mine", "until Monday"]
"""How somebody puts a matter aside: for good, or until the next Monday."""
SOON = datetime.timedelta(days=7)
"""What gets worse within so many days stands before everything else."""


@dataclass(frozen=True, slots=True)
class Matter:
    """`id` is the same as long as it is the same matter, whatever its figures. `says`: one sentence; `to`: the address of the
    place where it is decided; `worse_on`: the day on which it gets worse; `people`: whom it touches."""

    id: str
    kind: MatterKind
    says: str
    to: str
    people: int = 0
    worse_on: datetime.date | None = None


def in_order(matters: Iterable[Matter], today: datetime.date) -> list[Matter]:
    """What gets worse soon or did already, the nearest day first; then what touches most people. Alike ones by their kind."""

    def key(matter: Matter) -> tuple[object, ...]:
        soon = matter.worse_on is not None and matter.worse_on <= today + SOON
        day = matter.worse_on if soon and matter.worse_on is not None else datetime.date.max
        return day, -matter.people, KINDS.index(matter.kind), matter.id

    return sorted(matters, key=key)


def next_monday(today: datetime.date) -> datetime.date:
    """The first Monday after a day; of a Monday, that in a week."""
    return today + datetime.timedelta(days=7 - today.weekday())


def put_aside(matters: Iterable[Matter], aside: Mapping[str, datetime.date | None], today: datetime.date) -> set[str]:
    """The ids of those that somebody put aside and that aren't back: until a day (None: for good)."""
    return {m.id for m in matters if m.id in aside and ((until := aside[m.id]) is None or today < until)}
