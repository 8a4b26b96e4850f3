"""The API: one router an app, errors as problem+json, everything signed in unless it says otherwise."""

from collections.abc import Iterator
from typing import Any

from ninja import NinjaAPI

from amberkey import __version__
from amberkey.server import problems
from amberkey.server.beginning.api import router as beginning
from amberkey.server.boundary import CarefulParser
from amberkey.server.cards.api import router as cards
from amberkey.server.cards.keyboards import router as keyboards
from amberkey.server.catalogue.api import router as catalogue
from amberkey.server.comparing.api import router as comparing
from amberkey.server.exchange.api import router as exchange
from amberkey.server.fleet.agents import agent
from amberkey.server.fleet.api import router as fleet
from amberkey.server.guide.api import router as guide
from amberkey.server.inventory.api import router as inventory
from amberkey.server.library.api import router as library
from amberkey.server.nightly.api import inbox
from amberkey.server.nightly.api import router as nightly
from amberkey.server.organisation.api import router as organisation
from amberkey.server.people.acting import By
from amberkey.server.people.api import router as people
from amberkey.server.people.models import Role
from amberkey.server.profiles.api import router as profiles
from amberkey.server.proposals.api import router as proposals
from amberkey.server.records.api import router as records
from amberkey.server.rollouts.api import router as rollouts
from amberkey.server.schema import ProblemOut
from amberkey.server.standard.api import router as standard
from amberkey.server.today.api import feed
from amberkey.server.today.api import router as today
from amberkey.server.workbench.api import router as workbench

_REFUSALS = {
    400: "Something in the request can't be taken as it is.",
    401: "Nobody is signed in.",
    403: "The role isn't enough, or the page is too old to write.",
    404: "What is asked for isn't there.",
    409: "Something was changed in the meantime, or stands against it.",
    413: "It is too large.",
    422: "A field is missing or of another kind.",
    428: "The request doesn't say which revision it was made from.",
    429: "Too many tries.",
    503: "The database doesn't answer now.",
}


class Api(NinjaAPI):
    """Ninja's, with the refusals of every endpoint in its OpenAPI document."""

    def get_openapi_schema(self, *, path_prefix: str | None = None, path_params: dict[str, Any] | None = None) -> Any:
        schema = super().get_openapi_schema(path_prefix=path_prefix, path_params=path_params)
        problem = ProblemOut.model_json_schema(ref_template="#/components/schemas/{model}")
        parts = problem.pop("$defs", {})
        schema["components"]["schemas"] |= {"ProblemOut": problem, **parts}
        content = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemOut"}}}
        for path, methods in schema["paths"].items():
            for method, operation in methods.items():
                for status in _refusals(path, method, operation):
                    operation["responses"][status] = {"description": _REFUSALS[status], "content": content}
        return schema


def _refusals(path: str, method: str, operation: dict[str, Any]) -> Iterator[int]:
    """The statuses with which an endpoint refuses, from what it takes and who may call it."""
    yield 503
    if operation.get("security"):
        yield from (401, 403)
    if method != "get" or path == "/api/session":
        yield 403
    if operation.get("parameters") or "requestBody" in operation or method == "put":
        yield from (400, 404, 409, 422)
    if method != "get":
        yield 413
    if path.startswith("/api/documents/") and method == "put":
        yield 428
    if path == "/api/session" and method == "post":
        yield from (401, 429)
    if path.startswith("/api/links/") or path == "/api/session/password":
        yield 429
    if method != "get" or "setup" in path:
        yield 409
    if "/standard" in path or "/history" in path:
        yield from (404, 409)


api = Api(
    title="Amber Key",
    version=__version__,
    auth=By(Role.READER),
    urls_namespace="api",
    docs_url=None,
    parser=CarefulParser(),
)
problems.install(api)
for router in (
    people,
    inventory,
    library,
    catalogue,
    workbench,
    organisation,
    profiles,
    standard,
    proposals,
    records,
    exchange,
    fleet,
    rollouts,
    comparing,
    guide,
    cards,
    keyboards,
    today,
    beginning,
):
    api.add_router("", router)
api.add_router("", feed)
api.add_router("", nightly)
api.add_router("/agent", agent)
api.add_router("/inbox", inbox)
