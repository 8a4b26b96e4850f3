"""Single values of a settings file by the way to them: reading them, and writing them with all else left as it is."""

from collections.abc import Mapping, Sequence

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import Append, Change, Edit, Node, Put, with_edits
from amberkey.core.descriptions.described import ContainerName, Described
from amberkey.core.descriptions.records import File, open_file
from amberkey.core.documents.canonical import Json

Way = tuple[str, ...]
"""The names from the top of a file to a value."""
# In these a value is a text, whatever it means.
_TEXT_ONLY: frozenset[ContainerName] = frozenset({"ini", "properties", "xml", "store"})


def read_values(data: bytes, how: Described, ways: Sequence[Way]) -> dict[Way, Json]:
    """What stands at some ways; a way at which nothing stands, or no single value, is left out. Raises SettingsFileError where
    it isn't such a file."""
    file = open_file(data, how)
    found = {way: _at(file, way) for way in ways}
    return {way: node.value for way, node in found.items() if node is not None and node.is_scalar and node.value is not None}


def in_text(value: Json, container: ContainerName) -> Json:
    """A value as a container has it: in those that know texts only, as a text."""
    if container not in _TEXT_ONLY or isinstance(value, str):
        return value
    return str(value).lower() if isinstance(value, bool) else str(value)


def value_edits(data: bytes, how: Described, wanted: Mapping[Way, Json], *, make_parts: bool = False) -> list[Edit]:
    """The spans of a file's text that would become others where single values are set. Raises SettingsFileError."""
    file = open_file(data, how)
    return file.opened.edits(_changes(file, wanted, make_parts=make_parts))


def write_values(data: bytes, how: Described, wanted: Mapping[Way, Json], *, make_parts: bool = False) -> bytes:
    """A file with single values set. Nothing to change gives the same bytes.

    A value that isn't there is put behind the others of its part; `make_parts`: that is made too where it isn't there. Raises
    SettingsFileError, and nothing is written: where that part isn't there, where something else stands there, and where a
    second read would not give just what is wanted.
    """
    file = open_file(data, how)
    changes = _changes(file, wanted, make_parts=make_parts)
    if not changes:
        return data
    text = with_edits(file.opened.text, file.opened.edits(changes))
    try:
        after = file.mark + text.encode(file.encoding)
    except UnicodeEncodeError as error:
        raise SettingsFileError(f"{error.object[error.start]!r} can't be written in {file.encoding}.") from error
    _prove(file, open_file(after, how), {way: in_text(value, how.container) for way, value in wanted.items()})
    return after


def _changes(file: File, wanted: Mapping[Way, Json], *, make_parts: bool) -> list[Change]:
    changes: list[Change] = []
    wanted = {way: in_text(value, file.how.container) for way, value in wanted.items()}
    for way, value in wanted.items():
        node = _at(file, way)
        if node is not None and not node.is_scalar:
            raise SettingsFileError(f"{'/'.join(way)} has parts of its own in this file, so it is no single value.", node.start)
        if node is not None:
            if node.value != value or isinstance(node.value, bool) != isinstance(value, bool):
                changes.append(Put(node, value))
            continue
        part, rest = _at(file, way[:-1]), way[-1:]
        if part is None and make_parts:
            depth = next(n for n in range(len(way) - 1, -1, -1) if _at(file, way[:n]) is not None)
            part, rest = _at(file, way[:depth]), way[depth:]
        if part is None or part.items is not None or (part.is_scalar and part.value is not None):
            raise SettingsFileError(
                f"The file has no {'/'.join(way[:-1]) or 'place for it'}, so {way[-1]} can't be put there; "
                "the program may never have been started."
            )
        for name in reversed(rest[1:]):
            value = {name: value}
        changes.append(Append(part, rest[0], value))
    return changes


def _at(file: File, way: Sequence[str]) -> Node | None:
    node: Node | None = file.opened.root
    for name in way:
        node = node.get(name) if node is not None else None
    return node


def _prove(before: File, after: File, wanted: Mapping[Way, Json]) -> None:
    for way, value in wanted.items():
        node = _at(after, way)
        if node is None or node.value != value:
            raise SettingsFileError(f"{'/'.join(way)} would not be read again as it is wanted, so nothing was written.")
    if _without(before.opened.root.plain(), wanted) != _without(after.opened.root.plain(), wanted):
        raise SettingsFileError("Something else in the file would be read in another way, so nothing was written.")


def _without(value: Json, ways: Mapping[Way, Json]) -> Json:
    """A value without what stands at some ways, and without parts that are empty then."""
    for way in ways:
        at = value
        for name in way[:-1]:
            at = at.get(name) if isinstance(at, dict) else None
        if isinstance(at, dict):
            at.pop(way[-1], None)
    return {k: v for k, v in value.items() if v != {}} if isinstance(value, dict) else value
