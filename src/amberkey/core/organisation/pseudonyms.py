"""Ids of people that say nothing of who they are."""

import re
import secrets

_SIGNS = "abcdefghijkmnopqrstuvwxyz23456789"  # without l, 0 and 1, which are taken for each other
_LENGTH = 8
_PSEUDONYM = re.compile(rf"p-[{_SIGNS}]{{{_LENGTH}}}")


def new_pseudonym() -> str:
    """An id drawn by chance: of 33 signs eight, so 1.4 million million of them."""
    return "p-" + "".join(secrets.choice(_SIGNS) for _ in range(_LENGTH))


def is_pseudonym(person_id: str) -> bool:
    """Whether an id looks like one that was drawn, and not like one made of a name."""
    return _PSEUDONYM.fullmatch(person_id) is not None
