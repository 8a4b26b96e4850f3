"""Reading a described settings file, and writing shortcuts into it: only slots change, and a second read proves it.

What can't be read is kept and reported with its line, and never makes the rest unreadable. What would be written is read back
first; where that isn't the wanted shortcut it is refused, with why.
"""

import codecs
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple, cast

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.ini import Ini
from amberkey.core.containers.json_tree import JsonTree
from amberkey.core.containers.properties import Properties
from amberkey.core.containers.table import Lines, Table
from amberkey.core.containers.toml_tree import TomlTree
from amberkey.core.containers.tree import Append, Change, Container, Cut, Member, Node, Opened, Put, Rename, walk
from amberkey.core.containers.xml_tree import XmlTree
from amberkey.core.containers.yaml_tree import YamlTree
from amberkey.core.descriptions.described import ContainerName, Described
from amberkey.core.descriptions.writing import read, write
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.shortcut import Press, Shortcut

CONTAINERS: Mapping[ContainerName, Container] = {
    "json": JsonTree(),
    "yaml": YamlTree(),
    "toml": TomlTree(),
    "xml": XmlTree(),
    "ini": Ini(),
    "properties": Properties(),
    "table": Table(),
    "lines": Lines(),
}
MOST_BYTES = 50 * 1024 * 1024
_MARKS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"))


class Wanted(NamedTuple):
    """A command as the file calls it, and what its context says there ("" where the file has none)."""

    command: str
    context: str = ""


@dataclass(frozen=True, slots=True)
class Found:
    """A record that was read: what it says, and in which line (counted from 1)."""

    what: Wanted
    shortcuts: tuple[Shortcut, ...]
    line: int


@dataclass(frozen=True, slots=True)
class Unread:
    """A record that can't be read, and stays as it is."""

    line: int
    says: str


@dataclass(frozen=True)
class Reading:
    """What a file says. Of several records of one command their shortcuts are all its own, in their order. `missing`: the place
    for records, in words, where the file has none at all."""

    found: tuple[Found, ...]
    unread: tuple[Unread, ...]
    missing: str = ""

    @property
    def shortcuts(self) -> dict[Wanted, tuple[Shortcut, ...]]:
        """The shortcuts of each command that the file names."""
        said: dict[Wanted, tuple[Shortcut, ...]] = {}
        for one in self.found:
            said[one.what] = tuple(dict.fromkeys((*said.get(one.what, ()), *one.shortcuts)))
        return said


@dataclass(eq=False)
class _Record:
    """A place of the file where a command has keys: its node, its member (where it has a name), its parent and its place there,
    and what the way to it said."""

    parent: Node
    place: int
    node: Node
    member: Member | None
    holes: Mapping[str, str]

    def slot(self, locator: str) -> Node | Member | None:
        """The node of a locator, or the member whose name it is; None where there is none."""
        if locator == "name":
            return self.member
        if locator == "value":
            return self.node
        at: Node | None = self.node
        for name in locator.split("/"):
            at = at.get(name) if at is not None else None
        return at

    def text(self, locator: str) -> str | None:
        """The text at a locator; None where there is none."""
        if locator.startswith("{"):
            return self.holes.get(locator[1:-1])
        slot = self.slot(locator)
        if isinstance(slot, Member):
            return slot.name
        if slot is None or not slot.is_scalar or slot.value is None:
            return None
        return slot.value if isinstance(slot.value, str) else str(slot.value).lower()


@dataclass
class _File:
    """A file that was opened. `places`: the nodes in which records stand, with what the way there said."""

    mark: bytes
    encoding: str
    opened: Opened
    how: Described
    places: list[tuple[Node, Mapping[str, str]]] = field(default_factory=list)

    def records(self) -> Iterator[_Record]:
        for place, holes in self.places:
            if place.items is not None:
                for n, item in enumerate(place.items):
                    yield _Record(place, n, item, None, holes)
            for n, member in enumerate(place.members or ()):
                if self.how.record is None or member.name == self.how.record:
                    yield _Record(place, n, member.node, member, holes)

    def line(self, place: int) -> int:
        return _text_of(self.opened).count("\n", 0, place) + 1


def _text_of(opened: Opened) -> str:
    return cast(str, opened.text)  # type: ignore[attr-defined]


def read_file(data: bytes, how: Described) -> Reading:
    """What a settings file says. Raises SettingsFileError where it isn't what the description says at all."""
    return _read(_open(data, how), how)


def _read(file: _File, how: Described) -> Reading:
    found: list[Found] = []
    unread: list[Unread] = []
    for record in file.records():
        what = _what(record, how)
        if what is None:
            continue
        line = file.line(record.member.name_start if record.member is not None else record.node.start)
        try:
            found.append(Found(what, _shortcuts(record, how), line))
        except SettingsFileError as error:
            unread.append(Unread(line, f"{what.command}: {error.says}"))
    return Reading(tuple(found), tuple(unread), "" if file.places else _named(how))


def _open(data: bytes, how: Described) -> _File:
    if len(data) > MOST_BYTES:
        raise SettingsFileError(f"The file has {len(data) // 1048576} MB, and {MOST_BYTES // 1048576} MB is the most.")
    mark, encoding = next(((m, e) for m, e in _MARKS if data.startswith(m)), (b"", how.encoding))
    try:
        text = data[len(mark) :].decode(encoding)
    except UnicodeDecodeError as error:
        raise SettingsFileError(
            f"The file is not written in {encoding}: byte {error.start + len(mark)} can't be read."
        ) from error
    if "\0" in text:
        raise SettingsFileError("There is a character with the number 0 in it, so it is no text file.", text.index("\0"))
    options = cast(Mapping[str, Json], how.options.model_dump(exclude_none=True))
    file = _File(mark, encoding, CONTAINERS[how.container].open(text, options), how)
    file.places = list(_places(file.opened.root, how.at, {}))
    wrong = next((node for node, _ in file.places if node.is_scalar and node.value is not None), None)
    if wrong is not None:
        raise SettingsFileError(f"{_named(how)} is neither a list nor a map in this file.", wrong.start)
    unnamed = how.record is None and {"name", "value"}.isdisjoint((how.command, how.keys.at))
    wrong = next((node for node, _ in file.places if node.members), None) if unnamed else None
    if wrong is not None:
        raise SettingsFileError(f"{_named(how)} is not a list in this file.", wrong.start)
    return file


def _named(how: Described) -> str:
    """Where records stand, in a few words."""
    return "/".join(how.at) or "the file"


def _places(node: Node, at: Sequence[str], holes: Mapping[str, str]) -> Iterator[tuple[Node, Mapping[str, str]]]:
    if not at:
        yield node, holes
        return
    step, rest = at[0], at[1:]
    prefix, hole, suffix = _hole_of(step)
    for member in node.members or ():
        if hole is not None:
            if len(member.name) >= len(prefix + suffix) and member.name.startswith(prefix) and member.name.endswith(suffix):
                said = member.name[len(prefix) : len(member.name) - len(suffix)]
                yield from _places(member.node, rest, {**holes, hole: said})
        elif step in ("*", member.name):
            yield from _places(member.node, rest, holes)
    for item in node.items or ():
        if step == "*":
            yield from _places(item, rest, holes)


def _hole_of(step: str) -> tuple[str, str | None, str]:
    """What stands before a hole in a step, its name, and what stands behind it."""
    begin, end = step.find("{"), step.find("}")
    if begin < 0 or end < begin:
        return step, None, ""
    return step[:begin], step[begin + 1 : end], step[end + 1 :]


def _what(record: _Record, how: Described) -> Wanted | None:
    """Which command a record is of; None for what is none of ours."""
    if any(record.text(at) != text for at, text in how.only.items()):
        return None
    command = record.text(how.command)
    if command is None:
        return None
    return Wanted(command, (record.text(how.context) or "") if how.context is not None else "")


def _shortcuts(record: _Record, how: Described) -> tuple[Shortcut, ...]:
    keys = how.keys
    slot = record.slot(keys.at)
    if isinstance(slot, Member):
        return (read(how.writing, slot.name),)
    if keys.as_ == "numbered":
        slots = [record.slot(at) for at in (keys.at, *keys.further)]
        texts = [str(s.value) for s in slots if isinstance(s, Node) and s.is_scalar and s.value not in (None, "")]
        return tuple(read(how.writing, t) for t in texts if t not in keys.words)
    if slot is None or slot.plain() is None:
        return ()
    if keys.as_ == "parts":
        return _in_parts(record, slot, how)
    value = slot.plain()
    if value == "" or value == [] or value in keys.words:
        return ()
    if keys.as_ in ("list", "in turn"):
        texts = [str(v) for v in value] if isinstance(value, list) else [str(value)]
        if isinstance(value, list) and not all(isinstance(v, str) for v in value):
            raise SettingsFileError("there is something else than texts among its keys.")
        read_ones = [read(how.writing, t) for t in texts if t]
        return tuple(read_ones) if keys.as_ == "list" else (Shortcut(tuple(p for s in read_ones for p in s.presses)),)
    if not isinstance(value, str | int) or isinstance(value, bool):
        raise SettingsFileError("its keys are no text.")
    texts = str(value).split(keys.between) if keys.as_ == "split" else [str(value)]
    return tuple(read(how.writing, t.strip() if keys.as_ == "split" else t) for t in texts if t.strip())


def _in_parts(record: _Record, slot: Node, how: Described) -> tuple[Shortcut, ...]:
    parts = how.keys.modifiers
    assert parts is not None
    name = "" if slot.value is None else str(slot.value)
    if not name or name in how.keys.words:
        return ()
    one = read(how.writing, name)
    if len(one.presses) != 1:
        raise SettingsFileError(f"{name[:40]!r} is no single key.")
    held = set(one.presses[0].modifiers)
    place = record.slot(parts.at) if parts.at is not None else None
    if parts.as_ == "flags":
        held |= {m for m, at in parts.fields.items() if record.text(at) in ("true", "1", "yes")}
    elif isinstance(place, Node) and place.plain() is not None:
        held |= _held(place, parts)
    return (Shortcut((Press.of(held, one.presses[0].key, one.presses[0].code),)),)


def _held(place: Node, parts: Any) -> set[str]:
    value = place.plain()
    if parts.as_ == "mask":
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


@dataclass(frozen=True, slots=True)
class Written:
    """A file with the wanted shortcuts. `changed`: the commands whose records are others now."""

    data: bytes
    changed: tuple[Wanted, ...]


def write_file(data: bytes, how: Described, wanted: Mapping[Wanted, tuple[Shortcut, ...] | None]) -> Written:
    """A file with shortcuts of commands set; none: no record, the program's default holds.

    Nothing to change gives the same bytes. Raises SettingsFileError, and nothing is written: for a shortcut that the file has
    no text for, a name that is taken where the file is keyed by keys, and where a second read would not give what is wanted.
    """
    file = _open(data, how)
    before = _read(file, how)
    standing = before.shortcuts
    records: dict[Wanted, list[_Record]] = {}
    for record in file.records():
        what = _what(record, how)
        if what is not None:
            records.setdefault(what, []).append(record)
    broken = _broken(file, how, records)
    changes: list[Change] = []
    changed: list[Wanted] = []
    for what, shortcuts in wanted.items():
        own = records.get(what, [])
        if shortcuts is None:
            if own:
                changes += [Cut(r.parent, r.place) for r in own]
                changed.append(what)
            continue
        for one in shortcuts:
            _check_written(how, one)
        if own and what not in broken and standing.get(what) == shortcuts:
            continue
        changes += _keyed(file, how, what, own, shortcuts) if how.keyed_by_keys else _set(file, how, what, own, shortcuts)
        changed.append(what)
    if not changes:
        return Written(data, ())
    text = file.opened.edited(changes)
    try:
        after_data = file.mark + text.encode(file.encoding)
    except UnicodeEncodeError as error:
        raise SettingsFileError(f"{error.object[error.start]!r} can't be written in {file.encoding}.") from error
    _prove(file, before, after_data, how, wanted, changed)
    return Written(after_data, tuple(changed))


def _broken(file: _File, how: Described, records: Mapping[Wanted, list[_Record]]) -> set[Wanted]:
    """Commands of which a record can't be read."""
    found = set()
    for what, own in records.items():
        for record in own:
            try:
                _shortcuts(record, how)
            except SettingsFileError:
                found.add(what)
    return found


def _check_written(how: Described, shortcut: Shortcut) -> None:
    if how.keys.as_ == "parts":
        if len(shortcut.presses) != 1:
            raise SettingsFileError(f"{shortcut} can't be written: this file has no presses in turn.")
        return
    for one in _pieces(how, shortcut):
        text = write(how.writing, one)
        if read(how.writing, text) != one:
            raise SettingsFileError(f"{shortcut} would be written as {text!r}, which means something else.")
        if how.keys.as_ == "split" and how.keys.between in text:
            raise SettingsFileError(f"{shortcut} can't be written: {how.keys.between} parts several shortcuts in this file.")


def _pieces(how: Described, shortcut: Shortcut) -> list[Shortcut]:
    return [Shortcut((p,)) for p in shortcut.presses] if how.keys.as_ == "in turn" else [shortcut]


def _said(how: Described, shortcuts: Sequence[Shortcut]) -> Json:
    """Shortcuts as the value of a record's keys."""
    keys = how.keys
    if keys.as_ == "list" and shortcuts:
        return [write(how.writing, s) for s in shortcuts]
    if not shortcuts:
        if keys.words:
            return keys.words[0]
        first = keys.unbound[0]
        return None if first == "null" else [] if keys.as_ in ("list", "in turn") else ""
    if keys.as_ == "split":
        return keys.between.join(write(how.writing, s) for s in shortcuts)
    if keys.as_ == "in turn":
        return [write(how.writing, s) for s in _pieces(how, shortcuts[0])]
    return write(how.writing, shortcuts[0])


def _set(file: _File, how: Described, what: Wanted, own: list[_Record], shortcuts: tuple[Shortcut, ...]) -> list[Change]:
    """The changes that give a command its shortcuts in records of its own: one for all of them, or one for each."""
    one_each = how.keys.as_ in ("text", "in turn", "parts") and len(shortcuts) > 1
    if not shortcuts and how.keys.unbound[:1] == ("absent",) and not how.keys.words and how.keys.at != "value":
        shortcuts = ()
    groups: list[tuple[Shortcut, ...]] = [(s,) for s in shortcuts] if one_each else [shortcuts]
    changes: list[Change] = []
    for n, group in enumerate(groups):
        if n < len(own):
            changes += _into(own[n], how, group)
        else:
            changes.append(_added(file, how, what, group))
    changes += [Cut(r.parent, r.place) for r in own[len(groups) :]]
    return changes


def _into(record: _Record, how: Described, shortcuts: tuple[Shortcut, ...]) -> list[Change]:
    """The changes of one record's slots; a slot that says it already stays as it is."""
    try:
        if _shortcuts(record, how) == shortcuts:
            return []
    except SettingsFileError:
        pass
    changes: list[Change] = []
    for locator, value in _fields(how, shortcuts).items():
        slot = record.slot(locator)
        if isinstance(slot, Node):
            if value is _GONE:
                changes.append(_without(record, locator))
            elif slot.plain() != value:
                changes.append(Put(slot, cast(Json, value)))
        elif value is not _GONE:
            parent, _, name = locator.rpartition("/")
            within = record.slot(parent) if parent else record.node
            if not isinstance(within, Node):
                raise SettingsFileError(f"There is no {parent} in the record, so {name} can't be put there.")
            changes.append(Append(within, name, cast(Json, value)))
    return changes


def _without(record: _Record, locator: str) -> Cut:
    parent, _, name = locator.rpartition("/")
    within = record.slot(parent) if parent else record.node
    assert isinstance(within, Node)
    place = max(n for n, m in enumerate(within.members or ()) if m.name == name)
    return Cut(within, place)


_GONE: Any = object()


def _fields(how: Described, shortcuts: tuple[Shortcut, ...]) -> dict[str, object]:
    """What stands where in a record with these shortcuts, by locator."""
    keys = how.keys
    if keys.as_ == "numbered":
        places = (keys.at, *keys.further)
        if len(shortcuts) > len(places):
            raise SettingsFileError(f"The file has room for {len(places)} shortcuts a command, and {len(shortcuts)} are set.")
        texts: list[object] = [write(how.writing, s) for s in shortcuts]
        nothing: object = _GONE if keys.unbound[:1] == ("absent",) else (keys.words[0] if keys.words else "")
        return dict(zip(places, [*texts, *[nothing] * (len(places) - len(texts))], strict=True))
    if keys.as_ == "parts":
        return _parts(how, shortcuts)
    if not shortcuts and keys.unbound[:1] == ("absent",) and not keys.words:
        return {keys.at: _GONE}
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
    key: object = _said(how, ()) if press is None else write(how.writing, Shortcut((Press.of((), press.key, press.code),)))
    if isinstance(key, str) and key.isdigit() and how.writing.table in ("hid", "vk", "evdev"):
        key = int(key)
    fields: dict[str, object] = {keys.at: key}
    match parts.as_:
        case "flags":
            fields |= {at: m in held for m, at in parts.fields.items()}
        case "mask":
            fields[str(parts.at)] = sum(bit for m, bit in parts.bits.items() if m in held)
        case "list":
            fields[str(parts.at)] = [text for m, text in parts.names.items() if m in held]
        case "joined":
            fields[str(parts.at)] = parts.between.join(text for m, text in parts.names.items() if m in held)
    return fields


def _added(file: _File, how: Described, what: Wanted, shortcuts: tuple[Shortcut, ...]) -> Append:
    """A new record, where records of its context stand."""
    place = _place_for(file, how, what)
    fields: dict[str, object] = {how.command: what.command, **_fields(how, shortcuts)}
    if how.context is not None and not how.context.startswith("{"):
        fields[how.context] = what.context
    fields |= dict(how.only)
    fields = {at: v for at, v in fields.items() if v is not _GONE}
    name = cast("str | None", fields.pop("name", None)) or how.record
    if set(fields) == {"value"}:
        return Append(place, name, cast(Json, fields["value"]))
    value: dict[str, Json] = {}
    for locator, one in fields.items():
        at = value
        *path, last = locator.split("/")
        for step in path:
            at = cast("dict[str, Json]", at.setdefault(step, {}))
        at[last] = cast(Json, one)
    return Append(place, name, value)


def _place_for(file: _File, how: Described, what: Wanted) -> Node:
    if not file.places:
        raise SettingsFileError(f"The file has no {_named(how)}; the program may never have been started.")
    if how.context is not None and how.context.startswith("{"):
        hole = how.context[1:-1]
        found = next((node for node, holes in file.places if holes.get(hole) == what.context), None)
        if found is None:
            raise SettingsFileError(
                f"The file has no part for {what.context or 'everywhere'}, so {what.command} can't be put into it."
            )
        return found
    return file.places[-1][0]


def _keyed(file: _File, how: Described, what: Wanted, own: list[_Record], shortcuts: tuple[Shortcut, ...]) -> list[Change]:
    """Where records are called by their keys: names that stay, names that go, new ones, none of them twice."""
    place = _place_for(file, how, what)
    taken: dict[Shortcut, str] = {}
    for record in file.records():
        if record.parent is place and record.member is not None and record not in own:
            try:
                taken[read(how.writing, record.member.name)] = record.text(how.command) or "something else"
            except SettingsFileError:
                continue
    wanted = dict.fromkeys(shortcuts)
    for one in wanted:
        if one in taken:
            raise SettingsFileError(f"{write(how.writing, one)} is the name of {taken[one][:60]} in this file already.")
    free: list[_Record] = []
    for record in own:
        try:
            said = read(how.writing, record.member.name if record.member else "")
        except SettingsFileError:
            said = None
        if said is not None and said in wanted and record.parent is place:
            del wanted[said]
        else:
            free.append(record)
    changes: list[Change] = []
    for one in list(wanted):
        if free and free[0].member is not None:
            changes.append(Rename(free.pop(0).member, write(how.writing, one)))  # type: ignore[arg-type]
        else:
            changes.append(_added(file, how, what, (one,)))
    return [*changes, *(Cut(r.parent, r.place) for r in free)]


def _prove(
    file: _File,
    before: Reading,
    data: bytes,
    how: Described,
    wanted: Mapping[Wanted, tuple[Shortcut, ...] | None],
    changed: Sequence[Wanted],
) -> None:
    """Reads what would be written: the wanted commands say what is wanted, and everything else says what it said."""
    again = _open(data, how)
    after = _read(again, how)
    said, was = after.shortcuts, before.shortcuts
    for what, shortcuts in wanted.items():
        absent = not shortcuts and (how.keyed_by_keys or shortcuts is None)
        if said.get(what) != shortcuts and not (absent and what not in said):
            raise SettingsFileError(f"{what.command} would not be read again as it is wanted, so nothing was written.")
    for what in was.keys() | said.keys():
        if what not in wanted and was.get(what) != said.get(what):
            raise SettingsFileError(f"{what.command} would be read as something else, so nothing was written.")
    if _others(file, how, set(wanted)) != _others(again, how, set(wanted)):
        raise SettingsFileError("Something else in the file would be read in another way, so nothing was written.")


def _others(file: _File, how: Described, ours: set[Wanted]) -> Json:
    """Everything in a file but the records of some commands."""
    hidden = {id(r.node) for r in file.records() if _what(r, how) in ours}

    def plain(node: Node) -> Json:
        if node.items is not None:
            return [plain(n) for n in node.items if id(n) not in hidden]
        if node.members is not None:
            inner = [(m.name, plain(m.node)) for m in node.members if id(m.node) not in hidden]
            return [[name, value] for name, value in inner if value != []]  # some formats have no word for an empty list
        return node.value

    for _ in walk(file.opened.root):
        pass
    return plain(file.opened.root)
