"""Errors as RFC 9457 problem+json, made at this one boundary.

A problem says what happened (`title`, `detail`), what is safe (`safe`) and what to do (`cure`).
"""

import sys
from collections.abc import Callable
from typing import Any

import structlog
from django.core.exceptions import RequestDataTooBig, SuspiciousOperation
from django.db import DataError
from django.http import HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.documents.errors import DocumentError, TooLarge
from amberkey.core.exchange.errors import BundleError, SheetError
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.profiles.errors import MissingPart
from amberkey.server.database import DATABASE_AWAY

log = structlog.get_logger("amberkey.problems")
NOTHING_CHANGED = "Nothing was changed."
# Seconds after which it is worth asking again: a database that is started anew is back by then.
AGAIN_AFTER = 2


class Problem(Exception):
    """A refusal with everything that a person needs to go on."""

    def __init__(
        self, status: int, title: str, detail: str = "", cure: str = "", safe: str = NOTHING_CHANGED, **more: Any
    ) -> None:
        super().__init__(f"{title} {detail}".strip())
        self.status = status
        self.body = {"title": title, "status": status, "detail": detail, "cure": cure, "safe": safe, **more}


class NotFound(Problem):
    def __init__(self, what: str) -> None:
        super().__init__(404, f"There is no {what} here.", "It may have been renamed or deleted.", "Go back and choose again.")


class NotAllowed(Problem):
    def __init__(self, role: str, needed: str) -> None:
        super().__init__(
            403,
            f"You are signed in as {role}, and this needs {needed}.",
            cure=f"Ask somebody who is {needed} to do it, or an administrator to change your role.",
        )


class Conflict(Problem):
    """Somebody else was faster. `by` and `at` say who and when, `changes` what they did."""

    def __init__(self, title: str, detail: str, *, by: str = "", at: str = "", changes: list[str] | None = None) -> None:
        super().__init__(
            409,
            title,
            detail,
            "Look at what is there now, and decide again.",
            "Nothing of yours was saved and nothing of theirs was lost.",
            by=by,
            at=at,
            changes=changes or [],
        )


class TryLater(Problem):
    """Refused for now; `again_after` seconds later it may go."""

    def __init__(self, status: int, title: str, detail: str, cure: str, again_after: int, safe: str = NOTHING_CHANGED) -> None:
        super().__init__(status, title, detail, cure, safe)
        self.again_after = again_after


def database_away() -> TryLater:
    return TryLater(
        503,
        "The database doesn't answer now.",
        "It is being started again, or it can't be reached.",
        "Wait a moment and try again; if you were saving, look first whether it is there.",
        AGAIN_AFTER,
        "Changes are made whole or not at all, so nothing is half done.",
    )


def respond(problem: Problem) -> HttpResponse:
    response = JsonResponse(problem.body, status=problem.status, content_type="application/problem+json")
    if isinstance(problem, TryLater):
        response["Retry-After"] = str(problem.again_after)
    return response


def too_old_to_write() -> Problem:
    return Problem(403, "This page is too old to write.", "Its protection against forged requests ran out.", "Load it again.")


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return respond(too_old_to_write())


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """For what Django refuses before any endpoint is asked."""
    return respond(Problem(400, "The request can't be read.", "It isn't as a browser or an agent would send it."))


def no_such_page(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return respond(Problem(404, "There is no such address.", cure="Go back and choose again."))


def failed(request: HttpRequest) -> HttpResponse:
    """For what goes wrong around the endpoints: sessions, for instance, when the database is away."""
    return respond(_of_unforeseen(request, sys.exc_info()[1]))


def _of_unforeseen(request: HttpRequest, error: BaseException | None) -> Problem:
    if isinstance(error, DATABASE_AWAY):
        log.warning("database away", error=type(error).__name__)
        return database_away()
    log.error("unforeseen error", method=request.method, path=request.path, exc_info=error)
    return Problem(
        500,
        "Something went wrong in Amber Key.",
        "This is a fault of the program, not yours.",
        "Try again; if it happens again, tell who looks after Amber Key when it was.",
        "Changes are made whole or not at all, so nothing is half done.",
    )


def _of_http_error(error: HttpError) -> Problem:
    """Ninja says only that a body can't be read; why it can't is in what came before."""
    cause = error.__cause__
    if isinstance(cause, Problem):
        return cause
    if isinstance(cause, DocumentError):
        return Problem(
            413 if isinstance(cause, TooLarge) else 400,
            "The request can't be read.",
            " ".join(f.sentence() for f in cause.faults[:3]),
            "Mend the places named and try again.",
        )
    return Problem(error.status_code, str(error))


def install(api: NinjaAPI) -> None:
    """Turn every known error into a problem. The order doesn't matter: the nearest class wins."""

    def handle(error_class: type[Exception], make: Callable[[Any], Problem]) -> None:
        @api.exception_handler(error_class)
        def _handler(request: HttpRequest, error: Any) -> HttpResponse:
            return respond(make(error))

    handle(Problem, lambda e: e)
    handle(
        AuthenticationError,
        lambda e: Problem(401, "You are not signed in.", cure="Sign in and do it again."),
    )
    handle(
        DocumentError,
        lambda e: Problem(
            413 if isinstance(e, TooLarge) else 400,
            "This document can't be taken.",
            " ".join(f.sentence() for f in e.faults[:3]),
            "Mend the places named and try again.",
            faults=[{"place": f.place, "says": f.says, "cure": f.cure} for f in e.faults[:100]],
        ),
    )
    handle(
        SheetError,
        lambda e: Problem(
            400,
            "This sheet can't be read.",
            " ".join(f.sentence() for f in e.faults[:3]),
            "Choose another file, or mend this one.",
            faults=[{"place": f.place, "says": f.says, "cure": f.cure} for f in e.faults[:100]],
        ),
    )
    handle(BundleError, lambda e: Problem(400, "This bundle can't be taken.", str(e), e.cure or "Choose another file."))
    handle(
        ShortcutError,
        lambda e: Problem(
            400, e.says, f"Expected {e.expected}.", "Mend the marked part.", text=e.text, span=list(e.span), guess=e.guess
        ),
    )
    handle(SettingsFileError, lambda e: Problem(400, "The settings file can't be read.", e.says))
    handle(MissingPart, lambda e: Problem(409, "This setup can't be computed.", str(e)))
    handle(
        PreconditionFailed,
        lambda e: Conflict("This was changed in the meantime.", f"{e.key} is not as it was when you saw it."),
    )
    handle(
        ValidationError,
        lambda e: Problem(
            422,
            "The request can't be read.",
            "; ".join(f"{'.'.join(map(str, x['loc'][1:]))}: {x['msg']}" for x in e.errors[:5]),
            "Mend the fields named.",
        ),
    )
    handle(
        RequestDataTooBig,
        lambda e: Problem(413, "This is too large.", "A request may have 10 MB at most.", "Send less at once."),
    )
    handle(HttpError, _of_http_error)
    for error_class in DATABASE_AWAY:
        handle(error_class, lambda e: database_away())
    # Past every check of lengths and signs, what a column can't hold is still a fault of the request.
    handle(DataError, lambda e: Problem(400, "Something in the request is too large or too long.", cure="Send less of it."))
    for error_class in (MultiPartParserError, UnreadablePostError, SuspiciousOperation):
        handle(
            error_class,
            lambda e: Problem(400, "The form can't be read.", "It was cut off or damaged on its way.", "Send it again."),
        )

    @api.exception_handler(Exception)
    def _unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
        return respond(_of_unforeseen(request, error))
