"""Input methods that are known by name: which presses they take whenever they are on, and which while a text is being composed.

Chinese and Korean methods aren't known yet; theirs have to be said in the setup.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.setup import InputMethod


@dataclass(frozen=True, slots=True)
class KnownMethod:
    """`source`: title and version of what says so; empty where it is only likely."""

    name: str
    source: str
    takes: tuple[Shortcut, ...]
    composing: tuple[Shortcut, ...]


# Name, source, what is taken always, and what while composing; each as presses with a space between.
_Written = tuple[str, str, str, str]

# What every Japanese method does while a text is composed: convert, choose, go along, take back, end.
_COMPOSING = (
    "Enter Space Shift+Space Escape Backspace Delete Tab ArrowLeft ArrowRight ArrowUp ArrowDown "
    "Shift+ArrowLeft Shift+ArrowRight Home End PageUp PageDown F6 F7 F8 F9 F10 "
)
JAPANESE = "Japanese"
_KNOWN: Mapping[Platform, tuple[_Written, ...]] = {
    "windows": (
        (
            JAPANESE,
            "Microsoft Support, Japanese IME, key assignments (Windows 11)",
            # The key above Tab of a Japanese board switches the method; with Alt on any board.
            (
                "code:Backquote Alt+code:Backquote Convert Shift+Convert NonConvert Shift+NonConvert Control+NonConvert "
                "KanaMode Shift+KanaMode Control+KanaMode Alt+KanaMode CapsLock Shift+CapsLock Alt+CapsLock Control+CapsLock "
                "Control+F10 Control+F7"
            ),
            (
                _COMPOSING + "F2 F3 F5 Shift+ArrowUp Shift+ArrowDown Control+Enter Control+ArrowUp Control+ArrowDown "
                "Control+ArrowLeft Control+ArrowRight Control+Backspace Control+Delete Control+Space "
                "Control+U Control+I Control+O Control+P Control+T Control+M Control+H Control+G Control+S Control+D "
                "Control+E Control+X Control+K Control+L Control+A Control+F Control+N Control+J Control+Z"
            ),
        ),
    ),
    "macos": (
        (
            JAPANESE,
            "Japanese Input Method User Guide, keyboard shortcuts (macOS 15)",
            (
                "Lang1 Lang2 Shift+Lang1 Control+Lang1 Control+Shift+J Control+Shift+K Control+Shift+; Control+Shift+R "
                "Control+Shift+Space"
            ),
            (
                _COMPOSING + "Control+J Control+K Control+L Control+; Control+: Control+N Control+P Control+M Control+H "
                "Control+I Control+O Control+B Control+F Control+A Control+E Control+D Control+ArrowDown Control+G Alt+Enter"
            ),
        ),
    ),
    "linux": (
        (
            JAPANESE,
            "",
            "code:Backquote Convert Shift+Convert NonConvert KanaMode Shift+KanaMode Control+KanaMode CapsLock",
            (
                _COMPOSING
                + "Control+U Control+I Control+O Control+P Control+T Control+M Control+H Control+G Control+S Control+D "
                "Control+E Control+X Control+K Control+L Control+A Control+F Control+N Control+Enter Control+Space"
            ),
        ),
    ),
}


@cache
def known_methods(platform: Platform) -> tuple[KnownMethod, ...]:
    """The input methods of a platform that are known by name."""

    def presses(text: str) -> tuple[Shortcut, ...]:
        return tuple(map(read_shortcut, text.split()))

    return tuple(KnownMethod(name, source, presses(takes), presses(more)) for name, source, takes, more in _KNOWN[platform])


def presses_of(method: InputMethod, platform: Platform) -> tuple[tuple[Shortcut, ...], tuple[Shortcut, ...]]:
    """What an input method takes, always and while composing: what its setup says, or if that says nothing what is known of a
    method of its name."""
    if method.takes or method.composing:
        return method.takes, method.composing
    named = method.name.casefold().split()
    known = next((k for k in known_methods(platform) if k.name.casefold() in named), None)
    return (known.takes, known.composing) if known else ((), ())
