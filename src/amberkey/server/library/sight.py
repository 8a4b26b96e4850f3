"""Which documents somebody may see."""

from amberkey.server.library.documents import own_layers
from amberkey.server.people.sight import sees_personal


def sees_document(key: str) -> bool:
    """Whether whoever asks may see a document: the organisation and people's own layers say something of persons."""
    kind, _, doc_id = key.partition("/")
    return sees_personal() or (kind != "organisation" and not (kind == "profile" and doc_id in own_layers()))
