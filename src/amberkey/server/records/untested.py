"""What was changed in the profiles since it was tested, out of the change sets and the records."""

from collections.abc import Iterable, Iterator
from typing import cast

from amberkey.core.clashes.trace import Focus
from amberkey.core.clashes.untested import Changed, Trial
from amberkey.core.compare.operations import operation_from_json
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.model import Entry
from amberkey.server.library.models import ChangeSetPart
from amberkey.server.records.models import Record

NEWEST = 2_000
"""How many changes of profiles are looked back on."""


def changes() -> list[Changed]:
    """The last change of each command's entry on each platform that stands: what was undone changed nothing."""
    parts = (
        ChangeSetPart.objects.filter(document__format="amberkey/profile@1", change_set__undone=False, change_set__undoes=None)
        .select_related("operations", "change_set__actor")
        .order_by("-change_set_id")[:NEWEST]
    )
    found: dict[tuple[str, str, str], Changed] = {}
    for part in parts:
        for entry in _entries(part):
            key = (entry.program, entry.command, entry.platform)
            if key not in found:
                found[key] = Changed(
                    program=entry.program,
                    command=entry.command,
                    platform=entry.platform,
                    at=part.change_set.at,
                    by=part.change_set.actor.display_name,
                    title=part.change_set.title,
                    before=entry.over,
                )
    return list(found.values())


def _entries(part: ChangeSetPart) -> Iterator[Entry]:
    """Those that a change set set on one profile, or took out of it."""
    for value in cast(list[Json], part.operations.json()):
        operation = operation_from_json(value)
        if operation.section == "entries":
            yield Entry.model_validate(operation.after if operation.after is not None else operation.before)


def tests(records: Iterable[Record]) -> Iterator[Trial]:
    for one in records:
        yield Trial(
            id=one.id,
            setup=one.setup,
            focus=Focus(one.program, one.scope) if one.program else None,
            shortcut=read_shortcut(one.shortcut),
            expected=one.outcome,
            at=one.at,
        )
