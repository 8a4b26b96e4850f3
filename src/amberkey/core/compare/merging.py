"""Three-way merge: what two people made of one document, together, or where they contradict each other."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import Enum

from amberkey.core.compare.operations import JsonDocument, Operation, apply, compare, operation
from amberkey.core.documents.canonical import Json


class Whose(Enum):
    """Whose version of an item counts, where it isn't told as a value."""

    OURS = "ours"


Chosen = Mapping[tuple[str, str], "Json | Whose"]
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
    """Do on `theirs` what `ours` did to `base`. `chosen`: by section and key, what is to be where they contradict each other:
    a value, or what `ours` says.

    Items are taken as wholes: half of one person's line and half of another's would be nobody's.
    """
    moved = {(o.section, o.key): o for o in compare(base, theirs)}
    wanted: list[Operation] = []
    against: list[Contradiction] = []
    made = compare(base, ours)
    for mine in made:
        other = moved.get((mine.section, mine.key))
        if other is None:
            wanted.append(mine)
        elif other.after == mine.after:
            continue
        elif (mine.section, mine.key) in chosen:
            value = chosen[mine.section, mine.key]
            wanted += _from_to(mine, other.after, mine.after if isinstance(value, Whose) else value)
        else:
            against.append(Contradiction(mine.section, mine.key, mine.before, mine.after, other.after))
    # Ours may be what it was before both.
    kept = {where for where, value in chosen.items() if isinstance(value, Whose)} - {(o.section, o.key) for o in made}
    wanted += [operation(o.section, o.key, o.after, o.before) for where, o in moved.items() if where in kept]
    return Merged(apply(theirs, wanted), tuple(wanted), tuple(against))


def _from_to(mine: Operation, before: Json, after: Json) -> list[Operation]:
    return [] if before == after else [operation(mine.section, mine.key, before, after)]
