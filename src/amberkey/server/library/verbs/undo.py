"""Undoing a change set by the inverse of its operations, and redoing it by undoing the undo."""

from collections.abc import Sequence
from typing import cast

from django.db import transaction

from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.compare.operations import JsonDocument, Operation, apply, operation_from_json
from amberkey.core.documents.canonical import Json
from amberkey.server.library.models import ChangeSet, ChangeSetPart, Document
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

Does = ChangeSetPart.Does


@transaction.atomic
def undo(actor: Actor, change_set_id: int) -> ChangeSet:
    """Do the inverse. Newer work elsewhere in the documents stays; over newer work in the same place it is refused."""
    actor.require(Role.EDITOR)
    change_set = ChangeSet.objects.select_for_update().filter(id=change_set_id).first()
    if change_set is None:
        raise NotFound("such change")
    if change_set.undone:
        raise Problem(409, "This is undone already.", change_set.title)
    parts = list(change_set.parts.select_related("operations"))
    inverse = {p.document_id: _inverse(p) for p in parts if p.does == Does.CHANGED}
    made = [p.document_id for p in parts if p.does == Does.MADE]
    _refuse_newer(change_set, made)
    making = Making(remove=made, revive=[p.document_id for p in parts if p.does == Does.DELETED])
    original = change_set.undoes
    title = f"Did again: {original.title}" if original else f"Undid: {change_set.title}"
    done = change(
        actor, title, inverse, making=making, clashes=change_set.settled.values_list("clash", flat=True), undoes=change_set
    )
    change_set.undone = True
    change_set.save(update_fields=["undone"])
    if original is not None:
        original.undone = False
        original.save(update_fields=["undone"])
    return done


def _refuse_newer(change_set: ChangeSet, made: Sequence[str]) -> None:
    """A document that a change set made isn't taken away with somebody's newer work in it. Raises Problem."""
    for document in Document.objects.filter(key__in=made, deleted_at=None).order_by("key"):
        why = _worked_on_since(change_set, document)
        if why:
            raise Problem(
                409, f"{document.name} has newer work in it.", why, "Undo that first, or delete it from its own page."
            )


def _worked_on_since(change_set: ChangeSet, document: Document) -> str:
    """Who changed a document that a change set made, in a sentence; empty where it is as it was made."""
    made = document.revisions.filter(change_set__lte=change_set.id).order_by("-number").first()
    newest = document.newest
    if made is None or newest is None or newest.body_id == made.body_id:
        return ""
    return f"{newest.author.display_name} changed {document.name} since: {newest.note}."


@transaction.atomic
def redo(actor: Actor, change_set_id: int) -> ChangeSet:
    """Do an undone change set again."""
    undoing = ChangeSet.objects.filter(undoes_id=change_set_id, undone=False).order_by("-id").first()
    if undoing is None:
        raise Problem(409, "There is nothing to do again.", "This change stands.")
    return undo(actor, undoing.id)


def _inverse(part: ChangeSetPart) -> list[Operation]:
    return [operation_from_json(o).inverse() for o in reversed(cast(list[Json], part.operations.json()))]


def why_not_undone(change_sets: Sequence[ChangeSet]) -> dict[int, str]:
    """For those of some change sets that can't be undone any more (or, undone, not be done again): why, in a sentence."""
    undoings = {u.undoes_id: u for u in ChangeSet.objects.filter(undoes__in=[c for c in change_sets if c.undone], undone=False)}
    asked = {c.id: undoings.get(c.id) if c.undone else c for c in change_sets}
    parts: dict[int, list[ChangeSetPart]] = {}
    wanted = [c.id for c in asked.values() if c is not None]
    for part in ChangeSetPart.objects.filter(change_set__in=wanted).select_related("operations", "change_set"):
        parts.setdefault(part.change_set_id, []).append(part)
    keys = {p.document_id for several in parts.values() for p in several}
    rows = Document.objects.filter(key__in=keys).select_related("newest__body")
    documents = {d.key: d for d in rows}
    bodies = {d.key: cast(JsonDocument, d.newest.body.json()) for d in rows if d.newest is not None}
    found: dict[int, str] = {}
    for asked_id, change_set in asked.items():
        for part in parts.get(change_set.id, ()) if change_set is not None else ():
            why = _why_not(part, documents[part.document_id], bodies[part.document_id])
            if why:
                found[asked_id] = why
                break
    return found


def _why_not(part: ChangeSetPart, document: Document, now: JsonDocument) -> str:
    if part.does == Does.DELETED:
        return "" if document.deleted_at is not None else f"{document.name} was brought back since."
    if document.deleted_at is not None:
        return f"{document.name} was deleted since."
    if part.does == Does.MADE:
        return _worked_on_since(part.change_set, document)
    try:
        apply(now, _inverse(part))
    except PreconditionFailed as failed:
        later = _changed_by(part, failed.key)
        if later is None:
            return f"{failed.key} in {document.name} is not as it was left."
        return f"{later.actor.display_name} changed the same in {document.name} since: {later.title}."
    return ""


def _changed_by(part: ChangeSetPart, key: str) -> ChangeSet | None:
    """The newest change set after a part's that touched an item of the same document."""
    later = ChangeSetPart.objects.filter(document=part.document_id, change_set__gt=part.change_set_id)
    for one in later.select_related("operations", "change_set__actor").order_by("-change_set_id"):
        if any(operation_from_json(o).key == key for o in cast(list[Json], one.operations.json())):
            return one.change_set
    return None
