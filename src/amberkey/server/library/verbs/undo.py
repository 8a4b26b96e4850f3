"""Undoing a change set by the inverse of its operations, and redoing it by undoing the undo."""

from typing import cast

from django.db import transaction

from amberkey.core.compare.operations import operation_from_json
from amberkey.core.documents.canonical import Json
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem


@transaction.atomic
def undo(actor: Actor, change_set_id: int) -> ChangeSet:
    """Do the inverse. Newer work elsewhere in the documents stays; over newer work in the same place it is refused."""
    actor.require(Role.EDITOR)
    change_set = ChangeSet.objects.select_for_update().filter(id=change_set_id).first()
    if change_set is None:
        raise NotFound("such change")
    if change_set.undone:
        raise Problem(409, "This is undone already.", change_set.title)
    inverse = {
        part.document_id: [operation_from_json(o).inverse() for o in reversed(cast(list[Json], part.operations.json()))]
        for part in change_set.parts.select_related("operations")
    }
    original = change_set.undoes
    title = f"Did again: {original.title}" if original else f"Undid: {change_set.title}"
    done = change(actor, title, inverse, clash=change_set.clash, undoes=change_set)
    change_set.undone = True
    change_set.save(update_fields=["undone"])
    if original is not None:
        original.undone = False
        original.save(update_fields=["undone"])
    return done


@transaction.atomic
def redo(actor: Actor, change_set_id: int) -> ChangeSet:
    """Do an undone change set again."""
    undoing = ChangeSet.objects.filter(undoes_id=change_set_id, undone=False).order_by("-id").first()
    if undoing is None:
        raise Problem(409, "There is nothing to do again.", "This change stands.")
    return undo(actor, undoing.id)
