"""The three desktop platforms and the modifiers that differ between them."""

from typing import Literal, TypeAlias, get_args

Platform: TypeAlias = Literal["windows", "macos", "linux"]
PLATFORMS: tuple[Platform, ...] = get_args(Platform)
PLATFORM_NAMES: dict[Platform, str] = {"windows": "Windows", "macos": "macOS", "linux": "Linux"}

# In the order of WAI-ARIA `aria-keyshortcuts`; `Main` and `Side` stand for a platform's own modifier until resolved.
MODIFIERS = ("Control", "Alt", "Shift", "Meta", "AltGraph")
STAND_INS = ("Main", "Side")
ORDER = {name: n for n, name in enumerate((*STAND_INS, *MODIFIERS))}

MAIN: dict[Platform, str] = {"windows": "Control", "linux": "Control", "macos": "Meta"}
SIDE = "Alt"
