"""What every request passes on its way in, and every answer on its way out, whatever its address.

In: texts that no database can keep and requests that are too large are refused here, once for all endpoints. Out: every
refusal is problem+json, and no answer is kept by anybody who wasn't told that it may be.
"""

from collections.abc import Callable, Iterator
from contextlib import nullcontext
from typing import Any, cast

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja.parser import Parser

from amberkey.core.documents.reading import read_json
from amberkey.core.documents.texts import unfit_for_keeping
from amberkey.server.once import reading
from amberkey.server.people.addresses import address_of
from amberkey.server.people.gate import gate
from amberkey.server.people.sight import for_one_request
from amberkey.server.problems import Problem, bad_request, failed, no_such_page, respond

MOST_BYTES = 20 * 1024 * 1024
"""Of a whole request. Sheets, bundles and settings files have smaller limits of their own."""
API = "/api/"
SIGN_IN = "/api/session"
_Answer = Callable[[HttpRequest], HttpResponseBase]


class CarefulParser(Parser):
    """Reads bodies like documents (bounded, no doubled names), and refuses texts that can't be kept, with their place."""

    def parse_body(self, request: HttpRequest) -> dict[str, Any]:
        value = read_json(request.body)
        _refuse_unfit(value)
        return cast(dict[str, Any], value)

    def parse_querydict(self, data: Any, list_fields: list[str], request: HttpRequest) -> dict[str, Any]:
        found = super().parse_querydict(data, list_fields, request)
        _refuse_unfit({k: v for k, v in found.items() if isinstance(v, str | list)})
        return found


def _refuse_unfit(value: Any) -> None:
    for place, text in _texts(value, ""):
        why = unfit_for_keeping(text)
        if why:
            raise Problem(400, "The request can't be read.", f"In {place or 'it'} {why}.", "Take it out and try again.")


def _texts(value: Any, place: str) -> Iterator[tuple[str, str]]:
    """Every text of a JSON value with its place, names of fields included."""
    if isinstance(value, str):
        yield place, value
    elif isinstance(value, dict):
        for name, inner in value.items():
            yield place, name
            yield from _texts(inner, f"{place}.{name}" if place else name)
    elif isinstance(value, list):
        for n, inner in enumerate(value):
            yield from _texts(inner, f"{place}[{n}]")


def boundary(get_response: _Answer) -> _Answer:
    """The middleware: outermost but for the one that tells of requests."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        reads = reading() if request.method in ("GET", "HEAD") else nullcontext()
        with for_one_request(), reads:
            response = _refusal(request) or get_response(request)
        if request.path.startswith(API):
            response = _as_problem(request, response)
            response.setdefault("Cache-Control", "no-store")
        return response

    return answer


def _refusal(request: HttpRequest) -> HttpResponse | None:
    try:
        size = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        return bad_request(request)
    if size > MOST_BYTES:
        says = f"It has {size / 1048576:.0f} MB, and {MOST_BYTES // 1048576} MB is the most."
        return respond(Problem(413, "This is too large.", says, "Send less at once."))
    if request.path == SIGN_IN and request.method == "POST":
        refusal = gate.refuses(address_of(request))
        if refusal is not None:
            return respond(refusal)
    why = unfit_for_keeping(request.path)
    if why:
        return respond(Problem(400, "There can't be such an address.", f"In it {why}."))
    # A cookie that no page of ours set: it is nobody's session.
    request.COOKIES = {k: v for k, v in request.COOKIES.items() if not unfit_for_keeping(v)}
    return None


def _as_problem(request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
    """What Django itself refuses, in the form in which all refusals go out."""
    if response.status_code < 400 or response.get("Content-Type", "") == "application/problem+json":
        return response
    if response.status_code == 405:
        allowed = response.get("Allow", "")
        refused = respond(Problem(405, f"This address can't be asked by {request.method}.", f"It takes {allowed}."))
        refused["Allow"] = allowed
        return refused
    if response.status_code == 404:
        return no_such_page(request)
    return failed(request) if response.status_code >= 500 else bad_request(request)
