"""Setting a password, by Django's rules for them."""

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction

from amberkey.server.people.acting import Actor
from amberkey.server.people.models import User
from amberkey.server.problems import Problem


def set_password(user: User, password: str) -> None:
    """Saves the user. Raises Problem with every rule that the password breaks."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Problem(400, "This password can't be taken.", " ".join(error.messages), "Choose another one.") from error
    user.set_password(password)
    user.save()


@transaction.atomic
def change_password(actor: Actor, now: str, after: str) -> None:
    """Everybody changes their own, knowing the present one. Their other sessions end by that."""
    user = User.objects.select_for_update().get(pk=actor.user.pk)
    if not user.check_password(now):
        raise Problem(403, "That is not your present password.", cure="Type it again, or ask an administrator for a link.")
    set_password(user, after)
    actor.record("changed their password", f"account/{user.username}")
