"""The three desktop platforms and the modifiers that differ between them."""

from typing import Literal, TypeAlias, get_args

Platform: TypeAlias = Literal["windows", "macos", "linux"]
PLATFORMS: tuple[Platform, ...] = get_args(Platform)
PLATFORM_NAMES: dict[Platform, str] = {"windows": "Windows", "macos": "macOS", "linux": "Linux"}

# In the order of WAI-ARIA `aria-keyshortcuts`; `Main` and `Side` stand for a platform's own modifier until resolved.
MODIFIERS = ("Control", "Alt", "Shift", "Meta", "AltGraph")
STAND_INS = ("Main", "Side")
# Left and right keys of a modifier are one unless a shortcut says which, by the key's W3C code.
SIDES: dict[str, str] = {f"{m}{side}": m for m in ("Control", "Alt", "Shift", "Meta") for side in ("Left", "Right")}
FN = "Fn"
"""A modifier of Mac and laptop bodies; only macOS hears it with other keys than those that it makes others of."""
ORDER = {
    name: n
    for n, name in enumerate((*STAND_INS, *(s for m in MODIFIERS for s in (m, *(k for k in SIDES if SIDES[k] == m))), FN))
}

MAIN: dict[Platform, str] = {"windows": "Control", "linux": "Control", "macos": "Meta"}
SIDE = "Alt"
