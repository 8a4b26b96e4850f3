"""Two states of documents held against each other: what differs, what taking some of it over would do, taking it over."""

from collections.abc import Callable, Sequence
from typing import get_args

from django.http import HttpRequest
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import Field

from amberkey.core.clashes.estate import Estate
from amberkey.core.compare.operations import Operation, compare
from amberkey.core.compare.views import Does, chosen
from amberkey.core.exchange.telling import MEANINGS, Difference, Meaning, tell
from amberkey.core.ways.several import with_operations
from amberkey.server.comparing.sides import Side, keep_bundle, side_by_side, side_of
from amberkey.server.estate import current_estate
from amberkey.server.exchange.opening import open_bundle, standard_sheet
from amberkey.server.library.documents import known_programs
from amberkey.server.library.names import with_names
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema
from amberkey.server.workbench.would import NOTHING, WouldOut, would

router = Router(tags=["comparing"])
_SHOWN = 300


class ComparedDifferenceOut(Schema):
    id: str
    does: Does
    says: str
    refused: str
    people: int
    clashes: bool
    """Taken over with all others, it would be part of a clash that isn't there now."""
    nothing: str


class ComparedGroupOut(Schema):
    """`count`: how many there are; at most so many of them are told as the screen can show. `beyond`: of the others, those that
    can be taken over, by their ids."""

    means: Meaning
    title: str
    count: int
    differences: list[ComparedDifferenceOut]
    beyond: list[str]


class ComparedSideOut(Schema):
    text: str
    key: str
    title: str
    note: str
    number: int
    writable: bool


class ComparedOut(Schema):
    """What turns `left` into `right`, grouped by what it means for people, people first; `alike`: items that don't differ."""

    left: ComparedSideOut
    right: ComparedSideOut
    groups: list[ComparedGroupOut]
    count: int
    alike: int


class ChoiceIn(Schema):
    """Which differences of `other` are to be taken over into `into`."""

    into: str
    other: str
    chosen: list[str] = Field(max_length=20_000)


class TakenOverOut(Schema):
    id: int
    title: str


@router.get("/compare", response=ComparedOut)
def compared(request: HttpRequest, left: str, right: str) -> ComparedOut:
    """What differs between two documents or revisions. Nothing is written."""
    a, b = side_by_side(left, right)
    operations = compare(a.document, b.document)
    told = tell(with_names(operations), known_programs())
    estate = current_estate()
    people = _people(estate, b if b.now and not a.now else a)
    clashing = _clashing(estate, a, operations)

    def refused(one: Difference) -> str:
        """Why it can't be taken over: what is taken away always can be, and what the right side has isn't written into it."""
        return one.refused if one.operation.after is not None and (a.writable or not b.writable) else ""

    groups = []
    for means in get_args(Meaning):
        of = [t for t in told if t.means == means]
        of.sort(key=lambda t: (not _clashes(t, clashing), -people(t)))
        if of:
            shown = [_difference(t, people(t), refused(t), clashes=_clashes(t, clashing)) for t in of[:_SHOWN]]
            beyond = [t.id for t in of[_SHOWN:] if not refused(t)]
            groups.append(ComparedGroupOut(means=means, title=MEANINGS[means], count=len(of), differences=shown, beyond=beyond))
    lists = [v for v in a.document.values() if isinstance(v, list)]
    return ComparedOut(
        left=_side(a, left),
        right=_side(b, right),
        groups=groups,
        count=len(told),
        alike=max(0, sum(map(len, lists)) - sum(t.does != "adds" and t.operation.section != "" for t in told)),
    )


class BundleSideOut(Schema):
    """How a file is written as a side, and what it is called."""

    text: str
    title: str


@router.post("/compare/bundle", response=BundleSideOut)
def bundle_side(request: HttpRequest, file: File[UploadedFile]) -> BundleSideOut:
    """Keep a bundle, or a sheet of the standard, at hand for a day, to hold it against something. Nothing is brought in."""
    standard = standard_sheet(file)
    if standard is not None:
        text = keep_bundle(f"sheet {file.name or ''}"[:120].strip(), standard)
    else:
        opened = open_bundle(file)
        text = keep_bundle(f"bundle {opened.bundle.manifest.name}"[:120], opened.profile)
    return BundleSideOut(text=text, title=side_of(text).title)


@router.post("/compare/plan", response=WouldOut)
def plan(request: HttpRequest, given: ChoiceIn) -> WouldOut:
    """Which clashes taking the chosen differences over would solve and make, and for how many people a key moves."""
    into, operations = _wanted(given)
    kind, _, doc_id = into.key.partition("/")
    return would(doc_id, operations) if kind == "profile" else NOTHING


@router.post("/compare/take", response=TakenOverOut, auth=By(Role.EDITOR))
def take(request: HttpRequest, given: ChoiceIn) -> TakenOverOut:
    """Take the chosen differences over, as one change that can be undone."""
    into, operations = _wanted(given)
    other = side_of(given.other)
    programs = known_programs()
    refused = next((t for t in tell(operations, programs) if t.refused and t.operation.after is not None), None)
    if refused is not None:
        raise Problem(400, "This can't be taken over.", refused.refused, "Leave it out.")
    count = f"{len(operations)} difference{'s' if len(operations) != 1 else ''}"
    done = change(actor_of(request), f"Took {count} over from {other.title}", {into.key: operations})
    return TakenOverOut(id=done.id, title=done.title)


def _wanted(given: ChoiceIn) -> tuple[Side, list[Operation]]:
    """The side that is written, and the chosen operations. Raises Problem where it can't be, or for a choice of before."""
    into, other = side_by_side(given.into, given.other)
    if not into.writable:
        why = "It is an older revision, or is compiled from the standard."
        raise Problem(409, f"{into.title} can't be written.", why, "Take it the other way.")
    try:
        return into, chosen(compare(into.document, other.document), given.chosen)
    except KeyError as error:
        gone = f"{error.args[0][:200]} differs no longer."
        raise Problem(409, "Something was changed since this was compared.", gone, "Compare it again.") from error


def _after(estate: Estate, into: Side, operations: Sequence[Operation]) -> Estate | None:
    """The organisation with some operations on a profile; None for other kinds, of which it isn't worked out."""
    kind, _, doc_id = into.key.partition("/")
    if kind != "profile" or doc_id not in estate.profiles or not operations:
        return None
    return with_operations(estate, {doc_id: operations})


def _clashing(estate: Estate, into: Side, operations: Sequence[Operation]) -> frozenset[tuple[str, str]]:
    """Programs and commands that are part of clashes which all operations together would make."""
    if not into.now or len(operations) > 2_000:
        return frozenset()
    after = _after(estate, into, operations)
    found = estate.new_in(after) if after is not None else []
    return frozenset((b.program.id, b.command.id) for g in found for b in g.clash.parties)


def _clashes(one: Difference, clashing: frozenset[tuple[str, str]]) -> bool:
    value = one.operation.after
    named = (str(value.get("program")), str(value.get("command"))) if isinstance(value, dict) else ("", "")
    return named in clashing


def _people(estate: Estate, side: Side) -> Callable[[Difference], int]:
    """How many people have the program that a difference is about, of those whom that side reaches."""
    kind, _, named = side.key.partition("/")
    here = side.files_of.setup.id if side.files_of is not None else named if kind == "setup" else ""
    under = [s for s in estate.setups.values() if (s.id == here if here else kind != "profile" or named in s.layers)]
    by_program: dict[str, int] = {}

    def count(one: Difference) -> int:
        program = one.program
        if program not in by_program:
            by_program[program] = estate.people_of(s for s in under if not program or any(p.id == program for p in s.programs))
        return by_program[program]

    return count


def _difference(one: Difference, people: int, refused: str, *, clashes: bool) -> ComparedDifferenceOut:
    return ComparedDifferenceOut(
        id=one.id, does=one.does, says=one.says, refused=refused, people=people, clashes=clashes, nothing=one.nothing
    )


def _side(side: Side, text: str) -> ComparedSideOut:
    return ComparedSideOut(
        text=text, key=side.key, title=side.title, note=side.note, number=side.number, writable=side.writable
    )
