"""Resetting: taking what layers say of commands away, so that what lies beneath holds again."""

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.clashes.estate import Estate
from amberkey.core.compare.operations import JsonDocument, Operation, set_item
from amberkey.core.inventory.rows import Row
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.profiles.model import Entry

ResetTo = Literal["what is beneath", "the default"]


@dataclass(frozen=True, slots=True)
class Returns:
    """A command of which something is taken away: what it is pressed with now and afterwards on the setup of its row, and the
    layers whose word goes."""

    row: Row
    before: tuple[Shortcut, ...]
    after: tuple[Shortcut, ...]
    layers: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Reset:
    """`operations` by profile; `stays`: rows of which a layer's word stays, with why. `unseen`: how many more entries go
    that count elsewhere, as on another platform."""

    returns: tuple[Returns, ...]
    operations: Mapping[str, tuple[Operation, ...]]
    stays: tuple[tuple[Row, str], ...]
    unseen: int = 0


def reset(estate: Estate, rows: Iterable[Row], to: ResetTo, only: Collection[str] | None = None) -> Reset:
    """What resetting some rows takes away, each on the setup through which it is seen. To what is beneath, the nearest layer's
    word goes; to the default, the words of all its layers. `only`: no other profiles are touched. Locked words stay, since
    somebody meant them to hold, and so do those of sets, which come off as a whole."""
    returns: list[Returns] = []
    stays: list[tuple[Row, str]] = []
    gone: dict[str, dict[str, None]] = {}
    for row in rows:
        setup = estate.setups[row.setup]
        said = [row.effective.now, *row.effective.hid]
        layers = [s.layer for s in said if s.layer != DEFAULT and (only is None or s.layer in only)]
        if to == "what is beneath":
            layers = layers[:1]
        going: dict[str, list[str]] = {}
        for layer in layers:
            profile = estate.profiles[layer]
            entries = [*entries_of_row(profile.entries, row, setup.works_on, setup.reads_by)]
            if any(e.locked for e in entries):
                stays.append((row, f"{profile.name} locks it"))
            elif entries:
                going[layer] = [e.key for e in entries]
            else:
                stays.append((row, f"a set of {profile.name} says it, and sets come off as a whole"))
        if not going:
            continue
        for layer, keys in going.items():
            gone.setdefault(layer, {}).update(dict.fromkeys(keys))
        now = tuple(k for k, _ in row.effective.now.shortcuts)
        after = next((tuple(k for k, _ in s.shortcuts) for s in said if s.layer not in going), ())
        returns.append(Returns(row, now, after, tuple(going)))
    operations = {}
    for layer, found in gone.items():
        document = cast(JsonDocument, estate.profiles[layer].to_json())
        changed = (set_item(document, "entries", key, None) for key in found)
        operations[layer] = tuple(o for o in changed if o is not None)
    return Reset(tuple(returns), operations, tuple(stays))


def reset_profile(estate: Estate, rows: Iterable[Row], profile: str) -> Reset:
    """What resetting a whole profile takes away: every shortcut of its own but locked ones, on every platform. `rows`: those
    by which it is told."""
    found = reset(estate, rows, "the default", {profile})
    value = estate.profiles[profile]
    document = cast(JsonDocument, value.to_json())
    changed = [set_item(document, "entries", e.key, None) for e in value.entries if not e.locked]
    operations = tuple(o for o in changed if o is not None)
    seen = len(found.operations.get(profile, ()))
    return Reset(found.returns, {profile: operations} if operations else {}, found.stays, len(operations) - seen)


def entries_of_row(entries: Iterable[Entry], row: Row, platform: str, layout: str) -> Iterator[Entry]:
    """The entries for a row's command that count on a platform and layout."""
    for entry in entries:
        same = entry.program == row.program.id and entry.command == row.command.id and entry.platform == platform
        if same and tuple(sorted(entry.arguments.items())) == row.arguments and (not entry.layouts or layout in entry.layouts):
            yield entry
