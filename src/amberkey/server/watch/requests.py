"""The outermost middleware: gives each request its id, answers probes, counts and logs what was answered."""

import time
from collections.abc import Callable

import structlog
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from amberkey.server.watch import figures
from amberkey.server.watch.logs import logged_as, new_id
from amberkey.server.watch.probes import PROBES

log = structlog.get_logger("amberkey.requests")
HEADER = "X-Request-Id"
_Answer = Callable[[HttpRequest], HttpResponseBase]
# Asked so often, and with so little to tell, that a line for each would bury the others.
_OFTEN = frozenset({"api/agent/work", "api/machines"})


def watched(get_response: _Answer) -> _Answer:
    def answer(request: HttpRequest) -> HttpResponseBase:
        begun = time.perf_counter()
        request_id = new_id(request.headers.get(HEADER))
        with logged_as(request_id):
            probe = PROBES.get(request.path) if request.method in ("GET", "HEAD") else None
            if probe is not None:
                return probe(request)
            response = get_response(request)
            response[HEADER] = request_id
            _tell(request, response.status_code, time.perf_counter() - begun)
        return response

    return answer


def _tell(request: HttpRequest, status: int, seconds: float) -> None:
    match = request.resolver_match
    route = match.route if match is not None and request.path.startswith("/api/") else "page"
    method = request.method or "?"
    figures.requests_total.labels(method, route, str(status)).inc()
    figures.request_seconds.labels(route).observe(seconds)
    figures.note_memory()
    # A flood would fill the log with lines that say the same; the figures count it.
    quiet = (route in _OFTEN and status < 400) or status == 429
    tell = log.debug if quiet else log.info
    user = getattr(request, "_cached_user", None)  # asking for `user` would look it up where nobody needed it
    tell(
        "answered",
        method=method,
        route=route,
        status=status,
        ms=round(seconds * 1000, 1),
        user=getattr(user, "pk", None),
    )
