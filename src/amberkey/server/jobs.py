"""Jobs: kept in the same PostgreSQL, done by workers on as many hosts as wanted.

    python -m amberkey.server.jobs

is a worker. It ends when it is asked to, after the job in hand. A job whose worker died is begun again by any other one, so
every job is written to bear that.
"""

import asyncio
import contextlib
import os
from typing import Any

from procrastinate.contrib.django import app

__all__ = ["app"]

# A worker says that it lives every so many seconds, and is given up after three times that without a word.
HEARTBEAT = float(os.environ.get("AMBERKEY_WORKER_HEARTBEAT", "10"))
GIVEN_UP = 3 * HEARTBEAT


async def work() -> None:
    """Do jobs until asked to end."""
    # Django's connector can't wait for jobs, the worker's can.
    connector: Any = app.connector
    with app.replace_connector(connector.get_worker_connector()) as worker_app:
        async with worker_app.open_async():
            reviving = asyncio.create_task(_revive(worker_app))
            try:
                await worker_app.run_worker_async(
                    install_signal_handlers=True,
                    update_heartbeat_interval=HEARTBEAT,
                    stalled_worker_timeout=GIVEN_UP,
                    fetch_job_polling_interval=HEARTBEAT / 2,
                    delete_jobs="successful",
                )
            finally:
                reviving.cancel()
                with contextlib.suppress(asyncio.CancelledError):
                    await reviving


async def _revive(worker_app: Any) -> None:
    """Give jobs of workers that died back to those that live."""
    while True:
        for job in await worker_app.job_manager.get_stalled_jobs(seconds_since_heartbeat=GIVEN_UP):
            await worker_app.job_manager.retry_job(job)
        await asyncio.sleep(HEARTBEAT)


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    import django

    django.setup()
    asyncio.run(work())


if __name__ == "__main__":
    main()
