"""Jobs on surveys, for the workers. Each may be begun again at any time."""

from uuid import UUID

from procrastinate import JobContext

from amberkey.server.fleet.models import Survey
from amberkey.server.jobs import AGAIN, app, begun, for_the_worker, live_jobs
from amberkey.server.watch.logs import current_id


@app.task(queue="lists", retry=AGAIN, pass_context=True)
def read_survey(context: JobContext, survey_id: str, asked_in: str = "") -> None:
    from amberkey.server.fleet.surveying import do_read  # every process loads this module, and few do the work

    with begun(context, asked_in, lambda why: Survey.fail(UUID(survey_id), why)):
        do_read(UUID(survey_id))


def put_to_work(survey: Survey) -> None:
    """A job for a survey; in the transaction that made it."""
    read_survey.defer(survey_id=str(survey.id), asked_in=current_id())


@for_the_worker
def old_files_go() -> int:
    """Nobody has to ask for it: what is kept of people's files goes after 30 days."""
    from amberkey.server.fleet.surveying import forget_old_ones

    return forget_old_ones()


@for_the_worker
def surveys_without_a_job() -> int:
    """Puts surveys to work that say somebody reads them while no job does; returns how many."""
    busy = Survey.objects.filter(state=Survey.State.WORKING)
    if not busy.exists():
        return 0
    live = live_jobs("survey_id")
    stranded = [survey for survey in busy if str(survey.id) not in live]
    for survey in stranded:
        put_to_work(survey)
    return len(stranded)
