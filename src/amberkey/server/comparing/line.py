"""The line of a document's revisions: who, when, what changed in words, what came of it; going back, names, deleted ones."""

import datetime
from typing import cast

from django.db.models import Count
from django.http import HttpRequest
from ninja import Router

from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.exchange.telling import Meaning, tell
from amberkey.server.estate import ORGANISATION, estate_of
from amberkey.server.library.documents import digests, find, known_programs, newest_of
from amberkey.server.library.models import ChangeSet, Document, Revision
from amberkey.server.library.names import renamed_by, with_names
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.revisions import (
    bring_back,
    delete,
    go_back,
    name_revision,
    operations_of,
    revision_of,
    undo_some,
)
from amberkey.server.library.verbs.undo import why_not_undone
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role, User
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Number, Schema, Words
from amberkey.server.workbench.clashes.told import brief

router = Router(tags=["comparing"])
_TOLD = 60
_WORDS = 200


class RevisionLineOut(Schema):
    """`settled`: how many clashes its change decided; `undone`: its change was taken back since."""

    number: int
    digest: str
    by: str
    at: datetime.datetime
    note: str
    name: str
    released: bool
    newest: bool
    change: int | None
    settled: int
    undone: bool


class HistoryLineOut(Schema):
    key: str
    name: str
    newest: str
    revisions: list[RevisionLineOut]


class SayOut(Schema):
    id: str
    says: str
    means: Meaning
    why_not: str = ""


class WordsOut(Schema):
    """What a revision changed against the one before: the first differences in words, and how many there are. The first one
    of all has no words."""

    number: int
    says: list[str]
    count: int


class CameOfItOut(Schema):
    says: list[SayOut]
    count: int
    solves: list[str]
    makes: list[str]
    solved: int
    made: int
    change: int | None
    title: str


class NameIn(Schema):
    name: Words


class BackIn(Schema):
    """`seen`: the digest of the state that was looked at, so that newer work isn't gone over."""

    number: Number
    seen: str


class LineChangedOut(Schema):
    id: int
    title: str


class DeletedOut(Schema):
    key: str
    kind: str
    id: str
    name: str
    at: datetime.datetime
    revisions: int


class ChangedPartOut(Schema):
    document: str
    name: str
    says: list[SayOut]


class ChangeTellsOut(Schema):
    """`why_not`: why all of it can't be undone at once, if it can't."""

    id: int
    title: str
    by: str
    at: datetime.datetime
    undone: bool
    why_not: str
    parts: list[ChangedPartOut]


class UndoSomeIn(Schema):
    """Ids of differences by the document that they are in."""

    differences: dict[str, list[str]]


@router.get("/documents/{kind}/{doc_id}/revisions", response=HistoryLineOut)
def line(request: HttpRequest, kind: str, doc_id: str) -> HistoryLineOut:
    """All revisions of a document, the newest first, without what they changed."""
    document = _document(kind, doc_id)
    settled = dict(
        document.revisions.exclude(change_set__settled=None)
        .values_list("number")
        .annotate(Count("change_set__settled"))
        .values_list("number", "change_set__settled__count")
    )
    names = {u.pk: u.display_name for u in User.objects.filter(pk__in=document.revisions.values("author"))}
    rows = document.revisions.order_by("-number").values_list(
        *("pk", "number", "body_id", "author_id", "at", "note", "name", "change_set_id", "change_set__undone")
    )
    return HistoryLineOut(
        key=document.key,
        name=document.name,
        newest=newest_of(document).digest,
        revisions=[
            RevisionLineOut(
                number=number,
                digest=digest,
                by=names[author],
                at=at,
                note=note,
                name=name,
                released=document.released_id == pk,
                newest=document.newest_id == pk,
                change=change_set,
                settled=settled.get(number, 0),
                undone=bool(undone),
            )
            for pk, number, digest, author, at, note, name, change_set, undone in rows
        ],
    )


@router.get("/documents/{kind}/{doc_id}/words", response=list[WordsOut])
def words(request: HttpRequest, kind: str, doc_id: str, numbers: str) -> list[WordsOut]:
    """What some revisions (numbers with commas between, at most 60) changed, in words: for what is in sight."""
    document = _document(kind, doc_id)
    wanted = [int(n) for n in numbers.split(",") if n.isascii() and n.isdigit() and len(n) < 10][:_TOLD]
    rows = document.revisions.filter(number__in=wanted).select_related("body", "parent__body")
    programs = known_programs()
    found = []
    for revision in rows.order_by("-number"):
        operations = compare(*_before_and_after(revision))
        if revision.parent is None:
            found.append(WordsOut(number=revision.number, says=[], count=len(operations)))
            continue
        told = tell(with_names(operations[:3]), programs)
        found.append(WordsOut(number=revision.number, says=[t.says for t in told], count=len(operations)))
    return found


@router.get("/documents/{kind}/{doc_id}/revisions/{number}", response=CameOfItOut)
def came_of_it(request: HttpRequest, kind: str, doc_id: str, number: int) -> CameOfItOut:
    """What a revision changed in words, and which clashes that solved and made in the organisation as it is now."""
    document = _document(kind, doc_id)
    revision = revision_of(document.key, number)
    operations = compare(*_before_and_after(revision))
    told = tell(with_names(operations[:_WORDS]), known_programs())
    now = digests()
    solved, made = [], []
    if revision.parent is not None and kind in ("profile", "program"):
        before = estate_of({**now, document.key: revision.parent.digest})
        after = estate_of({**now, document.key: revision.digest})
        solved, made = after.new_in(before), before.new_in(after)
    return CameOfItOut(
        says=[SayOut(id=t.id, says=t.says, means=t.means) for t in told],
        count=len(operations),
        solves=[brief(g, before.board(g.setups[0].id)) for g in solved[:20]],
        makes=[brief(g, after.board(g.setups[0].id)) for g in made[:20]],
        solved=len(solved),
        made=len(made),
        change=revision.change_set_id,
        title=revision.note,
    )


@router.put("/documents/{kind}/{doc_id}/revisions/{number}/name", response=RevisionLineOut, auth=By(Role.EDITOR))
def give_name(request: HttpRequest, kind: str, doc_id: str, number: int, given: NameIn) -> RevisionLineOut:
    """Give a revision a name by which it is found again, or take it away with an empty one."""
    document = _document(kind, doc_id)
    name_revision(actor_of(request), document.key, number, given.name.strip()[:80])
    return next(r for r in line(request, kind, doc_id).revisions if r.number == number)


@router.post("/documents/{kind}/{doc_id}/back", response=LineChangedOut, auth=By(Role.EDITOR))
def back(request: HttpRequest, kind: str, doc_id: str, given: BackIn) -> LineChangedOut:
    """Make it what it was at a revision, as a new revision; newer work of others stays, or they are told."""
    document = _document(kind, doc_id)
    done = go_back(actor_of(request), document.key, given.number, given.seen)
    return LineChangedOut(id=done.id, title=done.title)


@router.post("/documents/{kind}/{doc_id}/delete", response=DeletedOut, auth=By(Role.EDITOR))
def delete_document(request: HttpRequest, kind: str, doc_id: str) -> DeletedOut:
    """Delete a profile or program that nothing needs. It can be brought back."""
    document = _document(kind, doc_id)
    delete(actor_of(request), document.key)
    document.refresh_from_db()
    return _deleted(document)


@router.get("/deleted", response=list[DeletedOut])
def deleted(request: HttpRequest) -> list[DeletedOut]:
    """The deleted documents, the newest first."""
    rows = Document.objects.exclude(deleted_at=None).order_by("-deleted_at")
    return [_deleted(d) for d in rows if sees_document(d.key)]


@router.post("/deleted/{kind}/{doc_id}", response=DeletedOut, auth=By(Role.EDITOR))
def bring_document_back(request: HttpRequest, kind: str, doc_id: str) -> DeletedOut:
    """Bring a deleted document back as it was."""
    row = Document.objects.filter(key=f"{kind}/{doc_id}").exclude(deleted_at=None).first()
    if row is None or not sees_document(row.key):
        raise NotFound(f"deleted {kind} {doc_id}")
    at = _deleted(row)
    bring_back(actor_of(request), row.key)
    return at


@router.get("/history/{change_id}", response=ChangeTellsOut)
def change_tells(request: HttpRequest, change_id: Number) -> ChangeTellsOut:
    """What one change did, difference by difference."""
    change_set = ChangeSet.objects.filter(id=change_id).select_related("actor").first()
    if change_set is None:
        raise NotFound("such change")
    programs = known_programs()
    parts = []
    for part in change_set.parts.select_related("operations", "document"):
        if sees_document(part.document_id):
            told = tell(with_names(operations_of(part)[:_WORDS]), programs)
            says = [SayOut(id=t.id, says=t.says, means=t.means) for t in told]
            if part.document_id == ORGANISATION:
                says += [SayOut(id=r.id, says=r.says, means="other") for r in renamed_by(change_set)[:_WORDS]]
            parts.append(ChangedPartOut(document=part.document_id, name=part.document.name, says=says))
    return ChangeTellsOut(
        id=change_set.id,
        title=change_set.title,
        by=change_set.actor.display_name,
        at=change_set.at,
        undone=change_set.undone,
        why_not=why_not_undone([change_set]).get(change_set.id, ""),
        parts=parts,
    )


@router.post("/history/{change_id}/undo-some", response=LineChangedOut, auth=By(Role.EDITOR))
def undo_differences(request: HttpRequest, change_id: Number, given: UndoSomeIn) -> LineChangedOut:
    """Undo single differences of a change; what else it changed, and newer work elsewhere, stays."""
    if not any(given.differences.values()):
        raise Problem(400, "Nothing is chosen.", cure="Choose what shall be undone.")
    hidden = [key for key in given.differences if not sees_document(key)]
    if hidden:
        raise NotFound("such a document")
    done = undo_some(actor_of(request), change_id, given.differences)
    return LineChangedOut(id=done.id, title=done.title)


def _document(kind: str, doc_id: str) -> Document:
    key = f"{kind}/{doc_id}"
    if not sees_document(key):
        raise NotFound(f"{kind} {doc_id}")
    return find(key)


def _before_and_after(revision: Revision) -> tuple[JsonDocument, JsonDocument]:
    after = cast(JsonDocument, revision.body.json())
    before = cast(JsonDocument, revision.parent.body.json()) if revision.parent else {"format": after["format"]}
    return before, after


def _deleted(document: Document) -> DeletedOut:
    assert document.deleted_at is not None
    kind, _, doc_id = document.key.partition("/")
    return DeletedOut(
        key=document.key,
        kind=kind,
        id=doc_id,
        name=document.name,
        at=document.deleted_at,
        revisions=document.revisions.count(),
    )
