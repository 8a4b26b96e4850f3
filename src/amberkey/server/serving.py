"""How gunicorn serves: `gunicorn --config python:amberkey.server.serving amberkey.server.wsgi:application`.

AMBERKEY_PROCESSES is how many processes answer, 1 if not given. Each works out for itself what it is asked for, and keeps it by
the digests of what it depends on, so that several never tell different things; the database is all that they share.
"""

import os
from typing import Any

workers = max(1, int(os.environ.get("AMBERKEY_PROCESSES", "1")))
worker_class = "gthread"
threads = 16
# Each thread may need a connection to the database; see AMBERKEY_DB_POOL in the settings.
max_requests = 20_000
max_requests_jitter = 2_000
preload_app = True
control_socket_disable = True
# Seconds for answers that are under way when a process is asked to end.
graceful_timeout = 20


def child_exit(server: Any, worker: Any) -> None:
    """Figures of a process that is gone are not added up any more where they are about its present."""
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        from prometheus_client.multiprocess import mark_process_dead

        mark_process_dead(worker.pid)  # type: ignore[no-untyped-call]
