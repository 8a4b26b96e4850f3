"""The job that drops old revisions, for the workers. It may be begun again at any time."""

from procrastinate import JobContext

from amberkey.server.jobs import AGAIN, app, begun, for_the_worker, live_jobs
from amberkey.server.library.models import Thinning
from amberkey.server.library.verbs.thin import do_thin
from amberkey.server.watch.logs import current_id


@app.task(queue="thinning", retry=AGAIN, pass_context=True)
def thin_revisions(context: JobContext, thinning_id: str, asked_in: str = "") -> None:
    def fail(why: str) -> None:
        Thinning.objects.filter(id=thinning_id).update(state=Thinning.State.FAILED, says=why[:400])

    with begun(context, asked_in, fail):
        do_thin(thinning_id)


def put_to_work(found: Thinning) -> None:
    """A job for a thinning, in the transaction that noted it."""
    thin_revisions.defer(thinning_id=str(found.id), asked_in=current_id())


@for_the_worker
def thinnings_without_a_job() -> int:
    """Puts thinnings to work that nobody is at; returns how many."""
    waiting = Thinning.objects.filter(state=Thinning.State.WAITING)
    live = live_jobs("thinning_id") if waiting.exists() else set()
    stranded = [found for found in waiting if str(found.id) not in live]
    for found in stranded:
        put_to_work(found)
    return len(stranded)
