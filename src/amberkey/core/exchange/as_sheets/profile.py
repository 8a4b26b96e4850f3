"""A profile's shortcuts as a sheet, and the sheet as a profile again."""

from collections.abc import Iterator, Mapping

from pydantic import ValidationError

from amberkey.core.exchange.as_sheets.cells import (
    OR,
    Reader,
    canonical,
    day_from,
    flag_from,
    in_words,
    names_from,
    platform_from,
    shortcuts_from,
)
from amberkey.core.exchange.sheets import Row, Sheet
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.model import Entry, Given, NamedSet, Profile
from amberkey.core.programs.model import Program

HEADS = (
    *("Command", "Program", "Platform", "Keys in words", "Keys", "Where", "Instead of", "Layouts", "Values"),
    *("Locked", "Since", "Set", "Command id", "Program id"),
)
OWN = "its own"
"""The command's own scope, where another shortcut beside is live elsewhere."""
NEEDED = ("Keys", "Platform", "Command id", "Program id")


_NO_KEYS: tuple[Shortcut, ...] = ()
_NO_VALUES: Mapping[str, str | int] = {}


def profile_rows(profile: Profile, programs: Mapping[str, Program], language: str = "en") -> Iterator[tuple[str, ...]]:
    """One row for each entry, those of its sets after its own. `programs` by id, the newest version of each."""
    for entry in profile.entries:
        yield _row(entry, programs.get(entry.program), "", language)
    for one in profile.sets:
        for entry in one.entries:
            yield _row(entry, programs.get(entry.program), one.id, language)


def _row(entry: Entry, program: Program | None, set_id: str, language: str) -> tuple[str, ...]:
    command = program.command(entry.command) if program is not None else None
    keys = [g.keys for g in entry.shortcuts]
    return (
        command.name if command is not None else entry.command,
        program.name if program is not None else entry.program,
        PLATFORM_NAMES[entry.platform],
        in_words(keys, entry.platform, language),
        canonical(keys),
        OR.join(g.scope or OWN for g in entry.shortcuts) if any(g.scope for g in entry.shortcuts) else "",
        canonical(entry.over) if entry.over else "",
        "; ".join(entry.layouts),
        "; ".join(f"{name}={value}" for name, value in entry.arguments.items()),
        "yes" if entry.locked else "",
        entry.since.isoformat() if entry.since else "",
        set_id,
        entry.command,
        entry.program,
    )


def profile_from(sheet: Sheet, into: Profile) -> Profile:
    """A profile with the entries of a sheet in place of its own; everything else of it stays.

    Raises SheetError with every fault and its place.
    """
    reader = Reader(sheet)
    reader.need(NEEDED)
    own: dict[str, Entry] = {}
    sets: dict[str, dict[str, Entry]] = {one.id: {} for one in into.sets}
    for row in reader.rows():
        entry = _entry(reader, row)
        if entry is None:
            continue
        set_id = reader.cell(row, "Set")
        if set_id and set_id not in sets:
            reader.fault(row, "Set", f"{into.name} has no set {set_id[:40]}.")
            continue
        among = sets[set_id] if set_id else own
        if entry.key in among:
            reader.fault(row, "", f"{entry.key} stands in an earlier row too.", "Keep one of them.")
        among[entry.key] = entry
    reader.finish()
    named = tuple(NamedSet(id=s.id, name=s.name, entries=tuple(sets[s.id].values())) for s in into.sets)
    return into.model_copy(update={"entries": tuple(own.values()), "sets": named}).normal()


def _entry(reader: Reader, row: Row) -> Entry | None:
    before = len(reader.faults)
    keys, over = (reader.read(row, head, shortcuts_from, _NO_KEYS) for head in ("Keys", "Instead of"))
    where = reader.cell(row, "Where")
    scopes = ["" if one == OWN else one for one in where.split(OR)]
    if len(scopes) not in (1, len(keys)):
        reader.fault(row, "Where", f"It names {len(scopes)} places, and there are {len(keys)} shortcuts.")
    scopes = scopes * len(keys) if len(scopes) == 1 else scopes
    platform = reader.read(row, "Platform", platform_from, "windows")
    arguments = reader.read(row, "Values", _arguments_from, _NO_VALUES)
    since = reader.read(row, "Since", day_from, None)
    locked = reader.read(row, "Locked", flag_from, False)
    if len(reader.faults) > before:
        return None
    try:
        return Entry(
            program=reader.cell(row, "Program id"),
            command=reader.cell(row, "Command id"),
            arguments=dict(arguments),
            platform=platform,
            layouts=names_from(reader.cell(row, "Layouts")),
            shortcuts=tuple(Given(keys=k, scope=s or None) for k, s in zip(keys, scopes, strict=True)),
            over=over,
            since=since,
            locked=locked,
        )
    except ValidationError as error:
        reader.refuse(row, error, {"program": "Program id", "command": "Command id", "layouts": "Layouts", "shortcuts": "Keys"})
        return None


def _arguments_from(text: str) -> Mapping[str, str | int]:
    found: dict[str, str | int] = {}
    for one in (part.strip() for part in text.split(";")):
        name, sign, value = one.partition("=")
        if one and not sign:
            raise ValueError(f"{one[:40]!r} is no value; write it as name=value.")
        if one:
            found[name.strip()] = int(value) if value.strip().isascii() and value.strip().isdigit() else value.strip()
    return found
