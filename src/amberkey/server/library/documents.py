"""Reading documents out of the library: parsed once by digest, then shared."""

from collections.abc import Mapping
from functools import lru_cache
from typing import TypeVar

from django.db.models import F, Q, QuerySet

from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.formats import read_kept
from amberkey.core.organisation.model import Organisation
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.model import Program
from amberkey.server.library.models import Body, Document, Revision
from amberkey.server.once import once
from amberkey.server.problems import NotFound

D = TypeVar("D", bound=CoreDocument)


def key_of(document: CoreDocument) -> str:
    kind = document.format.split("/")[1].split("@")[0]
    version = f"@{document.version}" if isinstance(document, Program) else ""
    return f"{kind}/{document.id}{version}"


@lru_cache(maxsize=1024)
def parsed(digest: str) -> CoreDocument:
    """The document with that digest; documents are frozen, so one value serves every request."""
    return read_kept(Body.objects.get(digest=digest).data)


def find(key: str) -> Document:
    """The living document of that key with its newest revision. Raises NotFound."""
    document = Document.objects.filter(key=key, deleted_at=None).select_related("newest", "released").first()
    if document is None or document.newest is None:
        raise NotFound(key.replace("/", " ", 1))
    return document


def newest_of(document: Document) -> Revision:
    assert document.newest is not None
    return document.newest


def load(key: str, model: type[D]) -> D:
    value = parsed(newest_of(find(key)).digest)
    if not isinstance(value, model):
        raise NotFound(key.replace("/", " ", 1))
    return value


State = Mapping[str, str]
"""What there is at one time: the key of each document, and the digest of its body."""


@once
def digests(*, released: bool = False) -> dict[str, str]:
    """Key to digest of every living document: the newest revisions, or the released ones (what was never released is then
    not there)."""
    of = "released__body_id" if released else "newest__body_id"
    rows = Document.objects.filter(deleted_at=None).order_by("key").values_list("key", of)
    return {key: digest for key, digest in rows if digest}


def programs_by_key() -> dict[str, Program]:
    """Every version of every program that there is, by its key."""
    found = ((key, parsed(digest)) for key, digest in digests().items() if key.startswith("program/"))
    return {key: p for key, p in found if isinstance(p, Program)}


def known_programs() -> dict[str, Program]:
    """The programs that there are, by id: the newest version of each."""
    found = sorted(programs_by_key().values(), key=lambda p: (figures_of(p.version), p.version))
    return {p.id: p for p in found}


def own_layers() -> frozenset[str]:
    """The profiles that single people have and nobody else."""
    found = (parsed(digest) for key, digest in digests().items() if key.startswith("organisation/"))
    return next((o.own_layers for o in found if isinstance(o, Organisation)), frozenset())


def not_as_released() -> QuerySet[Document]:
    """The living documents whose newest revision says something else than the released one, or that were never released.
    Undone work leads back to what is released."""
    differs = Q(released=None) | ~Q(newest__body=F("released__body"))
    return Document.objects.filter(differs, deleted_at=None).exclude(newest=None)
