"""Working out ahead what people will probably ask for next, while they read: the state after the way out that is chosen.

Nothing of it is shown or kept in documents. It only lies ready in what states of the estate share, and is found there if that
way is taken.
"""

import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import structlog
from django.db import connections

from amberkey.core.clashes.estate import Estate
from amberkey.core.ways.several import with_operations
from amberkey.core.ways.wayout import WayOut

log = structlog.get_logger("amberkey.ahead")
# What belongs to the same look at a clash is asked for first.
_PAUSE = 0.25
worker = ThreadPoolExecutor(1, thread_name_prefix="ahead")
"""Does one wish after another."""
_newest: list[object] = [None]


def look_ahead(estate: Estate, way: WayOut, tell: Callable[[Estate], object]) -> None:
    """Work out, beside everything else, what all setups would be after a way out, and tell it. Only the newest wish counts."""
    wish = object()
    _newest[0] = wish
    worker.submit(_work, wish, estate, way, tell)


def _work(wish: object, estate: Estate, way: WayOut, tell: Callable[[Estate], object]) -> None:
    threading.Event().wait(_PAUSE)
    try:
        if _newest[0] is wish and way.changes:
            tell(with_operations(estate, way.changes))
    except Exception:  # nobody waits for it, so nobody else would ever hear of it
        log.exception("nothing was worked out ahead", way=way.key)
    finally:
        connections.close_all()
