"""Errors as RFC 9457 problem+json, made at this one boundary.

A problem says what happened (`title`, `detail`), what is safe (`safe`) and what to do (`cure`).
"""

import logging
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.documents.errors import DocumentError, TooLarge
from amberkey.core.exchange.errors import BundleError, SettingsFileError, SheetError
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.profiles.errors import MissingPart

log = logging.getLogger("amberkey.problems")
NOTHING_CHANGED = "Nothing was changed."


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


def respond(body: dict[str, Any], status: int) -> HttpResponse:
    return JsonResponse(body, status=status, content_type="application/problem+json")


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    problem = Problem(
        403, "This page is too old to write.", "Its protection against forged requests ran out.", "Load it again."
    )
    return respond(problem.body, 403)


def install(api: NinjaAPI) -> None:
    """Turn every known error into a problem. The order doesn't matter: the nearest class wins."""

    def handle(error_class: type[Exception], status: int, make: Any) -> None:
        @api.exception_handler(error_class)
        def _handler(request: HttpRequest, error: Any) -> HttpResponse:
            problem: Problem = make(error)
            return respond(problem.body, problem.status if problem.status else status)

    handle(Problem, 0, lambda e: e)
    handle(
        AuthenticationError,
        401,
        lambda e: Problem(401, "You are not signed in.", cure="Sign in and do it again."),
    )
    handle(
        DocumentError,
        400,
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
        400,
        lambda e: Problem(
            400,
            "This sheet can't be read.",
            " ".join(f.sentence() for f in e.faults[:3]),
            "Choose another file, or mend this one.",
            faults=[{"place": f.place, "says": f.says, "cure": f.cure} for f in e.faults[:100]],
        ),
    )
    handle(BundleError, 400, lambda e: Problem(400, "This bundle can't be taken.", str(e), e.cure or "Choose another file."))
    handle(
        ShortcutError,
        400,
        lambda e: Problem(
            400, e.says, f"Expected {e.expected}.", "Mend the marked part.", text=e.text, span=list(e.span), guess=e.guess
        ),
    )
    handle(SettingsFileError, 400, lambda e: Problem(400, "The settings file can't be read.", e.says))
    handle(MissingPart, 409, lambda e: Problem(409, "This setup can't be computed.", str(e)))
    handle(
        PreconditionFailed,
        409,
        lambda e: Conflict("This was changed in the meantime.", f"{e.key} is not as it was when you saw it."),
    )
    handle(
        ValidationError,
        422,
        lambda e: Problem(
            422,
            "The request can't be read.",
            "; ".join(f"{'.'.join(map(str, x['loc'][1:]))}: {x['msg']}" for x in e.errors[:5]),
            "Mend the fields named.",
        ),
    )
    handle(
        RequestDataTooBig,
        413,
        lambda e: Problem(413, "This is too large.", "A request may have 10 MB at most.", "Send less at once."),
    )
    handle(HttpError, 400, lambda e: Problem(e.status_code, str(e)))

    @api.exception_handler(Exception)
    def _unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
        log.exception("unforeseen error in %s %s", request.method, request.path, exc_info=error)
        problem = Problem(
            500,
            "Something went wrong in Amber Key.",
            "This is a fault of the program, not yours.",
            "Try again; if it happens again, tell who looks after Amber Key when it was.",
            "Changes are made whole or not at all, so nothing is half done.",
        )
        return respond(problem.body, 500)
