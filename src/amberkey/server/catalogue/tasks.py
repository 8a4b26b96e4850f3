"""Jobs on lists of commands, for the workers. Each may be begun again at any time."""

from uuid import UUID

from procrastinate import JobContext

from amberkey.server.catalogue.models import CommandList
from amberkey.server.jobs import AGAIN, app, begun, for_the_worker, live_jobs
from amberkey.server.library.lists import BUSY
from amberkey.server.watch.logs import current_id


@app.task(queue="lists", retry=AGAIN, pass_context=True)
def work_on_commands(context: JobContext, commands_id: str, asked_in: str = "") -> None:
    from amberkey.server.catalogue.working import do  # every process loads this module, and few do the work

    with begun(context, asked_in, lambda why: CommandList.fail(UUID(commands_id), why)):
        do(UUID(commands_id))


def put_to_work(found: CommandList) -> None:
    """A job for the state in which a list is; in the transaction that put it there."""
    work_on_commands.defer(commands_id=str(found.id), asked_in=current_id())


@for_the_worker
def lists_without_a_job() -> int:
    """Puts lists to work that say somebody is at work on them while no job is; returns how many."""
    busy = CommandList.objects.filter(state__in=BUSY)
    if not busy.exists():
        return 0
    live = live_jobs("commands_id")
    stranded = [found for found in busy if str(found.id) not in live]
    for found in stranded:
        put_to_work(found)
    return len(stranded)
