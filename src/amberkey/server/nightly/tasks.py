"""Jobs on lists that were sent. Each may be begun again at any time."""

from uuid import UUID

from procrastinate import JobContext

from amberkey.server.jobs import AGAIN, app, begun, for_the_worker, live_jobs
from amberkey.server.nightly.models import SentList
from amberkey.server.watch.logs import current_id


@app.task(queue="lists", retry=AGAIN, pass_context=True)
def work_on_sent(context: JobContext, sent_id: str, asked_in: str = "") -> None:
    from amberkey.server.nightly.working import do, fail  # every process loads this module, and few do the work

    with begun(context, asked_in, lambda why: fail(UUID(sent_id), why)):
        do(UUID(sent_id))


def put_to_work(sent: SentList) -> None:
    """A job for a list; in the transaction that put it there."""
    work_on_sent.defer(sent_id=str(sent.id), asked_in=current_id())


@for_the_worker
def sent_without_a_job() -> int:
    """Puts lists to work that say somebody is at work on them while no job is; returns how many."""
    busy = SentList.objects.filter(state=SentList.State.WORKING)
    if not busy.exists():
        return 0
    live = live_jobs("sent_id")
    stranded = [sent for sent in busy if str(sent.id) not in live]
    for sent in stranded:
        put_to_work(sent)
    return len(stranded)
