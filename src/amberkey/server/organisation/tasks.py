"""Jobs on the organisation, for the workers. Each may be begun again at any time."""

from uuid import UUID

from amberkey.server.jobs import app
from amberkey.server.organisation.working import do_check, do_take


@app.task(queue="lists")
def check_list(import_id: str) -> None:
    do_check(UUID(import_id))


@app.task(queue="lists")
def take_list(import_id: str) -> None:
    do_take(UUID(import_id))
