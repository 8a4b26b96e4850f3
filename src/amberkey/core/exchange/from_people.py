"""Settings files of people in one zip file, each below a folder that names a person: what they say, and what can't be read."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.from_file import ReadAs, readings
from amberkey.core.exchange.zips import ZipLimits, files_in
from amberkey.core.keys.platform import Platform
from amberkey.core.organisation.model import Organisation
from amberkey.core.organisation.surveying import FromFile, not_default
from amberkey.core.programs.model import Program

PEOPLES_FILES = ZipLimits(packed=64 * 1024 * 1024, unpacked=256 * 1024 * 1024, parts=20_000, called="zip file")


@dataclass(frozen=True, slots=True)
class NotRead:
    """A file that says nothing to us, and why."""

    path: str
    says: str


def from_people(
    data: bytes, organisation: Organisation, programs: Mapping[str, Sequence[tuple[Program, Platform]]]
) -> tuple[list[FromFile], list[NotRead]]:
    """What files of people say of their programs.

    `programs`: by person, what runs for them and where. A file is read as the program whose file is called so, else as the one
    of whose commands it names most. Raises BundleError where it is no sound zip file.
    """
    by_name: dict[str, list[str]] = {}
    for person in organisation.people:
        by_name.setdefault(person.id.casefold(), []).append(person.id)
        if person.name.casefold() != person.id.casefold():
            by_name.setdefault(person.name.casefold(), []).append(person.id)
    found: list[FromFile] = []
    left: list[NotRead] = []
    for path, body in files_in(data, PEOPLES_FILES):
        folder, slash, rest = path.partition("/")
        people = by_name.get(folder.casefold(), [])
        if isinstance(body, BundleError):
            left.append(NotRead(path, body.says))
        elif not slash:
            left.append(NotRead(path, "It lies in no folder that is called like a person."))
        elif len(people) != 1:
            who = "Nobody is" if not people else f"{len(people)} people are"
            left.append(NotRead(path, f"{who} called {folder[:80]}."))
        else:
            read = _read(body, rest, programs.get(people[0], ()))
            if read is None:
                left.append(NotRead(path, "No program of this person has a file that reads so."))
                continue
            said = not_default(read.program, read.platform, read.settings.entries)
            found.append(FromFile(people[0], read.program.id, read.platform, said))
    return found, left


def _read(data: bytes, path: str, programs: Sequence[tuple[Program, Platform]]) -> ReadAs | None:
    """The likeliest reading on a platform of the person. Files that lie where a description says are tried alone first."""
    called = path.rpartition("/")[2]
    named = [p for p in programs if any(h.path.get(p[1], "").rpartition("/")[2] == called for h in p[0].settings_files)]
    for tried in (named, programs):
        here = {(p.id, platform) for p, platform in tried}
        for read in readings(data, called, list({p.id: p for p, _ in tried}.values())):
            if (read.program.id, read.platform) in here:
                return read
    return None
