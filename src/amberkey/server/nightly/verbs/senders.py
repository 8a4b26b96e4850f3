"""Tokens with which lists are sent: made for one kind, shown once, revoked."""

import secrets
from collections.abc import Sequence

from django.db import transaction
from django.utils import timezone

from amberkey.core.keys.platform import Platform
from amberkey.server.fleet.verbs.enrol import hashed
from amberkey.server.library.documents import known_programs
from amberkey.server.nightly.models import Sender, SentKind
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem


@transaction.atomic
def make_sender(
    actor: Actor, name: str, kind: str, program: str = "", platforms: Sequence[Platform] = ()
) -> tuple[Sender, str]:
    """A new token, told once. Raises Problem where a list of commands has no program, or the name is taken."""
    actor.require(Role.ADMINISTRATOR)
    if (kind == SentKind.COMMANDS) != bool(program):
        what = "Say which program's commands they are." if not program else f"A list of {kind} is of no program."
        raise Problem(400, "The token can't be made so.", what)
    if program and program not in known_programs():
        raise NotFound(f"program {program[:60]}")
    if Sender.objects.filter(name=name, revoked_at=None).exists():
        raise Problem(409, f"There is a token called {name} already.", cure="Give this one another name, or revoke that one.")
    token = secrets.token_urlsafe(32)
    sender = Sender.objects.create(
        name=name, kind=kind, program=program, platforms=list(platforms), token_hash=hashed(token), made_by=actor.user
    )
    actor.record("made a token for lists", f"sender/{sender.id}", f"{kind} from {name}")
    return sender, token


@transaction.atomic
def revoke_sender(actor: Actor, sender: Sender) -> Sender:
    """A token works no more; what was sent with it stays."""
    actor.require(Role.ADMINISTRATOR)
    sender = Sender.objects.select_for_update().get(pk=sender.pk)
    if sender.revoked_at is not None:
        raise Problem(409, "This token is revoked already.", f"On {sender.revoked_at:%-d %B %Y}.")
    sender.revoked_at = timezone.now()
    sender.save(update_fields=["revoked_at"])
    actor.record("revoked a token for lists", f"sender/{sender.id}", f"{sender.kind} from {sender.name}")
    return sender
