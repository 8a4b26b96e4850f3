"""A person's own choice for one of Amber Key's shortcuts."""

from django.db import transaction

from amberkey.server.people.acting import Actor
from amberkey.server.people.models import User


@transaction.atomic
def choose_shortcut(actor: Actor, action: str, keys: str | None) -> None:
    """`keys`: a canonical shortcut, "" to switch it off, None for the usual one. Everybody may choose for themselves."""
    user = User.objects.select_for_update().get(pk=actor.user.pk)
    if keys is None:
        user.own_shortcuts.pop(action, None)
    else:
        user.own_shortcuts[action] = keys or None
    user.save(update_fields=["own_shortcuts"])
    actor.user.own_shortcuts = user.own_shortcuts
