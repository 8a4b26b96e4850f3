"""What a program lets people arrange beside shortcuts: rows whose places have keys, menus with groups of their own, macros,
preferences. Program documents say it; profiles fill it."""

import datetime
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from amberkey.core.descriptions.described import Step
from amberkey.core.documents.field import Id, Ids, Text
from amberkey.core.documents.model import Flag, Value, Whole, as_set
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut

KeptIn = Literal["document", "person", "machine"]
Replay = Literal["at a fixed place", "from the caret"]
PreferenceKind = Literal["number", "choice", "yes or no", "text", "date form"]
Scalar = Flag | Whole | Annotated[str, Field(max_length=2000)]
"""What a preference can be: yes or no, a whole number, a text."""


class ShelfPlaces(Value):
    """A row for commands of people's own choice. `keys`: by platform what each place is pressed with, from the first place on;
    there are no more places than keys. `scope`: where the keys are live (none: where the command is).

    `begin_chosen`: people may choose another press than the first one of each key.
    """

    id: Id
    name: Text
    keys: dict[Platform, Annotated[tuple[ShortcutField, ...], Field(min_length=1, max_length=500)]]
    scope: Id | None = None
    begin_chosen: Flag = False

    def keys_on(self, platform: Platform, begin: Shortcut | None = None) -> tuple[Shortcut, ...]:
        """What each place is pressed with on a platform, beginning with another press where one is chosen."""
        keys = tuple(s.resolve(platform) for s in self.keys.get(platform, ()))
        if begin is None or not self.begin_chosen:
            return keys
        return tuple(Shortcut((*begin.resolve(platform).presses, *s.presses[1:])) for s in keys)

    @model_validator(mode="after")
    def _begins(self) -> Self:
        if self.begin_chosen and any(len(s.presses) < 2 for keys in self.keys.values() for s in keys):
            raise ValueError("keys: where the first press can be chosen, each place has a second one")
        return self


class BuiltInGroup(Value):
    """A group that the program has in its menus anyway. `letter`: the one that opens it; empty: none does."""

    id: Id
    name: Text
    letter: Annotated[str, Field(max_length=1)] = ""
    can_hide: Flag = False
    can_move: Flag = False


class MenuPlace(Value):
    """A place for groups of commands. `opened`: by platform the press before a group's letter; on others no letters are there.
    `with_letter`: that press is held while the letter is pressed, and not made before it. `letters`: those that can be given.
    """

    id: Id
    name: Text
    opened: dict[Platform, ShortcutField] = Field(default_factory=dict)
    with_letter: Flag = False
    letters: Annotated[str, Field(min_length=1, max_length=60)] = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
    groups: tuple[BuiltInGroup, ...] = ()
    takes_own: Flag = True

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if len(set(self.letters)) != len(self.letters) or self.letters != self.letters.upper():
            raise ValueError("letters: each stands once, as a capital")
        for platform, shortcut in self.opened.items():
            if len(shortcut.presses) != 1:
                raise ValueError(f"opened: {shortcut} on {platform} is a sequence; one press leads to a menu")
            if self.with_letter and not shortcut.presses[0].is_tap:
                raise ValueError(f"opened: {shortcut} on {platform} has a key; only modifiers can be held with a letter")
        given = [g.letter for g in self.groups if g.letter]
        if len(set(given)) != len(given):
            raise ValueError("groups: two have one letter")
        return self


class MacroRules(Value):
    """What the program takes as macros. `kept_in`: where they can be kept; `replay`: how they can be replayed. Names: at most
    `longest` characters, `plain`: letters, digits and low lines only, a letter first; none of those `reserved`, whatever the
    case of their letters."""

    kept_in: Annotated[tuple[KeptIn, ...], Field(min_length=1), AfterValidator(as_set)]
    replay: Annotated[tuple[Replay, ...], Field(min_length=1), AfterValidator(as_set)]
    longest: Annotated[Whole, Field(ge=1, le=200)] = 60
    plain: Flag = False
    reserved: tuple[Text, ...] = ()

    def why_not(self, name: str) -> str:
        """Why a macro can't be called so, in words; empty where it can."""
        if len(name) > self.longest:
            return f"names of macros have at most {self.longest} characters, and {name[:30]} ... has {len(name)}"
        if self.plain and not (name[:1].isalpha() and all(c.isalnum() or c == "_" for c in name)):
            return f"names of macros are letters, digits and _ only, a letter first, and {name} is not so"
        if name.casefold() in {r.casefold() for r in self.reserved}:
            return f"{name} is a word that the program keeps for itself"
        return ""


class PreferencePlace(Value):
    """Something of a program that people set for their way of working. `least` and `most` are of numbers, `unit` what they
    count; `choices` of a choice. `default`: what the maker ships. Texts of a date form hold `D`, `M` and `Y`.

    `at`: the names from the top of a settings file to its value there, none where no file has it; `in_file`: which of the
    program's files, counted from 0.
    """

    id: Id
    name: Text
    kind: PreferenceKind
    default: Scalar
    least: Whole | None = None
    most: Whole | None = None
    unit: Annotated[str, Field(max_length=40)] = ""
    choices: tuple[Text, ...] = ()
    platforms: Annotated[tuple[Platform, ...], AfterValidator(as_set)] = ()
    at: Annotated[tuple[Step, ...], Field(max_length=12)] = ()
    in_file: Annotated[Whole, Field(ge=0, le=11)] = 0

    def why_not(self, value: Scalar) -> str:
        """Why it can't be that, in words; empty where it can."""
        match self.kind:
            case "yes or no":
                return "" if isinstance(value, bool) else f"{self.name} is yes or no"
            case "number":
                return self._why_no_number(value)
            case "choice":
                return "" if value in self.choices else f"{self.name} is one of {', '.join(self.choices)}"
            case "date form":
                return "" if _is_date_form(value) else f"{self.name} is made of D, M and Y, as D.M.Y or Y-M-D"
            case "text":
                return "" if isinstance(value, str) else f"{self.name} is a text"

    def _why_no_number(self, value: Scalar) -> str:
        if isinstance(value, bool) or not isinstance(value, int):
            return f"{self.name} is a whole number"
        low, high = self.least, self.most
        if (low is None or value >= low) and (high is None or value <= high):
            return ""
        if low is not None and high is not None:
            return f"{self.name} is between {low} and {high}"
        return f"{self.name} is at least {low}" if low is not None else f"{self.name} is at most {high}"

    def said(self, value: Scalar) -> str:
        """A value in words."""
        if isinstance(value, bool):
            return "yes" if value else "no"
        if self.kind == "date form" and isinstance(value, str):
            return f"{value}, as {dated(value, datetime.date(2026, 3, 9))}"
        return f"{value} {self.unit}".strip()

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if (self.kind == "choice") != bool(self.choices):
            raise ValueError("choices: a choice has some, and nothing else has any")
        if self.kind != "number" and (self.least is not None or self.most is not None or self.unit):
            raise ValueError("least, most and unit are of numbers only")
        why = self.why_not(self.default)
        if why:
            raise ValueError(f"default: {why}")
        return self


def _is_date_form(value: Scalar) -> bool:
    return isinstance(value, str) and sorted(c for c in value if c.isalpha()) == ["D", "M", "Y"] and len(value) <= 20


def dated(form: str, day: datetime.date) -> str:
    """A day in a date form."""
    return form.replace("D", f"{day.day:02}").replace("M", f"{day.month:02}").replace("Y", f"{day.year:04}")


class Offers(Value):
    """Everything of the kind that a program has."""

    shelves: tuple[ShelfPlaces, ...] = ()
    menus: tuple[MenuPlace, ...] = ()
    macros: MacroRules | None = None
    preferences: tuple[PreferencePlace, ...] = ()

    def shelf(self, shelf_id: str) -> ShelfPlaces | None:
        """The row of that id."""
        return next((s for s in self.shelves if s.id == shelf_id), None)

    def menu(self, place_id: str) -> MenuPlace | None:
        """The menu place of that id."""
        return next((m for m in self.menus if m.id == place_id), None)

    def preference(self, preference_id: str) -> PreferencePlace | None:
        """The preference of that id."""
        return next((p for p in self.preferences if p.id == preference_id), None)

    def built_in(self, group_id: str) -> tuple[MenuPlace, BuiltInGroup] | None:
        """A group that the program has anyway, with its place."""
        return next(((m, g) for m in self.menus for g in m.groups if g.id == group_id), None)

    @property
    def scopes(self) -> Ids:
        """The scopes that are named."""
        return as_set(s.scope for s in self.shelves if s.scope is not None)

    @model_validator(mode="after")
    def _once_each(self) -> Self:
        groups = [g.id for m in self.menus for g in m.groups]
        for name, ids in (
            ("shelves", [s.id for s in self.shelves]),
            ("menus", [m.id for m in self.menus]),
            ("menus: groups", groups),
            ("preferences", [p.id for p in self.preferences]),
        ):
            double = next((i for n, i in enumerate(ids) if i in ids[:n]), None)
            if double is not None:
                raise ValueError(f"{name}: {double} stands twice")
        return self


NO_OFFERS = Offers()
