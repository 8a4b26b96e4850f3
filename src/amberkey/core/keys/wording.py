"""Shortcuts in words for people: per platform, per language of the key caps, as words or as symbols."""

from collections.abc import Mapping
from typing import Literal, TypeAlias

from amberkey.core.keys.names import LANGUAGES, MODIFIER_CAPS, NAMED_KEYS, OTHER_CAPS, PAD_CAPS, PAD_WORDS
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut

Style = Literal["words", "symbols"]
Printed: TypeAlias = Mapping[str, str]
_SYMBOL = 4


def cap_of_modifier(name: str, platform: Platform, language: str = "en", style: Style = "words") -> str:
    """What is printed on a modifier's key on a platform, in a language."""
    caps = MODIFIER_CAPS[platform].get(name)
    if caps is None:
        return name
    return (caps[_SYMBOL] if style == "symbols" else "") or OTHER_CAPS.get(language, {}).get(name) or caps[_column(language)]


def cap_of_key(key: str, language: str = "en", style: Style = "words") -> str:
    """What is printed on a key in a language, as words or symbols."""
    caps = NAMED_KEYS.get(key)
    if caps is None:
        return key
    return (caps[_SYMBOL] if style == "symbols" else "") or OTHER_CAPS.get(language, {}).get(key) or caps[_column(language)]


def caps_of_press(
    press: Press, platform: Platform, language: str = "en", style: Style = "words", printed: Printed | None = None
) -> list[str]:
    """The caps of one press in the order in which people name them.

    A key by position is named in brackets, by what is `printed` on it (code to cap) where that is known.
    """
    caps = [cap_of_modifier(m, platform, language, style) for m in press.modifiers]
    if press.key is not None:
        caps.append(cap_of_key(press.key, language, style))
    elif press.code is not None:
        caps.append(cap_of_position(press.code, language, printed))
    return caps


def cap_of_position(code: str, language: str = "en", printed: Printed | None = None) -> str:
    """A key named by where it is: `Num 7` on the pad, `[Z]` elsewhere."""
    if code in PAD_CAPS:
        return f"{PAD_WORDS[_column(language)]} {(printed or {}).get(code, PAD_CAPS[code])}"
    if code in NAMED_KEYS:
        return cap_of_key(code, language)
    return f"[{(printed or {}).get(code, code)}]"


def words_of(
    shortcut: Shortcut, platform: Platform, language: str = "en", style: Style = "words", printed: Printed | None = None
) -> str:
    """`Strg Umschalt U`; the presses of a sequence are parted by the word that the language has for it."""
    then = ("then", "dann", "puis", "sedan")[_column(language)]
    return f" {then} ".join(" ".join(caps_of_press(p, platform, language, style, printed)) for p in shortcut.presses)


def _column(language: str) -> int:
    return LANGUAGES.index(language) if language in LANGUAGES else 0
