"""The shape of one entry: a command and its shortcuts, among whatever else the program keeps there."""

from collections.abc import Mapping

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.port import Fields
from amberkey.core.descriptions.dialect import read_in, write_in
from amberkey.core.descriptions.model import SettingsFile
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.shortcut import Shortcut


def command_of(fields: Fields, how: SettingsFile) -> str | None:
    """The command of an entry; None for what is no entry of ours."""
    command = fields.get(how.command_field)
    return command if isinstance(command, str) else None


def shortcuts_of(fields: Fields, how: SettingsFile) -> tuple[Shortcut, ...]:
    """The shortcuts of an entry; none where it has no field for them. Raises SettingsFileError for a field of another kind."""
    value = fields.get(how.keys_field)
    texts = [value] if isinstance(value, str) else [] if value is None else value
    if not isinstance(texts, list) or not all(isinstance(t, str) for t in texts):
        raise SettingsFileError(f"The {how.keys_field} of {command_of(fields, how)} is neither a text nor a list of texts.")
    return tuple(read_in(how.dialect, str(t)) for t in texts if t)


def keys_of(shortcuts: tuple[Shortcut, ...], how: SettingsFile) -> Json:
    """Shortcuts as the value of an entry's field. Raises SettingsFileError for more than the file keeps."""
    texts: list[Json] = [write_in(how.dialect, s) for s in shortcuts]
    if how.keys_as == "list":
        return texts
    if len(texts) > 1:
        raise SettingsFileError(f"The file keeps one shortcut a command, and {len(texts)} are set.")
    return texts[0] if texts else ""


def entry_of(command: str, shortcuts: tuple[Shortcut, ...], how: SettingsFile) -> Mapping[str, Json]:
    """A new entry as the file's fields. Raises SettingsFileError for more shortcuts than the file keeps."""
    return {how.command_field: command, how.keys_field: keys_of(shortcuts, how)}
