"""Taking chosen differences of a bundle into a profile, as one change set."""

from collections.abc import Collection

from django.db import transaction

from amberkey.core.exchange.preview import Preview
from amberkey.core.profiles.model import Profile
from amberkey.server.library.models import Body, ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem


@transaction.atomic
def take(actor: Actor, profile_id: str, source: str, incoming: Profile, preview: Preview, chosen: Collection[str]) -> ChangeSet:
    """What came is kept beside the revision, so that a later bundle from there can be merged against it.

    Raises Problem for a choice that isn't in the preview or is refused there.
    """
    actor.require(Role.EDITOR)
    by_key = {d.key: d for d in preview.differences}
    unknown = sorted(set(chosen) - by_key.keys())
    if unknown:
        raise Problem(
            409, "The profile has changed since the preview.", f"{unknown[0]} differs no longer.", "Preview it again."
        )
    refused = [by_key[k] for k in chosen if by_key[k].refused]
    if refused:
        raise Problem(400, "This can't be taken here.", refused[0].refused, "Leave it out.")
    operations = [by_key[k].operation for k in chosen]
    count = f"{len(operations)} entr{'y' if len(operations) == 1 else 'ies'}"
    key = f"profile/{profile_id}"
    change_set = change(actor, f"Brought in {count} from {source}", {key: operations})
    change_set.revisions.filter(document_id=key).update(brought=Body.keep(incoming.to_bytes()))
    return change_set
