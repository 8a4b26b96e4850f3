"""Reading and writing a program's settings file by its description, editing only the entries that Amber Key sets.

Works on bytes: byte-order mark, line ends, indents, order and everything unknown stay as they are.
"""

import codecs
from collections.abc import Mapping, Sequence

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.json_text import JsonText
from amberkey.core.containers.port import Add, Change, Container, Fields, Opened, Remove, SetField
from amberkey.core.descriptions.entries import command_of, entry_of, keys_of, shortcuts_of
from amberkey.core.descriptions.model import SettingsFile
from amberkey.core.keys.shortcut import Shortcut

Wanted = Mapping[str, tuple[Shortcut, ...] | None]
"""Command to its shortcuts; empty: without one; None: no entry, the program's default holds."""
CONTAINERS: Mapping[str, Container] = {"json": JsonText()}


def read_entries(data: bytes, how: SettingsFile) -> dict[str, tuple[Shortcut, ...]]:
    """The commands that the file sets, with their shortcuts. Raises SettingsFileError with the place of the fault."""
    _, opened = _open(data, how)
    entries = opened.entries()
    return {command: shortcuts_of(entries[places[-1]], how) for command, places in _by_command(entries, how).items()}


def write_entries(data: bytes, how: SettingsFile, wanted: Wanted) -> bytes:
    """The file with the wanted commands set and all else byte for byte as it was.

    Nothing to change gives the same bytes. Raises SettingsFileError.
    """
    mark, opened = _open(data, how)
    entries = opened.entries()
    standing = _by_command(entries, how)
    changes: list[Change] = []
    for command, shortcuts in wanted.items():
        places = standing.get(command, [])
        if shortcuts is None:
            changes += [Remove(n) for n in places]
        elif not places:
            changes.append(Add(entry_of(command, shortcuts, how)))
        elif shortcuts_of(entries[places[-1]], how) != shortcuts:
            changes.append(SetField(places[-1], how.keys_field, keys_of(shortcuts, how)))
    return data if not changes else mark + opened.edited(changes).encode("utf-8")


def _open(data: bytes, how: SettingsFile) -> tuple[bytes, Opened]:
    mark = codecs.BOM_UTF8 if data.startswith(codecs.BOM_UTF8) else b""
    try:
        text = data[len(mark) :].decode("utf-8")
    except UnicodeDecodeError as error:
        raise SettingsFileError("The file is not UTF-8 text.", error.start) from error
    return mark, CONTAINERS[how.container].open(text, how.entries_at)


def _by_command(entries: Sequence[Fields], how: SettingsFile) -> dict[str, list[int]]:
    """The places of each command's entries; where there are several the last counts. Others than ours are left alone."""
    found: dict[str, list[int]] = {}
    for place, fields in enumerate(entries):
        command = command_of(fields, how)
        if command is not None:
            found.setdefault(command, []).append(place)
    return found
