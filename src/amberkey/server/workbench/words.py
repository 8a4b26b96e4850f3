"""Shortcuts as the screens show them: caps in the language of the lens's keyboard, and the strokes behind them."""

from functools import lru_cache

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.keys.platform import ORDER, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import caps_of_press, words_of
from amberkey.core.layouts.caps import printed_on
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.stroke import Stroke
from amberkey.server.schema import Schema


class StrokeOut(Schema):
    code: str | None
    modifiers: list[str]


class ShortcutOut(Schema):
    """`text` is canonical, `words` for people, `caps` one list of key caps a press."""

    text: str
    words: str
    caps: list[list[str]]


class BoundOut(ShortcutOut):
    """A shortcut in effect: the strokes of its first way, or why no stroke makes it."""

    strokes: list[StrokeOut]
    unreachable: str


def shortcut_out(shortcut: Shortcut, board: Board) -> ShortcutOut:
    return _shortcut_out(shortcut, board.ground.platform, board.ground.layout)


def shortcut_on(shortcut: Shortcut, platform: Platform) -> ShortcutOut:
    """A shortcut on a platform, whatever keyboard it has: in English."""
    return ShortcutOut(
        text=str(shortcut),
        words=words_of(shortcut, platform),
        caps=[caps_of_press(p, platform) for p in shortcut.presses],
    )


@lru_cache(maxsize=20_000)
def _shortcut_out(shortcut: Shortcut, platform: Platform, layout: Layout) -> ShortcutOut:
    """Nobody changes one: it serves every answer."""
    printed = printed_on(layout)
    return ShortcutOut(
        text=str(shortcut),
        words=words_of(shortcut, platform, layout.language, printed=printed),
        caps=[caps_of_press(p, platform, layout.language, printed=printed) for p in shortcut.presses],
    )


def bound_out(binding: Binding, board: Board) -> BoundOut:
    way = binding.ways[0] if binding.ways else ()
    return BoundOut(
        **shortcut_out(binding.shortcut, board).model_dump(),
        strokes=[stroke_out(s) for s in way],
        unreachable=binding.unreachable or binding.refused or binding.asleep,
    )


def stroke_out(stroke: Stroke) -> StrokeOut:
    return StrokeOut(code=stroke.code, modifiers=sorted(stroke.modifiers, key=ORDER.__getitem__))
