"""Trusting other organisations' keys, and following the own key with a new one."""

import os
import pathlib

from django.conf import settings
from django.db import connection, transaction
from django.utils import timezone

from amberkey.core.exchange.signing import KeyCard, SigningKey, fingerprint, leading_to
from amberkey.server.exchange.keys import own_key, own_keys, remember
from amberkey.server.exchange.models import TrustedKey
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

_ROTATING = 7_310_446
"""The number of the database's lock under which a key is followed."""


@transaction.atomic
def trust(actor: Actor, card: KeyCard, name: str) -> TrustedKey:
    """Know an organisation's bundles from now on, under a name. Raises Problem for the own key and for a name that is taken."""
    actor.require(Role.ADMINISTRATOR)
    if card.key in own_keys():
        raise Problem(409, "This is your own key.", "What it signs is known here anyway.")
    same_name = TrustedKey.objects.filter(name=name, withdrawn_at=None).exclude(key=card.key).first()
    # A key that follows a trusted one takes its name over.
    if same_name is not None and same_name.key not in {h.old for h in leading_to(card.key, card.handovers) if h.holds}:
        raise Problem(409, f"Another key is trusted as {name}.", cure="Call this one something else, or let go of that one.")
    row, _ = TrustedKey.objects.update_or_create(key=card.key, defaults={"name": name, "by": actor.user, "withdrawn_at": None})
    actor.record("trusted a key", name, fingerprint(card.key))
    return row


@transaction.atomic
def withdraw(actor: Actor, key: str, *, withdrawn: bool) -> TrustedKey:
    """Trust a key no longer, or again. Raises NotFound."""
    actor.require(Role.ADMINISTRATOR)
    row = TrustedKey.objects.select_for_update().filter(key=key).first()
    if row is None:
        raise NotFound("such a key")
    row.withdrawn_at = timezone.now() if withdrawn else None
    row.save(update_fields=["withdrawn_at"])
    actor.record("trusts a key no longer" if withdrawn else "trusted a key again", row.name, fingerprint(key))
    return row


def follow(actor: Actor) -> SigningKey:
    """Make a new key, which the present one hands over to. Raises Problem where the key isn't a file of ours.

    The hand-over is kept before the file changes: one to a key that never came to be does no harm, a key that nobody handed
    over to would be a stranger's.
    """
    actor.require(Role.ADMINISTRATOR)
    own = own_key()
    if own is None or own.kept != "file":
        raise Problem(
            409,
            "The key can't be changed from here.",
            "It is given by the environment." if own else "There is none.",
            "Make one with ./amberkey bundle key, put it into AMBERKEY_SIGNING_KEY and the present one into "
            "AMBERKEY_SIGNING_KEY_BEFORE, and start again."
            if own
            else "Make one with ./amberkey bundle key, put it into AMBERKEY_SIGNING_KEY, and start again.",
        )
    new = SigningKey(os.urandom(32))
    with transaction.atomic():
        remember(own.key.hand_over(new))
        actor.record("made a new signing key", fingerprint(new.public), f"after {fingerprint(own.key.public)}")
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_ROTATING])
        still = own_key()
        if still is None or still.key.public != own.key.public:
            raise Problem(409, "Somebody else has just made a new key.", cure="Look at it, and make another one if need be.")
        _put(pathlib.Path(settings.SIGNING_KEY_FILE), new.to_text())
    return new


def _put(file: pathlib.Path, text: str) -> None:
    """In place of what is there, whole or not at all."""
    fresh = file.with_name(f"{file.name}.new")
    with open(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out:
        out.write(text)
        out.flush()
        os.fsync(out.fileno())
    fresh.replace(file)
