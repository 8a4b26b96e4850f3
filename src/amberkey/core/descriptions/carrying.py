"""Reading a described settings file, and writing shortcuts into it: only slots change, and a second read proves it.

What can't be read is kept and reported with its line, and never makes the rest unreadable. What would be written is read back
first; where that isn't the wanted shortcut it is refused, with why.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple, cast

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import Append, Change, Counting, Cut, Edit, Member, Node, Put, Rename, with_edits
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.dialect import read, write
from amberkey.core.descriptions.keys_as import GONE, check_written, fields_of, shortcuts_of
from amberkey.core.descriptions.records import MOST_BYTES, File, Record, Wanted, open_file, place_in_words, what_of
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.shortcut import Shortcut

__all__ = ["MOST_BYTES", "Found", "Place", "Reading", "Unread", "Wanted", "Written", "places_of", "read_file", "write_file"]


@dataclass(frozen=True, slots=True)
class Found:
    """A record that was read: what it says, and in which line (counted from 1)."""

    what: Wanted
    shortcuts: tuple[Shortcut, ...]
    line: int


@dataclass(frozen=True, slots=True)
class Unread:
    """A record that can't be read, and stays as it is."""

    what: Wanted
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


def read_file(data: bytes, how: Described) -> Reading:
    """What a settings file says. Raises SettingsFileError where it isn't what the description says at all."""
    return _read(open_file(data, how), how)


def _read(file: File, how: Described) -> Reading:
    found: list[Found] = []
    unread: list[Unread] = []
    for record, what in file.named():
        line = file.line(record.member.name_start if record.member is not None else record.node.start)
        try:
            found.append(Found(what, shortcuts_of(record, how), line))
        except SettingsFileError as error:
            unread.append(Unread(what, line, f"{what.command}: {error.says}"))
    return Reading(tuple(found), tuple(unread), "" if file.places else place_in_words(how))


class Place(NamedTuple):
    """A part of a line (counted from 1): from which of its characters to which, counted from 0, the last one not with it."""

    line: int
    begin: int
    end: int


def places_of(data: bytes, how: Described) -> tuple[Place, ...]:
    """Where the slots of records stand: the only places that writing shortcuts ever changes. One over several lines is a place
    on each. Raises SettingsFileError where the file isn't what the description says at all."""
    file = open_file(data, how)
    parts = how.keys.modifiers
    locators = [how.command, how.keys.at, *how.keys.further, *([how.context] if how.context else [])]
    if parts is not None:
        locators += [*([parts.at] if parts.at else []), *parts.fields.values()]
    spans: set[tuple[int, int]] = set()
    for record, _ in file.named():
        for locator in locators:
            slot = None if locator.startswith("{") else record.slot(locator)
            if isinstance(slot, Node):
                spans.add((slot.start, slot.end))
            elif slot is not None and slot.name_end > slot.name_start:
                spans.add((slot.name_start, slot.name_end))
    return tuple(p for start, end in sorted(spans) for p in _on_lines(file, start, end))


def _on_lines(file: File, start: int, end: int) -> Iterator[Place]:
    text = file.opened.text
    while start < end:
        line_end = text.find("\n", start, end)
        stop = end if line_end < 0 else line_end
        begins = text.rfind("\n", 0, start) + 1
        shown = stop - 1 if line_end >= 0 and text[stop - 1 : stop] == "\r" else stop
        if shown > start:
            yield Place(file.line(start), start - begins, shown - begins)
        start = stop + 1


@dataclass(frozen=True, slots=True)
class Written:
    """A file with the wanted shortcuts. `changed`: the commands whose records are others now; `edits`: the spans of its text
    (of `File.opened`) that became others."""

    data: bytes
    changed: tuple[Wanted, ...]
    edits: tuple[Edit, ...] = ()


def write_file(data: bytes, how: Described, wanted: Mapping[Wanted, tuple[Shortcut, ...] | None]) -> Written:
    """A file with shortcuts of commands set; none: no record, the program's default holds.

    Nothing to change gives the same bytes. Raises SettingsFileError, and nothing is written: for a shortcut that the file has
    no text for, a name that is taken where the file is keyed by keys, and where a second read would not give what is wanted.
    """
    wanted = {what: None if keys is None else tuple(dict.fromkeys(keys)) for what, keys in wanted.items()}
    file = open_file(data, how)
    before = _read(file, how)
    standing = before.shortcuts
    records: dict[Wanted, list[Record]] = {}
    for record, what in file.named():
        records.setdefault(what, []).append(record)
    broken = {one.what for one in before.unread}
    changes: list[Change] = []
    changed: list[Wanted] = []
    for what, shortcuts in wanted.items():
        own = records.get(what, [])
        if shortcuts is None:
            if own:
                changes += [Cut(r.parent, r.place) for r in own]
                changed.append(what)
            continue
        if not shortcuts and how.keyed_by_keys:
            raise SettingsFileError(f"{what.command} can't be left without a shortcut here: the file says only what keys do.")
        for one in shortcuts:
            check_written(how, one)
        if own and what not in broken and how.same(standing.get(what), shortcuts):
            continue
        changes += _keyed(file, how, what, own, wanted) if how.keyed_by_keys else _set(file, how, what, own, shortcuts)
        changed.append(what)
    if not changes:
        return Written(data, ())
    edits = file.opened.edits(changes)
    text = with_edits(file.opened.text, edits)
    try:
        after_data = file.mark + text.encode(file.encoding)
    except UnicodeEncodeError as error:
        raise SettingsFileError(f"{error.object[error.start]!r} can't be written in {file.encoding}.") from error
    _prove(file, before, after_data, how, wanted, changed)
    return Written(after_data, tuple(changed), tuple(edits))


def _set(file: File, how: Described, what: Wanted, own: list[Record], shortcuts: tuple[Shortcut, ...]) -> list[Change]:
    """The changes that give a command its shortcuts in records of its own: one for all of them, or one for each."""
    one_each = how.keys.form in ("text", "in turn", "parts") and len(shortcuts) > 1
    groups: list[tuple[Shortcut, ...]] = [(s,) for s in shortcuts] if one_each else [shortcuts]
    changes: list[Change] = []
    for n, group in enumerate(groups):
        if n < len(own):
            changes += _into(own[n], how, group)
        else:
            changes.append(_added(file, how, what, group))
    changes += [Cut(r.parent, r.place) for r in own[len(groups) :]]
    return changes


def _into(record: Record, how: Described, shortcuts: tuple[Shortcut, ...]) -> list[Change]:
    """The changes of one record's slots; a slot that says it already stays as it is."""
    try:
        if shortcuts_of(record, how) == shortcuts:
            return []
    except SettingsFileError:
        pass
    changes: list[Change] = []
    for locator, value in fields_of(how, shortcuts).items():
        slot = record.slot(locator)
        if isinstance(slot, Node):
            if value is GONE:
                changes.append(_without(record, locator))
            elif slot.plain() != value:
                changes.append(Put(slot, cast(Json, value)))
        elif value is not GONE:
            parent, _, name = locator.rpartition("/")
            within = record.slot(parent) if parent else record.node
            if not isinstance(within, Node):
                raise SettingsFileError(f"There is no {parent} in the record, so {name} can't be put there.")
            changes.append(Append(within, name, cast(Json, value)))
    return changes


def _without(record: Record, locator: str) -> Cut:
    parent, _, name = locator.rpartition("/")
    within = record.slot(parent) if parent else record.node
    assert isinstance(within, Node)
    place = max(n for n, m in enumerate(within.members or ()) if m.name == name)
    return Cut(within, place)


def _added(file: File, how: Described, what: Wanted, shortcuts: tuple[Shortcut, ...]) -> Append:
    """A new record, where records of its context stand."""
    place = _place_for(file, how, what)
    fields: dict[str, object] = {how.command: what.command, **fields_of(how, shortcuts)}
    if how.context is not None and not how.context.startswith("{"):
        fields[how.context] = what.context
    fields |= dict(how.only)
    fields = {at: v for at, v in fields.items() if v is not GONE}
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


def _place_for(file: File, how: Described, what: Wanted) -> Node:
    if not file.places:
        raise SettingsFileError(f"The file has no {place_in_words(how)}; the program may never have been started.")
    if how.context is not None and how.context.startswith("{"):
        hole = how.context[1:-1]
        found = next((node for node, holes in file.places if holes.get(hole) == what.context), None)
        if found is None:
            raise SettingsFileError(
                f"The file has no part for {what.context or 'everywhere'}, so {what.command} can't be put into it."
            )
        return found
    return file.places[-1][0]


def _keyed(
    file: File, how: Described, what: Wanted, own: list[Record], wanted: Mapping[Wanted, tuple[Shortcut, ...] | None]
) -> list[Change]:
    """Where records are called by their keys: names that stay, names that go, new ones, none of them twice.

    A name that another command has is free where that one gives it up in the same writing.
    """
    place = _place_for(file, how, what)
    taken: dict[Shortcut, str] = {}
    ours = {id(record.node) for record in own}
    for record in file.records():
        if record.parent is place and record.member is not None and id(record.node) not in ours:
            try:
                said = read(how.dialect, record.member.name)
            except SettingsFileError:
                continue
            other = what_of(record, how)
            if other is None or other not in wanted or said in (wanted[other] or ()):
                taken[said] = record.text(how.command) or "something else"
    for other, shortcuts in wanted.items():
        if other != what and (how.context is None or _place_for(file, how, other) is place):
            taken |= dict.fromkeys(shortcuts or (), other.command)
    left = dict.fromkeys(wanted[what] or ())
    for one in left:
        if one in taken:
            raise SettingsFileError(f"{write(how.dialect, one)} is the name of {taken[one][:60]} in this file already.")
    free: list[Record] = []
    for record in own:
        try:
            had = read(how.dialect, record.member.name if record.member else "")
        except SettingsFileError:
            had = None
        if had is not None and had in left and record.parent is place:
            del left[had]
        else:
            free.append(record)
    changes: list[Change] = []
    for one in list(left):
        if free and free[0].member is not None:
            changes.append(Rename(free.pop(0).member, write(how.dialect, one)))  # type: ignore[arg-type]
        else:
            changes.append(_added(file, how, what, (one,)))
    return [*changes, *(Cut(r.parent, r.place) for r in free)]


def _prove(
    file: File,
    before: Reading,
    data: bytes,
    how: Described,
    wanted: Mapping[Wanted, tuple[Shortcut, ...] | None],
    changed: Sequence[Wanted],
) -> None:
    """Reads what would be written: the wanted commands say what is wanted, and everything else says what it said."""
    again = open_file(data, how)
    after = _read(again, how)
    said, was = after.shortcuts, before.shortcuts
    for what, shortcuts in wanted.items():
        if not how.same(said.get(what), shortcuts):
            raise SettingsFileError(f"{what.command} would not be read again as it is wanted, so nothing was written.")
    for what in was.keys() | said.keys():
        if what not in wanted and was.get(what) != said.get(what):
            raise SettingsFileError(f"{what.command} would be read as something else, so nothing was written.")
    if not _same_but(file, again, set(wanted)):
        raise SettingsFileError("Something else in the file would be read in another way, so nothing was written.")


def _same_but(before: File, after: File, ours: set[Wanted]) -> bool:
    """Whether everything in two states of a file is the same but the records of some commands. Raises SettingsFileError where
    aliases multiply each other without end."""
    hidden = {id(r.node) for file in (before, after) for r, what in file.named() if what in ours}
    counting = Counting()
    waiting = [(before.opened.root, after.opened.root)]
    while waiting:
        one, other = waiting.pop()
        counting.one(one.start)
        if one.is_scalar and other.is_scalar:
            if one.value != other.value:
                return False
            continue
        if (one.items is None, one.members is None) != (other.items is None, other.members is None):
            return _is_empty(one, hidden) and _is_empty(other, hidden) and not (one.is_scalar or other.is_scalar)
        if one.items is not None and other.items is not None:
            pairs = [n for n in one.items if id(n) not in hidden], [n for n in other.items if id(n) not in hidden]
            if len(pairs[0]) != len(pairs[1]):
                return False
            waiting.extend(zip(*pairs, strict=True))
            continue
        left, right = _seen(one, hidden), _seen(other, hidden)
        if [m.name for m in left] != [m.name for m in right]:
            return False
        waiting.extend((a.node, b.node) for a, b in zip(left, right, strict=True))
    return True


def _seen(node: Node, hidden: set[int]) -> list[Member]:
    """The members of a node but for hidden ones, and for empty ones: some formats have no word for an empty list."""
    return [m for m in node.members or () if id(m.node) not in hidden and not _is_empty(m.node, hidden)]


def _is_empty(node: Node, hidden: set[int]) -> bool:
    """Whether a list or a map has nothing in it that isn't hidden."""
    if node.items is not None:
        return all(id(n) in hidden for n in node.items)
    return node.members is not None and not _seen(node, hidden)
