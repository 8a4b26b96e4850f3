"""The work on a proposal: the best without a limit first, then the points of the curve below it, each kept as it is found."""

import math
import time
from collections.abc import Iterator
from typing import Annotated, cast
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from pydantic import Field

from amberkey.core.documents.canonical import Json, canonical_bytes, digest_of
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.apart import Apart
from amberkey.core.proposing.program import Solver
from amberkey.core.proposing.propose import Proposal as Found
from amberkey.core.proposing.propose import Proposer
from amberkey.core.proposing.question import CannotPropose, Question, Settled
from amberkey.core.standard.model import Line, Standard
from amberkey.core.standard.setting import family_lines
from amberkey.server.estate import current_derived, current_estate, current_organisation, current_standard
from amberkey.server.library.documents import digests
from amberkey.server.library.models import Body
from amberkey.server.once import reading
from amberkey.server.problems import Problem
from amberkey.server.proposals.models import Proposal, ProposalPoint
from amberkey.server.proposals.told import ProposedPointOut, point_of
from amberkey.server.schema import Schema

POINTS = 10
"""Of the curve, its ends with it."""
_LOOK = 0.5
"""Seconds between two looks at whether somebody wants to stop, and two words on how far it is."""
_Id = Annotated[str, Field(min_length=1, max_length=80)]
_Keys = Annotated[str, Field(min_length=1, max_length=200)]


class WithoutIn(Schema):
    task: _Id
    keys: _Keys


class PinIn(WithoutIn):
    """`family`: the rest of the task's family follows in its shape."""

    family: bool = False


class BesideIn(Schema):
    """A point of another proposal."""

    proposal: UUID
    point: Annotated[int, Field(ge=1, le=2**31 - 1)]


class SettledOn(Schema):
    """What is settled beforehand on a platform. `pins`: keys that tasks must have; `bans`: keys that no line may get;
    `without`: keys that one task may not get."""

    pins: Annotated[list[PinIn], Field(max_length=500)] = []
    bans: Annotated[list[_Keys], Field(max_length=500)] = []
    without: Annotated[list[WithoutIn], Field(max_length=500)] = []


class AskedOf(SettledOn):
    """What a proposal is asked for. `together`: more platforms for which keys are chosen in the same go, of one shape as far as
    that is worth it; `pins`, `bans` and `without` are keys of `platform` alone, those of the others stand in `elsewhere`.
    `kept`: tasks whose line stays; `beside`: the point that this is asked to be held against; `spared`: programs that are left
    alone; `departments`: those whose people press everything as before; `budget`: the most keys relearned, over all people,
    null for any number; `seconds`: how long each point may be looked for; `curve`: with the points below the best."""

    platform: Platform
    together: Annotated[list[Platform], Field(max_length=3)] = []
    kept: Annotated[list[_Id], Field(max_length=2_000)] = []
    elsewhere: dict[Platform, SettledOn] = {}
    beside: BesideIn | None = None
    spared: Annotated[list[_Id], Field(max_length=500)] = []
    departments: Annotated[list[_Id], Field(max_length=500)] = []
    budget: Annotated[int, Field(ge=0, le=100_000_000)] | None = None
    seconds: Annotated[int, Field(ge=5, le=600)] = 60
    curve: bool = True


def question_of(asked: AskedOf) -> Question:
    """The question in the core's words. Raises ShortcutError, and Problem where a family can't keep its shape."""
    first = _settled(asked, asked.platform)
    return Question(
        asked.platform,
        tuple(asked.together),
        pins=first.pins,
        kept=frozenset(asked.kept),
        bans=first.bans,
        spared=frozenset(asked.spared),
        alone=current_derived().setups_in(current_organisation(), asked.departments),
        without=first.without,
        elsewhere={platform: _settled(own, platform) for platform, own in asked.elsewhere.items()},
        seconds=float(asked.seconds),
    )


def _settled(said: SettledOn, platform: Platform) -> Settled:
    without: dict[str, set[Shortcut]] = {}
    for one in said.without:
        without.setdefault(one.task, set()).add(_key(one.keys, platform))
    return Settled(
        dict(pin for p in said.pins for pin in _pinned(p, platform)),
        frozenset(_key(k, platform) for k in said.bans),
        {task: frozenset(keys) for task, keys in without.items()},
    )


def _pinned(pin: PinIn, platform: Platform) -> Iterator[tuple[str, Shortcut]]:
    """The key of a pin, and those of its family."""
    key, tasks = _key(pin.keys, platform), current_estate().tasks
    family = tasks.family_of(pin.task) if pin.family else None
    if family is None:
        yield pin.task, key
        return
    lines = family_lines(Line(task=pin.task, platform=platform, keys=key), tasks)
    if not lines:
        what = f"The family of {pin.task} can't keep its shape with {pin.keys}."
        raise Problem(400, what, cure="Pin another key, or the task alone.")
    yield from ((task, line.shortcut) for task, line in lines.items())


def _key(text: str, platform: Platform) -> Shortcut:
    return read_shortcut(text).resolve(platform)


class _Watch:
    """Says how far a proposal is, and hears whether it is to stop, without asking the database all the time."""

    def __init__(self, found: UUID) -> None:
        self.found, self.looked, self.stop = found, 0.0, False
        self.doing = ""

    def stopped(self) -> bool:
        if not self.stop and time.monotonic() - self.looked > _LOOK:
            self.looked = time.monotonic()
            known = Proposal.objects.filter(pk=self.found).values_list("stop", flat=True).first()
            self.stop = known is not False
        return self.stop

    def told(self, doing: str, cost: float | None, bound: float) -> None:
        self.doing = doing or self.doing
        known = bound if math.isfinite(bound) else None
        Proposal.objects.filter(pk=self.found).update(doing=self.doing[:200], best=cost, bound=known)


def work(found_id: UUID, solver: Solver | None = None) -> None:
    """The job. Stopped, it keeps the points that it has; begun again, it goes on from these, or begins anew where what it was
    worked out from isn't what there is now."""
    found = Proposal.objects.filter(pk=found_id).first()
    if found is None or found.state != Proposal.State.WORKING:
        return
    asked = AskedOf.model_validate(found.asked)
    with reading():  # of one and the same state
        stamp, estate, standard = _stamp(), current_estate(), current_standard()
    watch = _Watch(found_id)
    _begin(found, stamp, standard)
    known = dict(found.points.values_list("place", "relearned"))
    try:
        proposer = Proposer(question_of(asked), estate, standard, solver or Apart(), stopped=watch.stopped, told=watch.told)
        if 0 not in known:
            best = proposer.propose(asked.budget)
            _keep(found, best, None if watch.stop else 0)
            known[0] = best.relearned
        if asked.curve and found.budgets is None and not watch.stop:
            found.budgets = _below(proposer, known[0])
            found.save(update_fields=["budgets"])
        left = {n: budget for n, budget in enumerate(found.budgets or (), 1) if n not in known}
        for n, point in zip(left, proposer.curve(list(left.values())), strict=False):
            _keep(found, point, None if watch.stop else n)
    except CannotPropose as error:
        _end(found, Proposal.State.FAILED, f"{error.says} {error.cure}")
        return
    _end(found, Proposal.State.STOPPED if watch.stop else Proposal.State.DONE, "")


def _stamp() -> str:
    """All that a proposal is worked out from, as a digest: other documents or another day may make another one."""
    state = {key: digest for key, digest in digests().items() if not key.startswith("decisions/")}
    return digest_of(canonical_bytes({"day": timezone.localdate().isoformat(), "state": cast(Json, state)}))


def _begin(found: Proposal, stamp: str, standard: Standard) -> None:
    """Takes away what the work can't go on from."""
    if found.stamp == stamp:
        found.points.filter(place=None).delete()
        return
    found.points.all().delete()
    found.base, found.stamp, found.budgets = Body.keep(standard.to_bytes()), stamp, None
    found.save(update_fields=["base", "stamp", "budgets"])


def _below(proposer: Proposer, most: int) -> list[int]:
    """The budgets of the curve below the best: the least that is possible, and some in even steps from there, so that each
    begins with what the one before found."""
    least = proposer.least_relearned()
    if least is None or least >= most:
        return []
    return sorted({least + (most - least) * n // (POINTS - 1) for n in range(POINTS - 1)})


def _keep(found: Proposal, made: Found, place: int | None) -> None:
    point: ProposedPointOut = point_of(made, current_derived().personal)
    with transaction.atomic():
        ProposalPoint.objects.create(
            proposal=found,
            place=place,
            relearned=made.relearned,
            worth=made.today.points.total - made.judged.points.total,
            told=Body.keep_json(point.model_dump(mode="json")),
            standard=Body.keep(made.standard.to_bytes()),
        )


def _end(found: Proposal, state: Proposal.State, says: str) -> None:
    Proposal.objects.filter(pk=found.pk).update(state=state, says=says[:600], doing="")
