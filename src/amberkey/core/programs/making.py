"""Programs made by hand: new ones, ones like another, new versions; commands added and renamed; keys as people write them."""

import re
from collections.abc import Collection, Container, Iterable, Mapping, Sequence
from typing import cast

from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.ids import fresh_id, id_from
from amberkey.core.documents.model import read_document
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.model import Command, Kind, Program, Scope

WINDOW = Scope(id="window", name="Whole window")
# A comma or semicolon behind a plus sign or a blank is a key, and what stands between is behind a key's name.
_BETWEEN = re.compile(r"\s+or\s+|(?<=[^+\s]);\s*|(?<=[^+\s]),\s+|\n")


def read_keys(text: str) -> tuple[Shortcut, ...]:
    """The shortcuts in a text such as `Ctrl+S or F12`: between two of them stands "or", a semicolon, a comma with a blank
    behind it, or a new line. An empty text is none. Raises ShortcutError."""
    return tuple(dict.fromkeys(read_shortcut(part) for part in _BETWEEN.split(text.strip()) if part.strip()))


def write_keys(shortcuts: Iterable[Shortcut]) -> str:
    """The text that `read_keys` reads as these shortcuts."""
    return " or ".join(map(str, shortcuts))


def blank_program(name: str, version: str, kind: Kind, platforms: Sequence[Platform], taken: Container[str]) -> Program:
    """A program without commands: one scope, the whole window. `taken`: ids of other programs. Raises DocumentError."""
    return Program(
        id=_free_id(name, taken),
        name=name,
        version=version,
        kind=kind,
        platforms=tuple(platforms),
        scopes=(WINDOW,),
        commands=(),
    )


def like(program: Program, name: str, version: str, taken: Container[str]) -> Program:
    """A program of its own that has everything that another one has, but not where its facts were read: those speak of the
    other one. Raises DocumentError."""
    commands = tuple(c.model_copy(update={"cited": None, "was": ()}) for c in program.commands)
    return program.model_copy(
        update={"id": _free_id(name, taken), "name": name, "version": version, "commands": commands, "sources": ()}
    )


def new_version(program: Program, version: str, known: Container[str]) -> Program:
    """The next version of a program, as the one before until somebody says otherwise. `known`: versions that there are."""
    if version in known:
        raise DocumentError([Fault("version", f"There is a version {version} of {program.name} already.", "Give another one.")])
    return program.model_copy(update={"version": version})


def without_commands(program: Program, gone: Collection[str]) -> Program:
    """A program without some of its commands, by id. What one of them closed is closed by nothing more."""
    stay = (c for c in program.commands if c.id not in gone)
    commands = tuple(c.model_copy(update={"closes": None}) if c.closes in gone else c for c in stay)
    return program.model_copy(update={"commands": commands})


def _free_id(name: str, taken: Container[str]) -> str:
    made = id_from(name)
    if made in taken:
        says = f"{name} would be called {made} in files, and another program is called so."
        raise DocumentError([Fault("name", says, "Choose another name, or make a new version of that program.")])
    return made


def renamed(command: Command, name: str, taken: Container[str]) -> Command:
    """A command with another name. Where its id was made from the name, the id goes along, and the old one stays in `was`, so
    that what was set for it before still holds."""
    if name == command.name:
        return command
    if command.id != id_from(command.name):
        return command.model_copy(update={"name": name})
    if id_from(name) == command.id:
        return command.model_copy(update={"name": name})
    made = fresh_id(name, taken)
    was = tuple(sorted({*command.was, command.id} - {made}))
    return command.model_copy(update={"id": made, "name": name, "was": was})


def with_commands(program: Program, given: Sequence[Mapping[str, Json]]) -> Program:
    """A program whose commands are as given, in that order: each with the `id` that it has, or none for a new one.

    What isn't said of a command stays as it was. Keys are texts by platform. Raises DocumentError with the row of every fault.
    """
    before = {c.id: c for c in program.commands}
    taken = {*before, *(old for c in program.commands for old in c.was)}
    faults: list[Fault] = []
    found: list[dict[str, Json]] = []
    for n, said in enumerate(given):
        place = f"commands[{n}]"
        name = str(said.get("name", "")).strip()
        if not name:
            faults.append(Fault(f"{place}.name", "It has no name.", "Give it one."))
            continue
        known = before.get(str(said.get("id") or ""))
        if said.get("id") and known is None:
            faults.append(Fault(f"{place}.id", f"There is no command {said['id']}.", "Leave the id out for a new one."))
            continue
        if known is not None:
            now = renamed(known, name, taken)
            base = cast(dict[str, Json], now.model_dump(mode="json", exclude_defaults=True))
        else:
            base = {"id": fresh_id(name, taken), "name": name, "scope": program.root.id}
        taken.add(str(base["id"]))
        base |= {k: v for k, v in said.items() if k not in ("id", "name", "keys")}
        if "keys" in said:
            defaults = _defaults(cast(Mapping[str, Json], said["keys"]), place, program, faults)
            base["defaults"] = {p: _as_before(known, cast(Platform, p), keys) for p, keys in defaults.items()}
        found.append(base)
    if faults:
        raise DocumentError(faults)
    document = cast(dict[str, Json], program.to_json())
    document["commands"] = cast(Json, found)
    after = read_document(document, {"amberkey/program@1": Program})
    assert isinstance(after, Program)
    return after


def _as_before(known: Command | None, platform: Platform, shortcuts: tuple[Shortcut, ...]) -> Json:
    """Shortcuts as documents have them. Those that a command has already stay in the form that they have there, with `Main` for
    instance."""
    if known is not None and known.defaults_on(platform) == tuple(s.resolve(platform) for s in shortcuts):
        shortcuts = known.defaults[platform]
    return [cast(Json, s.to_document()) for s in shortcuts]


def _defaults(keys: Mapping[str, Json], place: str, program: Program, faults: list[Fault]) -> dict[str, tuple[Shortcut, ...]]:
    found: dict[str, tuple[Shortcut, ...]] = {}
    for platform, text in keys.items():
        try:
            shortcuts = read_keys(str(text))
        except ShortcutError as error:
            where = PLATFORM_NAMES.get(cast(Platform, platform), platform)
            cure = f"Did you mean {error.guess}?" if error.guess else f"Expected {error.expected}."
            faults.append(Fault(f"{place}.keys.{platform}", f"{str(text)[:60]!r} on {where}: {error.says}", cure))
            continue
        if shortcuts and platform not in program.platforms:
            says = f"{program.name} isn't there on {PLATFORM_NAMES.get(cast(Platform, platform), platform)}."
            faults.append(Fault(f"{place}.keys.{platform}", says, "Add the platform to the program, or leave the keys out."))
            continue
        if shortcuts:
            found[platform] = shortcuts
    return found
