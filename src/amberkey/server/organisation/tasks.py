"""Jobs on lists, for the workers. Each may be begun again at any time."""

from typing import Literal
from uuid import UUID

from procrastinate import JobContext

from amberkey.server.jobs import AGAIN, app, begun, for_the_worker, live_jobs
from amberkey.server.library.lists import ListState
from amberkey.server.organisation.models import ListImport
from amberkey.server.watch.logs import current_id


@app.task(queue="lists", retry=AGAIN, pass_context=True)
def open_list(context: JobContext, import_id: str, asked_in: str = "") -> None:
    _work(context, "do_open", import_id, asked_in)


@app.task(queue="lists", retry=AGAIN, pass_context=True)
def check_list(context: JobContext, import_id: str, asked_in: str = "") -> None:
    _work(context, "do_check", import_id, asked_in)


@app.task(queue="lists", retry=AGAIN, pass_context=True)
def take_list(context: JobContext, import_id: str, asked_in: str = "") -> None:
    _work(context, "do_take", import_id, asked_in)


def _work(context: JobContext, do: Literal["do_open", "do_check", "do_take"], import_id: str, asked_in: str) -> None:
    from amberkey.server.organisation import working  # every process loads this module, and few do the work

    with begun(context, asked_in, lambda why: ListImport.fail(UUID(import_id), f"{why} Check the list again.")):
        getattr(working, do)(UUID(import_id))


_TASKS = {ListState.OPENING: open_list, ListState.CHECKING: check_list, ListState.TAKING: take_list}


def put_to_work(found: ListImport) -> None:
    """A job for the state in which a list is; in the transaction that put it there."""
    _TASKS[ListState(found.state)].defer(import_id=str(found.id), asked_in=current_id())


@for_the_worker
def lists_that_lie_about() -> int:
    """Lets sheets of people go that nobody took."""
    from amberkey.server.organisation.working import let_old_ones_go

    return let_old_ones_go()


@for_the_worker
def lists_without_a_job() -> int:
    """Puts lists to work that say somebody is at work on them while no job is; returns how many."""
    busy = ListImport.objects.filter(state__in=_TASKS)
    if not busy.exists():
        return 0
    live = live_jobs("import_id")
    stranded = [found for found in busy if str(found.id) not in live]
    for found in stranded:
        put_to_work(found)
    return len(stranded)
