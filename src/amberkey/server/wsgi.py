"""The WSGI application for gunicorn."""

import gc
import os
import threading

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
application = get_wsgi_application()

# The boards of all setups are large and live long. Looked through for garbage in the middle of a request, as Python does by
# itself, they make somebody wait a fifth of a second for nothing: that is done beside the requests, now and then.
_TIDY_EVERY = 60.0
gc.set_threshold(100_000, 50, 1_000)


def _tidy() -> None:
    while not threading.Event().wait(_TIDY_EVERY):
        gc.collect()


def start_tidying() -> None:
    """For each worker process, once it is there: threads don't outlive a fork."""
    threading.Thread(target=_tidy, name="tidy", daemon=True).start()


os.register_at_fork(after_in_child=start_tidying)
