"""Proposals over the API: asked for, looked at while they are worked out, stopped, walked point by point, made a draft."""

import datetime
from typing import Literal, cast
from uuid import UUID

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import Platform
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.proposals.keyboard import PlanKeyboardOut, plan_keyboard
from amberkey.server.proposals.models import Proposal, ProposalPoint
from amberkey.server.proposals.told import ProposedPointOut
from amberkey.server.proposals.verbs.ask import ask, draft_of, go_on, stop
from amberkey.server.proposals.working import AskedOf
from amberkey.server.schema import Name, Number, Schema, Words

router = Router(tags=["standard"])
_SHOWN = 20


class CurvePointOut(Schema):
    """A point of the curve: so many keys relearned over all people, and what the standard is worth then, in points."""

    id: int
    relearned: int
    worth: int


class AskedProposalOut(Schema):
    """`doing`: what is being done; `best`, `bound`: points so far; `says`: why it failed, or where the curve ends."""

    id: UUID
    state: Literal["working", "done", "stopped", "failed"]
    asked: AskedOf
    doing: str
    best: float | None
    bound: float | None
    says: str
    by: str
    at: datetime.datetime
    points: list[CurvePointOut]


class DraftOfPointIn(Schema):
    name: Name


class DraftOfPointOut(Schema):
    id: int
    name: str


@router.get("/proposals", response=list[AskedProposalOut])
def proposals(request: HttpRequest) -> list[AskedProposalOut]:
    """Everybody's proposals, the newest first."""
    return [_out(p) for p in Proposal.objects.select_related("by").prefetch_related("points")[:_SHOWN]]


@router.post("/proposals", response=AskedProposalOut, auth=By(Role.EDITOR))
def ask_proposal(request: HttpRequest, given: AskedOf) -> AskedProposalOut:
    """Have keys chosen for all tasks of a platform at once, by a worker."""
    return _out(ask(actor_of(request), given))


@router.get("/proposals/{proposal_id}", response=AskedProposalOut)
def see_proposal(request: HttpRequest, proposal_id: UUID) -> AskedProposalOut:
    return _out(_found(proposal_id))


@router.post("/proposals/{proposal_id}/stop", response=AskedProposalOut, auth=By(Role.EDITOR))
def stop_proposal(request: HttpRequest, proposal_id: UUID) -> AskedProposalOut:
    """Stop with the best so far."""
    return _out(stop(actor_of(request), proposal_id))


@router.post("/proposals/{proposal_id}/on", response=AskedProposalOut, auth=By(Role.EDITOR))
def go_on_with_proposal(request: HttpRequest, proposal_id: UUID) -> AskedProposalOut:
    """Go on with one that was stopped, from the points that it has."""
    return _out(go_on(actor_of(request), proposal_id))


@router.get("/proposals/{proposal_id}/points/{point_id}", response=ProposedPointOut)
def see_point(request: HttpRequest, proposal_id: UUID, point_id: Number) -> ProposedPointOut:
    """One point with all its lines."""
    found = ProposalPoint.objects.select_related("told").filter(pk=point_id, proposal_id=proposal_id).first()
    if found is None:
        raise NotFound("such point of a proposal")
    return ProposedPointOut.model_validate(cast(object, found.told.json()))


@router.get("/proposals/{proposal_id}/points/{point_id}/keyboard", response=PlanKeyboardOut)
def see_keyboard(
    request: HttpRequest,
    proposal_id: UUID,
    point_id: Number,
    setup: str,
    held: Words | None = None,
    platform: Platform | None = None,
) -> PlanKeyboardOut:
    """The keys of one point on a keyboard: of `setup` where that is on the platform, else of the setup with most people there.
    `platform`: one of several that were asked for, else the first. `held`: modifiers with commas between; else those with which
    most tasks have their keys."""
    point = (
        ProposalPoint.objects.select_related("standard", "proposal__base").filter(pk=point_id, proposal_id=proposal_id).first()
    )
    if point is None:
        raise NotFound("such point of a proposal")
    return plan_keyboard(point, setup, held, platform)


@router.post("/proposals/{proposal_id}/points/{point_id}/draft", response=DraftOfPointOut, auth=By(Role.EDITOR))
def draft_point(request: HttpRequest, proposal_id: UUID, point_id: Number, given: DraftOfPointIn) -> DraftOfPointOut:
    """Make a point a what-if draft of the standard."""
    draft = draft_of(actor_of(request), proposal_id, point_id, given.name)
    return DraftOfPointOut(id=draft.pk, name=draft.name)


def _found(proposal_id: UUID) -> Proposal:
    found = Proposal.objects.select_related("by").prefetch_related("points").filter(pk=proposal_id).first()
    if found is None:
        raise NotFound("such proposal")
    return found


def _out(found: Proposal) -> AskedProposalOut:
    return AskedProposalOut(
        id=found.pk,
        state=cast(Literal["working", "done", "stopped", "failed"], found.state),
        asked=AskedOf.model_validate(found.asked),
        doing=found.doing,
        best=found.best,
        bound=found.bound,
        says=found.says,
        by=found.by.display_name,
        at=found.at,
        points=[CurvePointOut(id=p.pk, relearned=p.relearned, worth=p.worth) for p in found.points.all()],
    )
