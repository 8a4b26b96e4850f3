"""Errors of layouts.

LookupError
├── UnknownLayout      the asked name and those that exist
├── LayoutNotThere     a layout that the platform doesn't have, and those that it has
└── UnknownBody        the asked name and those that exist
ValueError
└── RemapError         the key that a remap is wrong about
"""

from collections.abc import Sequence

from amberkey.core.keys.platform import PLATFORM_NAMES, Platform


class UnknownLayout(LookupError):
    def __init__(self, name: str, known: Sequence[str]) -> None:
        super().__init__(f"There is no keyboard layout {name[:40]!r} here. Known are {', '.join(known)}.")
        self.name = name
        self.known = known


class LayoutNotThere(LookupError):
    def __init__(self, name: str, platform: Platform, known: Sequence[str]) -> None:
        super().__init__(
            f"The keyboard layout {name} is not one of {PLATFORM_NAMES[platform]}. There are {', '.join(known)} for it."
        )
        self.name = name
        self.platform = platform
        self.known = known


class UnknownBody(LookupError):
    def __init__(self, name: str, known: Sequence[str]) -> None:
        super().__init__(f"There is no keyboard body {name[:40]!r} here. Known are {', '.join(known)}.")
        self.name = name
        self.known = known


class RemapError(ValueError):
    def __init__(self, code: str, says: str) -> None:
        super().__init__(says)
        self.code = code
