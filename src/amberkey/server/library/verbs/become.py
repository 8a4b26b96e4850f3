"""Documents made what they shall be, as one change set."""

from collections.abc import Mapping
from typing import cast

from amberkey.core.compare.operations import JsonDocument, Operation, compare
from amberkey.core.documents.model import Document, read_document
from amberkey.core.formats import FORMATS
from amberkey.server.library.documents import digests, parsed
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.people.acting import Actor


def become(actor: Actor, title: str, wanted: Mapping[str, Document]) -> ChangeSet:
    """Save documents as they shall be, by key; those that are new are made. Raises DocumentError where one isn't sound."""
    known = digests()
    operations: dict[str, list[Operation]] = {}
    made: list[Document] = []
    for key, value in wanted.items():
        checked = read_document(value.to_json(), FORMATS)
        if key in known:
            now = cast(JsonDocument, parsed(known[key]).to_json())
            operations[key] = compare(now, cast(JsonDocument, checked.to_json()))
        else:
            made.append(checked)
    return change(actor, title, operations, making=Making(make=made))
