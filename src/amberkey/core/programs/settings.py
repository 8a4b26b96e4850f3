"""How a program keeps its shortcuts in a settings file, said by description instead of code."""

from typing import Annotated, Literal, get_args

from pydantic import Field

from amberkey.core.documents.model import Value
from amberkey.core.keys.platform import Platform

ModifierName = Literal["Control", "Alt", "Shift", "Meta", "AltGraph"]
_ALL: tuple[ModifierName, ...] = get_args(ModifierName)
# Below the home, in one folder or several; no step upwards can be written.
RelativePath = Annotated[
    str, Field(max_length=300, pattern=r"^\.?[A-Za-z0-9][A-Za-z0-9 ._-]*(/\.?[A-Za-z0-9][A-Za-z0-9 ._-]*)*$")
]
Word = Annotated[str, Field(min_length=1, max_length=40)]


class Dialect(Value):
    """How the file's text writes a shortcut. `keys` maps our key values to the file's own names where they differ."""

    separator: Annotated[str, Field(min_length=1, max_length=3)] = "+"
    then: Annotated[str, Field(min_length=1, max_length=6)] = " "
    modifiers: dict[ModifierName, Word] = Field(default_factory=lambda: dict[ModifierName, str]((m, m) for m in _ALL))
    order: tuple[ModifierName, ...] = _ALL
    keys: dict[str, Word] = Field(default_factory=dict)
    lower_case: bool = False


class SettingsFile(Value):
    """Where the file lies below a person's home and how its entries look.

    `entries_at` is the path of the list of entries; each is an object with the command, and one shortcut text or a list of
    them. An empty list (or an empty text) is a command without a shortcut; a command that isn't listed has its default.
    """

    path: dict[Platform, RelativePath]
    container: Literal["json"] = "json"
    entries_at: tuple[Word, ...]
    command_field: Word
    keys_field: Word
    keys_as: Literal["text", "list"] = "list"
    dialect: Dialect = Field(default_factory=Dialect)
