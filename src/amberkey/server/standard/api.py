"""The standard: seeing it, planning and saving changes, drafts, carrying, lending, releasing, findings."""

import datetime
from collections.abc import Mapping
from typing import cast

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from amberkey.core.documents.canonical import Json
from amberkey.core.exchange.sheets import write_csv
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.standard.carrying import carry
from amberkey.core.standard.findings import KIND_WORDS
from amberkey.core.standard.judging import STATE_WORDS
from amberkey.core.standard.model import NO_STANDARD, Exempt, Meanings, Standard
from amberkey.server.library.documents import digests
from amberkey.server.library.models import Document
from amberkey.server.people.acting import actor_of
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, as_json
from amberkey.server.standard import borrowed as lending
from amberkey.server.standard.borrowed import BorrowedOut, BorrowIn, SetOffIn, SetOut
from amberkey.server.standard.matrix import (
    PointOut,
    Shown,
    StandardOut,
    WaitingOut,
    count_of,
    count_out,
    departments_of,
    families_of,
    programs_of,
    states_of,
    tasks_of,
)
from amberkey.server.standard.models import CoveragePoint, Draft
from amberkey.server.standard.plans import LineIn, LinesIn, PlanOfStandardOut, lines_from, plan_out, title_of
from amberkey.server.standard.rows import TaskRowOut, row_out
from amberkey.server.standard.state import (
    LAYER_KEY,
    compiled,
    current_coverage,
    current_findings,
    current_layer,
    plan_for,
    setups_seen,
)
from amberkey.server.standard.verbs.drafts import (
    find_draft,
    keep_draft,
    merged_with_now,
    remove_draft,
    standard_of,
    take_draft,
)
from amberkey.server.standard.verbs.lend import lend, take_off
from amberkey.server.standard.verbs.release import release_standard
from amberkey.server.standard.verbs.set_lines import save_standard, standard_at
from amberkey.server.workbench.api import ChangeOut
from amberkey.server.workbench.estate import (
    STANDARD,
    board_of,
    current_derived,
    current_estate,
    current_organisation,
    current_standard,
)

router = Router(tags=["standard"])
POINTS = 40


class ChosenItemIn(Schema):
    """Whose version of an item counts, where two people made something else of it."""

    section: str
    key: str
    value: dict[str, object] | None


class SaveLinesIn(LinesIn):
    chosen: list[ChosenItemIn] = []


class ExceptionIn(Schema):
    """`remove`: take the exception out instead."""

    task: str
    program: str
    platform: Platform
    layouts: list[str] = []
    reason: str = ""
    until: datetime.date | None = None
    remove: bool = False
    seen: str | None = None


class MeaningsIn(Schema):
    keys: str
    platform: Platform
    reason: str = ""
    remove: bool = False
    seen: str | None = None


class WhatIfIn(Schema):
    """`lines`: what the draft sets, over the standard or over what it is already."""

    name: str
    lines: list[LineIn] = []
    family: bool = False


class RemoveDraftIn(Schema):
    removed: bool


class ContradictionOut(Schema):
    section: str
    key: str
    ours: dict[str, object] | None
    theirs: dict[str, object] | None


class WhatIfOut(Schema):
    id: int
    name: str
    by: str
    mine: bool
    at: datetime.datetime
    lines: int
    contradictions: list[ContradictionOut]


class TakeDraftIn(Schema):
    chosen: list[ChosenItemIn] = []


class CarriedOut(Schema):
    """A line on another platform: `keys` there, or `why` not, with a proposal. All three as shortcuts are written."""

    task: str
    name: str
    origin: str
    keys: str | None
    why: str
    proposal: str | None


class FindingOut(Schema):
    kind: str
    says: str
    platform: Platform | None
    tasks: list[str]
    programs: list[str]
    keys: str | None
    people: int
    item: str
    allowed: str


class FindingsOut(Schema):
    kinds: list[tuple[str, str]]
    findings: list[FindingOut]


def _seen(setup: str, everywhere: bool, layout: str, department: str) -> list[str]:
    estate = current_estate()
    board_of(estate, setup)
    derived = current_derived()
    among = [i for i in estate.setups if department in derived.departments.get(i, ())] if department else None
    return setups_seen(estate, setup, everywhere, layout, among)


@router.get("/standard", response=StandardOut)
def standard(
    request: HttpRequest, setup: str, everywhere: bool = False, layout: str = "", department: str = ""
) -> HttpResponse:
    """Tasks by programs through a lens; in all setups of its platform, or of one layout or department of these."""
    coverage = current_coverage()
    estate, value = coverage.estate, coverage.standard
    board = board_of(estate, setup)
    every = _seen(setup, everywhere, "", "")
    seen = _seen(setup, everywhere, layout, department)
    if layout and seen:
        board = estate.board(seen[0])
    platform = board.ground.platform
    names = {d.id: d.name for d in current_organisation().departments}
    return as_json(
        StandardOut(
            name=value.name,
            digest=digests().get(STANDARD, ""),
            platform=platform,
            layouts=sorted({estate.setups[i].layout for i in every}),
            programs=programs_of(coverage, seen),
            tasks=tasks_of(coverage, seen, board),
            families=families_of(value, estate.tasks, platform),
            departments=departments_of(coverage, current_derived(), names, every),
            states=states_of(coverage, seen),
            whole=count_out(coverage.whole(seen)),
            people=estate.people_of(estate.setups[i] for i in seen),
            points=_points(),
            waiting=_waiting(value),
        )
    )


def _points() -> list[PointOut]:
    rows = CoveragePoint.objects.select_related("revision").order_by("-id")[:POINTS]
    return [
        PointOut(
            revision=r.revision.number,
            at=r.at,
            released=r.released,
            covered=count_of(r.agree, r.could, r.people_agree, r.people_could),
        )
        for r in reversed(rows)
    ]


def _waiting(value: Standard) -> WaitingOut:
    document = Document.objects.select_related("newest", "released").filter(key=STANDARD).first()
    if document is None or document.newest is None:
        return WaitingOut(entries=0, revision=0, released=None)
    layer, now = compiled(value, document.newest.digest), current_layer(current_estate())
    here = {e.key: e for e in now.entries} if now else {}
    there = {e.key: e for e in layer.entries}
    differing = sum(here.get(k) != there.get(k) for k in here.keys() | there.keys())
    released = document.released.number if document.released else None
    return WaitingOut(entries=differing, revision=document.newest.number, released=released)


@router.get("/standard/tasks/{task}", response=TaskRowOut)
def row(
    request: HttpRequest, task: str, setup: str, everywhere: bool = False, layout: str = "", department: str = ""
) -> TaskRowOut:
    """One task in full: its lines on all platforms, who has what, and what it could have."""
    seen = _seen(setup, everywhere, layout, department)
    return row_out(current_coverage(), task, seen, board_of(current_estate(), setup))


@router.post("/standard/plan", response=PlanOfStandardOut)
def plan(request: HttpRequest, given: LinesIn) -> PlanOfStandardOut:
    """What lines would do, before they are saved."""
    now = current_standard()
    return _plan(now, _wanted(request, given, now))


def _wanted(request: HttpRequest, given: LinesIn | WhatIfIn, over: Standard) -> Standard:
    """A standard with the lines that somebody asks for, in their name and of today."""
    today, owner = timezone.localdate(), actor_of(request).name
    return lines_from(given.lines, over, current_estate().tasks, owner, today, given.family)


def _plan(now: Standard, wanted: Standard) -> PlanOfStandardOut:
    estate = current_estate()
    return plan_out(plan_for(now, wanted), now, estate, estate.tasks)


def _chosen(given: list[ChosenItemIn]) -> Mapping[tuple[str, str], Json]:
    return {(c.section, c.key): cast(Json, c.value) for c in given}


def _seen_standard(seen: str | None) -> Standard:
    """The revision that somebody saw: what they ask for is asked of that one."""
    if seen == "":
        return NO_STANDARD
    known = seen and Document.objects.filter(key=STANDARD, revisions__body_id=seen).exists()
    return standard_at(seen) if seen and known else current_standard()


@router.post("/standard/lines", response=ChangeOut)
def save_lines(request: HttpRequest, given: SaveLinesIn) -> ChangeOut:
    """Save lines, beside whatever others saved meanwhile."""
    base = _seen_standard(given.seen)
    wanted = _wanted(request, given, base)
    reason = next((v.reason for v in given.lines if v.reason), "")
    title = title_of(base, wanted, current_estate().tasks)
    done = save_standard(actor_of(request), wanted, given.seen, title, reason, _chosen(given.chosen))
    return ChangeOut(id=done.id, title=done.title)


@router.post("/standard/exceptions", response=ChangeOut)
def save_exception(request: HttpRequest, given: ExceptionIn) -> ChangeOut:
    """Let a program off a line, with a reason and perhaps an end; or take that back."""
    actor, base, estate = actor_of(request), _seen_standard(given.seen), current_estate()
    task = estate.tasks.task(given.task)
    name = next((p.name for (i, _), p in estate.programs.items() if i == given.program), None)
    if task is None or name is None:
        raise NotFound(f"task {given.task[:60]}" if task is None else f"program {given.program[:60]}")
    if not given.remove and len(given.reason.strip()) < 3:
        raise Problem(400, "An exception needs a reason.", cure="Write in a few words why the program needn't follow.")
    if given.until is not None and given.until < timezone.localdate():
        raise Problem(400, "The end lies in the past.", cure="Choose a later day, or none.")
    one = Exempt(
        task=given.task,
        program=given.program,
        platform=given.platform,
        layouts=tuple(sorted(given.layouts)),
        reason=given.reason.strip() or "taken out",
        owner=actor.name,
        until=given.until,
    )
    others = [e for e in base.exceptions if e.key != one.key]
    if given.remove and len(others) == len(base.exceptions):
        raise NotFound(f"exception {one.key[:80]}")
    kept = others if given.remove else [*others, one]
    wanted = Standard.model_validate({**dict(base), "exceptions": tuple(kept)})
    title = (
        f"{name} follows the standard for {task.name} again" if given.remove else f"Let {name} off the standard for {task.name}"
    )
    done = save_standard(actor, wanted, given.seen, title, given.reason)
    return ChangeOut(id=done.id, title=done.title)


@router.post("/standard/meanings", response=ChangeOut)
def save_meanings(request: HttpRequest, given: MeaningsIn) -> ChangeOut:
    """Allow a key to mean several things in several programs, or take that back."""
    actor, base = actor_of(request), _seen_standard(given.seen)
    shortcut = read_shortcut(given.keys).resolve(given.platform)
    if not given.remove and len(given.reason.strip()) < 3:
        raise Problem(400, "This needs a reason.", cure="Write in a few words why one key may mean several things.")
    reason = given.reason.strip() or "taken out"
    one = Meanings(keys=shortcut, platform=given.platform, reason=reason, owner=actor.name)
    others = [m for m in base.meanings if m.key != one.key]
    if given.remove and len(others) == len(base.meanings):
        raise NotFound(f"allowed key {one.key[:80]}")
    wanted = Standard.model_validate({**dict(base), "meanings": tuple(others if given.remove else [*others, one])})
    title = f"{one.key} may mean several things" + (" no longer" if given.remove else "")
    done = save_standard(actor, wanted, given.seen, title, given.reason)
    return ChangeOut(id=done.id, title=done.title)


@router.get("/standard/release", response=PlanOfStandardOut)
def release_planned(request: HttpRequest) -> PlanOfStandardOut:
    """What releasing the standard as it is saved would change for people."""
    document = Document.objects.select_related("released").filter(key=STANDARD).first()
    released = document.released if document else None
    before = standard_at(released.digest) if released and LAYER_KEY in digests() else NO_STANDARD
    return _plan(before, current_standard())


@router.post("/standard/release", response=ChangeOut)
def release_now(request: HttpRequest) -> ChangeOut:
    done = release_standard(actor_of(request))
    return ChangeOut(id=done.id, title=done.title)


@router.get("/standard/drafts", response=list[WhatIfOut])
def drafts(request: HttpRequest) -> list[WhatIfOut]:
    """Everybody's drafts, the newest first."""
    return [_draft_out(request, d) for d in Draft.objects.filter(removed=False).select_related("base", "body", "owner")]


def _draft_out(request: HttpRequest, draft: Draft) -> WhatIfOut:
    merged = merged_with_now(draft)
    return WhatIfOut(
        id=draft.id,
        name=draft.name,
        by=draft.owner.display_name,
        mine=draft.owner_id == request.user.pk,
        at=draft.at,
        lines=sum(o.section == "lines" for o in merged.operations) + len(merged.contradictions),
        contradictions=[
            ContradictionOut.model_validate({"section": c.section, "key": c.key, "ours": c.ours, "theirs": c.theirs})
            for c in merged.contradictions
        ],
    )


@router.post("/standard/drafts", response=WhatIfOut)
def begin_draft(request: HttpRequest, given: WhatIfIn) -> WhatIfOut:
    """Begin a draft over the standard as it is."""
    return _draft_out(request, keep_draft(actor_of(request), given.name, _wanted(request, given, current_standard())))


@router.post("/standard/drafts/{draft_id}", response=WhatIfOut)
def change_draft(request: HttpRequest, draft_id: int, given: WhatIfIn) -> WhatIfOut:
    """Set lines in a draft, or name it otherwise."""
    draft = find_draft(draft_id)
    return _draft_out(request, keep_draft(actor_of(request), given.name, _wanted(request, given, standard_of(draft)), draft))


@router.get("/standard/drafts/{draft_id}/plan", response=PlanOfStandardOut)
def plan_draft(request: HttpRequest, draft_id: int) -> PlanOfStandardOut:
    """A draft compared with the standard as it is."""
    return _plan(current_standard(), standard_of(find_draft(draft_id)))


@router.post("/standard/drafts/{draft_id}/take", response=ChangeOut)
def take_over_draft(request: HttpRequest, draft_id: int, given: TakeDraftIn) -> ChangeOut:
    done = take_draft(actor_of(request), find_draft(draft_id), _chosen(given.chosen))
    return ChangeOut(id=done.id, title=done.title)


@router.post("/standard/drafts/{draft_id}/removal", response=WhatIfOut)
def drop_draft(request: HttpRequest, draft_id: int, given: RemoveDraftIn) -> WhatIfOut:
    """Drop a draft, or bring it back."""
    return _draft_out(request, remove_draft(actor_of(request), find_draft(draft_id, removed=True), given.removed))


@router.get("/standard/carry", response=list[CarriedOut])
def carried(request: HttpRequest, origin: Platform, target: Platform) -> list[CarriedOut]:
    """The lines of a platform as they would be on another one; saving them is saving lines."""
    if origin == target:
        raise Problem(400, "Both are the same platform.", cure="Choose another one to carry the lines to.")
    estate = current_estate()
    names = {t.id: t.name for t in estate.tasks.tasks}
    return [
        CarriedOut(
            task=c.origin.task,
            name=names.get(c.origin.task, c.origin.task),
            origin=str(c.origin.shortcut),
            keys=str(c.line.shortcut) if c.line else None,
            why=c.why,
            proposal=str(c.proposal) if c.proposal else None,
        )
        for c in carry(estate, current_standard(), origin, target)
    ]


@router.post("/standard/lend/plan", response=BorrowedOut)
def plan_lending(request: HttpRequest, given: BorrowIn) -> BorrowedOut:
    """What a program would take from another one."""
    return lending.borrowed_out(lending.borrowed(given))


@router.post("/standard/lend", response=ChangeOut)
def lend_shortcuts(request: HttpRequest, given: BorrowIn) -> ChangeOut:
    found = lending.borrowed(given)
    if not found.taken:
        raise Problem(409, "There is nothing to take.", "Every task that both have is on the same keys, or refused.")
    done = lend(actor_of(request), given.profile, found.entries)
    return ChangeOut(id=done.id, title=done.title)


@router.get("/standard/sets", response=list[SetOut])
def sets(request: HttpRequest) -> list[SetOut]:
    return lending.sets_out()


@router.post("/standard/sets/removal", response=ChangeOut)
def take_set_off(request: HttpRequest, given: SetOffIn) -> ChangeOut:
    done = take_off(actor_of(request), given.profile, given.id)
    return ChangeOut(id=done.id, title=done.title)


@router.get("/standard/findings", response=FindingsOut)
def found(request: HttpRequest) -> FindingsOut:
    """What is worth a look, by kind."""
    return FindingsOut(
        kinds=list(KIND_WORDS.items()),
        findings=[
            FindingOut(
                kind=f.kind,
                says=f.says,
                platform=f.platform,
                tasks=list(f.tasks),
                programs=list(f.programs),
                keys=str(f.shortcut) if f.shortcut else None,
                people=f.people,
                item=f.item,
                allowed=f.allowed,
            )
            for f in current_findings()
        ],
    )


@router.get("/standard.csv")
def as_csv(request: HttpRequest, setup: str, everywhere: bool = False, layout: str = "", department: str = "") -> HttpResponse:
    """The matrix through a lens as CSV: a row a task, a column a program."""
    coverage = current_coverage()
    seen = _seen(setup, everywhere, layout, department)
    board = board_of(coverage.estate, seen[0] if layout and seen else setup)
    programs, tasks = programs_of(coverage, seen), tasks_of(coverage, seen, board)
    rows = []
    for task in tasks:
        cells = {c.program: c for c in task.cells}
        told = [_told(cells[p.id].state, [k.words for k in cells[p.id].keys]) if p.id in cells else "" for p in programs]
        rows.append([task.name, task.line.shortcut.words if task.line else "", *told])
    response = HttpResponse(
        write_csv(["Task", "Standard", *(p.name for p in programs)], rows), content_type="text/csv; charset=utf-8"
    )
    response["Content-Disposition"] = 'attachment; filename="standard.csv"'
    return response


def _told(state: Shown, keys: list[str]) -> str:
    says = "no line" if state == "no_line" else STATE_WORDS[state]
    return says + (f": {' and '.join(keys)}" if keys else "")
