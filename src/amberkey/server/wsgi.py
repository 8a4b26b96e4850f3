"""The WSGI application for gunicorn."""

import gc
import os
import sys
import threading
import time
from collections.abc import Iterable
from importlib import import_module
from typing import Any

from django.conf import settings
from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")

# The boards of all setups are large and live long. Looking through them for garbage takes a second, in which nobody is
# answered: it is done when nobody has asked for anything for a while, and without one only now and then. All in seconds.
_QUIET = 20.0
_AT_THE_LATEST = 900.0
gc.set_threshold(100_000, 50, 1_000)
# In seconds. Who only asks for what is known shouldn't wait long for who works something out in another thread.
sys.setswitchinterval(0.001)

_django = get_wsgi_application()
_asked_at = time.monotonic()


def application(environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
    global _asked_at
    _asked_at = time.monotonic()
    return _django(environ, start_response)


def _tidy() -> None:
    tidied_at = time.monotonic()
    while not threading.Event().wait(_QUIET):
        now = time.monotonic()
        in_use = _asked_at > tidied_at
        if in_use and (now - _asked_at > _QUIET or now - tidied_at > _AT_THE_LATEST):
            gc.collect()
            tidied_at = time.monotonic()


def _load() -> None:
    """Every endpoint is imported before the first request asks for one: that takes a second."""
    import_module(settings.ROOT_URLCONF)


def start_threads() -> None:
    """For each worker process, once it is there: threads don't outlive a fork."""
    threading.Thread(target=_load, name="load", daemon=True).start()
    threading.Thread(target=_tidy, name="tidy", daemon=True).start()


os.register_at_fork(after_in_child=start_threads)
