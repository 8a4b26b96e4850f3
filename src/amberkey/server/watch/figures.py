"""Figures that a running Amber Key counts: by each process, and added up over all processes of a host where
`PROMETHEUS_MULTIPROC_DIR` names a folder that they share (`start` sees to that). `told` tells them.
"""

import resource

from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram

own = CollectorRegistry()
_SECONDS = (0.005, 0.01, 0.025, 0.05, 0.1, 0.2, 0.4, 0.8, 1.6, 5.0)

requests_total = Counter("amberkey_requests", "Requests that were answered.", ("method", "route", "status"), registry=own)
request_seconds = Histogram(
    "amberkey_request_seconds", "From a request's arrival to its answer.", ("route",), buckets=_SECONDS, registry=own
)
kept_answers = Counter("amberkey_kept_answers", "Answers that were asked for by their digest.", ("found",), registry=own)
memory_bytes = Gauge(
    "amberkey_memory_bytes",
    "The most memory that a process has had.",
    registry=own,
    multiprocess_mode="liveall",
)


def note_memory() -> None:
    memory_bytes.set(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024)
