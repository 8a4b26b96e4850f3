"""Which characters a text may not hold, wherever it comes from."""

import unicodedata

# Characters that only turn the reading direction of what follows. In a name they make one thing look like another.
_TURNING = frozenset("\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069")

# Characters that nobody sees: marks of reading direction, blanks of no width, soft hyphens. Those that join letters stay.
_HIDDEN = {ord(c): None for c in (*_TURNING, *"\u200b\u200e\u200f\u061c\u2060\ufeff\u00ad")}
_HIDDEN |= dict.fromkeys((*range(9), 11, 12, *range(14, 32), *range(127, 160)))


def without_hidden(text: str) -> str:
    """A text without characters that nobody sees; blanks, tabs and line ends stay, half characters become question marks."""
    return text.translate(_HIDDEN).encode("utf-8", "replace").decode()


def unfit_for_keeping(text: str) -> str:
    """Why a text can't be kept in the database or written as UTF-8, in a few words; empty where it can."""
    if "\0" in text:
        return "there is a character with the number 0 in it"
    if any("\ud800" <= c <= "\udfff" for c in text):
        return "there is half of a character (a lone surrogate) in it"
    return ""


def unfit_for_a_name(text: str) -> str:
    """Why a text can't name anything that people read in a row of others, in a few words; empty where it can."""
    if text.isprintable():
        return ""
    if any(unicodedata.category(c) == "Cc" for c in text):
        return "there is a control character in it"
    if not _TURNING.isdisjoint(text):
        return "there is a character in it that turns the reading direction"
    return unfit_for_keeping(text)
