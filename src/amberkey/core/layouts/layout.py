"""Layouts: what every writing key types on its four levels, and how sure that is.

Facts: Debian's xkb-data for the first two levels and for Linux; recorded third and fourth levels for Windows and macOS; a
short table of exceptions (`tools/derive_layouts.py` lays them over each other and writes
`data/layouts.json`). In that file a level is one letter for its source (`r`, `d`, `l`; upper case where it is dead) and
its text.
"""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache, cached_property
from importlib import resources
from typing import Any, Literal, NamedTuple

from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.errors import LayoutNotThere, UnknownLayout
from amberkey.core.layouts.stroke import Stroke

Source = Literal["recorded", "derived", "likely"]
LEVELS = ("plain", "shift", "altgr", "shift_altgr")
_SOURCES: dict[str, Source] = {"r": "recorded", "d": "derived", "l": "likely"}
_THIRD: dict[Platform, frozenset[str]] = {
    "windows": frozenset({"Control", "Alt"}),
    "macos": frozenset({"Alt"}),
    "linux": frozenset({"AltGraph"}),
}
_NONE: frozenset[str] = frozenset()
_SHIFT = frozenset({"Shift"})
_HELD: dict[Platform, tuple[frozenset[str], ...]] = {
    platform: (_NONE, _SHIFT, third, third | _SHIFT) for platform, third in _THIRD.items()
}


class Level(NamedTuple):
    """What one key types on one level: `text`, or the start of an accent where `dead`."""

    text: str
    source: Source
    dead: bool = False


Levels = tuple[Level | None, Level | None, Level | None, Level | None]


@dataclass(frozen=True, eq=False)
class Layout:
    """One layout as one platform reads it. `keys` maps a W3C code to its four levels (plain, shift, AltGr, both).

    There is one object per layout and platform, so layouts are compared by identity.
    """

    id: str
    name: str
    language: str
    platform: Platform
    currency: str
    letters: frozenset[str]
    decimal: str
    keys: Mapping[str, Levels]
    second: Mapping[str, Levels]
    """What the keys type in the layout's own script, where that isn't Latin: `keys` is its Latin layer then."""
    legends: Mapping[str, str]
    """What caps carry beside what they type, by code: the letters that an input method makes of them."""
    has_altgr: bool
    places: Mapping[str, tuple[tuple[str, int], ...]] = field(repr=False)
    typing: Mapping[Stroke, Level] = field(repr=False)
    """Every stroke of a writing key that types something, or begins an accent."""

    @property
    def right_alt_is_altgr(self) -> bool:
        """Whether the right Alt key is AltGr, and no Alt."""
        return self.has_altgr and self.platform != "macos"

    def places_of(self, text: str) -> tuple[tuple[str, int], ...]:
        """(code, level number) of every key that types a text at once, the lowest level first."""
        return self.places.get(text, ())

    def strokes_for(self, text: str) -> list[tuple[Stroke, Level]]:
        """Every stroke that types a text, or begins it as an accent, with its level."""
        return self._by_text.get(text, [])

    @cached_property
    def _by_text(self) -> Mapping[str, list[tuple[Stroke, Level]]]:
        found: dict[str, list[tuple[Stroke, Level]]] = {}
        for stroke, level in self.typing.items():
            found.setdefault(level.text, []).append((stroke, level))
        return found

    def dead_places_of(self, text: str) -> list[tuple[str, int]]:
        """The places (W3C code and level, counted from 0) at which a text is on a dead key, which only begins it."""
        return [
            (code, n)
            for code, levels in self.keys.items()
            for n, level in enumerate(levels)
            if level is not None and level.dead and level.text == text
        ]


def modifiers_of_level(layout: Layout, level: int) -> frozenset[str]:
    """The physical modifiers that reach a level: AltGr is Control with Alt on Windows, Option on macOS."""
    return _HELD[layout.platform][level]


@cache
def _data() -> dict[str, dict[str, Any]]:
    text = resources.files("amberkey.core.layouts.data").joinpath("layouts.json").read_text(encoding="utf-8")
    layouts: dict[str, dict[str, Any]] = json.loads(text)["layouts"]
    return layouts


def layout_ids() -> tuple[str, ...]:
    """The ids of all layouts that ship with Amber Key."""
    return tuple(_data())


def layout_names(platform: Platform | None = None) -> dict[str, str]:
    """Names of layouts by id: those of a platform, or all."""
    return {i: str(e["name"]) for i, e in _data().items() if platform is None or platform in e["platforms"]}


def layouts_also_named(platform: Platform | None = None) -> dict[str, str]:
    """Ids of layouts by further names that inventories give them: Windows' numbers, macOS' input sources, XKB's variants."""
    return {n: i for i, e in _data().items() if platform is None or platform in e["platforms"] for n in e["also"]}


def platforms_of(layout_id: str) -> tuple[Platform, ...]:
    """The platforms on which a layout exists. Raises UnknownLayout."""
    return tuple(_entry(layout_id)["platforms"])


def _entry(layout_id: str) -> dict[str, Any]:
    try:
        return _data()[layout_id]
    except KeyError:
        raise UnknownLayout(layout_id, layout_ids()) from None


@cache
def load_layout(layout_id: str, platform: Platform) -> Layout:
    """The layout as the platform reads it. Raises UnknownLayout, or LayoutNotThere where the platform doesn't have it."""
    entry = _entry(layout_id)
    if platform not in entry["platforms"]:
        raise LayoutNotThere(layout_id, platform, tuple(i for i, e in _data().items() if platform in e["platforms"]))
    own = _keys_of(entry, platform)
    # Shortcuts go by the Latin layer of a layout that has another script; text is its own.
    keys = _keys_of(_entry(entry["latin"]), platform) if "latin" in entry else own
    places: dict[str, list[tuple[int, str]]] = {}
    typing: dict[Stroke, Level] = {}
    for layer in (keys, own) if own is not keys else (own,):
        for code, row in layer.items():
            for n, level in enumerate(row):
                if level is None:
                    continue
                if layer is own or code not in own:
                    typing[Stroke(code, _HELD[platform][n])] = level
                if not level.dead and (layer is keys or level.text not in places):
                    places.setdefault(level.text, []).append((n, code))
    return Layout(
        id=layout_id,
        name=entry["name"],
        language=entry["language"],
        platform=platform,
        currency=entry["currency"],
        letters=frozenset(entry["letters"]),
        decimal=entry["decimal"],
        keys=keys,
        second={} if own is keys else own,
        legends=entry.get("legends", {}),
        has_altgr=any(row[2] or row[3] for row in own.values()),
        places={text: tuple((code, n) for n, code in sorted(found)) for text, found in places.items()},
        typing=typing,
    )


def _keys_of(entry: dict[str, Any], platform: Platform) -> dict[str, Levels]:
    overlay = entry["third_and_fourth"].get(platform)
    exceptions = entry["exceptions"].get(platform, {})
    keys: dict[str, Levels] = {}
    for code, raw in entry["keys"].items():
        levels = [*map(_level, raw), None, None, None, None][:4]
        if overlay is not None:  # recorded: a key without a row types nothing there
            levels[2:] = [*map(_level, overlay.get(code, ())), None, None][:2]
        for number, exception in exceptions.get(code, {}).items():
            levels[int(number)] = _level(exception)
        keys[code] = (levels[0], levels[1], levels[2], levels[3])
    return keys


def _level(raw: str | None) -> Level | None:
    if raw is None:
        return None
    return Level(raw[1:], _SOURCES[raw[0].lower()], raw[0].isupper())
