"""Bringing what layers say of commands into another layer, so that more people have it, or fewer."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import cast

from amberkey.core.clashes.estate import Estate
from amberkey.core.compare.operations import JsonDocument, Operation, apply, compare, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.inventory.resetting import entries_of_row
from amberkey.core.inventory.rows import Row
from amberkey.core.profiles.defaults import DEFAULT


@dataclass(frozen=True, slots=True)
class Brought:
    """`operations` by profile; `rows`: those whose entries are brought; `stays`: the others, with why."""

    operations: Mapping[str, tuple[Operation, ...]]
    rows: tuple[Row, ...]
    stays: tuple[tuple[Row, str], ...]


def bring(estate: Estate, rows: Iterable[Row], to: str) -> Brought:
    """What bringing the entries that hold for some rows into the profile `to` changes. What stands there for the same is
    replaced. Defaults, locked entries and those of sets stay where they are."""
    before = {i: cast(JsonDocument, p.to_json()) for i, p in estate.profiles.items()}
    after = dict(before)
    brought: list[Row] = []
    stays: list[tuple[Row, str]] = []
    for row in rows:
        layer, setup = row.layer, estate.setups[row.setup]
        if layer == DEFAULT:
            stays.append((row, "no layer says anything of it"))
            continue
        if layer == to:
            stays.append((row, "it is there already"))
            continue
        profile = estate.profiles[layer]
        entries = [*entries_of_row(profile.entries, row, setup.works_on, setup.reads_by)]
        if not entries:
            stays.append((row, f"a set of {profile.name} says it, and sets are taken as a whole"))
        elif any(e.locked for e in entries):
            stays.append((row, f"{profile.name} locks it"))
        else:
            brought.append(row)
            for entry in entries:
                out = set_item(after[layer], "entries", entry.key, None)
                item = cast(Json, entry.model_dump(mode="json", exclude_defaults=True))
                into = set_item(after[to], "entries", entry.key, item)
                after[layer] = apply(after[layer], [out] if out else [])
                after[to] = apply(after[to], [into] if into else [])
    changed = {i: tuple(compare(before[i], value)) for i, value in after.items() if value is not before[i]}
    return Brought({i: found for i, found in changed.items() if found}, tuple(brought), tuple(stays))
