"""Which characters a text may not hold, wherever it comes from."""

import unicodedata

# Characters that only turn the reading direction of what follows. In a name they make one thing look like another.
_TURNING = frozenset("\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069")


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
