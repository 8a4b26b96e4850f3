"""This organisation's signing key, and which keys are known here.

The key is a file beside the data, made at the first start, or is given by the environment; where there is neither, bundles go
out unsigned. `AMBERKEY_SIGNING_KEY_BEFORE` is the key that the given one follows: it hands over.
"""

import pathlib
from dataclasses import dataclass
from typing import Literal

from django.conf import settings

from amberkey.core.exchange.bundle import Signing
from amberkey.core.exchange.errors import KeyFault
from amberkey.core.exchange.signing import HandOver, Signer, SigningKey, leading_to, reached_from, who_signed
from amberkey.core.exchange.signing import Signature as BundleSignature
from amberkey.server.estate import current_organisation
from amberkey.server.exchange.models import HandedOver, TrustedKey
from amberkey.server.once import once
from amberkey.server.problems import Problem

Kept = Literal["", "file", "environment"]
UNNAMED = "An organisation without a name"


@dataclass(frozen=True, slots=True)
class OwnKey:
    """The signing key and where it is kept."""

    key: SigningKey
    kept: Kept


def own_key() -> OwnKey | None:
    """This organisation's signing key; None where it has none. Raises Problem where what is there is no key."""
    given, file = settings.SIGNING_KEY, settings.SIGNING_KEY_FILE
    try:
        if given:
            key = SigningKey.from_text(given)
            if settings.SIGNING_KEY_BEFORE:
                remember(SigningKey.from_text(settings.SIGNING_KEY_BEFORE).hand_over(key))
            return OwnKey(key, "environment")
        if file and pathlib.Path(file).exists():
            return OwnKey(SigningKey.from_text(pathlib.Path(file).read_text()), "file")
    except (KeyFault, OSError, UnicodeDecodeError) as error:
        where = "AMBERKEY_SIGNING_KEY" if given else "the file of the signing key"
        raise Problem(
            409, "Nothing can be signed.", f"What is in {where} can't be used: {error}", "Put the key back."
        ) from error
    return None


def remember(one: HandOver) -> None:
    """Keep that a key handed over."""
    HandedOver.objects.get_or_create(old=one.old, new=one.new, defaults={"signature": one.signature})


@once
def handovers() -> tuple[HandOver, ...]:
    """Every hand-over of this organisation's keys, the oldest first."""
    return tuple(HandOver(old=h.old, new=h.new, signature=h.signature) for h in HandedOver.objects.all())


def own_name() -> str:
    """What this organisation calls itself."""
    return current_organisation().name or UNNAMED


def signing() -> Signing | None:
    """With what a bundle that goes out is signed."""
    own = own_key()
    return None if own is None else Signing(own.key, own_name(), leading_to(own.key.public, handovers()))


def signer_of(signature: BundleSignature | None) -> Signer:
    """Who signed a bundle, as far as it is known here: this organisation itself, or one that is trusted."""
    trusted = {t.key: t.name for t in TrustedKey.objects.filter(withdrawn_at=None)}
    return who_signed(signature, {**trusted, **dict.fromkeys(own_keys(), own_name())})


def own_keys() -> frozenset[str]:
    """The public keys that this organisation signs with or signed with."""
    own = own_key()
    said = handovers()
    older = {h.old for h in (leading_to(own.key.public, said) if own else said)}
    newer = set(reached_from(older, said))
    return frozenset({*older, *newer, *({own.key.public} if own else ())})
