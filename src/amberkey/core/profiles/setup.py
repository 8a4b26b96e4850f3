"""`amberkey/setup@1`: what the keyboard meets on a machine, for some people."""

from collections.abc import Iterator
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from amberkey.core.documents.errors import Fault
from amberkey.core.documents.field import Id, Ids, Text
from amberkey.core.documents.model import Document, Flag, Value, Whole, as_set, no_doubles
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.errors import LayoutNotThere
from amberkey.core.layouts.field import BodyId, LayoutId
from amberkey.core.layouts.layout import layout_names, platforms_of


class ProgramUsed(Value):
    """`runs`: where a web program runs, and whether in full screen. `goes_first`: its page is asked before the browser, where
    that lets pages. `add_ons`: those that are installed in it. `on`, `off`: commands of a system table, and switches of a
    program, that are switched on or off here.
    """

    id: Id
    version: Text
    runs: Literal["in a tab", "in a window of its own"] = "in a tab"
    full_screen: Flag = False
    goes_first: Flag = True
    add_ons: Ids = ()
    on: Ids = ()
    off: Ids = ()

    @property
    def told(self) -> str:
        """The same text for the same use, whatever fields were added to documents since: ids of setups are made of it."""
        return self.model_dump_json(exclude=_as_ever(self, "full_screen", "goes_first", "on", "off"))


def _as_ever(value: Value, *later: str) -> set[str]:
    """Those of the fields that were added later which say nothing."""
    return {name for name in later if getattr(value, name) == type(value).model_fields[name].default}


TopRow = Literal["function keys", "special keys"]


class InputMethod(Value):
    """A method by which people write with several presses. It `takes` some presses whenever it is on (its conversion keys, its
    switch), and further ones while a text is being composed. Where neither is said, what is known of a method of that name
    counts."""

    name: Text
    takes: tuple[ShortcutField, ...] = ()
    composing: tuple[ShortcutField, ...] = ()

    @model_validator(mode="after")
    def _single(self) -> Self:
        for shortcut in (*self.takes, *self.composing):
            if len(shortcut.presses) != 1:
                raise ValueError(f"takes: {shortcut} is a sequence; an input method takes single presses")
        return self


class Assistive(Value):
    """A program for people who don't see or move well, which holds a key as a modifier of its own."""

    name: Text
    modifier: Literal["Insert", "CapsLock"]


class Remote(Value):
    """A session on a far machine, in which the setup's programs run. `system` is the far machine's own table; `platform`,
    `edition` and `layout` are those of the far machine, which reads the keys by its own layout (none: the same as here).

    `presses`: whether this machine passes its own hotkeys on to the far one, or keeps them.
    """

    name: Text
    presses: Literal["passed on", "kept"]
    system: ProgramUsed
    platform: Platform | None = None
    edition: Annotated[str, Field(max_length=200)] = ""
    layout: LayoutId | None = None

    @property
    def told(self) -> str:
        """The same text for the same session, as `ProgramUsed.told`."""
        used = self.system
        system = f"id={used.id!r}, version={used.version!r}, runs={used.runs!r}, add_ons={used.add_ons!r}"
        said = {name: getattr(self, name) for name in ("platform", "edition", "layout")}
        far = "".join(f" {name}={value!r}" for name, value in said.items() if value)
        return f"name={self.name!r} presses={self.presses!r} system=ProgramUsed({system}){far}"


class Setup(Document):
    """What the keyboard meets on a machine, and how many people and machines have exactly that.

    `programs` stand in the order in which they start. `open_documents`: those that people have open here, for macros kept in
    them. `mouse_hand`: the hand that stays on the mouse. `edition_version`: that of its edition, where entries differ by it
    (none: the newest). `top_row`: what its keys are without Fn, on bodies that have Fn. `has`: what else is so here,
    on which some of the system's presses depend.
    """

    format: Literal["amberkey/setup@1"] = "amberkey/setup@1"
    id: Id
    name: Text
    place: Text
    platform: Platform
    edition: Text
    edition_version: Annotated[str, Field(max_length=40)] = ""
    has: Annotated[tuple[Literal["several layouts", "several displays"], ...], AfterValidator(as_set)] = ()
    layout: LayoutId
    body: BodyId
    programs: tuple[ProgramUsed, ...]
    layers: tuple[Id, ...] = ()
    people: Annotated[Whole, Field(ge=0, le=10_000_000)]
    machines: Annotated[Whole, Field(ge=0, le=10_000_000)]
    numlock: Flag = True
    top_row: TopRow = "function keys"
    mouse_hand: Literal["left", "right"] | None = None
    open_documents: Annotated[tuple[Text, ...], AfterValidator(as_set)] = ()
    assistive: Assistive | None = None
    remote: Remote | None = None
    input_method: InputMethod | None = None

    @model_validator(mode="after")
    def _once_each(self) -> Self:
        no_doubles("programs", (p.id for p in self.programs))
        no_doubles("layers", self.layers)
        return self

    def unsound(self) -> Iterator[Fault]:
        """A layout that its platform doesn't have, here or on the far machine, or special keys on a keyboard without any."""
        if self.top_row == "special keys" and not load_body(self.body).has_special_row:
            says = f"The top row of the {self.body} body is function keys only."
            yield Fault("top_row", says, "Choose function keys, or a laptop's or Mac's body.")
        if self.platform not in platforms_of(self.layout):
            yield Fault("layout", str(LayoutNotThere(self.layout, self.platform, tuple(layout_names(self.platform)))))
        if self.remote is not None and self.works_on not in platforms_of(self.reads_by):
            says = str(LayoutNotThere(self.reads_by, self.works_on, tuple(layout_names(self.works_on))))
            yield Fault("remote.layout", says, "Say which layout the far machine reads the keys by.")

    @property
    def works_on(self) -> Platform:
        """The platform on which its programs run: the far machine's in a remote session."""
        return (self.remote.platform if self.remote else None) or self.platform

    @property
    def reads_by(self) -> str:
        """The layout by which its programs read the keys: the far machine's in a remote session."""
        return (self.remote.layout if self.remote else None) or self.layout


def grain_of(setup_id: str) -> str:
    """What stays of a setup's id when its programs are updated: all before the point."""
    return setup_id.partition(".")[0]
