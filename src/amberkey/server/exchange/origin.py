"""What a bundle's document and a profile here were both made from, and what to say of that in a bundle that goes out."""

from dataclasses import dataclass

from django.db.models import Q

from amberkey.core.exchange.bundle import LINEAGE, Part
from amberkey.core.profiles.model import Profile
from amberkey.server.library.documents import parsed
from amberkey.server.library.models import Revision


@dataclass(frozen=True, slots=True)
class Origin:
    """The last state that both sides had, and the revision here with it (or into which it was brought)."""

    number: int
    base: Profile


def origin_of(profile_id: str, part: Part) -> Origin | None:
    """None where the bundle comes from elsewhere and was never brought in here."""
    states = [part.sha256, *part.lineage]
    place = {digest: n for n, digest in reversed(list(enumerate(states)))}
    rows = Revision.objects.filter(document_id=f"profile/{profile_id}").filter(Q(body_id__in=states) | Q(brought_id__in=states))
    found = [
        (place[digest], -number, digest)
        for number, *digests in rows.values_list("number", "body_id", "brought_id")
        for digest in digests
        if digest in place
    ]
    if not found:
        return None
    _, number, digest = min(found)
    base = parsed(digest)
    return Origin(-number, base) if isinstance(base, Profile) else None


def lineage_of(key: str) -> tuple[str, ...]:
    """The earlier states of a document and what bundles brought to it, the newest first."""
    found = Revision.objects.filter(document_id=key).order_by("-number").values_list("body_id", "brought_id")[:LINEAGE]
    states = dict.fromkeys(digest for row in found for digest in row if digest is not None)
    return tuple(states)[1 : LINEAGE + 1]
