"""What whoever asks may see of other people.

What says something of a person's hands or health, and the layers that people have for themselves, are for those who look
after settings: editors and above. It is settled where somebody is let in (`acting.By`), for the whole request. Jobs see
everything; what they leave behind in titles and records names nothing of it.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from amberkey.server.people.models import Role

MAY_SEE_PERSONAL = Role.EDITOR
_sees: ContextVar[bool] = ContextVar("sees", default=True)


@contextmanager
def for_one_request() -> Iterator[None]:
    """Around a request: what was settled for the one before it, in the same thread, holds no longer."""
    before = _sees.set(True)
    try:
        yield
    finally:
        _sees.reset(before)


def look_as(role: Role) -> None:
    """From here on, see what somebody with that role may."""
    _sees.set(role.rank >= MAY_SEE_PERSONAL.rank)


def sees_personal() -> bool:
    return _sees.get()
