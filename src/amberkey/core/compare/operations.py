"""The operations that turn one document into another, and doing and undoing them on JSON values.

A list section is kept in the order of its keys, so applying an operation and then its inverse restores the bytes.
Where the order of a list means something (the commands of a program), a change of it is an operation of its own: see `_ORDER`.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import cast

from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.sections import Section, is_ordered, sections_of

JsonDocument = dict[str, Json]
_FIELD = ""  # the section of fields that are no item lists
# The section of operations that put a list in order; key: the list, values: its keys before and after. It asks for no exact
# order before, so that it can be undone after somebody else added to the list.
_ORDER = "in order"


@dataclass(frozen=True)
class Add:
    """An item that isn't there yet."""

    section: str
    key: str
    value: Json

    before = None

    @property
    def after(self) -> Json:
        return self.value

    def inverse(self) -> "Remove":
        return Remove(self.section, self.key, self.value)


@dataclass(frozen=True)
class Remove:
    """An item that stands there with exactly this value."""

    section: str
    key: str
    value: Json

    after = None

    @property
    def before(self) -> Json:
        return self.value

    def inverse(self) -> Add:
        return Add(self.section, self.key, self.value)


@dataclass(frozen=True)
class Change:
    """An item that stands there with the value `before` and gets the value `after`."""

    section: str
    key: str
    before: Json
    after: Json

    def inverse(self) -> "Change":
        return Change(self.section, self.key, self.after, self.before)


Operation = Add | Remove | Change


def operation_to_json(operation: Operation) -> Json:
    """An operation as it is kept with a change set."""
    value: dict[str, Json] = {"section": operation.section, "key": operation.key}
    if operation.before is not None:
        value["before"] = operation.before
    if operation.after is not None:
        value["after"] = operation.after
    return value


def operation_from_json(value: Json) -> Operation:
    """An operation out of what was kept; the inverse of `operation_to_json`."""
    given = cast(dict[str, Json], value)
    return operation(str(given["section"]), str(given["key"]), given.get("before"), given.get("after"))


def operation(section: str, key: str, before: Json, after: Json) -> Operation:
    """What turns an item of one value into another one; None: it isn't there."""
    if before is None:
        return Add(section, key, after)
    if after is None:
        return Remove(section, key, before)
    return Change(section, key, before, after)


def set_item(document: JsonDocument, section: str, key: str, after: Json) -> Operation | None:
    """The operation that makes an item have a value (None: be gone), or None where it already is so."""
    before = _items(document, section, sections_of(document)[section]).get(key)
    return None if before == after else operation(section, key, before, after)


def compare(a: JsonDocument, b: JsonDocument) -> list[Operation]:
    """The operations that turn `a` into `b`, in order of section and key. `id` and `format` are not compared."""
    found: list[Operation] = []
    sections = {**sections_of(a), **sections_of(b)}
    fields = (a.keys() | b.keys()) - sections.keys() - {"format", "id"}
    for name in sorted(fields):
        if a.get(name) != b.get(name):
            found.append(operation(_FIELD, name, a.get(name), b.get(name)))
    ordered = is_ordered(b)
    for section in sorted(sections):
        left, right = _items(a, section, sections[section]), _items(b, section, sections[section])
        differing = [key for key, value in left.items() if right.get(key) != value]
        differing += right.keys() - left.keys()
        for key in sorted(differing):
            found.append(operation(section, key, left.get(key), right.get(key)))
        if ordered and list(left) != list(right):
            found.append(Change(_ORDER, section, list(left), list(right)))
    return found


def apply(document: JsonDocument, operations: Iterable[Operation]) -> JsonDocument:
    """A new document with all operations done, or PreconditionFailed and nothing done."""
    result = dict(document)
    open_sections: dict[str, dict[str, Json]] = {}
    sections = sections_of(document)
    orders: dict[str, list[str]] = {}
    for op in operations:
        if op.section == _FIELD:
            _put(result, op, result.get(op.key))
            continue
        if op.section == _ORDER:
            orders[op.key] = [str(key) for key in cast(list[Json], op.after)]
            continue
        items = open_sections.get(op.section)
        if items is None:
            items = open_sections[op.section] = _items(document, op.section, sections[op.section])
        _put(items, op, items.get(op.key))
    for section, items in open_sections.items():
        if items:
            result[section] = list(items.values()) if is_ordered(document) else [items[key] for key in sorted(items)]
        else:
            result.pop(section, None)
    for section, order in orders.items():
        items = _items(result, section, sections[section])
        if items:
            result[section] = [items[key] for key in _in_order(list(items), order)]
    return result


def _in_order(keys: list[str], order: list[str]) -> list[str]:
    """Keys as a list of them says; those that it doesn't name stay behind the key that they stand behind now."""
    named = [key for key in order if key in set(keys)]
    behind: dict[str | None, list[str]] = {}
    last: str | None = None
    known = set(named)
    for key in keys:
        if key in known:
            last = key
        else:
            behind.setdefault(last, []).append(key)
    return [*behind.get(None, ()), *(k for key in named for k in (key, *behind.get(key, ())))]


def _put(place: dict[str, Json], op: Operation, found: Json) -> None:
    if found != op.before:
        raise PreconditionFailed(op.section, op.key, op.before, found)
    if op.after is None:
        del place[op.key]
    else:
        place[op.key] = op.after


def _items(document: JsonDocument, name: str, section: Section) -> dict[str, Json]:
    items = cast(list[dict[str, Json]], document.get(name) or [])
    return {section.key_of(item): item for item in items}
