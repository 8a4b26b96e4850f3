"""The jobs on a list: opening it, checking it row by row, and taking it as one change set or not at all.

All may be begun again at any point: opening and checking start anew, taking is done in one transaction together with the mark
that it is done.
"""

import datetime
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
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
from amberkey.core.exchange.lists.reading import Known, ListReader, RowRead, What
from amberkey.core.exchange.sheets import read_heads, read_sheet
from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.library.models import Body
from amberkey.server.library.verbs.thin import drop_bodies
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.verbs.edit import edit
from amberkey.server.people.acting import Actor
from amberkey.server.problems import NotFound, Problem

_LIES_FOR = datetime.timedelta(days=7)
_STEP = 200  # rows between two notes of how far a check is
State = ListImport.State
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


def fail(import_id: UUID, why: str) -> None:
    """Ends whatever was being done with a list; it can be checked again."""
    busy = ListImport.objects.filter(id=import_id, state__in=(State.OPENING, State.CHECKING, State.TAKING))
    busy.update(state=State.FAILED, says=f"Nothing was taken. {why} Check the list again."[:600])


def do_check(import_id: UUID) -> None:
    """The job: reads all rows and keeps what they come to. Does nothing where it has been done."""
    found = ListImport.objects.select_related("content").filter(id=import_id).first()
    if found is None or found.state != State.CHECKING:
        return
    organisation = current_organisation()
    estate = current_estate()
    known = Known(estate.programs, {p.id: p.name for p in estate.profiles.values()})
    try:
        sheet = read_sheet(found.content.data)
        reader = ListReader(cast(ListKind, found.kind), found.matching, organisation, known)
    except (SheetError, CellFault) as error:
        faults = error.faults if isinstance(error, SheetError) else [error.at("headings")]
        _finish(found, State.FAILED, organisation.digest, [], faults, says=faults[0].sentence())
        return
    read: list[RowRead] = []
    progress = ListImport.objects.filter(id=import_id)
    progress.update(total=len(sheet.rows), done=0)
    for n, row in enumerate(sheet.rows, 1):
        read.append(reader.read(row, row.number in sheet.bad))
        if n % _STEP == 0:
            progress.update(done=n)
    faults = sorted([*sheet.faults, *(f for r in read for f in r.faults)], key=_row_of)
    found.total = found.done = len(read)
    _finish(found, State.CHECKED, organisation.digest, read, faults)


def _finish(found: ListImport, state: str, basis: str, read: list[RowRead], faults: Iterable[Fault], says: str = "") -> None:
    counts = Counter(r.what for r in read)
    result: dict[str, Json] = {
        "told": cast(Json, _told(found.kind, found.matching, read)),
        "bad": counts["fault"],
        "good": counts["adds"] + counts["changes"],
        "faults": [{"place": f.place, "says": f.says, "cure": f.cure} for f in faults],
        "guessed": [{"place": f.place, "says": f.says, "cure": f.cure} for r in read if r.what != "fault" for f in r.guessed],
        "operations": [operation_to_json(o) for r in read for o in r.operations],
    }
    with transaction.atomic():
        kept = Body.keep_json(result)
        done = ListImport.objects.select_for_update().filter(id=found.id, state=State.CHECKING)
        done.update(state=state, basis=basis, result=kept, says=says[:600], done=found.done, total=found.total)


def _told(kind: str, matching: Mapping[str, int], read: list[RowRead]) -> list[str]:
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
            found = locked(import_id)
            if found.state != State.TAKING or found.result is None:
                return
            result = cast(dict[str, Any], found.result.json())
            operations = [operation_from_json(o) for o in result["operations"]]
            if found.basis != current_organisation().digest:
                _refuse_doubles(operations)
            title = f"Brought in {_count(found.kind, result['good'])} from {found.name}"
            found.change_set = edit(Actor(found.actor), title, operations)
            found.state = State.TAKEN
            found.save(update_fields=["state", "change_set"])
            if found.kind == "people":
                let_go(found)
    except (Problem, DocumentError) as error:
        fail(import_id, str(error))


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
    kept = {"told": result.get("told", []), "bad": result.get("bad", 0), "good": result.get("good", 0)}
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


def locked(import_id: UUID) -> ListImport:
    """An import, locked until the transaction ends. Raises NotFound."""
    found = ListImport.objects.select_for_update().filter(id=import_id).first()
    if found is None:
        raise NotFound("such import")
    return found


def _row_of(fault: Fault) -> tuple[int, str]:
    digits = "".join(c for c in fault.place.split(",")[0] if c.isdigit())
    return int(digits or 0), fault.place
