"""What machines were last given, so that it can be told what is new since, machine by machine."""

from collections.abc import Callable, Iterable
from functools import lru_cache
from typing import cast

from amberkey.core.documents.canonical import Json, canonical_bytes, digest_of
from amberkey.server.library.documents import State, digests
from amberkey.server.library.models import Body, Given

held: list[Callable[[], Iterable[State]]] = []
"""Whoever needs states of the documents later says which: no revision of them goes."""


def keep_state(state: State) -> Body:
    return Body.keep_json(cast(Json, dict(state)))


def released_basis() -> str:
    """The digest of the state of everything that is released: another one as soon as anything else is."""
    return digest_of(canonical_bytes(cast(Json, digests(released=True))))


def givens() -> dict[str, str]:
    """The digest of the state that each machine was last given; those that were never given anything are not there."""
    return dict(Given.objects.order_by("machine").values_list("machine", "state_id"))


@lru_cache(maxsize=64)
def state_of(digest: str) -> State:
    """The state with that digest."""
    return cast(dict[str, str], Body.objects.get(digest=digest).json())
