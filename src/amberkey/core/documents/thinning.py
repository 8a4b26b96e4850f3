"""Which revisions of documents may go with the time: all of the newest stay, then one a day, then one a week, within a budget.

What anybody relies on (the newest, the released, the named, what a machine has) always stays. The time is an argument.
"""

import datetime
from collections.abc import Iterable, Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Kept:
    """A revision that is kept now. `document`: whose it is; `body`: the digest of its bytes, which several may share, and
    `size` how many bytes these take; `stays`: why it has to stay, empty where it needn't."""

    document: str
    number: int
    at: datetime.datetime
    body: str
    size: int
    stays: str = ""

    @property
    def id(self) -> tuple[str, int]:
        return self.document, self.number


@dataclass(frozen=True, slots=True)
class Rule:
    """For `all_days` every revision stays; for `daily_days` after these one a day, the last of it; after that one a week where
    `weekly`, or none. `budget`: how many bytes all may take; None: as many as they do."""

    all_days: int = 7
    daily_days: int = 91
    weekly: bool = True
    budget: int | None = None


@dataclass(frozen=True, slots=True)
class Plan:
    """`drop`: what would go, the oldest first; `freed` and `left` in bytes; `must`: bytes of what has to stay, whatever the
    budget; `over`: by how many bytes the budget is too small for that."""

    drop: tuple[Kept, ...]
    freed: int
    left: int
    must: int
    over: int


def thin(revisions: Iterable[Kept], rule: Rule, now: datetime.datetime) -> Plan:
    """What a rule would drop at a time. The same again afterwards drops nothing."""
    known = sorted(revisions, key=lambda r: (r.at, r.document, r.number))
    drop = {r.id for r in _by_age(known, rule, now)}
    left = [r for r in known if r.id not in drop]
    if rule.budget is not None:
        taken = _bytes_of(left)
        holders = _holders(left)
        for one in left:
            if taken <= rule.budget:
                break
            if one.stays:
                continue
            drop.add(one.id)
            holders[one.body] -= 1
            if holders[one.body] == 0:
                taken -= one.size
        left = [r for r in left if r.id not in drop]
    remaining, must = _bytes_of(left), _bytes_of([r for r in known if r.stays])
    over = max(0, must - rule.budget) if rule.budget is not None else 0
    gone = tuple(r for r in known if r.id in drop)
    return Plan(gone, _bytes_of(known) - remaining, remaining, must, over)


def _by_age(known: Sequence[Kept], rule: Rule, now: datetime.datetime) -> list[Kept]:
    """Those that go by their age: of each document all but the last of a day, or of a week."""
    last: dict[tuple[object, ...], Kept] = {}
    old: list[tuple[Kept, tuple[object, ...] | None]] = []
    for one in known:
        days = (now - one.at).days
        if days < rule.all_days:
            continue
        day = one.at.date()
        if days < rule.all_days + rule.daily_days:
            span: tuple[object, ...] | None = (one.document, "day", day)
        else:
            span = (one.document, "week", *day.isocalendar()[:2]) if rule.weekly else None
        old.append((one, span))
        if span is not None:
            last[span] = one
    return [one for one, span in old if not one.stays and (span is None or last[span] is not one)]


def _holders(revisions: Iterable[Kept]) -> dict[str, int]:
    found: dict[str, int] = {}
    for one in revisions:
        found[one.body] = found.get(one.body, 0) + 1
    return found


def _bytes_of(revisions: Iterable[Kept]) -> int:
    """What some revisions take: bytes that several share count once."""
    return sum({r.body: r.size for r in revisions}.values())
