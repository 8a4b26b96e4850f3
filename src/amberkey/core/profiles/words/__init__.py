"""The commonest short words of some languages, for telling abbreviations that are words (see NOTICE.txt)."""

from functools import cache
from importlib.resources import files
from typing import Final

LANGUAGE_NAMES: Final = {"en": "English", "de": "German", "fr": "French", "sv": "Swedish"}


@cache
def words_of(language: str) -> frozenset[str]:
    """The commonest words of a language, in small letters; none of one that isn't known."""
    if language not in LANGUAGE_NAMES:
        return frozenset()
    return frozenset(files(__name__).joinpath(f"{language}.txt").read_text(encoding="utf-8").split())
