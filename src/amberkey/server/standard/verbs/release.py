"""Releasing the standard: compiling it into the layer that lies under all others."""

from typing import cast

from django.db import transaction
from django.db.models import F

from amberkey.core.compare.operations import JsonDocument, Operation, compare
from amberkey.core.profiles.model import Generated, Profile
from amberkey.core.standard.compiling import LAYER
from amberkey.server.estate import STANDARD
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.models import ChangeSet, Document
from amberkey.server.library.verbs.change import change, create
from amberkey.server.library.verbs.release import release
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.standard.state import LAYER_KEY, compiled, current_coverage
from amberkey.server.standard.verbs.keep_point import keep_point
from amberkey.server.standard.verbs.set_lines import standard_at

# Documents that name layers, each with the field in which it does.
_STAND_ON = {"amberkey/organisation@1": "profiles", "amberkey/setup@1": "layers"}


@transaction.atomic
def release_standard(actor: Actor) -> ChangeSet:
    """Compile the newest revision into its layer, and release both. Raises Problem where that changes nothing."""
    actor.require(Role.RELEASER)
    revision = newest_of(find(STANDARD))
    standard = standard_at(revision.digest)
    layer = compiled(standard, revision.digest)
    if not Document.objects.filter(key=LAYER_KEY, deleted_at=None).exists():
        create(actor, empty_layer(standard.name, standard.id, revision.digest), "For the standard's entries")
    before = cast(JsonDocument, newest_of(find(LAYER_KEY)).body.json())
    changes = {LAYER_KEY: tuple(compare(before, cast(JsonDocument, layer.to_json())))}
    changes |= _under_everybody()
    entries = sum(o.section == "entries" for o in changes[LAYER_KEY])
    if not any(changes.values()):
        raise Problem(409, "The standard is released as it is.", "Its layer has every entry that it asks for.")
    title = f"Released the standard, revision {revision.number}: {entries} {'entry' if entries == 1 else 'entries'} changed"
    # What machines have as it is goes on with the layer under it; what others still work on waits for its own release.
    in_step = Document.objects.filter(key__in=changes, newest__body=F("released__body")).values_list("key", flat=True)
    with_it = [key for key in in_step if key != LAYER_KEY]
    done = change(actor, title, changes, generated=True)
    for key in with_it:
        release(actor, key, newest_of(find(key)).number)
    release(actor, STANDARD, revision.number)
    release(actor, LAYER_KEY, newest_of(find(LAYER_KEY)).number)
    keep_point(current_coverage(), released=True)
    return done


def _under_everybody() -> dict[str, tuple[Operation, ...]]:
    """What puts the layer under all others: in the organisation, and in setups that are only planned."""
    found: dict[str, tuple[Operation, ...]] = {}
    wanted = Document.objects.filter(deleted_at=None, format__in=_STAND_ON).select_related("newest__body")
    for document in wanted:
        value = cast(JsonDocument, newest_of(document).body.json())
        name = _STAND_ON[document.format]
        layers = cast(list[str], value.get(name) or [])
        if LAYER not in layers:
            found[document.key] = tuple(compare(value, {**value, name: [LAYER, *layers]}))
    return found


def empty_layer(name: str, standard: str, revision: str) -> Profile:
    return Profile(id=LAYER, name=name, generated=Generated(standard=standard, revision=revision))
