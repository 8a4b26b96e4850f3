"""Who signed a bundle: keys of organisations (Ed25519, RFC 8032), what they sign, and how one hands over to the next.

A key signs the bytes of a manifest, which holds the digest of everything else, and the text of orders to machines. What is
signed begins with what it is, so that a signature of one kind is none of another.
"""

import base64
import binascii
import hashlib
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey
from pydantic import AfterValidator, Field

from amberkey.core.documents.field import Text
from amberkey.core.documents.model import Document, Value
from amberkey.core.exchange.errors import KeyFault

SIGNED = b"amberkey bundle 1\n"
HANDED_OVER = b"amberkey hand-over 1\n"
ORDERED = b"amberkey order 1\n"
MOST_HANDOVERS = 50


def _in_base64(size: int) -> AfterValidator:
    def check(text: str) -> str:
        try:
            data = base64.b64decode(text, validate=True)
        except (binascii.Error, ValueError) as error:
            raise ValueError("this is not base64") from error
        if len(data) != size or base64.b64encode(data).decode() != text:
            raise ValueError(f"this is not {size} bytes in base64")
        return text

    return AfterValidator(check)


PublicKey = Annotated[str, Field(max_length=44), _in_base64(32)]
"""32 bytes in base64."""
SignatureText = Annotated[str, Field(max_length=88), _in_base64(64)]


class HandOver(Value):
    """An older key says that a newer one speaks for the same organisation from now on."""

    old: PublicKey
    new: PublicKey
    signature: SignatureText

    @property
    def holds(self) -> bool:
        """Whether the older key signed it."""
        return _verified(self.old, HANDED_OVER + _bytes(self.old) + _bytes(self.new), self.signature)


HandOvers = Annotated[tuple[HandOver, ...], Field(max_length=MOST_HANDOVERS)]


class KeyCard(Document):
    """An organisation's public key, to give to others. `name`: what the organisation calls itself."""

    format: Literal["amberkey/key@1"] = "amberkey/key@1"
    id: Literal["key"] = "key"
    name: Text
    key: PublicKey
    handovers: HandOvers = ()


class Signature(Document):
    """The signature of a manifest. `name`: what whoever signed calls itself; only the key proves anything."""

    format: Literal["amberkey/signature@1"] = "amberkey/signature@1"
    id: Literal["signature"] = "signature"
    name: Text
    key: PublicKey
    signature: SignatureText
    handovers: HandOvers = ()

    def fits(self, manifest: bytes) -> bool:
        """Whether the key signed just these bytes."""
        return _verified(self.key, SIGNED + manifest, self.signature)


class SigningKey:
    """The secret key of an organisation."""

    def __init__(self, seed: bytes) -> None:
        """`seed`: 32 bytes. Raises KeyFault for another number of them."""
        if len(seed) != 32:
            raise KeyFault("A signing key has 32 bytes, written as 64 hexadecimal digits.")
        self._key = Ed25519PrivateKey.from_private_bytes(seed)

    @classmethod
    def from_text(cls, text: str) -> "SigningKey":
        """A key from 64 hexadecimal digits. Raises KeyFault."""
        try:
            return cls(bytes.fromhex(text.strip()))
        except ValueError as error:
            raise KeyFault("A signing key has 32 bytes, written as 64 hexadecimal digits.") from error

    def to_text(self) -> str:
        """The secret itself, as `from_text` reads it."""
        return self._key.private_bytes_raw().hex()

    @property
    def public(self) -> str:
        """The public key in base64."""
        return base64.b64encode(self._key.public_key().public_bytes_raw()).decode()

    def sign(self, manifest: bytes, name: str, handovers: Sequence[HandOver] = ()) -> Signature:
        """A signature of a manifest's bytes. Of hand-overs those that lead to this key come along."""
        return Signature(name=name, key=self.public, signature=self._sign(SIGNED + manifest), handovers=tuple(handovers))

    def hand_over(self, new: "SigningKey") -> HandOver:
        """This key's word that another one speaks for the organisation from now on."""
        words = HANDED_OVER + _bytes(self.public) + _bytes(new.public)
        return HandOver(old=self.public, new=new.public, signature=self._sign(words))

    def sign_order(self, said: bytes) -> str:
        """The signature of what an order to a machine says, in base64."""
        return self._sign(ORDERED + said)

    def card(self, name: str, handovers: Sequence[HandOver] = ()) -> KeyCard:
        """What others need to know this organisation's bundles."""
        return KeyCard(name=name, key=self.public, handovers=tuple(handovers))

    def _sign(self, data: bytes) -> str:
        return base64.b64encode(self._key.sign(data)).decode()


@dataclass(frozen=True, slots=True)
class Signer:
    """Who signed. `unsigned`: nobody did. `known`: a key that is trusted, or one that such a key handed over to; `name` is what
    we call it. `unknown`: some other key; `name` is what it calls itself, which proves nothing."""

    state: Literal["unsigned", "known", "unknown"]
    name: str = ""
    key: str = ""
    handed_over: bool = False

    @property
    def fingerprint(self) -> str:
        """The key as people compare it: empty where nobody signed."""
        return fingerprint(self.key) if self.key else ""


UNSIGNED = Signer("unsigned")


def who_signed(signature: Signature | None, trusted: Mapping[str, str]) -> Signer:
    """Who signed a bundle whose signature fits. `trusted`: names by public key."""
    if signature is None:
        return UNSIGNED
    if signature.key in trusted:
        return Signer("known", trusted[signature.key], signature.key)
    before = reached_from(trusted.keys(), signature.handovers).get(signature.key)
    if before is not None:
        return Signer("known", trusted[before], signature.key, handed_over=True)
    return Signer("unknown", signature.name, signature.key)


def reached_from(keys: Collection[str], handovers: Sequence[HandOver]) -> dict[str, str]:
    """The keys that some keys handed over to, in one step or several, each with the one of `keys` where that began."""
    origin = {key: key for key in keys}
    left = [h for h in handovers if h.holds]
    while True:
        fitting = [h for h in left if h.old in origin and h.new not in origin]
        if not fitting:
            return {key: first for key, first in origin.items() if key not in keys}
        for one in fitting:
            origin.setdefault(one.new, origin[one.old])


def leading_to(key: str, handovers: Sequence[HandOver]) -> tuple[HandOver, ...]:
    """The hand-overs that lead to a key, the newest ones where there are too many."""
    wanted, found = {key}, []
    for one in reversed(handovers):
        if one.new in wanted:
            wanted.add(one.old)
            found.append(one)
    return tuple(reversed(found[:MOST_HANDOVERS]))


def fingerprint(key: str) -> str:
    """A public key as people compare it over the telephone: the first 16 bytes of its SHA-256 in groups of four digits."""
    digits = hashlib.sha256(_bytes(key)).hexdigest()[:32]
    return " ".join(digits[n : n + 4] for n in range(0, 32, 4))


def _bytes(key: str) -> bytes:
    return base64.b64decode(key)


def _verified(key: str, data: bytes, signature: str) -> bool:
    try:
        Ed25519PublicKey.from_public_bytes(_bytes(key)).verify(base64.b64decode(signature), data)
    except (InvalidSignature, ValueError):
        return False
    return True
