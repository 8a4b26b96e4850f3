"""Differences as people and programs read them: rows for a table, sentences, JSON; and choosing among them."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.compare.operations import Operation, operation_to_json
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.sections import called

Does = Literal["adds", "changes", "removes"]
_LONGEST = 60
# What an operation is on where that is no section.
_CALLED = {"": "field", "in order": "order of"}


@dataclass(frozen=True, slots=True)
class Row:
    """One difference in a table. `field` is the part of an item that differs; "" where the item comes or goes as a whole."""

    section: str
    key: str
    does: Does
    field: str
    before: str
    after: str


def does_of(operation: Operation) -> Does:
    """Whether an operation adds an item, changes it or takes it out."""
    if operation.before is None:
        return "adds"
    return "removes" if operation.after is None else "changes"


def id_of(operation: Operation) -> str:
    """What names a difference among those of one comparison."""
    return f"{operation.section}:{operation.key}"


def chosen(operations: Iterable[Operation], ids: Iterable[str]) -> list[Operation]:
    """Those of some differences that are to be taken over. Raises KeyError with the ids that none of them has."""
    wanted = set(ids)
    found = [o for o in operations if id_of(o) in wanted]
    missing = wanted - {id_of(o) for o in found}
    if missing:
        raise KeyError(", ".join(sorted(missing)))
    return found


def as_rows(operations: Iterable[Operation]) -> list[Row]:
    """One row for each part of an item that differs."""
    rows: list[Row] = []
    for one in operations:
        does = does_of(one)
        if does == "changes" and isinstance(one.before, dict) and isinstance(one.after, dict):
            before, after = one.before, one.after
            for name in sorted(before.keys() | after.keys()):
                if before.get(name) != after.get(name):
                    rows.append(Row(one.section, one.key, does, name, _brief(before.get(name)), _brief(after.get(name))))
        else:
            rows.append(Row(one.section, one.key, does, "", _brief(one.before), _brief(one.after)))
    return rows


def as_sentences(operations: Iterable[Operation]) -> list[str]:
    """One sentence for each difference, in the terms of the documents."""
    return [_sentence(o) for o in operations]


def as_json(operations: Iterable[Operation]) -> Json:
    """Operations as a list of JSON objects."""
    return [{"id": id_of(o), "does": does_of(o), **cast(dict[str, Json], operation_to_json(o))} for o in operations]


def _sentence(one: Operation) -> str:
    what = f"{_CALLED.get(one.section) or called(one.section)} {one.key}"
    match does_of(one):
        case "adds":
            return f"Adds the {what}{_with(one.after)}".removesuffix(".") + "."
        case "removes":
            return f"Takes out the {what}{_with(one.before)}".removesuffix(".") + "."
        case _:
            parts = [
                f"{r.field or 'it'} from {r.before or 'nothing'} to {r.after or 'nothing'}" for r in as_rows([one]) if r.field
            ]
            told = "; ".join(parts) or f"from {_brief(one.before)} to {_brief(one.after)}"
            return f"Changes the {what}: {told.removesuffix('.')}."


def _with(value: Json) -> str:
    """What an item says for itself: its keys, or its name."""
    if not isinstance(value, dict):
        return f": {_brief(value)}" if value not in (None, "") else ""
    given = value.get("shortcuts")
    if isinstance(given, list):
        keys = [_keys(g.get("keys")) for g in given if isinstance(g, dict)]
        return f": {' and '.join(keys) or 'no shortcut'}"
    for name in ("keys", "name", "becomes"):
        if name in value:
            return f": {_keys(value[name])}"
    return ""


def _keys(value: Json) -> str:
    return " then ".join(map(str, value)) if isinstance(value, list) else str(value)


def _brief(value: Json) -> str:
    """A value in one short line."""
    if value is None:
        return ""
    if isinstance(value, str):
        text = value
    elif isinstance(value, list) and all(isinstance(v, str) for v in value):
        text = ", ".join(map(str, value))
    elif isinstance(value, list) and value and all(isinstance(v, dict) and "keys" in v for v in value):
        text = " and ".join(_keys(cast(dict[str, Json], v)["keys"]) for v in value)
    else:
        text = json.dumps(value, ensure_ascii=False, sort_keys=True)
    return text if len(text) <= _LONGEST else f"{text[: _LONGEST - 1]}…"
