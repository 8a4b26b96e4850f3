"""How a program keeps its shortcuts in a settings file, said by description instead of code."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.descriptions.dialect import Dialect, Word
from amberkey.core.documents.model import Value
from amberkey.core.keys.platform import Platform

# Below the home, in one folder or several; no step upwards can be written.
RelativePath = Annotated[
    str, Field(max_length=300, pattern=r"^\.?[A-Za-z0-9][A-Za-z0-9 ._-]*(/\.?[A-Za-z0-9][A-Za-z0-9 ._-]*)*$")
]


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

    @model_validator(mode="after")
    def _fields_apart(self) -> Self:
        if self.command_field == self.keys_field:
            raise ValueError(f"keys_field: {self.keys_field} is the command's field already; an entry needs two")
        return self
