"""One form of bytes for equal values (RFC 8785), and its digest."""

import hashlib
from typing import TypeAlias

import rfc8785

Json: TypeAlias = "bool | int | float | str | list[Json] | dict[str, Json] | None"


def canonical_bytes(value: Json) -> bytes:
    """The RFC 8785 bytes of a JSON value: equal values give equal bytes, whatever their order of names."""
    return rfc8785.dumps(value)  # type: ignore[arg-type, unused-ignore]


def digest_of(data: bytes) -> str:
    """SHA-256 of some bytes as 64 hexadecimal digits."""
    return hashlib.sha256(data).hexdigest()
