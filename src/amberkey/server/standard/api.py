"""The standard's writing endpoints: lines, exceptions, meanings, releasing, carrying; the others stand beside their answers."""

import datetime

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.standard.asking import with_exceptions
from amberkey.core.standard.carrying import carry
from amberkey.core.standard.model import NO_STANDARD, Exempt, Meanings, Standard
from amberkey.server.estate import (
    STANDARD,
    current_estate,
    current_standard,
)
from amberkey.server.library.contradicting import ChosenItemIn, chosen_items
from amberkey.server.library.documents import digests
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.models import Document
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Reason, Schema
from amberkey.server.standard import beginning, borrowed, deciding, drafts, rooms, sheet, tasks_edited, worth_a_look
from amberkey.server.standard.plans import LinesIn, PlanOfStandardOut, planned, title_of, wanted_by
from amberkey.server.standard.state import LAYER_KEY
from amberkey.server.standard.verbs.release import release_standard
from amberkey.server.standard.verbs.set_lines import check_exception, save_standard, seen_standard, standard_at
from amberkey.server.workbench.words import ShortcutOut, shortcut_on

router = Router(tags=["standard"])
for part in (beginning, tasks_edited, sheet, drafts, borrowed, rooms, worth_a_look, deciding):
    router.add_router("", part.router)


class SaveLinesIn(LinesIn):
    chosen: list[ChosenItemIn] = []


class ExceptionIn(Schema):
    """`remove`: take the exception out instead."""

    task: str
    program: str
    platform: Platform
    layouts: list[str] = []
    reason: Reason = ""
    until: datetime.date | None = None
    remove: bool = False
    seen: str | None = None


class MeaningsIn(Schema):
    keys: str
    platform: Platform
    reason: Reason = ""
    remove: bool = False
    seen: str | None = None


class CarriedOut(Schema):
    """A line on another platform: `keys` there, or `why` not, with a proposal. Each in the words of its platform."""

    task: str
    name: str
    origin: ShortcutOut
    keys: ShortcutOut | None
    why: str
    proposal: ShortcutOut | None


@router.post("/standard/plan", response=PlanOfStandardOut)
def plan(request: HttpRequest, given: LinesIn) -> PlanOfStandardOut:
    """What lines would do, before they are saved."""
    now = current_standard()
    return planned(now, wanted_by(actor_of(request), given.lines, given.family, now))


@router.post("/standard/lines", response=ChangeOut, auth=By(Role.EDITOR))
def save_lines(request: HttpRequest, given: SaveLinesIn) -> ChangeOut:
    """Save lines, beside whatever others saved meanwhile."""
    base = seen_standard(given.seen)
    wanted = wanted_by(actor_of(request), given.lines, given.family, base)
    reason = next((v.reason for v in given.lines if v.reason), "")
    title = title_of(base, wanted, current_estate().tasks)
    done = save_standard(actor_of(request), wanted, given.seen, title, reason, chosen_items(given.chosen))
    return ChangeOut(id=done.id, title=done.title)


@router.post("/standard/exceptions", response=ChangeOut, auth=By(Role.EDITOR))
def save_exception(request: HttpRequest, given: ExceptionIn) -> ChangeOut:
    """Let a program off a line, with a reason and perhaps an end; or take that back."""
    actor, base, estate = actor_of(request), seen_standard(given.seen), current_estate()
    task = estate.tasks.task(given.task)
    name = next((p.name for (i, _), p in estate.programs.items() if i == given.program), None)
    if task is None or name is None:
        raise NotFound(f"task {given.task[:60]}" if task is None else f"program {given.program[:60]}")
    if not given.remove:
        check_exception(given.reason, given.until)
    one = Exempt(
        task=given.task,
        program=given.program,
        platform=given.platform,
        layouts=tuple(sorted(given.layouts)),
        reason=given.reason.strip() or "taken out",
        owner=actor.name,
        until=given.until,
    )
    if given.remove and all(e.key != one.key for e in base.exceptions):
        raise NotFound(f"exception {one.key[:80]}")
    wanted = with_exceptions(base, [] if given.remove else [one], [one.key])
    title = (
        f"{name} follows the standard for {task.name} again" if given.remove else f"Let {name} off the standard for {task.name}"
    )
    done = save_standard(actor, wanted, given.seen, title, given.reason)
    return ChangeOut(id=done.id, title=done.title)


@router.post("/standard/meanings", response=ChangeOut, auth=By(Role.EDITOR))
def save_meanings(request: HttpRequest, given: MeaningsIn) -> ChangeOut:
    """Allow a key to mean several things in several programs, or take that back."""
    actor, base = actor_of(request), seen_standard(given.seen)
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
    return planned(before, current_standard())


@router.post("/standard/release", response=ChangeOut, auth=By(Role.RELEASER))
def release_now(request: HttpRequest) -> ChangeOut:
    done = release_standard(actor_of(request))
    return ChangeOut(id=done.id, title=done.title)


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
            origin=shortcut_on(c.origin.shortcut, origin),
            keys=shortcut_on(c.line.shortcut, target) if c.line else None,
            why=c.why,
            proposal=shortcut_on(c.proposal, target) if c.proposal else None,
        )
        for c in carry(estate, current_standard(), origin, target)
    ]
