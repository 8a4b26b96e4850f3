"""Reading documents out of the library: parsed once by digest, then shared."""

from functools import lru_cache
from typing import TypeVar

from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.formats import read_any
from amberkey.core.organisation.model import Organisation
from amberkey.core.programs.model import Program
from amberkey.server.library.models import Body, Document, Revision
from amberkey.server.problems import NotFound

D = TypeVar("D", bound=CoreDocument)


def key_of(document: CoreDocument) -> str:
    kind = document.format.split("/")[1].split("@")[0]
    version = f"@{document.version}" if isinstance(document, Program) else ""
    return f"{kind}/{document.id}{version}"


@lru_cache(maxsize=1024)
def parsed(digest: str) -> CoreDocument:
    """The document with that digest; documents are frozen, so one value serves every request."""
    return read_any(Body.objects.get(digest=digest).data)


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


def digests(*, released: bool = False) -> dict[str, str]:
    """Key to digest of every living document: the newest revisions, or the released ones where there are any."""
    rows = Document.objects.filter(deleted_at=None).values_list("key", "newest__body_id", "released__body_id")
    return {key: (fixed if released and fixed else newest) for key, newest, fixed in rows if newest}


def own_layers() -> frozenset[str]:
    """The profiles that single people have and nobody else."""
    found = (parsed(digest) for key, digest in digests().items() if key.startswith("organisation/"))
    return next((o.own_layers for o in found if isinstance(o, Organisation)), frozenset())
