"""Three-way merge: what two people made of one document, together, or where they contradict each other."""

from collections.abc import Mapping
from dataclasses import dataclass

from amberkey.core.compare.operations import JsonDocument, Operation, apply, compare, operation
from amberkey.core.documents.canonical import Json

Chosen = Mapping[tuple[str, str], Json]
NOTHING_CHOSEN: Chosen = {}


@dataclass(frozen=True, slots=True)
class Contradiction:
    """An item that both sides made something else of; None: it isn't there."""

    section: str
    key: str
    base: Json
    ours: Json
    theirs: Json


@dataclass(frozen=True, slots=True)
class Merged:
    """`operations` lead from `theirs` to `document`. At a contradiction the document has what `theirs` has."""

    document: JsonDocument
    operations: tuple[Operation, ...]
    contradictions: tuple[Contradiction, ...]


def merge(base: JsonDocument, ours: JsonDocument, theirs: JsonDocument, chosen: Chosen = NOTHING_CHOSEN) -> Merged:
    """Do on `theirs` what `ours` did to `base`. `chosen`: by section and key, what is to be where they contradict each other.

    Items are taken as wholes: half of one person's line and half of another's would be nobody's.
    """
    moved = {(o.section, o.key): o for o in compare(base, theirs)}
    wanted: list[Operation] = []
    against: list[Contradiction] = []
    for mine in compare(base, ours):
        other = moved.get((mine.section, mine.key))
        if other is None:
            wanted.append(mine)
        elif other.after == mine.after:
            continue
        elif (mine.section, mine.key) in chosen:
            wanted += _from_to(mine, other.after, chosen[mine.section, mine.key])
        else:
            against.append(Contradiction(mine.section, mine.key, mine.before, mine.after, other.after))
    return Merged(apply(theirs, wanted), tuple(wanted), tuple(against))


def _from_to(mine: Operation, before: Json, after: Json) -> list[Operation]:
    return [] if before == after else [operation(mine.section, mine.key, before, after)]
