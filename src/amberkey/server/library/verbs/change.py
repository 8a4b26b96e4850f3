"""Changing documents by operations: the one way in which decisions, imports, undo and edits are saved."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import cast

from django.db import transaction
from django.utils import timezone

from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.compare.operations import JsonDocument, Operation, apply, compare, operation, operation_to_json
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.organisation.model import Organisation
from amberkey.server.library.documents import find, key_of
from amberkey.server.library.house import HOUSE, HOUSE_KEY, has_nothing
from amberkey.server.library.models import Body, ChangeSet, ChangeSetPart, Document, Revision, SettledClash
from amberkey.server.library.names import Apart
from amberkey.server.library.soundness import check_soundness, standing_faults
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Conflict, NotFound, Problem

Changes = Mapping[str, Iterable[Operation]]


@dataclass(frozen=True)
class Making:
    """Whole documents that come and go with a change set: new ones (`make`), ones to delete (`remove`, by key), and deleted
    ones to bring back (`revive`, by key)."""

    make: Sequence[CoreDocument] = ()
    remove: Sequence[str] = ()
    revive: Sequence[str] = ()


NOTHING_MADE = Making()


@transaction.atomic
def change(
    actor: Actor,
    title: str,
    changes: Changes,
    *,
    making: Making = NOTHING_MADE,
    clashes: Iterable[str] = (),
    reason: str = "",
    undoes: ChangeSet | None = None,
    generated: bool = False,
) -> ChangeSet:
    """Make, delete and change documents (by key; changes by operations) as one change set, all or nothing. `clashes`: those
    that it decides. `generated`: also documents that are compiled from others, which nobody changes by hand.

    Raises Conflict, naming who changed what, where a document has moved on and a precondition fails; DocumentError where the
    documents would not fit together any more.
    """
    actor.require(Role.EDITOR)
    wanted = {key: tuple(operations) for key, operations in changes.items()}
    wanted, making = _with_first_house(wanted, making)
    apart, renamed = Apart(), tuple(key for key, operations in wanted.items() if operations and key.startswith("organisation/"))
    for key in renamed:
        try:
            wanted[key] = apart.operations(wanted[key])
        except PreconditionFailed as failed:
            raise _conflict(find(key), failed) from failed
    only_names = bool(apart.called) or (undoes is not None and undoes.names.exists())
    wanted = {key: operations for key, operations in wanted.items() if operations}
    if not wanted and making == NOTHING_MADE and not only_names:
        raise Problem(409, "This changes nothing.", "It already is as you want it.")
    title = apart.title(title)
    # Only these can leave something without what it names.
    may_break = bool(making.remove) or any(key.startswith(("organisation/", "program/")) for key in wanted)
    standing = standing_faults() if may_break else None
    change_set = ChangeSet.objects.create(actor=actor.user, title=title[:400], reason=reason[:600], undoes=undoes)
    SettledClash.objects.bulk_create(SettledClash(change_set=change_set, clash=c) for c in dict.fromkeys(clashes))
    apart.keep(change_set)
    made = [_make(actor, value, title, change_set) for value in sorted(making.make, key=key_of)]
    moved = [_put_away(key, change_set, away=False) for key in sorted(making.revive)]
    changed: dict[str, tuple[Document, CoreDocument]] = {}
    for key in sorted(wanted):  # one order of locks for everybody
        document = Document.objects.select_for_update().filter(key=key, deleted_at=None).first()
        if document is None or document.newest is None:
            raise NotFound(key.replace("/", " ", 1))
        before = cast(JsonDocument, document.newest.body.json())
        if before.get("generated") is not None and not (generated or undoes):
            raise _compiled(document)
        try:
            after = apply(before, wanted[key])
        except PreconditionFailed as failed:
            raise _conflict(document, failed) from failed
        changed[key] = document, read_document(after, FORMATS)
    moved += [_put_away(key, change_set, away=True) for key in sorted(making.remove)]
    if standing is not None:
        check_soundness({key: value for key, (_, value) in changed.items()}, since=standing)
    for key, (document, value) in changed.items():
        add_revision(actor, document, value, note=title, change_set=change_set)
        operations = Body.keep_json([operation_to_json(o) for o in wanted[key]])
        ChangeSetPart.objects.create(change_set=change_set, document=document, operations=operations)
    for key in () if wanted.keys() & set(renamed) or not only_names else renamed or undone_in(undoes):
        _note(change_set, find(key), ChangeSetPart.Does.CHANGED)
    actor.record("changed", ", ".join(sorted({*wanted, *(d.key for d in (*made, *moved))})), title)
    return change_set


def _with_first_house(
    wanted: Mapping[str, tuple[Operation, ...]], making: Making
) -> tuple[dict[str, tuple[Operation, ...]], Making]:
    """Where a decision is kept in the house profile before there is one: it is made with that, and given to everybody."""
    found = dict(wanted)
    operations = found.get(HOUSE_KEY, ())
    there = Document.objects.filter(key=HOUSE_KEY).select_related("newest__body").first()
    coming = {key_of(v) for v in making.make} | set(making.revive)
    if not operations or HOUSE_KEY in coming or (there is not None and there.deleted_at is None):
        return found, making
    house = read_document(apply(cast(JsonDocument, HOUSE.to_json()), operations), FORMATS)
    if there is not None and there.newest is not None:
        found[HOUSE_KEY] = tuple(compare(cast(JsonDocument, there.newest.body.json()), cast(JsonDocument, house.to_json())))
        making = replace(making, revive=(*making.revive, HOUSE_KEY))
    else:
        del found[HOUSE_KEY]
        making = replace(making, make=(*making.make, house))
    row = Document.objects.filter(format="amberkey/organisation@1", deleted_at=None).select_related("newest__body").first()
    if row is not None and row.newest is not None:
        organisation = read_document(cast(JsonDocument, row.newest.body.json()), FORMATS)
        if isinstance(organisation, Organisation) and has_nothing(organisation):
            given = operation("", "profiles", None, [HOUSE.id])
            found[row.key] = (*found.get(row.key, ()), given)
    return found, making


def _make(actor: Actor, value: CoreDocument, title: str, change_set: ChangeSet) -> Document:
    key = key_of(value)
    there = Document.objects.filter(key=key).first()
    if there is not None:
        kind, _, name = key.partition("/")
        was = " once; it is deleted" if there.deleted_at else ""
        cure = "Bring that one back, or choose another name or id." if there.deleted_at else "Choose another name or id."
        raise Problem(409, f"There is a {kind} {name} already{was}.", f"It is called {there.name}.", cure)
    document = Document.objects.create(key=key, format=value.format, doc_id=value.id, name=value.name)
    add_revision(actor, document, value, note=title, change_set=change_set)
    _note(change_set, document, ChangeSetPart.Does.MADE)
    return document


def _put_away(key: str, change_set: ChangeSet, *, away: bool) -> Document:
    """Delete a document, or bring it back. Raises NotFound where it isn't there to be so."""
    document = Document.objects.select_for_update().filter(key=key).first()
    if document is None or (document.deleted_at is None) != away:
        raise NotFound(f"{'' if away else 'deleted '}{key.replace('/', ' ', 1)}")
    document.deleted_at = timezone.now() if away else None
    document.save(update_fields=["deleted_at"])
    _note(change_set, document, ChangeSetPart.Does.DELETED if away else ChangeSetPart.Does.MADE)
    return document


def _note(change_set: ChangeSet, document: Document, does: ChangeSetPart.Does) -> None:
    ChangeSetPart.objects.create(change_set=change_set, document=document, does=does, operations=Body.keep_json([]))


def add_revision(
    actor: Actor, document: Document, value: CoreDocument, *, note: str, change_set: ChangeSet | None = None
) -> Revision:
    """The next revision of a locked document."""
    apart = Apart()
    value = apart.document(value)
    apart.keep(change_set)
    parent = document.newest
    revision = Revision.objects.create(
        document=document,
        number=parent.number + 1 if parent else 1,
        body=Body.keep(value.to_bytes()),
        parent=parent,
        author=actor.user,
        note=note[:400],
        change_set=change_set,
    )
    document.newest = revision
    document.name = value.name
    document.save(update_fields=["newest", "name"])
    return revision


@transaction.atomic
def create(actor: Actor, value: CoreDocument, note: str = "") -> Document:
    """A new document with its first revision."""
    actor.require(Role.EDITOR)
    key = key_of(value)
    document, made = Document.objects.select_for_update().get_or_create(
        key=key, defaults={"format": value.format, "doc_id": value.id, "name": value.name}
    )
    if not made:
        raise Problem(409, f"There already is a {key.replace('/', ' ', 1)}.", cure="Give it another id.")
    add_revision(actor, document, value, note=note)
    actor.record("created", key, note)
    return document


def undone_in(undone: ChangeSet | None) -> tuple[str, ...]:
    """The documents that a change set told of, which is undone."""
    return () if undone is None else tuple(undone.parts.values_list("document_id", flat=True))


def _compiled(document: Document) -> Problem:
    return Problem(
        409,
        f"{document.name} is compiled from the standard.",
        "What is changed in it by hand would be gone with the next release.",
        "Change the standard, or keep it in another layer.",
    )


def _conflict(document: Document, failed: PreconditionFailed) -> Conflict:
    newest = document.newest
    assert newest is not None
    name = newest.author.display_name
    return Conflict(
        f"{name} changed {document.name} in the meantime.",
        f"{failed.key} is not as it was when you saw it. Their last change: {newest.note or 'without a note'}.",
        by=name,
        at=newest.at.isoformat(),
        changes=[newest.note] if newest.note else [],
    )
