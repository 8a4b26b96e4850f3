"""What is done with single revisions and whole documents: naming, going back, deleting, bringing back."""

from typing import cast

from django.db import transaction

from amberkey.core.compare.operations import JsonDocument, Operation, compare, operation_from_json
from amberkey.core.compare.views import chosen
from amberkey.core.documents.canonical import Json
from amberkey.core.formats import read_any
from amberkey.server.library.documents import digests, find, newest_of
from amberkey.server.library.models import ChangeSet, ChangeSetPart, Document, Revision
from amberkey.server.library.names import renamed_by
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.library.verbs.save import save
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

_DELETABLE = ("amberkey/profile@1", "amberkey/program@1")


def revision_of(key: str, number: int) -> Revision:
    """One revision of a living document. Raises NotFound."""
    found = find(key).revisions.filter(number=number).select_related("body", "author", "parent__body", "change_set").first()
    if found is None:
        raise NotFound(f"revision {number} of {key.replace('/', ' ', 1)}")
    return found


def name_revision(actor: Actor, key: str, number: int, name: str) -> Revision:
    """Give a revision a name, or take it away ("")."""
    actor.require(Role.EDITOR)
    revision = revision_of(key, number)
    taken = find(key).revisions.filter(name=name).exclude(number=number).first() if name else None
    if taken is not None:
        raise Problem(409, f"Revision {taken.number} has that name.", cure="Give this one another name.")
    revision.name = name
    revision.save(update_fields=["name"])
    actor.record("named", key, f"{number}: {name or 'no name any more'}")
    return revision


@transaction.atomic
def go_back(actor: Actor, key: str, number: int, seen: str) -> ChangeSet:
    """Make a document what it was at a revision, as a new revision. What others saved after the state that the actor has `seen`
    (a digest) stays beside it; raises Conflict where both say something else of the same item."""
    revision = revision_of(key, number)
    named = f" ({revision.name})" if revision.name else ""
    value = read_any(revision.body.data)
    if newest_of(find(key)).digest == seen:
        now = cast(JsonDocument, newest_of(find(key)).body.json())
        if not compare(now, cast(JsonDocument, value.to_json())):
            raise Problem(409, "It is like that now.", f"Nothing differs from revision {number}.")
    return save(actor, key, value, seen, f"Back to revision {number}{named} of {value.name}")


@transaction.atomic
def delete(actor: Actor, key: str) -> ChangeSet:
    """Delete a document; its revisions stay, so it can be brought back. Raises DocumentError where something needs it."""
    actor.require(Role.EDITOR)
    document = Document.objects.select_for_update().filter(key=key, deleted_at=None).first()
    if document is None:
        raise NotFound(key.replace("/", " ", 1))
    if document.format not in _DELETABLE:
        raise Problem(409, f"{document.name} is always there.", "Only profiles and programs can be deleted.")
    newest = document.newest
    if newest is not None and cast(JsonDocument, newest.body.json()).get("generated") is not None:
        raise Problem(409, f"{document.name} is compiled from the standard.", cure="Change the standard instead.")
    return change(actor, f"Deleted {document.name}", {}, making=Making(remove=[key]))


@transaction.atomic
def bring_back(actor: Actor, key: str) -> ChangeSet:
    """Bring a deleted document back as it was. Raises NotFound."""
    actor.require(Role.EDITOR)
    document = Document.objects.filter(key=key).exclude(deleted_at=None).first()
    if document is None:
        raise NotFound(f"deleted {key.replace('/', ' ', 1)}")
    return change(actor, f"Brought back {document.name}", {}, making=Making(revive=[key]))


@transaction.atomic
def undo_some(actor: Actor, change_set_id: int, wanted: dict[str, list[str]]) -> ChangeSet:
    """Undo single differences of a change set: their ids by document. What else it changed stays.

    Raises Conflict over newer work in the same place, NotFound for what isn't part of it.
    """
    actor.require(Role.EDITOR)
    change_set = ChangeSet.objects.filter(id=change_set_id).first()
    if change_set is None:
        raise NotFound("such change")
    if change_set.undone:
        raise Problem(409, "All of this is undone already.", change_set.title)
    inverse: dict[str, list[Operation]] = {}
    parts = {p.document_id: p for p in change_set.parts.select_related("operations")}
    living = digests()
    for key, ids in wanted.items():
        part = parts.get(key)
        if part is None:
            raise NotFound(f"{key.replace('/', ' ', 1)} in that change")
        if key not in living:
            raise Problem(409, f"{key.replace('/', ' ', 1)} was deleted since.", cure="Bring it back first.")
        renamed = {r.id: r.inverse for r in renamed_by(change_set)} if key.startswith("organisation/") else {}
        try:
            inverse[key] = [o.inverse() for o in reversed(chosen(operations_of(part), set(ids) - renamed.keys()))]
            inverse[key] += [renamed[i] for i in ids if i in renamed]
        except KeyError as error:
            raise NotFound(f"difference {error.args[0]}") from error
    count = sum(map(len, inverse.values()))
    return change(actor, f"Undid {count} of: {change_set.title}", inverse)


def operations_of(part: ChangeSetPart) -> list[Operation]:
    """What a change set did to one document."""
    return [operation_from_json(o) for o in cast(list[Json], part.operations.json())]
