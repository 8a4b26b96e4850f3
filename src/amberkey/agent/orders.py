"""Orders of the organisation: each is signed for one machine and home, one file and one content, and numbered.

An agent carries out what its pinned key signed, or a key that this one handed over to, and nothing twice: numbers only rise.
"""

import base64
import binascii
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey

from amberkey.agent.errors import OrderRefused
from amberkey.agent.files import digest_of

SIGNED = b"amberkey order 1\n"
HANDED_OVER = b"amberkey hand-over 1\n"
FORMAT = "amberkey/order@1"
MOST_HANDOVERS = 50


@dataclass(frozen=True, slots=True)
class Order:
    """What was ordered, checked: `content` shall be in the file, if its digest is `expect`.

    `waits_for`: names of processes that write the file when they end; `sections`: of a store, those that the order is about.
    """

    id: str
    root: str
    path: str
    expect: str
    digest: str
    number: int
    content: bytes
    waits_for: tuple[str, ...]
    sections: tuple[str, ...]

    @property
    def file(self) -> str:
        return f"{self.root}:{self.path}"


def checked(given: dict[str, Any], machine: str, account: str, key: str) -> Order:
    """An order as the server gives it, for the home of an account on a machine. Raises OrderRefused."""
    try:
        said_text, signature = given["said"], given["signature"]
        if not key:
            raise OrderRefused("This machine pinned no key of its organisation; enrol it again.")
        if not _signed(key, SIGNED + said_text.encode(), signature):
            raise OrderRefused("The order isn't signed by this machine's organisation; nothing was written.")
        said = json.loads(said_text)
        content = base64.b64decode(given["content"], validate=True)
        order = Order(
            id=str(given["id"]),
            root=_text(said["root"]),
            path=_text(said["path"]),
            expect=_text(said["expect"]),
            digest=_text(said["digest"]),
            number=int(said["number"]),
            content=content,
            waits_for=tuple(_text(p) for p in said["waits_for"]),
            sections=tuple(_text(s) for s in said["sections"]),
        )
        said_machine, said_home, said_format = _text(said["machine"]), _text(said["home"]), _text(said["format"])
    except (KeyError, TypeError, AttributeError, ValueError, RecursionError, binascii.Error) as error:
        raise OrderRefused("The order can't be understood; nothing was written.") from error
    if said_format != FORMAT:
        raise OrderRefused(f"The order is of another kind ({said_format[:40]}); nothing was written.")
    if said_machine != machine:
        raise OrderRefused(f"The order is for another machine ({said_machine[:60]}); nothing was written.")
    if said_home != account:
        raise OrderRefused(f"The order is for another home ({said_home[:60]}); nothing was written.")
    if digest_of(content) != order.digest:
        raise OrderRefused("The order arrived damaged; nothing was written.")
    return order


def led_to(key: str, handovers: Sequence[Any], newest: str) -> bool:
    """Whether a key handed over to another one, in one step or several, each signed by the one before."""
    known = {key}
    left = list(handovers[:MOST_HANDOVERS])
    while newest not in known:
        fitting = [h for h in left if _holds(h, known)]
        if not fitting:
            return False
        known |= {h["new"] for h in fitting}
        left = [h for h in left if h not in fitting]
    return True


def _holds(handover: Any, known: set[str]) -> bool:
    try:
        old, new = handover["old"], handover["new"]
        words = HANDED_OVER + base64.b64decode(old, validate=True) + base64.b64decode(new, validate=True)
        return old in known and _signed(old, words, handover["signature"])
    except (KeyError, TypeError, ValueError, binascii.Error):
        return False


def _signed(key: str, data: bytes, signature: str) -> bool:
    try:
        public = Ed25519PublicKey.from_public_bytes(base64.b64decode(key, validate=True))
        public.verify(base64.b64decode(signature, validate=True), data)
    except (InvalidSignature, ValueError, TypeError, binascii.Error):
        return False
    return True


def _text(value: Any) -> str:
    if not isinstance(value, str):
        raise TypeError(value)
    return value
