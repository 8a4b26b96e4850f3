"""`amberkey/standard@1`: which shortcut a task has everywhere, since when, why, and where not."""

import datetime
from collections.abc import Container, Iterable, Mapping
from functools import cached_property
from typing import Annotated, Literal, NamedTuple, Self, cast

from pydantic import Field, model_validator

from amberkey.core.documents.errors import Fault, Faults
from amberkey.core.documents.field import Id, Text
from amberkey.core.documents.model import Document, Value
from amberkey.core.documents.sections import Item, exception_key, line_key, meaning_key, room_key
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.model import Layouts

Reason = Annotated[str, Field(max_length=600)]
Owner = Annotated[str, Field(max_length=200)]


class Line(Value):
    """The shortcut that a task has on a platform; on some layouts only, if it names them. `Main` and `Side` may stand in it."""

    task: Id
    platform: Platform
    layouts: Layouts = ()
    keys: ShortcutField
    reason: Reason = ""
    owner: Owner = ""
    since: datetime.date | None = None

    @cached_property
    def key(self) -> str:
        """What makes it the same line in every revision: task, platform, layouts."""
        return line_key({"task": self.task, "platform": self.platform, "layouts": list(self.layouts)})

    @cached_property
    def shortcut(self) -> Shortcut:
        """With the platform's own modifiers."""
        return self.keys.resolve(self.platform)


class Exempt(Value):
    """A program that needn't follow a task's line, on some layouts only if it names them, until a day if it names one."""

    task: Id
    program: Id
    platform: Platform
    layouts: Layouts = ()
    reason: Annotated[str, Field(min_length=3, max_length=600)]
    owner: Owner = ""
    until: datetime.date | None = None

    @cached_property
    def key(self) -> str:
        """What makes it the same exception in every revision: task, program, platform, layouts."""
        return exception_key(
            {"task": self.task, "program": self.program, "platform": self.platform, "layouts": list(self.layouts)}
        )

    def holds(self, today: datetime.date | None) -> bool:
        """Whether the exception holds on a day (its last one included); on no day in particular, always."""
        return self.until is None or today is None or today <= self.until


class Meanings(Value):
    """One key that may mean different things in different programs: somebody looked at it and said so."""

    keys: ShortcutField
    platform: Platform
    reason: Annotated[str, Field(min_length=3, max_length=600)]
    owner: Owner = ""

    @cached_property
    def key(self) -> str:
        """What makes it the same allowed key in every revision: key, platform."""
        return meaning_key(cast(Item, {"keys": self.keys.to_document(), "platform": self.platform}))


class MakesRoom(Value):
    """A command that gives a key up so that a line holds in its program: `keys` are what it has by itself from then on, none
    where it is left without. A line of its own goes before them."""

    program: Id
    command: Id
    platform: Platform
    keys: Annotated[tuple[ShortcutField, ...], Field(max_length=8)] = ()
    reason: Reason = ""
    owner: Owner = ""

    @cached_property
    def key(self) -> str:
        """What makes it the same in every revision: command, program, platform."""
        return room_key({"command": self.command, "program": self.program, "platform": self.platform})

    @cached_property
    def shortcuts(self) -> tuple[Shortcut, ...]:
        """With the platform's own modifiers."""
        return tuple(s.resolve(self.platform) for s in self.keys)


class Ruling(NamedTuple):
    """What a standard says of one task on a platform and layout."""

    line: Line
    exempt: Mapping[str, Exempt]
    """By program: exceptions, run out or not."""


_NONE: Mapping[str, Exempt] = {}


class Standard(Document):
    format: Literal["amberkey/standard@1"] = "amberkey/standard@1"
    id: Id
    name: Text
    description: str = ""
    lines: tuple[Line, ...] = ()
    exceptions: tuple[Exempt, ...] = ()
    meanings: tuple[Meanings, ...] = ()
    makes_room: tuple[MakesRoom, ...] = ()

    def having(
        self,
        section: Literal["lines", "exceptions", "makes_room"],
        items: "Iterable[Line | Exempt | MakesRoom]",
        without: Container[str] = (),
    ) -> "Standard":
        """With some items of a section (in the place of those with the same key), and without those of some keys."""
        own: tuple[Line | Exempt | MakesRoom, ...] = getattr(self, section)
        found = {one.key: one for one in own if one.key not in without}
        found.update({one.key: one for one in items})
        return Standard.model_validate({**dict(self), section: tuple(found.values())}).normal()

    @cached_property
    def _by_task(self) -> Mapping[Platform, Mapping[str, tuple[Line, ...]]]:
        found: dict[Platform, dict[str, list[Line]]] = {}
        for line in self.lines:
            found.setdefault(line.platform, {}).setdefault(line.task, []).append(line)
        return {p: {t: tuple(lines) for t, lines in tasks.items()} for p, tasks in found.items()}

    @cached_property
    def _exempt(self) -> Mapping[tuple[Platform, str], tuple[Exempt, ...]]:
        found: dict[tuple[Platform, str], list[Exempt]] = {}
        for one in self.exceptions:
            found.setdefault((one.platform, one.task), []).append(one)
        return {key: tuple(own) for key, own in found.items()}

    @cached_property
    def _rulings(self) -> dict[tuple[Platform, str], Mapping[str, Ruling]]:
        return {}

    def lines_of(self, task: str, platform: Platform) -> tuple[Line, ...]:
        """Every line for a task on a platform, the one for all layouts first."""
        return tuple(sorted(self._by_task.get(platform, {}).get(task, ()), key=lambda v: (len(v.layouts) > 0, v.layouts)))

    def rulings(self, platform: Platform, layout: str) -> Mapping[str, Ruling]:
        """By task, what holds on a platform and layout: a line for the very layout goes before the one for all."""
        known = self._rulings.get((platform, layout))
        if known is None:
            known = self._rulings[platform, layout] = dict(self._ruled(platform, layout))
        return known

    def _ruled(self, platform: Platform, layout: str) -> "list[tuple[str, Ruling]]":
        found = []
        for task, lines in self._by_task.get(platform, {}).items():
            line = next((v for v in lines if layout in v.layouts), None) or next((v for v in lines if not v.layouts), None)
            if line is not None:
                found.append((task, Ruling(line, self._exempt_from(task, platform, layout))))
        return found

    def _exempt_from(self, task: str, platform: Platform, layout: str) -> Mapping[str, Exempt]:
        own = self._exempt.get((platform, task))
        if not own:
            return _NONE
        everywhere = {e.program: e for e in own if not e.layouts}
        return {**everywhere, **{e.program: e for e in own if layout in e.layouts}}

    @cached_property
    def _rooms(self) -> Mapping[tuple[Platform, str], Mapping[str, MakesRoom]]:
        found: dict[tuple[Platform, str], dict[str, MakesRoom]] = {}
        for one in self.makes_room:
            found.setdefault((one.platform, one.program), {})[one.command] = one
        return found

    def rooms(self, platform: Platform, program: str) -> Mapping[str, MakesRoom]:
        """By command, those of a program that make room on a platform."""
        return self._rooms.get((platform, program), {})

    def exempt(self, task: str, program: str, platform: Platform, layout: str) -> Exempt | None:
        """The exception that lets a program off a task on a platform and layout, or None."""
        return self._exempt_from(task, platform, layout).get(program)

    @model_validator(mode="after")
    def _whole(self) -> Self:
        faults = [
            *_doubled("lines", [(v.task, v.platform, v.layouts) for v in self.lines], "lines"),
            *_doubled(
                "exceptions", [(f"{v.task} in {v.program}", v.platform, v.layouts) for v in self.exceptions], "exceptions"
            ),
        ]
        for where, keys in (
            ("meanings", [one.key for one in self.meanings]),
            ("makes_room", [one.key for one in self.makes_room]),
        ):
            seen: dict[str, int] = {}
            for n, key in enumerate(keys):
                if key in seen:
                    faults.append(Fault(f"{where}[{n}]", f"{key} stands in {where}[{seen[key]}] too.", "Keep one of them."))
                seen.setdefault(key, n)
        if faults:
            raise Faults(faults)
        return self


def _doubled(where: str, items: list[tuple[str, Platform, tuple[str, ...]]], called: str) -> list[Fault]:
    """A fault for each item that says something of what another one speaks of already."""
    seen: dict[tuple[str, Platform, str], int] = {}
    faults = []
    for n, (what, platform, layouts) in enumerate(items):
        for layout in layouts or ("",):
            first = seen.setdefault((what, platform, layout), n)
            if first != n:
                on = f"{platform} with the layout {layout}" if layout else platform
                faults.append(Fault(f"{where}[{n}]", f"{what} on {on} has two {called}, {where}[{first}] too.", "Keep one."))
                break
    return faults


NO_STANDARD = Standard(id="standard", name="The standard")
