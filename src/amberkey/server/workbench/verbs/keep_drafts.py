"""Saving what was tried as drafts, all of it as one change set."""

from amberkey.core.ways.drafting import Drafted
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role


def keep_drafts(actor: Actor, found: Drafted, titles: list[str]) -> ChangeSet:
    """`titles`: what each draft does, in a sentence."""
    actor.require(Role.EDITOR)
    title = titles[-1] if len(titles) == 1 else f"Kept {len(titles)} drafts: {'; '.join(titles)}"
    return change(actor, title, {f"profile/{profile}": operations for profile, operations in found.operations.items()})
