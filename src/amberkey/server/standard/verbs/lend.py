"""Giving a program another program's shortcuts as a set in a profile, and taking such a set off again."""

from typing import cast

from amberkey.core.compare.operations import JsonDocument, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.profiles.model import NamedSet
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound


def lend(actor: Actor, profile_id: str, found: NamedSet) -> ChangeSet:
    """Put a set into a profile, in the place of an earlier one of the same id."""
    actor.require(Role.EDITOR)
    key = f"profile/{profile_id}"
    document = cast(JsonDocument, newest_of(find(key)).body.json())
    value = cast(Json, found.model_dump(mode="json", exclude_defaults=True))
    operation = set_item(document, "sets", found.id, value)
    title = f"Gave {found.name}: {len(found.entries)} shortcuts"
    return change(actor, title, {key: (operation,) if operation else ()})


def take_off(actor: Actor, profile_id: str, set_id: str) -> ChangeSet:
    """Take a set off a profile. Raises NotFound where it has none of that id."""
    actor.require(Role.EDITOR)
    key = f"profile/{profile_id}"
    document = cast(JsonDocument, newest_of(find(key)).body.json())
    sets = cast(list[dict[str, Json]], document.get("sets") or [])
    name = next((str(s["name"]) for s in sets if s["id"] == set_id), None)
    if name is None:
        raise NotFound(f"set {set_id[:60]}")
    operation = set_item(document, "sets", set_id, None)
    return change(actor, f"Took {name} off again", {key: (operation,) if operation else ()})
