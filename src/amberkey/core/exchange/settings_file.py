"""Reading and writing a program's settings file by its description, editing only the entries that Amber Key sets.

Works on bytes: byte-order mark, line ends, indents, order and everything unknown stay as they are.
"""

import codecs
import json
from collections.abc import Mapping
from dataclasses import dataclass

from amberkey.core.exchange.dialect import read_in, write_in
from amberkey.core.exchange.errors import SettingsFileError
from amberkey.core.exchange.json_spans import Node, parse_spans
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.settings import SettingsFile

Wanted = Mapping[str, tuple[Shortcut, ...] | None]
"""Command to its shortcuts; empty: without one; None: no entry, the program's default holds."""


@dataclass(frozen=True)
class _Opened:
    bom: bytes
    text: str
    root: Node
    entries: Node


def read_entries(data: bytes, how: SettingsFile) -> dict[str, tuple[Shortcut, ...]]:
    """The commands that the file sets, with their shortcuts. Raises SettingsFileError with the place of the fault."""
    return {command: _shortcuts(nodes[-1], how) for command, nodes in _by_command(_open(data, how), how).items()}


def write_entries(data: bytes, how: SettingsFile, wanted: Wanted) -> bytes:
    """The file with the wanted commands set and all else byte for byte as it was.

    Nothing to change gives the same bytes. Raises SettingsFileError.
    """
    opened = _open(data, how)
    standing = _by_command(opened, how)
    edits: list[tuple[int, int, str]] = []
    added: list[str] = []
    drop: set[int] = set()
    assert opened.entries.items is not None
    position_of = {id(node): n for n, node in enumerate(opened.entries.items)}
    for command, shortcuts in wanted.items():
        nodes = standing.get(command)
        if nodes is None:
            if shortcuts is not None:
                added.append(_entry_text(command, shortcuts, how))
            continue
        node = nodes[-1]
        if shortcuts is None:
            drop.update(position_of[id(n)] for n in nodes)
        elif _shortcuts(node, how) != shortcuts:
            assert node.members is not None
            old = node.members.get(how.keys_field)
            text = _keys_text(shortcuts, how)
            if old is not None:
                edits.append((old.start, old.end, text))
            else:
                comma = ", " if node.members else ""
                edits.append((node.start + 1, node.start + 1, f"{json.dumps(how.keys_field)}: {text}{comma}"))
    if added or drop:
        edits.extend(_list_edits(opened, drop, added))
    text = opened.text
    for start, end, new in sorted(edits, reverse=True):
        text = text[:start] + new + text[end:]
    return opened.bom + text.encode("utf-8")


def _open(data: bytes, how: SettingsFile) -> _Opened:
    bom = codecs.BOM_UTF8 if data.startswith(codecs.BOM_UTF8) else b""
    try:
        text = data[len(bom) :].decode("utf-8")
    except UnicodeDecodeError as error:
        raise SettingsFileError("The file is not UTF-8 text.", error.start) from error
    root = parse_spans(text)
    node = root
    for name in how.entries_at:
        child = node.members.get(name) if node.members is not None else None
        if child is None:
            raise SettingsFileError(f"The file has no {'.'.join(how.entries_at)}; the program may never have been started.")
        node = child
    if node.items is None:
        raise SettingsFileError(f"{'.'.join(how.entries_at)} is not a list in this file.", node.start)
    return _Opened(bom, text, root, node)


def _by_command(opened: _Opened, how: SettingsFile) -> dict[str, list[Node]]:
    """Entries by command; where one stands twice the last counts, and others than ours are left alone."""
    found: dict[str, list[Node]] = {}
    for node in opened.entries.items or ():
        if node.members is not None and how.command_field in node.members:
            command = node.members[how.command_field].value
            if isinstance(command, str):
                found.setdefault(command, []).append(node)
    return found


def _shortcuts(node: Node, how: SettingsFile) -> tuple[Shortcut, ...]:
    assert node.members is not None
    keys = node.members.get(how.keys_field)
    value = keys.plain() if keys is not None else None
    texts = [value] if isinstance(value, str) else value
    if texts is None:
        return ()
    if not isinstance(texts, list) or not all(isinstance(t, str) for t in texts):
        raise SettingsFileError(f"The {how.keys_field} of an entry is neither a text nor a list of texts.", node.start)
    return tuple(read_in(how.dialect, t) for t in texts if t)


def _keys_text(shortcuts: tuple[Shortcut, ...], how: SettingsFile) -> str:
    texts = [write_in(how.dialect, s) for s in shortcuts]
    if how.keys_as == "text":
        if len(texts) > 1:
            raise SettingsFileError(f"The file keeps one shortcut a command, and {len(texts)} are set.")
        return json.dumps(texts[0] if texts else "", ensure_ascii=False)
    return json.dumps(texts, ensure_ascii=False)


def _entry_text(command: str, shortcuts: tuple[Shortcut, ...], how: SettingsFile) -> str:
    name, keys = json.dumps(how.command_field), json.dumps(how.keys_field)
    return f"{{{name}: {json.dumps(command, ensure_ascii=False)}, {keys}: {_keys_text(shortcuts, how)}}}"


def _list_edits(opened: _Opened, drop: set[int], added: list[str]) -> list[tuple[int, int, str]]:
    """Cuts of whole items (with the comma that parts them from the one before, or after for the first) and additions."""
    items, entries, text = opened.entries.items or (), opened.entries, opened.text
    edits: list[tuple[int, int, str]] = []
    kept = [n for n in range(len(items)) if n not in drop]
    for n in sorted(drop):
        if not kept:
            continue
        if n < kept[0]:
            edits.append((items[n].start, items[n + 1].start, ""))
        else:
            edits.append((items[n - 1].end, items[n].end, ""))
    if kept:
        last = items[kept[-1]].end
        gap = text[entries.start + 1 : items[0].start]
        if added:
            edits.append((last, last, "".join(f",{gap}{a}" for a in added)))
    else:
        newline = "\r\n" if "\r\n" in text else "\n"
        line = text[text.rfind("\n", 0, entries.start) + 1 : entries.start]
        indent = line[: len(line) - len(line.lstrip(" \t"))]
        inner = f",{newline}{indent}  ".join(added)
        block = f"[{newline}{indent}  {inner}{newline}{indent}]" if added else "[]"
        edits.append((entries.start, entries.end, block))
    return edits
