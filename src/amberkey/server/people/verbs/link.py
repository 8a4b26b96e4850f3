"""One-time links by which passwords are set: for first sign-ins, forgotten passwords, and the first administrator."""

import datetime
import hashlib
import secrets

from django.db import transaction
from django.utils import timezone

from amberkey.server.people.acting import Actor
from amberkey.server.people.models import OneTimeLink, Role, User
from amberkey.server.people.verbs.account import administrators, clean_name
from amberkey.server.people.verbs.password import set_password
from amberkey.server.problems import NotFound, Problem

LIVES = datetime.timedelta(hours=48)


@transaction.atomic
def make_link(actor: Actor, user_id: int) -> str:
    """The secret of a new link for somebody; it is told once, and links that were made before don't work any more."""
    actor.require(Role.ADMINISTRATOR)
    user = User.objects.select_for_update().filter(pk=user_id).first()
    if user is None:
        raise NotFound("such account")
    if not user.is_active:
        raise Problem(409, f"{user.display_name} may not sign in.", cure="Let them sign in again first.")
    secret = _new_link(user, actor.user)
    actor.record("made a one-time link", f"account/{user.username}")
    return secret


@transaction.atomic
def first_link() -> str | None:
    """The secret of a link that makes the first administrator; None where there is one. Earlier ones don't work any more."""
    return None if administrators().exists() else _new_link(None, None)


def _new_link(user: User | None, made_by: User | None) -> str:
    OneTimeLink.objects.filter(user=user, used_at=None).delete()
    secret = secrets.token_urlsafe(32)
    OneTimeLink.objects.create(secret_hash=_hashed(secret), user=user, made_by=made_by, expires_at=timezone.now() + LIVES)
    return secret


def look_at_link(secret: str) -> OneTimeLink:
    """A link that works. Raises Problem for one that is used, too old or not ours."""
    link = OneTimeLink.objects.select_related("user").filter(secret_hash=_hashed(secret)).first()
    if link is None:
        raise _refused("It is not one of ours, or a newer one was made since.")
    if link.used_at is not None:
        raise _refused(f"It was used on {link.used_at:%-d %B %Y at %H:%M} UTC.")
    if link.expires_at < timezone.now():
        raise _refused(f"It was good until {link.expires_at:%-d %B %Y at %H:%M} UTC.")
    if link.user is not None and not link.user.is_active:
        raise _refused(f"{link.user.display_name} may not sign in.")
    if link.user is None and administrators().exists():
        raise _refused("There is an administrator already.")
    return link


@transaction.atomic
def use_link(secret: str, name: str, called: str, password: str) -> User:
    """Set the password of whose link it is, and use the link up. The first administrator gives a `name` to sign in with too,
    and what they are `called`. Raises Problem; the link then still works."""
    OneTimeLink.objects.select_for_update().filter(secret_hash=_hashed(secret)).first()  # of two at once one is first
    link = look_at_link(secret)
    user = link.user or User(username=clean_name(name), first_name=called.strip(), role=Role.ADMINISTRATOR)
    set_password(user, password)
    link.user = user
    link.used_at = timezone.now()
    link.save(update_fields=["used_at", "user"])
    Actor(user).record("set a password by a one-time link", f"account/{user.username}")
    return user


def _hashed(secret: str) -> str:
    """Secrets are long and random, so one round is enough."""
    return hashlib.sha256(secret.encode()).hexdigest()


def _refused(why: str) -> Problem:
    return Problem(
        403,
        "This link doesn't work.",
        why,
        "Ask an administrator for a new one; the first one is printed when Amber Key is started.",
    )
