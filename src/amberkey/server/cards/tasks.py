"""Jobs on cards, for the workers. Each may be begun again at any time."""

from datetime import timedelta
from uuid import UUID

from django.utils import timezone
from procrastinate import JobContext

from amberkey.server.cards.models import CardBatch
from amberkey.server.jobs import AGAIN, app, begun, for_the_worker, live_jobs
from amberkey.server.watch.logs import current_id

KEPT = timedelta(days=1)
"""So long cards that were made together can be fetched."""


@app.task(queue="cards", retry=AGAIN, pass_context=True)
def make_cards(context: JobContext, batch_id: str, asked_in: str = "") -> None:
    from amberkey.server.cards.working import make  # every process loads this module, and few do the work

    with begun(context, asked_in, lambda why: fail(UUID(batch_id), why)):
        make(UUID(batch_id))


def fail(batch_id: UUID, why: str) -> None:
    """Cards whose job failed say why."""
    CardBatch.objects.filter(pk=batch_id, state=CardBatch.State.WORKING).update(state=CardBatch.State.FAILED, says=why[:400])


def put_to_work(batch: CardBatch) -> None:
    """A job for some cards; in the transaction that made them."""
    make_cards.defer(batch_id=str(batch.pk), asked_in=current_id())


@for_the_worker
def cards_without_a_job() -> int:
    """Lets old ones go, and puts to work what no job is at; returns how many."""
    CardBatch.objects.filter(at__lt=timezone.now() - KEPT).delete()
    busy = list(CardBatch.objects.filter(state=CardBatch.State.WORKING).defer("file"))
    live = live_jobs("batch_id") if busy else set()
    stranded = [batch for batch in busy if str(batch.pk) not in live]
    for batch in stranded:
        put_to_work(batch)
    return len(stranded)
