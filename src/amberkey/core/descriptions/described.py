"""A settings file by description: its container, where its records stand, how each says its command and its keys.

A record is one place in the file where a command has keys. A locator says where in a record something stands: `name` (what the
record is called), `value` (all of it), or the name of a member, of an attribute (`@key`), of one within another (`key/@name`).
"""

from collections.abc import Collection
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.descriptions.dialect import Dialect, ModifierName
from amberkey.core.documents.model import Flag, Value, Whole
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut

ContainerName = Literal["json", "yaml", "toml", "xml", "ini", "properties", "table", "lines", "store"]
Root = Literal["home", "machine"]
"""Below what a settings file lies: a person's home, or the folder in which the machine keeps what is everybody's."""
OF_THE_MACHINE = "machine:"
# Below its root, in one folder or several; no step upwards can be written.
RelativePath = Annotated[
    str, Field(max_length=300, pattern=r"^\.?[A-Za-z0-9][A-Za-z0-9 ._-]*(/\.?[A-Za-z0-9][A-Za-z0-9 ._-]*)*$")
]
Encoding = Literal[
    "utf-8", "utf-16-le", "utf-16-be", "cp1252", "cp1250", "cp1251", "iso-8859-1", "iso-8859-15", "mac-roman", "cp437"
]
Locator = Annotated[str, Field(min_length=1, max_length=120, pattern=r"^[^/\r\n]+(?:/[^/\r\n]+)*$")]
Step = Annotated[str, Field(min_length=1, max_length=120)]
"""A name; `*` for whatever is there; `{hole}` for whatever is there, kept under that name."""
Short = Annotated[str, Field(max_length=40)]
Several = Literal["text", "list", "in turn", "split", "numbered", "parts"]
Unbound = Literal["absent", "empty", "null"]


class Options(Value):
    """What a container is told of the file; each knows some of these (see the containers)."""

    comments: Flag | Annotated[str, Field(max_length=8)] | None = None
    separator: Annotated[str, Field(min_length=1, max_length=4)] | None = None
    separators: Annotated[str, Field(min_length=1, max_length=4)] | None = None
    quote: Annotated[str, Field(max_length=1)] | None = None
    header: Flag | None = None
    template: Annotated[str, Field(max_length=300)] | None = None
    ascii: Flag | None = None


class Parts(Value):
    """Modifiers that stand apart from the key.

    `form`: a list of their texts (`names`), one text that joins them, a true or false field for each (`fields`), or a number in
    which each has its bit (`bits`).
    """

    form: Literal["list", "joined", "flags", "mask"]
    at: Locator | None = None
    names: dict[ModifierName, Short] = Field(default_factory=dict)
    between: Short = " "
    fields: dict[ModifierName, Locator] = Field(default_factory=dict)
    bits: dict[ModifierName, Annotated[Whole, Field(ge=1, le=2**31)]] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _whole(self) -> Self:
        needs: dict[ModifierName, object] = dict(
            self.fields if self.form == "flags" else self.bits if self.form == "mask" else self.names
        )
        if not needs:
            raise ValueError(f"modifiers as {self.form} need what each of them is")
        if self.form != "flags" and self.at is None:
            raise ValueError(f"modifiers as {self.form} need where they stand")
        if len(set(needs.values())) != len(needs):
            raise ValueError("two modifiers are the same")
        return self


class KeysAs(Value):
    """How a record says its keys. `at`: where.

    `form`: one text, a list of texts, a list that is one shortcut pressed in turn, one text that `between` splits, several
    places (`at` and `further`), or a key apart from its `modifiers`.

    `unbound`: how no keys look, all of them read, the first one written; `words`: texts that mean none.

    Where the file is keyed by keys: `off`: the command of a record whose keys do nothing, none where no record can say so;
    `beside_defaults`: whether a command keeps its default keys beside those that the file gives it, until they are off or
    another command's.
    """

    at: Locator
    form: Several = "text"
    between: Annotated[str, Field(min_length=1, max_length=8)] = ";"
    further: tuple[Locator, ...] = ()
    modifiers: Parts | None = None
    unbound: tuple[Unbound, ...] = ("empty",)
    words: tuple[Short, ...] = ()
    off: Short | None = None
    beside_defaults: Flag = False

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if (self.form == "parts") != (self.modifiers is not None):
            raise ValueError("modifiers stand apart exactly where the keys are said in parts")
        if (self.form == "numbered") != bool(self.further):
            raise ValueError("further places are there exactly where keys are numbered")
        if self.at == "name" and self.form not in ("text",):
            raise ValueError("a file that is keyed by keys has one text of them as the name of each record")
        if not self.unbound and not self.words:
            raise ValueError("say how a command without keys looks")
        if self.at != "name" and (self.off is not None or self.beside_defaults):
            raise ValueError("keys are off, and stand beside defaults, only where the name of a record is its keys")
        return self


class Exported(Value):
    """Where settings are kept in a store and not in a file: what is described is its text export. `called`: the store;
    `get` and `put`: the command lines with which people take the export out and put one back."""

    called: Annotated[str, Field(min_length=1, max_length=80)]
    get: Annotated[str, Field(min_length=1, max_length=300)]
    put: Annotated[str, Field(min_length=1, max_length=300)]


class Described(Value):
    """`path`: where the file lies below its `root`. `at`: the steps from the top of it to where records stand; there they are
    the members, the items, or the members of one name (`record`). `context`: what says where a command is live, a locator or a
    hole of `at`, and which text each scope has. `only`: texts that must stand in a record for it to be one. `versions`: from
    which one and up to which one it is so. `shown_behind`: the sign before a line that only shows a default; empty where the
    file shows none. `holds`: of a program with several files, the scopes whose commands this one has; empty: those of all
    scopes that no other file holds. `rewrites_at_exit`: the program writes the whole file when it ends, so nothing is written
    while it runs; `runs_as`: what its processes are called then.
    """

    path: dict[Platform, RelativePath] = Field(default_factory=dict)
    root: Root = "home"
    versions: tuple[Short, Short] = ("", "")
    container: ContainerName
    options: Options = Options()
    encoding: Encoding = "utf-8"
    at: Annotated[tuple[Step, ...], Field(max_length=12)] = ()
    record: Annotated[str, Field(min_length=1, max_length=80)] | None = None
    command: Locator
    keys: KeysAs
    context: Locator | None = None
    scopes: dict[Annotated[str, Field(max_length=80)], Short] = Field(default_factory=dict)
    only: dict[Locator, Short] = Field(default_factory=dict)
    holds: Annotated[tuple[Annotated[str, Field(max_length=80)], ...], Field(max_length=200)] = ()
    shown_behind: Annotated[str, Field(max_length=8, pattern=r"^(\S[^\r\n]*)?$")] = ""
    dialect: Dialect
    rewrites_at_exit: Flag = False
    runs_as: Annotated[tuple[Annotated[str, Field(min_length=1, max_length=80)], ...], Field(max_length=8)] = ()
    export: Exported | None = None

    @model_validator(mode="after")
    def _apart(self) -> Self:
        if self.command == self.keys.at:
            raise ValueError(f"command and keys both stand at {self.command}; a record needs two places")
        if self.context is not None and self.context.startswith("{") and not any(self.context in s for s in self.at):
            raise ValueError(f"context: there is no step {self.context} on the way to the records")
        if self.container == "lines" and not self.options.template:
            raise ValueError("lines need a template")
        if self.export is not None and self.path:
            raise ValueError("what is exported from a store is no file, so it has no path")
        return self

    def place(self, platform: Platform) -> str:
        """Where the file lies on a platform, as one text; empty where it is no file there."""
        path = self.path.get(platform, "")
        return place_of(self.root, path) if path else ""

    def same(self, one: Collection[Shortcut] | None, other: Collection[Shortcut] | None) -> bool:
        """Whether a command has the same shortcuts in two states of the file; None: it isn't named there. Where records are
        called by their keys their order says nothing."""
        if one is None or other is None or not self.keyed_by_keys:
            return one == other
        return frozenset(one) == frozenset(other)

    @property
    def keyed_by_keys(self) -> bool:
        """Whether a record's name is its keys, so that each can stand there once."""
        return self.keys.at == "name"


def place_of(root: str, path: str) -> str:
    """A root and a path below it as one text: the path alone for a home. No path has a colon."""
    return f"{OF_THE_MACHINE}{path}" if root == "machine" else path
