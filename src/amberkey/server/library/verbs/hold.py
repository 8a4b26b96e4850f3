"""Holding nearer layers back: locking an entry of a profile, reserving a press in it, and letting go again."""

from typing import cast

from amberkey.core.compare.operations import JsonDocument, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.wording import words_of
from amberkey.core.profiles.model import Entry, Profile, Reserved
from amberkey.server.library.documents import find, known_programs, load, newest_of
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
    title = f"{'Locked' if locked else 'Let go of'} {_named(entry)}"
    return _change(actor, key, title, "entries", entry_key, after)


def reserve(actor: Actor, profile_id: str, reserved: Reserved) -> ChangeSet:
    """Reserve a press, or change what is said of one that is reserved."""
    actor.require(Role.EDITOR)
    after = cast(Json, reserved.model_dump(mode="json", exclude_defaults=True))
    title = f"Reserved {words_of(reserved.keys, reserved.platform)}"
    return _change(actor, f"profile/{profile_id}", title, "reserved", reserved.key, after)


def free(actor: Actor, profile_id: str, reserved_key: str) -> ChangeSet:
    """Let a reserved press go. Raises NotFound where the profile reserves no such one."""
    actor.require(Role.EDITOR)
    key = f"profile/{profile_id}"
    reserved = next((r for r in load(key, Profile).reserved if r.key == reserved_key), None)
    if reserved is None:
        raise NotFound(f"reserved press {reserved_key[:80]}")
    title = f"Let go of {words_of(reserved.keys, reserved.platform)}"
    return _change(actor, key, title, "reserved", reserved_key, None)


def _named(entry: Entry) -> str:
    """The command in the words of its program; by its id where the program isn't here."""
    program = known_programs().get(entry.program)
    if program is None:
        return f"{entry.command}, in {entry.program}"
    command = program.command(entry.command)
    return f"{command.name if command else entry.command}, in {program.name}"


def _change(actor: Actor, key: str, title: str, section: str, item_key: str, after: Json) -> ChangeSet:
    document = cast(JsonDocument, newest_of(find(key)).body.json())
    operation = set_item(document, section, item_key, after)
    return change(actor, title, {key: (operation,) if operation else ()})
