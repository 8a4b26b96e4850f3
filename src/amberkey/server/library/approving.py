"""What runs something or says where files are written, and whether a releaser said yes to it."""

from collections.abc import Iterator
from dataclasses import dataclass

from amberkey.core.documents.canonical import digest_of
from amberkey.core.exchange.approving import MayLie, MayRun, Sensitive, path_of, runs_of, sensitive_in
from amberkey.server.library.documents import digests, parsed
from amberkey.server.library.models import Approval, Revision
from amberkey.server.library.sight import sees_document
from amberkey.server.once import once
from amberkey.server.people.models import User

_LONGEST_SUBJECT = 300


@dataclass(frozen=True, slots=True)
class Standing:
    """Something that needs approval as a document says it now. `key`: the document that says it."""

    sensitive: Sensitive
    key: str
    approval: Approval | None


def standing() -> Iterator[Standing]:
    """Everything that needs approval in the newest revisions, that which waits first; each once."""
    approved = {a.digest: a for a in Approval.objects.filter(withdrawn_at=None).select_related("by", "author")}
    found: dict[str, Standing] = {}
    for key, digest in digests().items():
        if key.partition("/")[0] in ("profile", "program") and sees_document(key):
            for one in sensitive_in(parsed(digest)):
                found[one.digest] = Standing(one, key, approved.get(one.digest))
    yield from sorted(found.values(), key=lambda s: (s.approval is not None, s.sensitive.subject, s.key))


def author_of(key: str, wanted: Sensitive) -> Revision | None:
    """The revision that brought a content into a document, where it stands since. None where it doesn't stand there."""
    since = None
    for revision in Revision.objects.filter(document_id=key).order_by("-number").select_related("author", "body"):
        if all(one.digest != wanted.digest for one in sensitive_in(parsed(revision.body_id))):
            break
        since = revision
    return since


@once
def approved_digests() -> frozenset[str]:
    """What is approved now."""
    return frozenset(Approval.objects.filter(withdrawn_at=None).values_list("digest", flat=True))


def may_lie() -> MayLie:
    """Whether somebody approved where a program's settings file lies."""
    approved = approved_digests()
    return lambda program, platform, place: path_of(program, platform, place).digest in approved


def may_run(profile_id: str) -> MayRun:
    """Whether somebody approved what a launcher or macro of a profile does."""
    approved = approved_digests()
    return lambda one: runs_of(profile_id, one).digest in approved


def name_anew() -> None:
    """Approvals whose subject was given another id are approvals of that."""
    for row in Approval.objects.all():
        digest = digest_of(f"{row.subject}\n{row.content}".encode())
        if row.digest != digest and len(row.subject) < _LONGEST_SUBJECT:
            Approval.objects.filter(pk=row.pk).update(digest=digest)


def keep_approval(one: Sensitive, author: User | None, by: User | None) -> Approval:
    """Keep a yes; one that was withdrawn counts again."""
    row, _ = Approval.objects.update_or_create(
        digest=one.digest,
        defaults={
            "subject": one.subject[:_LONGEST_SUBJECT],
            "content": one.content,
            "author": author,
            "by": by,
            "withdrawn_at": None,
        },
    )
    return row
