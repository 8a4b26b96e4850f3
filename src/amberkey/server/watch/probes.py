"""`/health`, `/ready` and `/metrics`: for supervisors and for whoever collects figures. Nobody signs in for them."""

import hmac
from collections.abc import Callable, Mapping

from django.conf import settings
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse
from prometheus_client.openmetrics.exposition import CONTENT_TYPE_LATEST

from amberkey.server.database import DATABASE_AWAY
from amberkey.server.problems import database_away, no_such_page, respond

_migrated: list[bool] = []


def health(request: HttpRequest) -> HttpResponse:
    """This process lives and answers."""
    return JsonResponse({"lives": True})


def ready(request: HttpRequest) -> HttpResponse:
    """Requests can be served: the database answers, and is of this version."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        if not _migrated:
            executor = MigrationExecutor(connection)
            if executor.migration_plan(executor.loader.graph.leaf_nodes()):
                return JsonResponse({"ready": False, "says": "The database is of an older version."}, status=503)
            _migrated.append(True)
    except DATABASE_AWAY:
        return respond(database_away())
    return JsonResponse({"ready": True})


def metrics(request: HttpRequest) -> HttpResponse:
    """Figures as OpenMetrics text, for who has the token of AMBERKEY_METRICS_TOKEN; without one there is no such address."""
    from amberkey.server.watch.told import as_text  # models are there once Django is

    token = settings.METRICS_TOKEN
    given = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not token or not hmac.compare_digest(given.encode(), token.encode()):
        return no_such_page(request)
    try:
        return HttpResponse(as_text(), content_type=CONTENT_TYPE_LATEST)
    except DATABASE_AWAY:
        return respond(database_away())


PROBES: Mapping[str, Callable[[HttpRequest], HttpResponse]] = {"/health": health, "/ready": ready, "/metrics": metrics}
