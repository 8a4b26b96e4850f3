"""Asking for a proposal, stopping the work on one, going on with it, and making a draft of one of its points."""

from uuid import UUID

from django.db import transaction

from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.standard.model import Standard
from amberkey.server.estate import STANDARD, current_estate, current_organisation
from amberkey.server.library.documents import digests
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.proposals.models import Proposal, ProposalPoint
from amberkey.server.proposals.tasks import put_to_work
from amberkey.server.proposals.working import AskedOf, SettledOn, question_of
from amberkey.server.standard.models import Draft
from amberkey.server.standard.verbs.drafts import keep_draft


def ask(actor: Actor, asked: AskedOf) -> Proposal:
    """Have a proposal worked out by a worker. Raises ShortcutError, and Problem where it names what isn't there or somebody's
    own one is being worked out."""
    actor.require(Role.EDITOR)
    question_of(asked)
    estate = current_estate()
    other = next((p for p in asked.elsewhere if p not in asked.together or p == asked.platform), None)
    if other is not None:
        name = PLATFORM_NAMES[other]
        raise Problem(400, f"Keys are settled on {name}, and none are chosen there.", cure=f"Ask together with {name}.")
    settled: tuple[SettledOn, ...] = (asked, *asked.elsewhere.values())
    for task in (*(p.task for own in settled for p in (*own.pins, *own.without)), *asked.kept):
        if estate.tasks.task(task) is None:
            raise Problem(400, f"There is no task {task}.", cure="Choose a task that there is.")
    unknown = next((i for i in asked.spared if all(p != i for p, _ in estate.programs)), None)
    if unknown is not None:
        raise Problem(400, f"There is no program {unknown}.", cure="Spare a program that there is.")
    known = current_organisation().departments_by_id
    nowhere = next((i for i in asked.departments if i not in known), None)
    if nowhere is not None:
        raise Problem(400, f"There is no department {nowhere}.", cure="Leave a department alone that there is.")
    beside = asked.beside
    if beside is not None and not ProposalPoint.objects.filter(pk=beside.point, proposal_id=beside.proposal).exists():
        raise NotFound("such point of a proposal")
    with transaction.atomic():
        _one_at_a_time(actor)
        made = Proposal.objects.create(asked=asked.model_dump(mode="json"), by=actor.user)
        actor.record("asked for a proposal", f"proposal {made.pk}", asked.platform)
        put_to_work(made)
    return made


def stop(actor: Actor, proposal_id: UUID) -> Proposal:
    """Have a worker stop with what there is."""
    actor.require(Role.EDITOR)
    if not Proposal.objects.filter(pk=proposal_id).update(stop=True):
        raise NotFound("such proposal")
    return Proposal.objects.get(pk=proposal_id)


def go_on(actor: Actor, proposal_id: UUID) -> Proposal:
    """Have a worker go on with a proposal that was stopped, or that failed, from the points that it has."""
    actor.require(Role.EDITOR)
    with transaction.atomic():
        found = Proposal.objects.select_for_update().filter(pk=proposal_id).first()
        if found is None:
            raise NotFound("such proposal")
        if found.state not in (Proposal.State.STOPPED, Proposal.State.FAILED):
            raise Problem(409, "This proposal isn't stopped.", f"It is {found.state}.", "Load the page again.")
        _one_at_a_time(actor)
        found.state, found.stop, found.says, found.best, found.bound = Proposal.State.WORKING, False, "", None, None
        found.save()
        actor.record("went on with a proposal", f"proposal {found.pk}")
        put_to_work(found)
    return found


def _one_at_a_time(actor: Actor) -> None:
    """Raises Problem where a proposal that somebody asked for is being worked out."""
    if Proposal.objects.select_for_update().filter(by=actor.user, state=Proposal.State.WORKING, stop=False).exists():
        raise Problem(409, "A proposal of yours is being worked out already.", cure="Wait for it, or stop it.")


def draft_of(actor: Actor, proposal_id: UUID, point_id: int, name: str) -> Draft:
    """Make one point of a proposal a what-if draft of the standard: what others have saved since stays."""
    actor.require(Role.EDITOR)
    point = (
        ProposalPoint.objects.select_related("standard", "proposal__base").filter(pk=point_id, proposal_id=proposal_id).first()
    )
    if point is None:
        raise NotFound("such point of a proposal")
    if STANDARD not in digests():
        raise Problem(409, "There is no standard yet that this could be a draft of.", cure="Begin one first, with any line.")
    wanted = read_document(point.standard.json(), FORMATS)
    assert isinstance(wanted, Standard)
    return keep_draft(actor, name, wanted, made_from=point.proposal.base)
