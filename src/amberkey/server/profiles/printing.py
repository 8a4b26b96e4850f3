"""Shortcuts of a profile as caps: in the language of the lens's keyboard where they are of its platform, else in English."""

from collections.abc import Callable

from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.server.estate import current_estate, in_sight
from amberkey.server.workbench.words import ShortcutOut, shortcut_on, shortcut_out

Print = Callable[[Shortcut, Platform], ShortcutOut]


def print_for(setup_id: str) -> Print:
    """What prints shortcuts for people who look through a setup; through none where it isn't in use."""
    estate = current_estate()
    board = estate.board(setup_id) if setup_id in estate.setups and in_sight(setup_id) else None

    def print_one(shortcut: Shortcut, platform: Platform) -> ShortcutOut:
        real = shortcut.resolve(platform)
        if board is not None and board.ground.platform == platform:
            return shortcut_out(real, board)
        return shortcut_on(real, platform)

    return print_one
