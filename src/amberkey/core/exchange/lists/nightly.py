"""Lists that come by themselves, night after night: what they were like before decides what is done without asking."""

import datetime
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.compare.operations import Operation, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.model import Value
from amberkey.core.organisation.model import Machine, Organisation, Person

RUNS = 3
"""Times in a row that something has to be missing before it is retired."""
MOST = 0.1
"""The share of its rows that a list may change without asking."""


@dataclass(frozen=True)
class Memory:
    """What the lists of one sender said before.

    `ever`: every id that one of them had and that wasn't retired since; `runs`: the ids of the last ones that were taken, the
    newest first, one fewer than it takes to retire something; `retired`: those that were retired because they were missing.
    """

    ever: frozenset[str] = frozenset()
    runs: tuple[frozenset[str], ...] = ()
    retired: frozenset[str] = frozenset()

    def to_retire(self) -> frozenset[str]:
        """What is to be retired if the next list doesn't have it either."""
        return self.ever.difference(*self.runs)

    def after(self, listed: Collection[str]) -> "Memory":
        """The memory once a list with these ids is taken."""
        now = frozenset(listed)
        going = self.to_retire() - now
        return Memory((self.ever | now) - going, (now, *self.runs)[: RUNS - 1], (self.retired | going) - now)

    def to_json(self) -> Json:
        return cast(Json, {"ever": sorted(self.ever), "runs": [sorted(r) for r in self.runs], "retired": sorted(self.retired)})

    @classmethod
    def from_json(cls, value: Mapping[str, Json]) -> "Memory":
        def ids(name: str) -> frozenset[str]:
            return frozenset(map(str, cast(Sequence[str], value.get(name) or ())))

        runs = cast(Sequence[Sequence[str]], value.get("runs") or ())
        return cls(ids("ever"), tuple(frozenset(r) for r in runs), ids("retired"))


def why_asked(rows: int, changed: int, faults: int, known: int, there: int) -> list[str]:
    """Why a list waits for a yes, in sentences; none where it may be taken unseen.

    `changed`: rows and missing items that would change something; `faults`: rows that break a rule; `known`: rows about what is
    here already, of `there` that there are.
    """
    why = []
    if not rows:
        why.append("It has no rows.")
    if faults:
        why.append("1 row breaks a rule." if faults == 1 else f"{faults:,} rows break a rule.")
    if rows and there and not known:
        why.append("Nothing in it is here yet: it may be the list of somebody else.")
    if changed > MOST * rows and rows:
        why.append(f"It would change {changed:,}, and {MOST:.0%} of its {rows:,} rows is the most without asking.")
    return why


def with_missing(
    kind: Literal["people", "machines"],
    organisation: Organisation,
    operations: Iterable[Operation],
    *,
    retire: Collection[str],
    back: Collection[str],
    today: datetime.date,
) -> list[Operation]:
    """The operations of a list, and those that retire what it misses and bring back what it has again."""
    items: Mapping[str, Person | Machine]
    items = organisation.people_by_id if kind == "people" else organisation.machines_by_id
    found: list[Operation] = []
    done = set()
    for one in operations:
        if one.section == kind and one.key in back and isinstance(one.after, dict):
            done.add(one.key)
            one = operation(kind, one.key, one.before, {k: v for k, v in one.after.items() if k != "retired"})
        found.append(one)
    for key in sorted({*retire, *back} - done):
        item = items.get(key)
        if item is None or (item.retired is None) == (key in back):
            continue
        then = item.model_copy(update={"retired": None if key in back else today})
        found.append(operation(kind, key, _json(item), _json(then)))
    return found


def _json(item: Value) -> Json:
    return cast(Json, item.model_dump(mode="json", exclude_defaults=True))
