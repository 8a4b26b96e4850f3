"""What a settings file says of a program's commands, by their ids; and writing that.

The file may call commands otherwise than we do (`in_file`), and let its context stand for our scopes.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from amberkey.core.descriptions.carrying import Unread, Wanted, Written, read_file, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.model import Command, Program

Entries = Mapping[str, tuple[Shortcut, ...]]


@dataclass(frozen=True, slots=True)
class Settings:
    """`entries`: the shortcuts of each command that the file names, by its id; one that we don't know, by what the file calls
    it. `unread`: what can't be read of our commands, with its line; what is none of them may be anything."""

    entries: Entries
    unread: tuple[Unread, ...]
    missing: str = ""
    """The place for entries, in words, where the file has none."""


def called_in(how: Described, command: Command) -> Wanted:
    """What a file calls a command, and the context in which it has it."""
    context = how.scopes.get(command.scope, command.scope) if how.context is not None else ""
    return Wanted(command.in_file or command.id, context)


def read_settings(data: bytes, program: Program, how: Described) -> Settings:
    """What a file says of a program. Raises SettingsFileError where it isn't such a file at all."""
    ids = {called_in(how, c): c.id for c in reversed(program.commands)}
    reading = read_file(data, how)
    unread = tuple(u for u in reading.unread if u.what in ids)
    return Settings({ids.get(w, w.command): keys for w, keys in reading.shortcuts.items()}, unread, reading.missing)


def write_settings(data: bytes, program: Program, how: Described, wanted: Mapping[str, tuple[Shortcut, ...] | None]) -> Written:
    """A file with shortcuts of commands set, by their ids; none: the default. Raises SettingsFileError."""
    known = program.commands_by_id
    return write_file(
        data, how, {called_in(how, known[i]) if i in known else Wanted(i): shortcuts for i, shortcuts in wanted.items()}
    )
