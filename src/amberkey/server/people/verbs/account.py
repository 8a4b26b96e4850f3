"""Accounts: who may sign in, with which role, and whose sessions are open."""

from django.contrib.auth.validators import UnicodeUsernameValidator
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role, SignedIn, User
from amberkey.server.problems import NotFound, Problem

_valid = UnicodeUsernameValidator()


def administrators() -> QuerySet[User]:
    """Everybody who may sign in as an administrator."""
    return User.objects.filter(Q(role=Role.ADMINISTRATOR) | Q(is_superuser=True), is_active=True)


def clean_name(name: str) -> str:
    """A name to sign in with that nobody has. Raises Problem."""
    cleaned = User.normalize_username(name.strip())
    try:
        _valid(cleaned)
    except ValidationError:
        raise Problem(
            400,
            "Nobody can sign in with that name.",
            f"{name[:40]!r} is empty, or has signs other than letters, digits and @.+-_",
            "Choose another name.",
        ) from None
    taken = User.objects.filter(username__iexact=cleaned).first()
    if taken is not None:
        raise Problem(409, f"{taken.username} is taken.", f"{taken.display_name} signs in with it.", "Choose another name.")
    return cleaned


@transaction.atomic
def add_account(actor: Actor, name: str, called: str, role: Role) -> User:
    """Somebody new who may sign in; a one-time link then lets them set a password."""
    actor.require(Role.ADMINISTRATOR)
    user = User(username=clean_name(name), first_name=called.strip(), role=role)
    user.set_unusable_password()
    user.save()
    actor.record("added an account", f"account/{user.username}", role.label)
    return user


@transaction.atomic
def change_account(actor: Actor, user_id: int, *, called: str | None, role: Role | None, active: bool | None) -> User:
    """Another name to be called, another role, or whether somebody may sign in at all; None leaves it.

    Raises Problem where nobody would be left who looks after accounts.
    """
    actor.require(Role.ADMINISTRATOR)
    list(administrators().select_for_update().values_list("pk"))  # two who step down at once are seen by each other
    user = find_account(user_id)
    told = []
    if called is not None and called.strip() != user.first_name:
        user.first_name = called.strip()
        told.append(f"called {user.display_name}")
    if role is not None and role != user.acting_role:
        user.role = role
        user.is_superuser = False  # who set the server up by command line is an administrator by that alone
        told.append(str(role.label))
    if active is not None and active != user.is_active:
        user.is_active = active
        told.append("may sign in" if active else "may not sign in any more")
    if not told:
        return user
    user.save()
    if not administrators().exists():
        raise Problem(
            409,
            f"{user.display_name} is the last administrator.",
            "Nobody would be left who looks after accounts.",
            "Make somebody else an administrator first.",
        )
    if not user.is_active:
        _end(user)
    actor.record("changed an account", f"account/{user.username}", "; ".join(told))
    return user


@transaction.atomic
def end_sessions(actor: Actor, user_id: int, *, but: str | None = None) -> int:
    """End somebody's sessions, wherever they are signed in; one's own, but for the one in use (`but`), everybody may end.
    Returns how many there were."""
    user = find_account(user_id)
    if user.pk != actor.user.pk:
        actor.require(Role.ADMINISTRATOR)
    ended = _end(user, but)
    actor.record("ended sessions", f"account/{user.username}", str(ended))
    return ended


def find_account(user_id: int) -> User:
    """Raises NotFound."""
    user = User.objects.filter(pk=user_id).first()
    if user is None:
        raise NotFound("such account")
    return user


def _end(user: User, but: str | None = None) -> int:
    rows = user.signed_in.exclude(session_key=but or "")
    keys = list(rows.values_list("session_key", flat=True))
    there, _ = Session.objects.filter(session_key__in=keys).delete()
    rows.delete()
    return there


def open_sessions(users: list[User]) -> dict[int, list[SignedIn]]:
    """The open sessions of some people, by person, the newest first. Those that ended by themselves are forgotten."""
    rows = list(SignedIn.objects.filter(user__in=users))
    there = Session.objects.filter(session_key__in=[r.session_key for r in rows], expire_date__gt=timezone.now())
    living = set(there.values_list("session_key", flat=True))
    SignedIn.objects.filter(pk__in=[r.pk for r in rows if r.session_key not in living]).delete()
    found: dict[int, list[SignedIn]] = {}
    for row in rows:
        if row.session_key in living:
            found.setdefault(row.user_id, []).append(row)
    return found
