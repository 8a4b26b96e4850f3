"""The jobs on a list: opening it, checking it row by row, and taking it as one change set or not at all.

All may be begun again at any point: opening and checking start anew, taking is done in one transaction together with the mark
that it is done.
"""

import datetime
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence, Set
from typing import Any, cast
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from amberkey.core.compare.operations import Operation, operation_from_json, operation_to_json
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.lists.cells import CellFault
from amberkey.core.exchange.lists.columns import ListKind, columns_of, guess
from amberkey.core.exchange.lists.nightly import RUNS, with_missing
from amberkey.core.exchange.lists.reading import Known, ListReader, RowRead, What
from amberkey.core.exchange.sheets import read_heads, read_sheet
from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.library.lists import ListState
from amberkey.server.library.models import Body
from amberkey.server.library.verbs.thin import drop_bodies
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.verbs.edit import edit
from amberkey.server.people.acting import Actor
from amberkey.server.problems import Problem

_LIES_FOR = datetime.timedelta(days=7)
_KEPT = ("told", "bad", "good", "changed", "listed")
_STEP = 200  # rows between two notes of how far a check is
State = ListState
_NOUNS: Mapping[str, tuple[str, str]] = {
    "people": ("person or shared sign-in", "people and shared sign-ins"),
    "machines": ("machine", "machines"),
    "uses": ("use", "uses"),
}


def opened(found: ListImport, data: bytes) -> None:
    """Keep the headings of a sheet with their guessed columns. Raises SheetError."""
    heads, first = read_heads(data)
    found.heads, found.first = list(heads), [list(r.cells) for r in first]
    found.matching = guess(cast(ListKind, found.kind), heads)
    found.state = State.NEW


def do_open(import_id: UUID) -> None:
    """The job: reads the headings. Does nothing where it has been done."""
    found = ListImport.objects.select_related("content").filter(id=import_id, state=State.OPENING).first()
    if found is None:
        return
    try:
        opened(found, found.content.data)
    except SheetError as error:
        found.state, found.says = State.FAILED, error.faults[0].sentence()[:600]
    ListImport.objects.filter(id=import_id, state=State.OPENING).update(
        state=found.state, says=found.says, heads=found.heads, first=found.first, matching=found.matching
    )


def do_check(import_id: UUID) -> None:
    """The job: reads all rows and keeps what they come to. Does nothing where it has been done."""
    found = ListImport.objects.select_related("content").filter(id=import_id).first()
    if found is None or found.state != State.CHECKING:
        return
    check(found, progress=True)
    with transaction.atomic():
        if ListImport.locked(import_id).state == State.CHECKING:
            found.save()


def check(found: ListImport, *, progress: bool = False) -> None:
    """Hold a list against the organisation as it is now: what that finds is put into `found`, to be saved by the caller."""
    kind = cast(ListKind, found.kind)
    organisation = current_organisation()
    estate = current_estate()
    known = Known(estate.programs, {p.id: p.name for p in estate.profiles.values()})
    found.basis = organisation.digest
    try:
        sheet = read_sheet(found.content.data)
        reader = ListReader(kind, found.matching, organisation, known)
    except (SheetError, CellFault) as error:
        faults = error.faults if isinstance(error, SheetError) else [error.at("headings")]
        found.state, found.says = State.FAILED, faults[0].sentence()[:600]
        found.result = _result(found, [], [], faults)
        return
    read: list[RowRead] = []
    noted = ListImport.objects.filter(id=found.id)
    if progress:
        noted.update(total=len(sheet.rows), done=0)
    for n, row in enumerate(sheet.rows, 1):
        read.append(reader.read(row, row.number in sheet.bad))
        if progress and n % _STEP == 0:
            noted.update(done=n)
    faults = sorted([*sheet.faults, *(f for r in read for f in r.faults)], key=_row_of)
    found.total = found.done = len(read)
    operations = [o for r in read for o in r.operations]
    retire: set[str] = set()
    back: set[str] = set()
    if kind != "uses":
        listed = {r.key for r in read if r.key}
        retire, back = set(found.retiring) - listed, set(found.returning) & listed
        operations = with_missing(kind, organisation, operations, retire=retire, back=back, today=timezone.localdate())
    touched = {o.key for o in operations}
    found.state, found.says = State.CHECKED, ""
    there = len(organisation.people if kind == "people" else organisation.machines) if kind != "uses" else 0
    found.result = _result(found, read, operations, faults, there=there, retire=retire & touched, back=back & touched)


def _result(
    found: ListImport,
    read: Sequence[RowRead],
    operations: Iterable[Operation],
    faults: Iterable[Fault],
    *,
    there: int = 0,
    retire: Set[str] = frozenset(),
    back: Set[str] = frozenset(),
) -> Body:
    """What a check found; `there`: how many there are already.

    In it `changed`: how many items would be others; `known`: how many rows are about what is here; `listed`: the ids of all.
    """
    counts = Counter(r.what for r in read)
    changed = {r.key for r in read if r.what in ("adds", "changes")} | retire | back
    told = list(_told(found.kind, found.matching, read))
    if counts["adds"] and not counts["changes"] and not counts["same"] and there:
        told.append("Nothing in it is here yet: look whether it is the list of somebody else.")
    if retire:
        told.append(f"Retires {_count(found.kind, len(retire))}, missing {RUNS} times in a row.")
    if back:
        told.append(f"Brings {_count(found.kind, len(back))} back.")
    result: dict[str, Json] = {
        "told": cast(Json, told),
        "bad": counts["fault"],
        "good": counts["adds"] + counts["changes"],
        "changed": len(changed),
        "known": sum(r.what in ("changes", "same") for r in read),
        "listed": cast(Json, sorted({r.key for r in read if r.key})),
        "faults": [{"place": f.place, "says": f.says, "cure": f.cure} for f in faults],
        "guessed": [{"place": f.place, "says": f.says, "cure": f.cure} for r in read if r.what != "fault" for f in r.guessed],
        "operations": [operation_to_json(o) for o in operations],
    }
    return Body.keep_json(result)


def _told(kind: str, matching: Mapping[str, int], read: Sequence[RowRead]) -> list[str]:
    """What taking the list would do, in sentences."""
    counts = Counter(r.what for r in read)
    fields = Counter(f for r in read if r.what == "changes" for f in r.fields)
    titles = {c.id: c.title for c in columns_of(cast(ListKind, kind)).values()}
    sentences = []
    verbs: tuple[tuple[What, str], ...] = (("adds", "Adds"), ("changes", "Changes"), ("same", "Leaves as they are:"))
    for what, verb in verbs:
        if counts[what]:
            sentences.append(f"{verb} {_count(kind, counts[what])}.")
    sentences += [f"{titles[f]} changes for {_count(kind, n)}." for f, n in fields.most_common()]
    if counts["fault"]:
        rows = "row has" if counts["fault"] == 1 else "rows have"
        sentences.append(f"{counts['fault']} {rows} faults and can't be taken.")
    unused = sorted(set(titles) - set(matching))
    if unused and read:
        sentences.append(f"The sheet says nothing of {', '.join(titles[c] for c in unused)}; that stays as it is.")
    return sentences


def _count(kind: str, number: int) -> str:
    one, many = _NOUNS[kind]
    return f"{number:,} {one if number == 1 else many}"


def do_take(import_id: UUID) -> None:
    """The job: all in one transaction, so that an end in the middle leaves nothing, and a second start doubles nothing."""
    try:
        with transaction.atomic():
            found = ListImport.locked(import_id)
            if found.state == State.TAKING and found.result is not None:
                take(found)
    except (Problem, DocumentError) as error:
        ListImport.fail(import_id, f"{error} Check the list again.")


def take(found: ListImport) -> None:
    """Do what was checked, as one change set, and save that. Raises Problem, DocumentError where it can't be done any more."""
    result = cast(dict[str, Any], found.result.json()) if found.result else {}
    operations = [operation_from_json(o) for o in result["operations"]]
    if found.basis != current_organisation().digest:
        _refuse_doubles(operations)
    title = f"Brought in {_count(found.kind, result['good'])} from {found.name}"
    found.change_set = edit(Actor(found.actor), title, operations)
    found.state = State.TAKEN
    found.save()
    if found.kind == "people":
        let_go(found)


def _refuse_doubles(operations: Sequence[Operation]) -> None:
    """Raises Problem where somebody whom the list would add, known by name alone, was added since it was checked."""
    there = {p.name.casefold() for p in current_organisation().people}
    for one in operations:
        if one.section == "people" and one.before is None and isinstance(one.after, dict) and not one.after.get("known_as"):
            name = str(one.after.get("name"))
            if name.casefold() in there:
                raise Problem(409, f"{name} was added since the list was checked.")


def let_go(found: ListImport) -> None:
    """Keep of a list what it came to, and not what stood in it: names of people are kept in one place alone."""
    before = {found.content_id, found.result_id}
    result = cast(dict[str, Any], found.result.json()) if found.result else {}
    kept = {name: result[name] for name in _KEPT if name in result}
    found.content, found.result, found.first = Body.keep(b""), Body.keep_json(kept), []
    found.save(update_fields=["content", "result", "first"])
    drop_bodies(d for d in before if d)


def let_old_ones_go() -> int:
    """Lists of people that nobody took for a week; returns how many."""
    since = timezone.now() - _LIES_FOR
    lying = ListImport.objects.filter(kind="people", at__lt=since).exclude(state__in=(State.TAKEN, State.FAILED, State.TAKING))
    for found in lying:
        with transaction.atomic():
            found.state, found.says = State.FAILED, "Nobody took it for a week, so its sheet was let go. Bring it in anew."
            found.save(update_fields=["state", "says"])
            let_go(found)
    return len(lying)


def _row_of(fault: Fault) -> tuple[int, str]:
    digits = "".join(c for c in fault.place.split(",")[0] if c.isdigit())
    return int(digits or 0), fault.place
