"""Jobs on proposals, for the workers. Each may be begun again at any time."""

from datetime import timedelta
from uuid import UUID

from django.utils import timezone
from procrastinate import JobContext

from amberkey.server.jobs import AGAIN, app, begun, for_the_worker, live_jobs
from amberkey.server.proposals.models import Proposal
from amberkey.server.watch.logs import current_id

KEPT = timedelta(days=90)
"""So long a proposal is kept; drafts made of it stay."""


@app.task(queue="proposals", retry=AGAIN, pass_context=True)
def work_out(context: JobContext, proposal_id: str, asked_in: str = "") -> None:
    from amberkey.server.proposals.working import work  # every process loads this module, and few do the work

    with begun(context, asked_in, lambda why: fail(UUID(proposal_id), why)):
        work(UUID(proposal_id))


def fail(proposal_id: UUID, why: str) -> None:
    """A proposal whose job failed says why."""
    Proposal.objects.filter(pk=proposal_id, state=Proposal.State.WORKING).update(state=Proposal.State.FAILED, says=why[:600])


def put_to_work(found: Proposal) -> None:
    """A job for a proposal, one of all at a time; in the transaction that made it."""
    work_out.configure(lock="proposals").defer(proposal_id=str(found.pk), asked_in=current_id())


@for_the_worker
def proposals_without_a_job() -> int:
    """Lets old ones go, and puts to work what no job is at; returns how many."""
    Proposal.objects.filter(at__lt=timezone.now() - KEPT).delete()
    busy = list(Proposal.objects.filter(state=Proposal.State.WORKING))
    live = live_jobs("proposal_id") if busy else set()
    stranded = [found for found in busy if str(found.pk) not in live]
    for found in stranded:
        put_to_work(found)
    return len(stranded)
