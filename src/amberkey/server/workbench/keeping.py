"""Answers that were given before are given again, as long as nothing that they depend on is another.

What an answer depends on has a digest: the newest and the released revision of every document, what machines were given, the
day, who may see what, the question itself, and the code that works it out, which is another one after an update. So nothing
kept can be stale, whichever process saved something; and a browser that has the answer is told so in a few bytes. What one
process worked out the others find in the database.
"""

import functools
import hashlib
import pathlib
import threading
import zlib
from collections import OrderedDict
from collections.abc import Callable
from typing import Concatenate, ParamSpec, TypeVar

from django.core.cache import caches
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja.operation import Operation
from ninja.utils import contribute_operation_callback
from pydantic import TypeAdapter

import amberkey
from amberkey.server.library.given import givens
from amberkey.server.library.models import Document
from amberkey.server.people.sight import sees_personal
from amberkey.server.watch import figures

P = ParamSpec("P")
R = TypeVar("R")
MOST_BYTES = 64 * 1024 * 1024


class Kept:
    """The newest answers by digest, of a bounded size in bytes. Safe under several threads."""

    def __init__(self, most: int = MOST_BYTES) -> None:
        self.most, self.size = most, 0
        self._answers: OrderedDict[str, bytes] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, digest: str) -> bytes | None:
        with self._lock:
            found = self._answers.get(digest)
            if found is not None:
                self._answers.move_to_end(digest)
            return found

    def put(self, digest: str, answer: bytes) -> None:
        with self._lock:
            self.size += len(answer) - len(self._answers.pop(digest, b""))
            self._answers[digest] = answer
            while self.size > self.most:
                _, dropped = self._answers.popitem(last=False)
                self.size -= len(dropped)


_kept = Kept()
# What is worked out, one thing after the other in each process: several at once would only hold each other up, and whoever
# asks for the same meanwhile finds it done.
_working = threading.Lock()


def kept(answer: Callable[Concatenate[HttpRequest, P], R]) -> Callable[Concatenate[HttpRequest, P], HttpResponse]:
    """For reading endpoints whose answers depend on documents alone: each is worked out once for a state of them."""
    adapter: TypeAdapter[R] = TypeAdapter(answer.__annotations__["return"])

    @functools.wraps(answer)
    def again(request: HttpRequest, /, *given: P.args, **named: P.kwargs) -> HttpResponse:
        digest = _digest(request)
        tag = f'"{digest}"'
        if request.headers.get("If-None-Match") == tag:
            figures.kept_answers.labels("by the browser").inc()
            return _tagged(HttpResponse(status=304), tag)
        body = _found(digest)
        if body is None:
            with _working:
                body = _kept.get(digest)  # somebody who asked for the same may have worked it out while this one waited
                if body is None:
                    figures.kept_answers.labels("no").inc()
                    body = adapter.dump_json(answer(request, *given, **named))
                    # Where something was saved meanwhile, it may be the answer of either state: it is given, and not kept.
                    if _digest(request) == digest:
                        _keep(digest, body)
                    else:
                        tag = ""
        response = HttpResponse(body, content_type="application/json")
        return _tagged(response, tag) if tag else response

    contribute_operation_callback(again, _says_so)
    return again


def _found(digest: str) -> bytes | None:
    """An answer that this process has, or any other one."""
    body = _kept.get(digest)
    if body is not None:
        figures.kept_answers.labels("here").inc()
        return body
    packed = caches["answers"].get(digest)
    if packed is None:
        return None
    figures.kept_answers.labels("by another process").inc()
    body = zlib.decompress(packed)
    _kept.put(digest, body)
    return body


def _keep(digest: str, body: bytes) -> None:
    _kept.put(digest, body)
    caches["answers"].set(digest, zlib.compress(body, 1))


def _tagged(response: HttpResponse, tag: str) -> HttpResponse:
    response["ETag"] = tag
    response["Cache-Control"] = "private, no-cache"
    return response


def _says_so(operation: Operation) -> None:
    operation.openapi_extra = {"responses": {304: {"description": "The browser has this answer."}}}


@functools.cache
def _code() -> str:
    """The digest of the whole package, its data included: the same on all hosts that run the same."""
    found = hashlib.sha256()
    root = pathlib.Path(amberkey.__file__).parent
    for path in sorted(p for p in root.rglob("*") if p.suffix in (".py", ".json") and p.is_file()):
        found.update(str(path.relative_to(root)).encode())
        found.update(path.read_bytes())
    return found.hexdigest()


def _digest(request: HttpRequest) -> str:
    found = hashlib.sha256()
    documents = Document.objects.filter(deleted_at=None).order_by("key")
    for row in documents.values_list("key", "newest__body_id", "released__body_id"):
        found.update(repr(row).encode())
    parts = (_code(), timezone.localdate(), sees_personal(), sorted(givens().items()), request.get_full_path())
    found.update(repr(parts).encode())
    return found.hexdigest()
