"""What can be held against something else: a document as it is now, or one of its revisions."""

import re
from dataclasses import dataclass
from typing import cast

from amberkey.core.compare.operations import JsonDocument
from amberkey.server.library.documents import find, newest_of, parsed
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.revisions import revision_of
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
    """A side as it is written in addresses: `profile/house` is what there is now, `profile/house~12` revision 12 of it.

    Raises Problem for what is none, NotFound.
    """
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


def comparable(left: Side, right: Side) -> None:
    """Raises Problem where two sides are of different kinds."""
    if left.document.get("format") != right.document.get("format"):
        kinds = [s.key.partition("/")[0] for s in (left, right)]
        raise Problem(409, f"A {kinds[0]} and a {kinds[1]} have nothing in common to compare.", cure="Choose two of one kind.")
