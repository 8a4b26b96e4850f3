"""Holding nearer layers back: locking an entry of a profile, reserving a press in it, and letting go again."""

from typing import cast

from amberkey.core.compare.operations import JsonDocument, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.profiles.model import Profile, Reserved
from amberkey.server.library.documents import find, load, newest_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound


def lock(actor: Actor, profile_id: str, entry_key: str, *, locked: bool) -> ChangeSet:
    """Lock an entry for nearer layers, or let it go. Raises NotFound where the profile has no such entry."""
    actor.require(Role.EDITOR)
    key = f"profile/{profile_id}"
    entry = next((e for e in load(key, Profile).entries if e.key == entry_key), None)
    if entry is None:
        raise NotFound(f"entry {entry_key[:80]}")
    after = cast(Json, entry.model_copy(update={"locked": locked}).model_dump(mode="json", exclude_defaults=True))
    title = f"{'Locked' if locked else 'Let go of'} {entry.command} of {entry.program}"
    return _change(actor, key, title, "entries", entry_key, after)


def reserve(actor: Actor, profile_id: str, reserved: Reserved) -> ChangeSet:
    """Reserve a press, or change what is said of one that is reserved."""
    actor.require(Role.EDITOR)
    after = cast(Json, reserved.model_dump(mode="json", exclude_defaults=True))
    return _change(actor, f"profile/{profile_id}", f"Reserved {reserved.keys}", "reserved", reserved.key, after)


def free(actor: Actor, profile_id: str, reserved_key: str) -> ChangeSet:
    """Let a reserved press go. Raises NotFound where the profile reserves no such one."""
    actor.require(Role.EDITOR)
    key = f"profile/{profile_id}"
    if all(r.key != reserved_key for r in load(key, Profile).reserved):
        raise NotFound(f"reserved press {reserved_key[:80]}")
    return _change(actor, key, f"Let go of {reserved_key}", "reserved", reserved_key, None)


def _change(actor: Actor, key: str, title: str, section: str, item_key: str, after: Json) -> ChangeSet:
    document = cast(JsonDocument, newest_of(find(key)).body.json())
    operation = set_item(document, section, item_key, after)
    return change(actor, title, {key: (operation,) if operation else ()})
