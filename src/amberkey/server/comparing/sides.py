"""What can be held against something else: a document as it is now, one of its revisions, what holds on a setup or for a
person, put together from all their layers, what a machine's settings files say, or a bundle that somebody has at hand."""

import re
from dataclasses import dataclass, replace
from typing import cast

from django.core.cache import caches

from amberkey.core.compare.operations import JsonDocument
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.documents.model import Document
from amberkey.core.exchange.holding import FileEntries, only_entries, what_files_say, what_holds
from amberkey.core.formats import read_any
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.programs.settings_files import read_settings
from amberkey.server.estate import current_derived, current_estate, current_organisation, in_sight
from amberkey.server.fleet.models import Machine
from amberkey.server.fleet.setups import setup_of
from amberkey.server.fleet.verbs.watch import described_by
from amberkey.server.library.documents import find, newest_of, parsed
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.revisions import revision_of
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem

_BUNDLE_LIVES = 24 * 3600  # seconds
_DIGEST = re.compile(r"[0-9a-f]{64}")
_SIDE = re.compile(r"(?P<key>[a-z]+/[a-z0-9][^~/]{0,160})(?:~(?P<number>\d{1,9}))?")


@dataclass(frozen=True, slots=True)
class Side:
    """`number`: the revision; `now`: it is the newest one, asked for as such, so that it can be written."""

    key: str
    number: int
    now: bool
    title: str
    document: JsonDocument
    digest: str
    note: str
    files_of: ResolvedSetup | None = None
    """For a machine's files: what the machine is set up for. Then `programs` are those whose files were seen."""
    programs: frozenset[str] = frozenset()
    whole: bool = False
    """It has a name and description of its own, though no revision."""

    @property
    def writable(self) -> bool:
        """Whether differences can be taken over into it: it is what there is now, and nobody compiles it."""
        return self.now and self.document.get("generated") is None


def side_of(text: str) -> Side:
    """A side as it is written in addresses: `profile/house` is what there is now, `profile/house~12` revision 12 of it,
    `setup/ID` and `person/ID` what holds there, `machine/ID` what the settings files of a machine say, `bundle/DIGEST` the
    profile of a bundle that was shown here today.

    Raises Problem for what is none, NotFound.
    """
    kind, _, named = text.partition("/")
    if kind == "setup":
        return _holding(named, text)
    if kind == "person":
        return _of_person(named, text)
    if kind == "machine":
        return _of_machine(named, text)
    if kind == "bundle":
        return _of_bundle(named, text)
    match = _SIDE.fullmatch(text)
    if match is None:
        raise Problem(400, f"{text[:80] or 'Nothing'} is nothing that can be compared.", cure="Name a document or a revision.")
    key = match["key"]
    if not sees_document(key):
        raise NotFound(key.replace("/", " ", 1))
    document = find(key)
    number = match["number"]
    revision = revision_of(key, int(number)) if number else newest_of(document)
    # Older formats are upgraded for comparing, never where they are kept.
    value = cast(JsonDocument, parsed(revision.digest).to_json())
    named = f" ({revision.name})" if revision.name else ""
    title = f"{document.name}, revision {revision.number}{named}" if number else f"{document.name} as it is now"
    return Side(key, revision.number, number is None, title, value, revision.digest, revision.note)


def _holding(setup_id: str, text: str, who: str = "") -> Side:
    estate = current_estate()
    if setup_id not in estate.setups or not in_sight(setup_id):
        raise NotFound(f"setup {setup_id[:80]}")
    resolved = estate.board(setup_id).setup
    document = what_holds(resolved)
    return Side(text, 0, False, f"What holds for {who or resolved.setup.name}", document, "", "")


def _of_person(person_id: str, text: str) -> Side:
    """What holds for a person, on the first of the setups that they have."""
    person = current_organisation().people_by_id.get(person_id) if sees_personal() else None
    setups = current_derived().setups_of(person=person_id) if person is not None else ()
    if person is None or not setups:
        raise NotFound(f"anything that holds for {person_id[:80]}")
    return _holding(setups[0], text, person.name)


def _of_machine(machine_id: str, text: str) -> Side:
    """What the agent of a machine has seen in its files last. Raises Problem where that can't be read, or is nothing yet."""
    machine = Machine.objects.filter(pk=machine_id).first()
    setup_id = setup_of(machine) if machine is not None else ""
    if machine is None or setup_id not in current_estate().setups or not in_sight(setup_id):
        raise NotFound(f"machine {machine_id[:60]} with a setup")
    resolved = current_estate().board(setup_id).setup
    said: dict[str, FileEntries] = {}
    for file in machine.files.select_related("content").order_by("pk"):
        program = resolved.program(file.program)
        described = described_by(file, program, resolved.setup.works_on) if program is not None else None
        seen = file.seen
        if seen is None or program is None or described is None:
            continue
        try:
            read = read_settings(seen, program, described[1], resolved.setup.works_on)
            said[program.id] = {**said.get(program.id, {}), **read.entries}
        except SettingsFileError as error:
            raise Problem(
                409, f"{file.path} on {machine.name} can't be read.", error.says, "Mend it on the machine."
            ) from error
    if not said:
        raise Problem(
            409,
            f"{machine.name} hasn't shown a settings file yet.",
            "What isn't known can't be compared.",
            "Wait for its agent, or start it there.",
        )
    document = what_files_say(resolved, said)
    return Side(text, 0, False, f"What the files of {machine.name} say", document, "", "", resolved, frozenset(said))


def keep_bundle(name: str, document: Document) -> str:
    """Keep what a file held at hand for a day, to be held against others; how it is written as a side."""
    caches["answers"].set(f"bundle:{document.digest}", (name, document.to_bytes()), _BUNDLE_LIVES)
    return f"bundle/{document.digest}"


def _of_bundle(digest: str, text: str) -> Side:
    kept = caches["answers"].get(f"bundle:{digest}") if _DIGEST.fullmatch(digest) else None
    if kept is None:
        raise Problem(404, "That file isn't at hand any more.", "It is kept for a day.", "Choose its file again.")
    name, data = kept
    document = cast(JsonDocument, read_any(data).to_json())
    return Side(text, 0, False, f"The {name}", document, digest, "", whole=True)


def side_by_side(left: str, right: str) -> tuple[Side, Side]:
    """Two sides as they can be compared. What is put together has no name or description of its own, so the other's stay;
    beside a machine's files only what those could say counts. Raises Problem where they are of different kinds.
    """
    a, b = side_of(left), side_of(right)
    _comparable(a, b)
    for machine in (a, b):
        if machine.files_of is not None:
            setup, seen = machine.files_of, machine.programs
            a, b = (replace(s, document=only_entries(s.document, setup, seen)) for s in (a, b))
    if b.number == 0 and not b.whole:
        b = _with_fields_of(a, b)
    if a.number == 0 and not a.whole:
        a = _with_fields_of(b, a)
    return a, b


def _with_fields_of(other: Side, side: Side) -> Side:
    fields = {name: value for name, value in other.document.items() if not isinstance(value, list)}
    lists = {name: value for name, value in side.document.items() if isinstance(value, list)}
    return replace(side, document={**fields, **lists})


def _comparable(left: Side, right: Side) -> None:
    """Raises Problem where two sides are of different kinds."""
    if left.document.get("format") != right.document.get("format"):
        kinds = [str(s.document.get("format")).removeprefix("amberkey/").partition("@")[0] for s in (left, right)]
        raise Problem(409, f"A {kinds[0]} and a {kinds[1]} have nothing in common to compare.", cure="Choose two of one kind.")
