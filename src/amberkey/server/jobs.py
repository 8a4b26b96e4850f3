"""Jobs: kept in the same PostgreSQL, done by workers on as many hosts as wanted.

    python -m amberkey.server.jobs

is a worker. It ends when it is asked to, after the job in hand, and outlives any outage of the database. A job whose worker
died is begun again by any other one, and one that the database broke off is tried again, so every job is written to bear that.
"""

import asyncio
import contextlib
import gc
import os
import signal
from collections.abc import Callable, Iterator
from typing import Any

import structlog
from asgiref.sync import sync_to_async
from django.db import close_old_connections
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app
from procrastinate.exceptions import ConnectorException

from amberkey.server.database import DATABASE_AWAY
from amberkey.server.watch.logs import logged_as, new_id

__all__ = ["AGAIN", "app", "begun", "for_the_worker", "live_jobs"]

log = structlog.get_logger("amberkey.jobs")
# A worker says that it lives every so many seconds, and is given up after three times that without a word.
HEARTBEAT = float(os.environ.get("AMBERKEY_WORKER_HEARTBEAT", "10"))
GIVEN_UP = 3 * HEARTBEAT
# Seconds until a worker asks again for a database that is away: the first time, and at most.
_FIRST_PAUSE, _LONGEST_PAUSE = 0.5, 30.0
AGAIN = RetryStrategy(max_attempts=9, exponential_wait=2, retry_exceptions=DATABASE_AWAY)
"""How a job is tried again that the database broke off: after 2, 4, 8 ... seconds, seventeen minutes in all."""
_AWAY: tuple[type[Exception], ...] = (ConnectorException, *DATABASE_AWAY, OSError)
AT_ONCE = 2
"""Jobs that one worker does at once: what takes minutes (proposals, of which one is worked out at a time) holds nothing up."""
_taken_up: list[Callable[[], int]] = []


def for_the_worker(take_up: Callable[[], int]) -> Callable[[], int]:
    """Have a function called now and then by every worker: it finds work that no live job is at, and returns how much."""
    _taken_up.append(take_up)
    return take_up


@contextlib.contextmanager
def begun(context: JobContext, asked_in: str, fail: Callable[[str], None]) -> Iterator[None]:
    """Around the work of a job, logged under the id of the request that asked for it.

    Where the database goes away, the job is tried again; whatever else ends it, `fail` is told why in a sentence, and so it is
    where it was tried too often.
    """
    job = context.job
    last = job.attempts >= (AGAIN.max_attempts or 0)
    with logged_as(new_id(asked_in), job=str(job.id)):
        close_old_connections()
        log.info("begun", task=job.task_name, attempts=job.attempts)
        try:
            yield
            log.info("done", task=job.task_name)
        except DATABASE_AWAY as error:
            log.warning("broken off", task=job.task_name, error=type(error).__name__, last=last)
            if last:
                close_old_connections()
                fail("The database didn't answer, however often it was tried.")
            raise
        except Exception as error:
            log.exception("failed", task=job.task_name)
            fail(f"Something went wrong in Amber Key ({type(error).__name__}); that is a fault of the program, not yours.")
            raise
        finally:
            close_old_connections()


def live_jobs(name: str) -> set[str]:
    """The values of an argument in the jobs that wait or are being done."""
    from procrastinate.contrib.django.models import ProcrastinateJob

    waiting = ProcrastinateJob.objects.filter(status__in=("todo", "doing"), args__has_key=name)
    return {str(args[name]) for args in waiting.values_list("args", flat=True)}


async def work() -> None:
    """Do jobs until asked to end. While the database is away, wait for it."""
    asked = asyncio.Event()
    loop = asyncio.get_running_loop()
    pause = _FIRST_PAUSE
    while not asked.is_set():
        try:
            await _work_while_connected(asked)
            return
        except _AWAY as error:
            log.warning("the database is away", error=type(error).__name__, again_after=pause)
            # Between two connections nobody else listens for being asked to end.
            for sign in (signal.SIGINT, signal.SIGTERM):
                loop.add_signal_handler(sign, asked.set)
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(asked.wait(), pause)
            pause = min(_LONGEST_PAUSE, 2 * pause)


async def _work_while_connected(asked: asyncio.Event) -> None:
    # Django's connector can't wait for jobs, the worker's can.
    connector: Any = app.connector
    with app.replace_connector(connector.get_worker_connector()) as worker_app:
        async with worker_app.open_async():
            working = asyncio.create_task(
                worker_app.run_worker_async(
                    concurrency=AT_ONCE,
                    install_signal_handlers=True,
                    update_heartbeat_interval=HEARTBEAT,
                    stalled_worker_timeout=GIVEN_UP,
                    fetch_job_polling_interval=HEARTBEAT / 2,
                    delete_jobs="successful",
                )
            )
            reviving = asyncio.create_task(_revive(worker_app))
            try:
                # Whichever ends first: the one by being asked to, either by losing the database.
                done, _ = await asyncio.wait({working, reviving}, return_when=asyncio.FIRST_COMPLETED)
                for task in done:
                    task.result()
            finally:
                for task in (working, reviving):
                    task.cancel()
                    with contextlib.suppress(asyncio.CancelledError, *_AWAY):
                        await task


async def _revive(worker_app: Any) -> None:
    """Give jobs of workers that died back to those that live, and take up what no job is at."""
    while True:
        for job in await worker_app.job_manager.get_stalled_jobs(seconds_since_heartbeat=GIVEN_UP):
            log.warning("taken from a worker that died", job=str(job.id), task=job.task_name)
            await worker_app.job_manager.retry_job(job)
        for take_up in _taken_up:
            found = await sync_to_async(_connected)(take_up)
            if found:
                log.warning("taken up again", what=take_up.__name__, count=found)
        await asyncio.sleep(HEARTBEAT)


def _connected(work_on: Callable[[], int]) -> int:
    close_old_connections()
    try:
        return work_on()
    finally:
        close_old_connections()


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    import django

    django.setup()
    # A proposal holds millions of small values for minutes: looking through them for garbage takes a tenth of its time.
    gc.set_threshold(100_000, 50, 1_000)
    # Run as a program this module has another name than the one under which tasks know it.
    from amberkey.server.jobs import work

    asyncio.run(work())


if __name__ == "__main__":
    main()
