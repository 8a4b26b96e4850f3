"""Changing items of one section of a profile: planned first, then saved as one change set."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from amberkey.core.compare.operations import JsonDocument, Operation, apply, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import read_document
from amberkey.core.documents.sections import SECTIONS, called
from amberkey.core.profiles.checks import faults_in
from amberkey.core.profiles.model import Profile
from amberkey.server.library.documents import find, known_programs, newest_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

FORMAT = "amberkey/profile@1"
_MODELS = {FORMAT: Profile}


@dataclass(frozen=True)
class Wish:
    """What an item of a section shall be. `key`: of the item that it is now, None for a new one; `item` None: it goes."""

    key: str | None
    item: Mapping[str, Json] | None


@dataclass(frozen=True)
class Arranged:
    """A profile before and after some wishes, and the operations between."""

    before: Profile
    after: Profile
    operations: tuple[Operation, ...]


def arranged(profile_id: str, section: str, wishes: Sequence[Wish]) -> Arranged:
    """What some wishes make of a profile; saves nothing.

    Raises NotFound, Problem for a section that profiles don't have or an item that is no more, and DocumentError with each
    fault at its place among the wishes where an item can't be so.
    """
    known = SECTIONS[FORMAT].get(section)
    if known is None:
        raise Problem(400, f"A profile has no section {section[:40]}.", cure=f"It has {', '.join(SECTIONS[FORMAT])}.")
    document = cast(JsonDocument, newest_of(find(f"profile/{profile_id}")).body.json())
    standing = {known.key_of(i) for i in cast(list[dict[str, Json]], document.get(section) or [])}
    operations: list[Operation] = []
    for wish in wishes:
        if wish.key is not None and wish.key not in standing:
            raise NotFound(f"{called(section)} {wish.key[:80]}")
        after = _checked(section, wish.item) if wish.item is not None else None
        new_key = known.key_of(after) if after is not None else None
        if new_key is not None and new_key != wish.key and new_key in standing:
            cure = "Change that one, or call this one otherwise."
            raise Problem(409, f"There is a {called(section)} {new_key[:80]} in this profile already.", cure=cure)
        if wish.key is not None and wish.key != new_key:
            operations += [o for o in (set_item(document, section, wish.key, None),) if o is not None]
        if new_key is not None:
            operations += [o for o in (set_item(document, section, new_key, cast(Json, after)),) if o is not None]
    before = read_document(document, _MODELS)
    after_all = read_document(apply(document, operations), _MODELS)
    _check(section, wishes)
    return Arranged(before, after_all, tuple(operations))


def _checked(section: str, item: Mapping[str, Json]) -> dict[str, Json]:
    """An item as documents keep it. Its faults are told with their places."""
    one = _with(section, [item])
    return cast(dict[str, Json], getattr(one, section)[0].model_dump(mode="json", exclude_defaults=True))


def _with(section: str, items: Sequence[Mapping[str, Json]]) -> Profile:
    """A profile that has some items of one section and nothing else."""
    held: list[Json] = [dict(item) for item in items]
    return read_document({"format": FORMAT, "id": "profile", "name": "profile", section: held}, _MODELS)


def _check(section: str, wishes: Sequence[Wish]) -> None:
    """What the programs can't take of the new items alone: what stands already doesn't keep others from being changed."""
    items = [w.item for w in wishes if w.item is not None]
    faults = list(faults_in(_with(section, items), known_programs())) if items else []
    if faults:
        raise DocumentError(faults)


def arrange(actor: Actor, profile_id: str, section: str, wishes: Sequence[Wish]) -> ChangeSet:
    """Save some wishes as one change. Raises as `arranged` and `change` do."""
    actor.require(Role.EDITOR)
    found = arranged(profile_id, section, wishes)
    return change(actor, _title(found, section, wishes), {f"profile/{profile_id}": found.operations})


def _title(found: Arranged, section: str, wishes: Sequence[Wish]) -> str:
    what = called(section)
    if len(wishes) == 1:
        wish = wishes[0]
        does = "Took out" if wish.item is None else "Added" if wish.key is None else "Changed"
        return f"{does} the {what} {_name(found, section, wish)} of {found.before.name}"
    does = "Took out" if all(w.item is None for w in wishes) else "Changed"
    return f"{does} {len(wishes)} items of {found.before.name}: {what}"


def _name(found: Arranged, section: str, wish: Wish) -> str:
    item = wish.item
    if item is None:
        stood = (i for i in getattr(found.before, section) if getattr(i, SECTIONS[FORMAT][section].by) == wish.key)
        item = next((cast(Mapping[str, Json], i.model_dump(mode="json")) for i in stood), {})
    program = known_programs().get(str(item.get("program") or ""))
    if section == "shelves" and program is not None:
        row = program.offers.shelf(str(item.get("shelf")))
        return f"{row.name if row else item.get('shelf')} in {program.name}"
    if section == "preferences" and program is not None:
        place = program.offers.preference(str(item.get("preference")))
        return f"{place.name if place else item.get('preference')} in {program.name}"
    for field in ("name", "short", "keys", "key", "id"):
        if isinstance(item.get(field), str) and item[field]:
            return str(item[field])
    return wish.key or ""
