"""`amberkey/program@1`: a program, its scopes and commands. The platforms themselves are programs of kind `system`."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.older import upgraded
from amberkey.core.documents.field import Id, Ids, Language, Text
from amberkey.core.documents.model import Document, Flag, Value, Whole, as_set
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut, sided_in
from amberkey.core.layouts.strokes import Reading
from amberkey.core.programs.editions import Edition, ReadEdition, Release, figures_of, read_edition
from amberkey.core.programs.offers import NO_OFFERS, Offers

Kind = Literal["system", "utility", "browser", "office", "developer", "web", "business"]
CommandKind = Literal["built-in", "add-on", "style", "symbol", "font", "text block", "macro", "launcher"]
Grip = Literal["fixed", "can be switched off", "can be reassigned", "programs go first"]
Condition = Literal["several layouts", "input method", "several displays"]
TakesBy = Literal["intercept", "register"]
TakesEffect = Literal["at once", "on reload", "on restart"]
CaretDoes = Literal["moves", "selects", "erases", "copies", "undoes", "enters"]
CaretUnit = Literal["character", "word", "line", "paragraph", "page", "text"]


class Source(Value):
    """Where facts of a system table were read: `title` in short ("GNOME 48, gsettings schema"), `version` of what was read, and
    for what came from a package its `package` and `file`."""

    id: Id
    title: Text
    version: Text
    package: Annotated[str, Field(max_length=200)] = ""
    file: Annotated[str, Field(max_length=400)] = ""


class Cited(Value):
    """One place of a source: `at` is the section, the key of a schema, or what else finds it there."""

    source: Id
    at: Text


class Scope(Value):
    """A part of the program in which shortcuts are live. The one without a parent is the whole window."""

    id: Id
    name: Text
    parent: Id | None = None
    takes_text: Flag = False


class Argument(Value):
    """Something that a shortcut gives to a command along with the press. `values`: those allowed; with `least` and `most` (both
    or none) the whole numbers between them, these included; with neither, any."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    values: tuple[Text, ...] = ()
    least: Whole | None = None
    most: Whole | None = None

    @property
    def told(self) -> str:
        """Which values it may have, in words; empty where it may have any."""
        if self.least is not None:
            return f"whole numbers from {self.least} to {self.most}"
        return ", ".join(self.values)

    def allows(self, value: str | int) -> bool:
        """Whether it may have a value."""
        if self.least is None or self.most is None:
            return not self.values or str(value) in self.values
        return isinstance(value, int) and self.least <= value <= self.most

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if (self.least is None) != (self.most is None):
            raise ValueError("most: a range has a least and a most number; give both, or neither")
        if self.least is not None and self.values:
            raise ValueError("values: either the values are named, or the numbers go from a least to a most")
        if self.least is not None and self.most is not None and self.least > self.most:
            raise ValueError(f"most: {self.most} is less than {self.least}, with which the range begins")
        return self


class ReachedBy(Value):
    """How people come to a command without a key: through a menu or a dialog of some depth (1: in the menu itself, 2: in one
    that opens from it), or by a button that is always there."""

    by: Literal["menu", "button", "dialog"]
    depth: Annotated[Whole, Field(ge=1, le=9)] = 1

    @model_validator(mode="after")
    def _button_is_there(self) -> Self:
        if self.by == "button" and self.depth != 1:
            raise ValueError("depth: a button is there at once, so its depth is 1; behind a menu it is reached by that")
        return self


class Command(Value):
    """Something the program can do.

    `opens`: what it opens and leaves open; `closes`: the command that closes that again, itself where it is a toggle.
    `grip` says, for system entries, whether the system lets go of its shortcut; `editions` where it holds (empty: in all),
    `from_version` from which version of these, and `gone_from` from which no more; `only_if` what must be so; `off` that it
    must be switched on first; `secure` that nobody gets in before it; `cited` where that was read.
    `arguments`: what a shortcut can give it along; where any are named, an entry gives each of them, or none at all. The name
    may hold them in brackets: `Set the quantity to [quantity]`. `reached_by`: how people come to it without a key. `names`:
    what it is called in other languages of the organisation's people.
    `retired`: it isn't there any more, and what is set for it is told; it can be brought back.
    `keeps` says, for a browser, that no page in a tab gets the press; `in_own_window` and `in_full_screen` whether it is there
    in such a window. `document`: a macro kept in that document, live only while it is open. `caret`: it does what the caret
    does at this press anyway, so nothing is taken from people. `add_on`: the add-on that brings it, without which it isn't
    there. `in_file`: what settings files call it, if not by its id.
    """

    id: Id
    name: Text
    names: dict[Language, Text] = Field(default_factory=dict)
    was: Ids = ()
    other_words: tuple[Text, ...] = ()
    description: str = ""
    group: str = ""
    kind: CommandKind = "built-in"
    scope: Id
    task: Id | None = None
    risky: Flag = False
    opens: Annotated[str, Field(max_length=200)] = ""
    closes: Id | None = None
    defaults: dict[Platform, tuple[ShortcutField, ...]] = Field(default_factory=dict)
    grip: Grip = "fixed"
    editions: Annotated[tuple[Text, ...], AfterValidator(as_set)] = ()
    note: str = ""
    from_version: Annotated[str, Field(max_length=40)] = ""
    gone_from: Annotated[str, Field(max_length=40)] = ""
    only_if: Annotated[tuple[Condition, ...], AfterValidator(as_set)] = ()
    off: Flag = False
    secure: Flag = False
    keeps: Flag = False
    in_own_window: Flag = False
    in_full_screen: Flag = True
    document: Text | None = None
    caret: Flag = False
    add_on: Id | None = None
    cited: Cited | None = None
    arguments: tuple[Argument, ...] = ()
    reached_by: ReachedBy | None = None
    retired: Flag = False
    in_file: Annotated[str, Field(max_length=120)] = ""

    def why_not_with(self, given: Mapping[str, str | int]) -> str:
        """Why the command can't be given some arguments, in words; empty where it can. One that names none takes any."""
        if not self.arguments or not given:
            return ""
        named = {a.name: a for a in self.arguments}
        for name, value in given.items():
            if name not in named:
                return f"{self.name} takes no argument {name}"
            if not named[name].allows(value):
                return f"{self.name} takes no {name} {value}; it takes {named[name].told}"
        missing = next((name for name in named if name not in given), None)
        return f"{self.name} needs the argument {missing}" if missing else ""

    def told_with(self, given: Iterable[tuple[str, str | int]], language: Language | None = None) -> str:
        """Its name with some arguments: `Set the quantity to [10]`; those that the name has no place for stand behind it.
        In a language where it has a name in that."""
        text, rest = self.names.get(language, self.name) if language is not None else self.name, []
        for name, value in given:
            if f"[{name}]" in text:
                text = text.replace(f"[{name}]", f"[{value}]")
            else:
                rest.append(f"{name} {value}")
        return f"{text} [{', '.join(rest)}]" if rest else text

    def defaults_on(self, platform: Platform) -> tuple[Shortcut, ...]:
        """The shortcuts with which the program's maker ships the command on a platform; none where it is unbound there."""
        found = self.defaults.get(platform)
        return tuple([s.resolve(platform) for s in found]) if found else ()


class CaretPress(Value):
    """A press that every text field answers to on the platform of this system table: it moves the caret, erases, copies ...

    `basic`: people can't do without it. `task`: a command that does this task takes nothing from people.
    """

    id: Id
    name: Text
    does: CaretDoes
    unit: CaretUnit
    keys: ShortcutField
    basic: Flag = False
    task: Id | None = None
    cited: Cited | None = None

    @model_validator(mode="after")
    def _one_press(self) -> Self:
        if len(self.keys.presses) != 1:
            raise ValueError(f"keys: {self.keys} is a sequence; the caret answers to single presses")
        return self


class Switch(Value):
    """Something that must be switched on in the program before people's own shortcuts count; `where` says where."""

    id: Id
    name: Text
    where: Text


class AddOn(Value):
    """Something that can be installed in the program and brings commands with it."""

    id: Id
    name: Text


class OnPrefix(Value):
    """What the program does where a shortcut begins a longer one.

    `wins` long: it waits for the rest; after `waits_ms` without it, the short one runs (None: it waits as long as it
    takes). `wins` short: the short one runs at once, and the longer one never does. `across_scopes`: it waits too where the
    longer one is live in a scope that is asked later; else the shorter one of the earlier scope runs at once.
    """

    wins: Literal["long", "short"] = "long"
    across_scopes: Flag = False
    waits_ms: Annotated[Whole, Field(ge=1, le=60_000)] | None = None


class MenuLetter(Value):
    """A menu that Alt and its letter open, on platforms that have such letters."""

    letter: Annotated[str, Field(min_length=1, max_length=1)]
    name: Text


class ProgramLimits(Value):
    """What the program can't take."""

    sequence_length: Annotated[Whole, Field(ge=1, le=12)] = 1
    shortcuts_per_command: Annotated[Whole, Field(ge=1, le=99)] = 9
    bare_keys: Flag = False
    refuses: tuple[ShortcutField, ...] = ()

    def too_long(self, shortcut: Shortcut) -> str:
        """Why a sequence has too many presses, in words; empty where it hasn't."""
        most = self.sequence_length
        return "" if len(shortcut.presses) <= most else f"it takes at most {most} press{'es' if most > 1 else ''} in a row"


@dataclass(frozen=True)
class ScopeTree:
    """The scopes of a program with what is asked of them all the time."""

    root: Scope
    scopes: Mapping[str, Scope]
    outward: Mapping[str, tuple[Scope, ...]]
    around: Mapping[str, tuple[str, ...]]
    """The ids of the scopes around each, the nearest first."""
    texts_within: Mapping[str, tuple[Scope, ...]]

    @classmethod
    def of(cls, scopes: tuple[Scope, ...]) -> "ScopeTree":
        by_id = {s.id: s for s in scopes}
        outward: dict[str, tuple[Scope, ...]] = {}
        texts: dict[str, list[Scope]] = {s.id: [] for s in scopes}
        for scope in scopes:
            chain, at = [], scope
            while True:
                chain.append(at)
                if at.parent is None:
                    break
                at = by_id[at.parent]
            outward[scope.id] = tuple(chain)
            if scope.takes_text:
                for around in chain:
                    texts[around.id].append(scope)
        root = next(s for s in scopes if s.parent is None)
        beyond = {i: tuple(s.id for s in chain[1:]) for i, chain in outward.items()}
        return cls(root, by_id, outward, beyond, {i: tuple(found) for i, found in texts.items()})


def ring_in(parents: Mapping[str, str | None]) -> list[str]:
    """The ids of a ring of parents, or none. Each id is visited once."""
    done: set[str] = set()
    for start in parents:
        path: dict[str, None] = {}
        at: str | None = start
        while at is not None and at in parents and at not in done:
            if at in path:
                ring = list(path)
                return ring[ring.index(at) :]
            path[at] = None
            at = parents[at]
        done.update(path)
    return []


class Program(Document):
    """`pad_counts`: keys of the numeric pad answer to characters. `takes_by`: how a utility gets at its hotkeys.
    `runs_in`: browsers of a web program (empty: any). `caret`: a platform's caret presses, on system tables only;
    `caret_exceptions`: those that this program's own text fields don't know. `switches`: what must be on before own
    shortcuts count. `card_only`: its shortcuts can't be set, only be known and printed. `offers`: what else
    people arrange in it. Of system tables, `editions` and `releases` are what the system comes as, and `sources` where its
    entries were read: an entry of a table that names sources and has none of its own is only likely.
    """

    format: Literal["amberkey/program@1"] = "amberkey/program@1"
    id: Id
    name: Text
    version: Text
    kind: Kind
    description: str = ""
    platforms: tuple[Platform, ...]
    reads_keys_by: dict[Platform, Reading] = Field(default_factory=dict)
    limits: ProgramLimits = Field(default_factory=ProgramLimits)
    pad_counts: Flag = False
    scope_order: Literal["inner", "outer"] = "inner"
    on_tie: Literal["first", "last", "either"] = "either"
    on_prefix: OnPrefix = Field(default_factory=OnPrefix)
    after_miss: Literal["drop", "replay"] = "drop"
    takes_by: TakesBy = "register"
    runs_in: Ids = ()
    menus: tuple[MenuLetter, ...] = ()
    caret: tuple[CaretPress, ...] = ()
    caret_exceptions: tuple[ShortcutField, ...] = ()
    takes_effect: TakesEffect = "at once"
    switches: tuple[Switch, ...] = ()
    card_only: Flag = False
    add_ons: tuple[AddOn, ...] = ()
    scopes: tuple[Scope, ...]
    commands: tuple[Command, ...] = ()
    settings_files: Annotated[tuple[Described, ...], Field(max_length=12)] = ()
    offers: Offers = NO_OFFERS
    editions: tuple[Edition, ...] = ()
    releases: tuple[Release, ...] = ()
    sources: tuple[Source, ...] = ()

    @model_validator(mode="before")
    @classmethod
    def _of_older_documents(cls, value: object) -> object:
        """Documents had one settings file once, said in another way."""
        if isinstance(value, dict) and isinstance(value.get("settings_file"), dict) and "settings_files" not in value:
            rest = {k: v for k, v in value.items() if k != "settings_file"}
            return {**rest, "settings_files": (upgraded(value["settings_file"]),)}
        return value

    @property
    def settings_file(self) -> Described | None:
        """The settings file that the program has its shortcuts in; of several the first one."""
        return self.settings_files[0] if self.settings_files else None

    @cached_property
    def asking(self) -> frozenset[str]:
        """The commands of which it has to be asked whether they are live: of nearly all it hasn't."""
        return frozenset(
            c.id for c in self.commands if c.document is not None or c.off or c.only_if or c.from_version or c.gone_from
        )

    @cached_property
    def sided(self) -> frozenset[Press]:
        """The presses of this document that say which of two modifier keys is held."""
        own = (s for c in self.commands for shortcuts in c.defaults.values() for s in shortcuts)
        places = (s for row in self.offers.shelves for keys in row.keys.values() for s in keys)
        return sided_in((*own, *places, *(c.keys for c in self.caret), *self.caret_exceptions, *self.limits.refuses))

    def reads_on(self, platform: Platform) -> Reading:
        """How the program reads keys: Windows programs by key unless they say otherwise, others by character."""
        return self.reads_keys_by.get(platform, "key" if platform == "windows" else "character")

    def command(self, command_id: str) -> Command | None:
        """The command of that id, or the one that once had it."""
        return self.commands_by_id.get(command_id)

    def scope(self, scope_id: str) -> Scope:
        """Raises KeyError for a scope that isn't there."""
        return self.scope_tree.scopes[scope_id]

    def has_scope(self, scope_id: str) -> bool:
        """Whether the program has a scope with that id."""
        return scope_id in self.scope_tree.scopes

    @property
    def root(self) -> Scope:
        """The scope that is the whole window."""
        return self.scope_tree.root

    def outward(self, scope_id: str) -> tuple[Scope, ...]:
        """The scope and those around it, innermost first."""
        return self.scope_tree.outward[scope_id]

    def texts_within(self, scope_id: str) -> tuple[Scope, ...]:
        """The scopes that take text at or inside the given one: there, its shortcuts are live while people type."""
        return self.scope_tree.texts_within[scope_id]

    @cached_property
    def asked_order(self) -> Mapping[str, Mapping[str, int]]:
        """For each scope with the focus, the scopes that are asked then, by their turn."""
        inner = self.scope_order == "inner"
        return {
            i: {s.id: n for n, s in enumerate(chain if inner else reversed(chain))}
            for i, chain in self.scope_tree.outward.items()
        }

    def text_is_taken_within(self, scope_id: str) -> Scope | None:
        """A scope at or inside the given one that takes text, or None."""
        return next(iter(self.texts_within(scope_id)), None)

    def nested(self, one: str, other: str) -> bool:
        """Whether one of two scopes lies at or inside the other."""
        return any(s.id == other for s in self.outward(one)) or any(s.id == one for s in self.outward(other))

    @cached_property
    def known_editions(self) -> tuple[Edition, ...]:
        """The editions that the table tells of: those that it lists, and those that its entries name."""
        listed = {e.name for e in self.editions}
        named = sorted({e for c in self.commands for e in c.editions} - listed)
        return (*self.editions, *(Edition(name=e) for e in named))

    @cached_property
    def _read_editions(self) -> dict[tuple[str, str], ReadEdition]:
        """What was read: every setup of every state asks for the same few."""
        return {}

    def read_edition(self, named: str, version: str = "") -> ReadEdition:
        """What the table knows of an edition that an inventory names."""
        if self.editions:
            found = self._read_editions.get((named, version))
            if found is None:
                found = read_edition(self.known_editions, self.releases, named, version, self.name)
                self._read_editions[named, version] = found
            return found
        # A table that lists no editions knows only those that its entries name.
        known = named in {e.name for e in self.known_editions}
        return ReadEdition(named, version, known or not self.known_editions)

    def why_not_in(self, command: Command, version: str) -> str:
        """Why a command isn't there in a version of the system, in words; empty where it is. No version is the newest."""
        said = figures_of(version)
        since, until = figures_of(command.from_version), figures_of(command.gone_from)
        # A version that says less than the entry, 11 beside 11 22H2, is the newest of its kind; none at all is the newest.
        if said and said < since[: len(said)]:
            return f"it is there from version {command.from_version} on"
        if until and (not said or said >= until[: len(said)]):
            return f"it is gone from version {command.gone_from} on"
        return ""

    def is_likely(self, command: Command) -> bool:
        """Whether an entry is only likely: it stands in a table that names its sources, and has none."""
        return bool(self.sources) and command.cited is None

    def told_source(self, cited: Cited | None) -> str:
        """Where a fact was read, in a few words; empty where the table names no sources at all."""
        if not self.sources:
            return ""
        if cited is None:
            return "likely"
        found = next((s for s in self.sources if s.id == cited.source), None)
        return f"{found.title}: {cited.at}" if found else cited.at

    def is_there(self, command: Command, edition: str, add_ons: tuple[str, ...]) -> bool:
        """Whether a command is there in a desktop edition with some add-ons."""
        if command.retired:
            return False
        return (not command.editions or edition in command.editions) and (command.add_on is None or command.add_on in add_ons)

    @cached_property
    def laid(self) -> dict[tuple[object, ...], object]:
        """Room for what the program without any layer is before keyboards, worked out by others."""
        return {}

    @cached_property
    def plain(self) -> dict[tuple[Platform, str, tuple[str, ...]], object]:
        """Room for what comes of the program alone on a platform and edition with some add-ons, worked out by others."""
        return {}

    @cached_property
    def scope_tree(self) -> "ScopeTree":
        """The program's scopes as a tree, worked out once."""
        return ScopeTree.of(self.scopes)

    @cached_property
    def commands_by_task(self) -> Mapping[str, Command]:
        """By task, the first command that does it."""
        return {c.task: c for c in reversed(self.commands) if c.task is not None}

    @cached_property
    def all_by_task(self) -> Mapping[str, tuple[Command, ...]]:
        """By task, all commands that do it, in their order."""
        found: dict[str, list[Command]] = {}
        for command in self.commands:
            if command.task is not None:
                found.setdefault(command.task, []).append(command)
        return {task: tuple(commands) for task, commands in found.items()}

    @cached_property
    def commands_by_id(self) -> Mapping[str, Command]:
        """Commands by their id, and by the ids that they once had."""
        found = {old: c for c in reversed(self.commands) for old in c.was}
        return {**found, **{c.id: c for c in self.commands}}

    @model_validator(mode="after")
    def _whole(self) -> Self:
        parents = {s.id: s.parent for s in self.scopes}
        if sum(p is None for p in parents.values()) != 1:
            raise ValueError("scopes: exactly one scope has no parent; it is the whole window")
        for scope in self.scopes:
            if scope.parent is not None and scope.parent not in parents:
                raise ValueError(f"scopes: {scope.id} stands in {scope.parent}, which isn't there")
        ring = ring_in(parents)
        if ring:
            raise ValueError(f"scopes: {' inside '.join((*ring, ring[0]))}: a scope can't stand inside itself")
        read = {s.id for s in self.sources}
        for n, command in enumerate(self.commands):
            if command.scope not in parents:
                raise ValueError(f"commands[{n}].scope: {command.id} names the scope {command.scope}, which isn't there")
            if command.cited is not None and command.cited.source not in read:
                raise ValueError(
                    f"commands[{n}].cited: {command.id} names the source {command.cited.source}, which isn't there"
                )
            if command.add_on is not None and all(a.id != command.add_on for a in self.add_ons):
                raise ValueError(f"commands[{n}].add_on: {command.id} names the add-on {command.add_on}, which isn't there")
        lost = next((s for s in self.offers.scopes if s not in parents), None)
        if lost is not None:
            raise ValueError(f"offers.shelves: one names the scope {lost}, which isn't there")
        for n, how in enumerate(self.settings_files):
            lost = next((s for s in how.holds if s not in parents), None)
            if lost is not None:
                raise ValueError(f"settings_files[{n}].holds: it names the scope {lost}, which isn't there")
        return self
