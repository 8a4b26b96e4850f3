"""Figures of a running Amber Key, as OpenMetrics text.

Counters and times are kept by each process, and added up over all processes of a host where `PROMETHEUS_MULTIPROC_DIR` names a
folder that they share (`start` sees to that). What the database knows is asked for when somebody looks.
"""

import datetime
import os
import resource
from collections.abc import Iterator

from django.db.models import Count
from django.utils import timezone
from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.openmetrics.exposition import generate_latest
from prometheus_client.registry import Collector

_SILENT_AFTER = datetime.timedelta(minutes=10)
_own = CollectorRegistry()
_SECONDS = (0.005, 0.01, 0.025, 0.05, 0.1, 0.2, 0.4, 0.8, 1.6, 5.0)

requests_total = Counter("amberkey_requests", "Requests that were answered.", ("method", "route", "status"), registry=_own)
request_seconds = Histogram(
    "amberkey_request_seconds", "From a request's arrival to its answer.", ("route",), buckets=_SECONDS, registry=_own
)
kept_answers = Counter("amberkey_kept_answers", "Answers that were asked for by their digest.", ("found",), registry=_own)
memory_bytes = Gauge(
    "amberkey_memory_bytes",
    "The most memory that a process has had.",
    registry=_own,
    multiprocess_mode="liveall",
)


def note_memory() -> None:
    memory_bytes.set(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024)


class _OfTheDatabase(Collector):
    """Jobs and agents, as the database has them."""

    def collect(self) -> Iterator[GaugeMetricFamily]:
        from procrastinate.contrib.django.models import ProcrastinateJob

        from amberkey.server.fleet.models import Machine, Order

        jobs = GaugeMetricFamily("amberkey_jobs", "Jobs by what has become of them.", labels=("status",))
        for row in ProcrastinateJob.objects.values("status").annotate(count=Count("id")):
            jobs.add_metric([row["status"]], row["count"])
        yield jobs
        since = timezone.now() - _SILENT_AFTER
        enrolled = Machine.objects.exclude(token_hash="")
        agents = GaugeMetricFamily("amberkey_agents", "Machines with an agent, by when it was heard.", labels=("state",))
        heard = enrolled.filter(heard_at__gte=since).count()
        agents.add_metric(["heard lately"], heard)
        agents.add_metric(["silent"], enrolled.count() - heard)
        yield agents
        waiting = Order.objects.filter(state=Order.State.WAITING).count()
        yield GaugeMetricFamily("amberkey_orders_waiting", "Orders that no machine has answered yet.", value=waiting)


def as_text() -> bytes:
    """All figures of this host."""
    note_memory()
    registry = _own
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        registry = CollectorRegistry()
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    both = CollectorRegistry()
    both.register(_Joined(registry))
    both.register(_OfTheDatabase())
    return bytes(generate_latest(both))  # type: ignore[no-untyped-call]


class _Joined(Collector):
    """What another registry collects."""

    def __init__(self, registry: CollectorRegistry) -> None:
        self.registry = registry

    def describe(self) -> list[GaugeMetricFamily]:
        return []

    def collect(self) -> Iterator[GaugeMetricFamily]:
        yield from self.registry.collect()  # type: ignore[misc]
