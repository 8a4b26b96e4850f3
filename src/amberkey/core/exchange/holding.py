"""What holds on a setup, put together from all its layers, as one document: to hold it against profiles and other setups."""

from typing import cast

from amberkey.core.compare.operations import JsonDocument
from amberkey.core.documents.canonical import Json
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.resolving import ResolvedSetup


def what_holds(setup: ResolvedSetup) -> JsonDocument:
    """A profile's JSON with an entry for every command that any layer says something of, whichever layer that is."""
    entries: list[Json] = []
    for program_id, effective in setup.effective.items():
        for one in effective.commands:
            layer, shortcuts, _ = one.now
            if layer == DEFAULT:
                continue
            given: list[Json] = [
                {"keys": cast(Json, s.to_document()), **({"scope": scope} if scope != one.command.scope else {})}
                for s, scope in shortcuts
            ]
            entry: dict[str, Json] = {
                "program": program_id,
                "command": one.command.id,
                "platform": setup.setup.works_on,
                "shortcuts": given,
            }
            if one.arguments:
                entry["arguments"] = dict(one.arguments)
            entries.append(entry)
    return {"format": "amberkey/profile@1", "id": "what-holds", "name": setup.setup.name, "entries": entries}
