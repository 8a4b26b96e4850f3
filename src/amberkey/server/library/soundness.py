"""Whether documents still fit together after a change: what the organisation names must be there."""

from collections.abc import Mapping

from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.organisation.checks import faults_in
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.server.library.documents import digests, parsed

Standing = frozenset[tuple[str, str]]
"""Faults that were there before: place and words of each."""


def standing_faults() -> Standing:
    """The faults that the documents have now. They stay allowed: whoever changes something else can't be held up by them."""
    return frozenset((f.place, f.says) for f in _faults({key: parsed(digest) for key, digest in digests().items()}))


def check_soundness(changed: Mapping[str, CoreDocument], *, since: Standing) -> None:
    """Raises DocumentError with the faults that there are now, and with some documents (by key) as they shall be, which weren't
    there before."""
    now = {key: parsed(digest) for key, digest in digests().items()}
    new = [f for f in _faults({**now, **changed}) if (f.place, f.says) not in since]
    if new:
        raise DocumentError(new)


def _faults(documents: Mapping[str, CoreDocument]) -> list[Fault]:
    organisation = next((d for d in documents.values() if isinstance(d, Organisation)), None)
    if organisation is None:
        return []
    programs = {(d.id, d.version): d for d in documents.values() if isinstance(d, Program)}
    profiles = {d.id for d in documents.values() if isinstance(d, Profile)}
    return faults_in(organisation, programs, profiles)
