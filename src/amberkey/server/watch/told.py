"""All figures of a host as OpenMetrics text: what its processes count, and what the database knows when somebody looks."""

import datetime
import os
from collections.abc import Iterator

from django.db.models import Count
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob
from prometheus_client import CollectorRegistry
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.openmetrics.exposition import generate_latest
from prometheus_client.registry import Collector

from amberkey.server.fleet.models import Agent, Order
from amberkey.server.watch import figures

_SILENT_AFTER = datetime.timedelta(minutes=10)


class _OfTheDatabase(Collector):
    """Jobs and agents, as the database has them."""

    def collect(self) -> Iterator[GaugeMetricFamily]:
        jobs = GaugeMetricFamily("amberkey_jobs", "Jobs by what has become of them.", labels=("status",))
        for row in ProcrastinateJob.objects.values("status").annotate(count=Count("id")):
            jobs.add_metric([row["status"]], row["count"])
        yield jobs
        since = timezone.now() - _SILENT_AFTER
        enrolled = Agent.objects.exclude(token_hash="")
        agents = GaugeMetricFamily("amberkey_agents", "Agents that are enrolled, by when they were heard.", labels=("state",))
        heard = enrolled.filter(heard_at__gte=since).count()
        agents.add_metric(["heard lately"], heard)
        agents.add_metric(["silent"], enrolled.count() - heard)
        yield agents
        waiting = Order.objects.filter(state=Order.State.WAITING).count()
        yield GaugeMetricFamily("amberkey_orders_waiting", "Orders that no machine has answered yet.", value=waiting)


def as_text() -> bytes:
    """All figures of this host."""
    figures.note_memory()
    registry = figures.own
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
