"""Ids made from names that people give."""

import hashlib
import re
import unicodedata
from collections.abc import Container

_SPELLED = {"ß": "ss", "æ": "ae", "ø": "o", "œ": "oe", "ł": "l", "đ": "d", "ð": "d", "þ": "th", "ı": "i", "&": " and "}
_LONGEST = 60


def id_from(name: str) -> str:
    """An id that reads like the name: small letters without accents, digits, hyphens. A name without any Latin letter or digit
    gets one made from its digest, always the same."""
    spelled = "".join(_SPELLED.get(c, c) for c in name.casefold())
    plain = unicodedata.normalize("NFKD", spelled).encode("ascii", "ignore").decode()
    words = re.findall(r"[a-z0-9]+", plain)
    found = "-".join(words)[:_LONGEST].strip("-")
    return found or "n-" + hashlib.sha256(name.encode()).hexdigest()[:8]


def fresh_id(name: str, taken: Container[str]) -> str:
    """The id of a name, with the first number behind it from 2 on that makes it one that isn't taken."""
    base = id_from(name)
    found, n = base, 2
    while found in taken:
        found, n = f"{base}-{n}", n + 1
    return found
