"""Documents as they are: reading with an ETag, saving with If-Match, profiles told in sentences, releasing."""

import datetime
from typing import Literal, cast

from django.http import HttpRequest, HttpResponse
from ninja import Router

from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.model import read_document as read_profile
from amberkey.core.formats import FORMATS, read_any
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.profiles.model import Entry, Profile
from amberkey.core.programs.model import Program
from amberkey.server.library import approvals, facts, history, thinning
from amberkey.server.library.documents import digests, find, newest_of, not_as_released, own_layers, parsed
from amberkey.server.library.models import Document, Revision
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.hold import free, lock, reserve
from amberkey.server.library.verbs.release import RELEASED, Wish, release, release_all
from amberkey.server.library.verbs.save import save
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import NamedOut, Number, Reason, Schema, Words

router = Router(tags=["library"])
router.add_router("", history.router)
router.add_router("", facts.router)
router.add_router("", thinning.router)
router.add_router("", approvals.router)


class RevisionOut(Schema):
    number: int
    digest: str
    by: str
    at: datetime.datetime
    note: str
    released: bool


class EntryOut(Schema):
    key: str
    program: str
    command: str
    platform: str
    layouts: list[str]
    shortcuts: list[str]
    over: list[str]
    orphan: bool
    locked: bool


class ReservedOut(Schema):
    """A press that nearer layers can't give to anything else. `program` in words; empty: in all of them."""

    key: str
    keys: str
    platform: str
    program: str
    task: str
    layouts: list[str]
    reason: str


class ProfileOut(Schema):
    """`own`: somebody has it for themselves alone, so it doesn't travel."""

    id: str
    own: bool
    name: str
    description: str
    digest: str
    newest: int
    released: int | None
    entries: list[EntryOut]
    reserved: list[ReservedOut]
    revisions: list[RevisionOut]


class ReleaseIn(Schema):
    number: Number


class WishIn(Schema):
    """A document by its key, and the revision that is to be the released one; null: none is."""

    key: Words
    number: Number | None


class WishesIn(Schema):
    wishes: list[WishIn]


class WaitingForReleaseOut(Schema):
    """A document whose newest revision is not the released one. `notes`: what was saved since, the newest first."""

    key: str
    kind: Literal["organisation", "program", "tasks", "profile", "setup"]
    name: str
    newest: int
    released: int | None
    notes: list[str]


class ReleasedOut(Schema):
    """What was released of each before: sent back, it takes the release back."""

    before: list[WishIn]


class LockIn(Schema):
    key: str
    locked: bool


class ReserveIn(Schema):
    keys: str
    platform: Platform
    program: str | None = None
    task: str | None = None
    layouts: list[str] = []
    reason: Reason = ""


class FreeIn(Schema):
    key: str


class HeldOut(Schema):
    id: int
    title: str


class SavedOut(Schema):
    digest: str
    number: int


@router.get("/profiles", response=list[ProfileOut])
def profiles(request: HttpRequest) -> list[ProfileOut]:
    """Every profile with its entries in words and its newest revisions."""
    programs = {d.id: d for d in map(parsed, digests().values()) if isinstance(d, Program)}
    rows = Document.objects.filter(format="amberkey/profile@1", deleted_at=None).select_related("newest", "released")
    return [_profile(row, programs) for row in rows.order_by("name") if _in_sight("profile", row.doc_id)]


@router.get("/profiles/named", response=list[NamedOut])
def named_profiles(request: HttpRequest) -> list[NamedOut]:
    """Every profile by its name: for choosing among them, however many there are."""
    rows = Document.objects.filter(format="amberkey/profile@1", deleted_at=None).order_by("name", "key")
    return [NamedOut(id=row.doc_id, name=row.name) for row in rows if _in_sight("profile", row.doc_id)]


@router.get("/profiles/one/{profile_id}", response=ProfileOut)
def one_profile(request: HttpRequest, profile_id: str) -> ProfileOut:
    """A profile with its entries in words and its newest revisions."""
    if not _in_sight("profile", profile_id):
        raise NotFound(f"profile {profile_id[:60]}")
    programs = {d.id: d for d in map(parsed, digests().values()) if isinstance(d, Program)}
    return _profile(find(f"profile/{profile_id}"), programs)


def _in_sight(kind: str, doc_id: str) -> bool:
    return sees_document(f"{kind}/{doc_id}")


def _profile(row: Document, programs: dict[str, Program]) -> ProfileOut:
    newest = newest_of(row)
    value = parsed(newest.digest)
    assert isinstance(value, Profile)
    revisions = row.revisions.select_related("author").order_by("-number")[:12]
    return ProfileOut(
        id=value.id,
        own=value.id in own_layers(),
        name=value.name,
        description=value.description,
        digest=newest.digest,
        newest=newest.number,
        released=row.released.number if row.released else None,
        entries=[_entry(e, programs) for e in value.entries],
        reserved=[
            ReservedOut(
                key=r.key,
                keys=words_of(r.keys, r.platform),
                platform=PLATFORM_NAMES[r.platform],
                program=programs[r.program].name if r.program in programs else r.program or "",
                task=r.task or "",
                layouts=list(r.layouts),
                reason=r.reason,
            )
            for r in value.reserved
        ],
        revisions=[_revision(r, row) for r in reversed(revisions)],
    )


def _entry(entry: Entry, programs: dict[str, Program]) -> EntryOut:
    program = programs.get(entry.program)
    command = program.command(entry.command) if program else None
    return EntryOut(
        key=entry.key,
        program=program.name if program else entry.program,
        command=command.name if command else entry.command,
        platform=PLATFORM_NAMES[entry.platform],
        layouts=list(entry.layouts),
        shortcuts=[words_of(g.keys, entry.platform) for g in entry.shortcuts],
        over=[words_of(s, entry.platform) for s in entry.over],
        orphan=command is None,
        locked=entry.locked,
    )


def _revision(revision: Revision, row: Document) -> RevisionOut:
    return RevisionOut(
        number=revision.number,
        digest=revision.digest,
        by=revision.author.display_name,
        at=revision.at,
        note=revision.note,
        released=row.released_id == revision.pk,
    )


@router.post("/profiles/{profile_id}/release", response=RevisionOut, auth=By(Role.RELEASER))
def release_profile(request: HttpRequest, profile_id: str, given: ReleaseIn) -> RevisionOut:
    """Release a revision to machines."""
    revision = release(actor_of(request), f"profile/{profile_id}", given.number)
    return _revision(revision, find(f"profile/{profile_id}"))


@router.get("/releases", response=list[WaitingForReleaseOut])
def waiting_for_release(request: HttpRequest) -> list[WaitingForReleaseOut]:
    """The documents that machines don't have as they are now: profiles, programs, tasks, the organisation."""
    rows = not_as_released().filter(format__in=RELEASED).select_related("newest", "released")
    found = []
    for row in rows.order_by("format", "name"):
        kind, _, doc_id = row.key.partition("/")
        if kind == "profile" and not _in_sight(kind, doc_id):
            continue
        number = row.released.number if row.released else None
        since = row.revisions.filter(number__gt=number or 0).order_by("-number")
        notes = list(since.exclude(note="").values_list("note", flat=True)[:5])
        found.append(
            WaitingForReleaseOut(
                key=row.key, kind=kind, name=row.name, newest=newest_of(row).number, released=number, notes=notes
            )
        )
    return found


@router.post("/releases", response=ReleasedOut, auth=By(Role.RELEASER))
def release_several(request: HttpRequest, given: WishesIn) -> ReleasedOut:
    """Release revisions of several documents together, or take releases back."""
    before = release_all(actor_of(request), [Wish(w.key, w.number) for w in given.wishes])
    return ReleasedOut(before=[WishIn(key=w.key, number=w.number) for w in before])


@router.post("/profiles/{profile_id}/lock", response=HeldOut, auth=By(Role.EDITOR))
def lock_entry(request: HttpRequest, profile_id: str, given: LockIn) -> HeldOut:
    """Lock an entry, so that nearer layers can't set the command otherwise; or let it go."""
    done = lock(actor_of(request), profile_id, given.key, locked=given.locked)
    return HeldOut(id=done.id, title=done.title)


@router.post("/profiles/{profile_id}/reserve", response=HeldOut, auth=By(Role.EDITOR))
def reserve_press(request: HttpRequest, profile_id: str, given: ReserveIn) -> HeldOut:
    """Reserve a press, so that nearer layers can't give it to anything else."""
    keys = read_shortcut(given.keys).resolve(given.platform)
    value = {**given.model_dump(exclude={"keys"}), "keys": keys.to_document()}
    item = {"format": "amberkey/profile@1", "id": profile_id, "name": profile_id, "reserved": [value]}
    checked = read_profile(cast(Json, item), FORMATS)  # told with its place where it can't be
    assert isinstance(checked, Profile)
    done = reserve(actor_of(request), profile_id, checked.reserved[0])
    return HeldOut(id=done.id, title=done.title)


@router.post("/profiles/{profile_id}/free", response=HeldOut, auth=By(Role.EDITOR))
def free_press(request: HttpRequest, profile_id: str, given: FreeIn) -> HeldOut:
    """Let a reserved press go."""
    done = free(actor_of(request), profile_id, given.key)
    return HeldOut(id=done.id, title=done.title)


@router.get("/documents/{kind}/{doc_id}", response={200: dict})
def read_document(request: HttpRequest, kind: str, doc_id: str) -> HttpResponse:
    """A document's canonical JSON; its digest is the ETag."""
    if not _in_sight(kind, doc_id):
        raise NotFound(f"{kind} {doc_id}")
    newest = newest_of(find(f"{kind}/{doc_id}"))
    response = HttpResponse(newest.body.data, content_type="application/json")
    response["ETag"] = f'"{newest.digest}"'
    return response


@router.put("/documents/{kind}/{doc_id}", response=SavedOut, auth=By(Role.EDITOR))
def save_document(request: HttpRequest, kind: str, doc_id: str, note: str = "") -> SavedOut:
    """Save a whole document over the revision named by If-Match."""
    parent = request.headers.get("If-Match", "").strip('" ')
    if not parent:
        raise Problem(428, "The request doesn't say which revision it was made from.", cure="Send its digest as If-Match.")
    actor = actor_of(request)
    key = f"{kind}/{doc_id}"
    find(key)
    if not request.body:
        raise DocumentError([Fault("", "There is no document in the request.", "Send it as the body.")])
    save(actor, key, read_any(request.body), parent, note)
    newest = newest_of(find(key))
    return SavedOut(digest=newest.digest, number=newest.number)
