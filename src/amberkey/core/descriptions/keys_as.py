"""The keys of one record: read out of its slots, and what its slots hold for shortcuts that are wanted."""

from collections.abc import Sequence
from typing import Any

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import Member, Node
from amberkey.core.descriptions.described import Described, Parts
from amberkey.core.descriptions.dialect import read, write
from amberkey.core.descriptions.records import Record
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.shortcut import Press, Shortcut


def shortcuts_of(record: Record, how: Described) -> tuple[Shortcut, ...]:
    """The shortcuts that a record says. Raises SettingsFileError where that can't be read."""
    keys = how.keys
    slot = record.slot(keys.at)
    if isinstance(slot, Member):
        return (read(how.dialect, slot.name),)
    if keys.form == "numbered":
        slots = [record.slot(at) for at in (keys.at, *keys.further)]
        texts = [str(s.value) for s in slots if isinstance(s, Node) and s.is_scalar and s.value not in (None, "")]
        return tuple(read(how.dialect, t) for t in texts if t not in keys.words)
    if slot is None or slot.plain() is None:
        return ()
    if keys.form == "parts":
        return _in_parts(record, slot, how)
    value = slot.plain()
    if value == "" or value == [] or value in keys.words:
        return ()
    if keys.form in ("list", "in turn"):
        texts = [str(v) for v in value] if isinstance(value, list) else [str(value)]
        if isinstance(value, list) and not all(isinstance(v, str) for v in value):
            raise SettingsFileError("there is something else than texts among its keys.")
        read_ones = [read(how.dialect, t) for t in texts if t]
        return tuple(read_ones) if keys.form == "list" else (Shortcut(tuple(p for s in read_ones for p in s.presses)),)
    if not isinstance(value, str | int) or isinstance(value, bool):
        raise SettingsFileError("its keys are no text.")
    texts = str(value).split(keys.between) if keys.form == "split" else [str(value)]
    return tuple(read(how.dialect, t.strip() if keys.form == "split" else t) for t in texts if t.strip())


def _in_parts(record: Record, slot: Node, how: Described) -> tuple[Shortcut, ...]:
    parts = how.keys.modifiers
    assert parts is not None
    name = "" if slot.value is None else str(slot.value)
    if not name or name in how.keys.words:
        return ()
    one = read(how.dialect, name)
    if len(one.presses) != 1:
        raise SettingsFileError(f"{name[:40]!r} is no single key.")
    held = set(one.presses[0].modifiers)
    place = record.slot(parts.at) if parts.at is not None else None
    if parts.form == "flags":
        held |= {m for m, at in parts.fields.items() if record.text(at) in ("true", "1", "yes")}
    elif isinstance(place, Node) and place.plain() is not None:
        held |= _held(place, parts)
    return (Shortcut((Press.of(held, one.presses[0].key, one.presses[0].code),)),)


def _held(place: Node, parts: Parts) -> set[str]:
    value = place.plain()
    if parts.form == "mask":
        number = int(str(value)) if str(value).isdigit() and len(str(value)) < 12 else -1
        known = sum(parts.bits.values())
        if number < 0 or number & ~known:
            raise SettingsFileError(f"{str(value)[:20]!r} has bits that mean no modifier.")
        return {m for m, bit in parts.bits.items() if number & bit}
    texts = [str(v) for v in value] if isinstance(value, list) else str(value).split(parts.between)
    by_name = {text: m for m, text in parts.names.items()}
    unknown = next((t for t in texts if t and t not in by_name), None)
    if unknown is not None:
        raise SettingsFileError(f"{unknown[:40]!r} is no modifier.")
    return {by_name[t] for t in texts if t}


def check_written(how: Described, shortcut: Shortcut) -> None:
    """Raises SettingsFileError for a shortcut that the file has no text for, or that would be read as something else."""
    if how.keys.form == "parts":
        if len(shortcut.presses) != 1:
            raise SettingsFileError(f"{shortcut} can't be written: this file has no presses in turn.")
        return
    for one in _pieces(how, shortcut):
        text = write(how.dialect, one)
        if read(how.dialect, text) != one:
            raise SettingsFileError(f"{shortcut} would be written as {text!r}, which means something else.")
        if how.keys.form == "split" and how.keys.between in text:
            raise SettingsFileError(f"{shortcut} can't be written: {how.keys.between} parts several shortcuts in this file.")


def _pieces(how: Described, shortcut: Shortcut) -> list[Shortcut]:
    return [Shortcut((p,)) for p in shortcut.presses] if how.keys.form == "in turn" else [shortcut]


def _said(how: Described, shortcuts: Sequence[Shortcut]) -> Json:
    """Shortcuts as the value of a record's keys."""
    keys = how.keys
    if keys.form == "list" and shortcuts:
        return [write(how.dialect, s) for s in shortcuts]
    if not shortcuts:
        if keys.words:
            return keys.words[0]
        first = keys.unbound[0]
        return None if first == "null" else [] if keys.form in ("list", "in turn") else ""
    if keys.form == "split":
        return keys.between.join(write(how.dialect, s) for s in shortcuts)
    if keys.form == "in turn":
        return [write(how.dialect, s) for s in _pieces(how, shortcuts[0])]
    return write(how.dialect, shortcuts[0])


GONE: Any = object()
"""What a slot holds that isn't there."""


def fields_of(how: Described, shortcuts: tuple[Shortcut, ...]) -> dict[str, object]:
    """What stands where in a record with these shortcuts, by locator."""
    keys = how.keys
    if keys.form == "numbered":
        places = (keys.at, *keys.further)
        if len(shortcuts) > len(places):
            raise SettingsFileError(f"The file has room for {len(places)} shortcuts a command, and {len(shortcuts)} are set.")
        texts: list[object] = [write(how.dialect, s) for s in shortcuts]
        nothing: object = GONE if keys.unbound[:1] == ("absent",) else (keys.words[0] if keys.words else "")
        return dict(zip(places, [*texts, *[nothing] * (len(places) - len(texts))], strict=True))
    if keys.form == "parts":
        return _parts(how, shortcuts)
    if not shortcuts and keys.unbound[:1] == ("absent",) and not keys.words:
        return {keys.at: GONE}
    return {keys.at: _said(how, shortcuts)}


def _parts(how: Described, shortcuts: tuple[Shortcut, ...]) -> dict[str, object]:
    keys, parts = how.keys, how.keys.modifiers
    assert parts is not None
    press = shortcuts[0].presses[0] if shortcuts else None
    held = set(press.modifiers) if press is not None else set()
    known = parts.names or parts.fields or parts.bits
    foreign = sorted(held - known.keys())
    if foreign:
        raise SettingsFileError(f"{press} can't be written: this file has no modifier {foreign[0]}.")
    key: object = _said(how, ()) if press is None else write(how.dialect, Shortcut((Press.of((), press.key, press.code),)))
    if isinstance(key, str) and key.isdigit() and how.dialect.table in ("hid", "vk", "evdev"):
        key = int(key)
    fields: dict[str, object] = {keys.at: key}
    match parts.form:
        case "flags":
            fields |= {at: m in held for m, at in parts.fields.items()}
        case "mask":
            fields[str(parts.at)] = sum(bit for m, bit in parts.bits.items() if m in held)
        case "list":
            fields[str(parts.at)] = [text for m, text in parts.names.items() if m in held]
        case "joined":
            fields[str(parts.at)] = parts.between.join(text for m, text in parts.names.items() if m in held)
    return fields
