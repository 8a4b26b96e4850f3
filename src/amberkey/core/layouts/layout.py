"""Layouts: what every writing key types on its four levels, and how sure that is.

Facts: Debian's xkb-data for the first two levels and for Linux; recorded third and fourth levels for Windows and macOS
(`tools/derive_layouts.py` lays one over the other and writes `data/layouts.json`).
"""

import json
from dataclasses import dataclass, field
from functools import cache
from importlib import resources
from typing import Any, Literal

from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.errors import UnknownLayout

Source = Literal["recorded", "derived", "likely"]
LEVELS = ("plain", "shift", "altgr", "shift_altgr")


@dataclass(frozen=True, slots=True)
class Level:
    """What one key types on one level: `text`, or the start of an accent where `dead`."""

    text: str
    source: Source
    dead: bool = False


@dataclass(frozen=True)
class Layout:
    """One layout as one platform reads it. `keys` maps a W3C code to its four levels (plain, shift, AltGr, both)."""

    id: str
    name: str
    language: str
    platform: Platform
    currency: str
    letters: frozenset[str]
    keys: dict[str, tuple[Level | None, Level | None, Level | None, Level | None]]
    has_altgr: bool
    places: dict[str, tuple[tuple[str, int], ...]] = field(repr=False)

    def places_of(self, text: str) -> tuple[tuple[str, int], ...]:
        """(code, level number) of every key that types a text at once, the lowest level first."""
        return self.places.get(text, ())

    def dead_places_of(self, text: str) -> list[tuple[str, int]]:
        return [
            (code, n)
            for code, levels in self.keys.items()
            for n, level in enumerate(levels)
            if level is not None and level.dead and level.text == text
        ]


@cache
def _data() -> dict[str, dict[str, Any]]:
    text = resources.files("amberkey.core.layouts.data").joinpath("layouts.json").read_text(encoding="utf-8")
    layouts: dict[str, dict[str, Any]] = json.loads(text)["layouts"]
    return layouts


def layout_ids() -> tuple[str, ...]:
    return tuple(_data())


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
    """The layout as the platform reads it. Raises UnknownLayout."""
    entry = _entry(layout_id)
    overlay = entry["third_and_fourth"].get(platform)
    keys: dict[str, tuple[Level | None, Level | None, Level | None, Level | None]] = {}
    places: dict[str, list[tuple[int, str]]] = {}
    for code, raw in entry["keys"].items():
        levels = [_level(v) for v in raw] + [None] * (4 - len(raw))
        if overlay is not None:  # recorded: a key without a row types nothing there
            rows = overlay.get(code, [])
            levels[2:] = [_level(v) for v in rows] + [None] * (2 - len(rows))
        keys[code] = (levels[0], levels[1], levels[2], levels[3])
        for n, level in enumerate(levels):
            if level is not None and not level.dead:
                places.setdefault(level.text, []).append((n, code))
    has_altgr = any(levels[2] or levels[3] for levels in keys.values())
    return Layout(
        id=layout_id,
        name=entry["name"],
        language=entry["language"],
        platform=platform,
        currency=entry["currency"],
        letters=frozenset(entry["letters"]),
        keys=keys,
        has_altgr=has_altgr,
        places={text: tuple((code, n) for n, code in sorted(found)) for text, found in places.items()},
    )


def _level(raw: list[Any] | None) -> Level | None:
    if raw is None:
        return None
    return Level(raw[0], "recorded" if raw[1] == "r" else "derived", len(raw) > 2)
