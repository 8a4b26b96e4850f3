"""What can be held against something else: a document as it is now, one of its revisions, or what holds on a setup or for a
person, put together from all their layers."""

import re
from dataclasses import dataclass
from typing import cast

from amberkey.core.compare.operations import JsonDocument
from amberkey.core.exchange.holding import what_holds
from amberkey.server.estate import current_derived, current_estate, current_organisation, in_sight
from amberkey.server.library.documents import find, newest_of, parsed
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.revisions import revision_of
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem

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

    @property
    def writable(self) -> bool:
        """Whether differences can be taken over into it: it is what there is now, and nobody compiles it."""
        return self.now and self.document.get("generated") is None


def side_of(text: str) -> Side:
    """A side as it is written in addresses: `profile/house` is what there is now, `profile/house~12` revision 12 of it,
    `setup/ID` and `person/ID` what holds there.

    Raises Problem for what is none, NotFound.
    """
    kind, _, named = text.partition("/")
    if kind == "setup":
        return _holding(named, text)
    if kind == "person":
        return _of_person(named, text)
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


def comparable(left: Side, right: Side) -> None:
    """Raises Problem where two sides are of different kinds."""
    if left.document.get("format") != right.document.get("format"):
        kinds = [str(s.document.get("format")).removeprefix("amberkey/").partition("@")[0] for s in (left, right)]
        raise Problem(409, f"A {kinds[0]} and a {kinds[1]} have nothing in common to compare.", cure="Choose two of one kind.")
