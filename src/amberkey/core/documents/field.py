"""Ids and short texts as fields of documents."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from amberkey.core.documents.model import as_set
from amberkey.core.documents.texts import unfit_for_a_name

Id = Annotated[str, Field(pattern=r"^[a-z0-9]+(?:[-.][a-z0-9]+)*$", max_length=80)]
Ids = Annotated[tuple[Id, ...], AfterValidator(as_set)]
"""Ids whose order means nothing."""


def _readable(text: str) -> str:
    why = unfit_for_a_name(text)
    if why:
        raise ValueError(f"{why}; take it out")
    return text


Text = Annotated[str, Field(min_length=1, max_length=200), AfterValidator(_readable)]
MaybeText = Annotated[str, Field(max_length=200), AfterValidator(_readable)]
"""A text that may be empty."""
Language = Literal["en", "de", "fr", "sv"]
"""In which tasks and commands have names, and cards are made."""
LANGUAGES: dict[Language, str] = {"en": "English", "de": "German", "fr": "French", "sv": "Swedish"}
