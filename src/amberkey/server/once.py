"""Read once: in a request that only reads, what was asked of the database is known for the rest of it.

So every part of an answer is of one and the same state, however many parts ask for it.
"""

import functools
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import ParamSpec, TypeVar, cast

P = ParamSpec("P")
T = TypeVar("T")
_known: ContextVar[dict[object, object] | None] = ContextVar("known", default=None)


@contextmanager
def reading() -> Iterator[None]:
    """Within it nothing is saved that something marked `once` reads."""
    before = _known.set({})
    try:
        yield
    finally:
        _known.reset(before)


def once(read: Callable[P, T]) -> Callable[P, T]:
    """Marks a question to the database that is asked again and again. Its answer isn't to be changed by who gets it."""

    @functools.wraps(read)
    def wrapper(*args: P.args, **named: P.kwargs) -> T:
        known = _known.get()
        if known is None:
            return read(*args, **named)
        asked = (read, args, tuple(sorted(named.items())))
        if asked not in known:
            known[asked] = read(*args, **named)
        return cast(T, known[asked])

    return wrapper
