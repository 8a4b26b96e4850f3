"""Whether documents still fit together after a change: what the organisation names must be there."""

from collections.abc import Mapping

from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.organisation.checks import faults_in
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.server.library.documents import digests, parsed


def check_soundness(changed: Mapping[str, CoreDocument]) -> None:
    """Raises DocumentError with the faults that a change of some documents (by key) would bring in; those of before stay."""
    if not any(isinstance(v, Organisation | Program) for v in changed.values()):
        return
    before = {key: parsed(digest) for key, digest in digests().items()}
    standing = {(f.place, f.says) for f in _faults(before)}
    new = [f for f in _faults({**before, **changed}) if (f.place, f.says) not in standing]
    if new:
        raise DocumentError(new)


def check_without(key: str) -> None:
    """Raises DocumentError with the faults that taking a document away would bring in."""
    before = {k: parsed(digest) for k, digest in digests().items()}
    standing = {(f.place, f.says) for f in _faults(before)}
    new = [f for f in _faults({k: v for k, v in before.items() if k != key}) if (f.place, f.says) not in standing]
    if new:
        raise DocumentError(new)


def _faults(documents: Mapping[str, CoreDocument]) -> list[Fault]:
    organisation = next((d for d in documents.values() if isinstance(d, Organisation)), None)
    if organisation is None:
        return []
    programs = {(d.id, d.version): d for d in documents.values() if isinstance(d, Program)}
    profiles = {d.id for d in documents.values() if isinstance(d, Profile)}
    return faults_in(organisation, programs, profiles)
