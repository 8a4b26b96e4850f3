"""An accent and the letter after it, as text entry puts them together."""

import unicodedata

# Spacing accents whose combining form no decomposition names.
_COMBINING = {
    "^": "\u0302",
    "`": "\u0300",
    "~": "\u0303",
    "'": "\u0301",
    '"': "\u0308",
    "°": "\u030a",
    "ˇ": "\u030c",
    "ˆ": "\u0302",
}
_COMBINING |= {"˜": "\u0303", "˘": "\u0306"}


def compose(accent: str, text: str) -> str:
    """What an accent that was begun makes of the text after it: one letter where Unicode has it, the accent itself before a
    space, else both one after the other."""
    if text == " ":
        return accent
    mark = _combining(accent)
    made = unicodedata.normalize("NFC", text + mark) if mark else ""
    return made if len(made) == 1 else accent + text


def _combining(accent: str) -> str:
    if accent in _COMBINING:
        return _COMBINING[accent]
    if unicodedata.combining(accent):
        return accent
    parts = unicodedata.decomposition(accent).split()  # such as <compat> 0020 0301
    return chr(int(parts[-1], 16)) if len(parts) == 3 and parts[1] == "0020" else ""
