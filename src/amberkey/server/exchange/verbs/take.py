"""Taking chosen differences of a bundle into a profile, as one change set."""

from collections.abc import Collection

from django.db import transaction

from amberkey.core.compare.operations import Operation
from amberkey.core.exchange.preview import Preview
from amberkey.server.exchange.opening import Coming
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.models import Body, ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.library.verbs.revisions import name_revision
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem

_LONGEST_NAME = 80


def chosen_of(preview: Preview, chosen: Collection[str]) -> list[Operation]:
    """The operations of chosen differences. Raises Problem for a choice that isn't in the preview or is refused there."""
    by_key = {d.key: d for d in preview.differences}
    unknown = sorted(set(chosen) - by_key.keys())
    if unknown:
        raise Problem(
            409, "The profile has changed since the preview.", f"{unknown[0]} differs no longer.", "Preview it again."
        )
    refused = [by_key[k] for k in chosen if by_key[k].refused]
    if refused:
        raise Problem(400, "This can't be taken here.", refused[0].refused, "Leave it out.")
    return [by_key[k].operation for k in dict.fromkeys(chosen)]


@transaction.atomic
def take(actor: Actor, profile_id: str, coming: Coming, preview: Preview, chosen: Collection[str]) -> ChangeSet:
    """What came in a bundle is kept beside the revision, so that a later one from there can be merged against it; the revision
    before gets a name, so that it stays and is found. Raises Problem as `chosen_of`.
    """
    actor.require(Role.EDITOR)
    operations = chosen_of(preview, chosen)
    count = f"{len(operations)} entr{'y' if len(operations) == 1 else 'ies'}"
    key = f"profile/{profile_id}"
    _name_what_was(actor, key, coming.title)
    of = f" of {coming.read.program.name}" if coming.read else ""
    change_set = change(actor, f"Brought in {count} from {coming.title}{of}", {key: operations})
    if coming.opened is not None:
        change_set.revisions.filter(document_id=key).update(brought=Body.keep(coming.profile.to_bytes()))
    return change_set


def _name_what_was(actor: Actor, key: str, source: str) -> None:
    now = newest_of(find(key))
    name = f"Before {source}"[:_LONGEST_NAME]
    taken = find(key).revisions.filter(name=name).exists()
    if not now.name:
        name_revision(actor, key, now.number, f"{name[: _LONGEST_NAME - 12]} ({now.number})" if taken else name)
