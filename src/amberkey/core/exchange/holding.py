"""What holds on a setup, put together from all its layers, and what a machine's files say, each as one document: to hold
it against profiles, setups and other machines.
"""

from collections.abc import Mapping, Set
from typing import cast

from amberkey.core.compare.operations import JsonDocument
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand
from amberkey.core.profiles.resolving import ResolvedSetup


def what_holds(setup: ResolvedSetup) -> JsonDocument:
    """A profile's JSON with an entry for every command that any layer says something of, whichever layer that is."""
    entries: list[Json] = []
    for program_id, effective in setup.effective.items():
        for one in effective.commands:
            if one.now.layer != DEFAULT:
                entries.append(_entry(setup, program_id, one, one.now.shortcuts))
    return _document(setup, entries)


FileEntries = Mapping[str, tuple[Shortcut, ...]]
"""What a settings file says: shortcuts by the id of their command."""


def what_files_say(setup: ResolvedSetup, files: Mapping[str, FileEntries]) -> JsonDocument:
    """A profile's JSON with what a machine's settings files say, by program id, read as that setup would have written them.

    A file names no place in the program, so shortcuts that are as wanted stand where they are wanted. What it says of a
    command that nobody sets is left out where it is the default anyway.
    """
    entries: list[Json] = []
    for program_id, said in files.items():
        known = {one.command.id: one for one in setup.effective[program_id].commands}
        for command, shortcuts in said.items():
            one = known.get(command)
            if one is None:
                entries.append(_given(setup, program_id, command, [{"keys": cast(Json, s.to_document())} for s in shortcuts]))
                continue
            as_wanted = tuple(s for s, _ in one.now.shortcuts) == shortcuts
            if not as_wanted or one.now.layer != DEFAULT:
                here = one.now.shortcuts if as_wanted else tuple((s, one.command.scope) for s in shortcuts)
                entries.append(_entry(setup, program_id, one, here))
    return _document(setup, entries)


def only_entries(document: JsonDocument, setup: ResolvedSetup, programs: Set[str]) -> JsonDocument:
    """Of a profile's JSON what a machine's files could say: the entries for some programs on the setup's platform."""
    entries = document.get("entries")
    kept = [e for e in entries if isinstance(e, dict) and _is_said(e, setup, programs)] if isinstance(entries, list) else []
    return {**{k: v for k, v in document.items() if not isinstance(v, list)}, "entries": cast(Json, kept)}


def _is_said(entry: Mapping[str, Json], setup: ResolvedSetup, programs: Set[str]) -> bool:
    return entry.get("program") in programs and entry.get("platform") == setup.setup.works_on


def _entry(
    setup: ResolvedSetup, program: str, one: EffectiveCommand, shortcuts: tuple[tuple[Shortcut, str], ...]
) -> dict[str, Json]:
    given: list[Json] = [
        {"keys": cast(Json, s.to_document()), **({"scope": scope} if scope != one.command.scope else {})}
        for s, scope in shortcuts
    ]
    entry = _given(setup, program, one.command.id, given)
    if one.arguments:
        entry["arguments"] = dict(one.arguments)
    return entry


def _given(setup: ResolvedSetup, program: str, command: str, shortcuts: list[Json]) -> dict[str, Json]:
    return {"program": program, "command": command, "platform": setup.setup.works_on, "shortcuts": shortcuts}


def _document(setup: ResolvedSetup, entries: list[Json]) -> JsonDocument:
    return {"format": "amberkey/profile@1", "id": "what-holds", "name": setup.setup.name, "entries": entries}
