"""A release plan: waves of machines, what opens each, and when machines may be written to."""

import datetime
from collections.abc import Iterator
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.documents.field import Id, Text
from amberkey.core.documents.model import Flag, Value, Whole

MOST_WAVES = 12
Choosing = Literal["machines", "department", "share", "setups", "rest"]
Day = Annotated[Whole, Field(ge=0, le=6)]
"""0 is Monday."""
Percent = Annotated[Whole, Field(ge=0, le=100)]


class Chosen(Value):
    """Which machines are in a wave, of those that no earlier wave has.

    `machines`: these; `department`: those at which people of one sit, or of one inside it; `share`: so many percent of all that
    the release reaches; `setups`: the fewest that cover every setup once; `rest`: all.
    """

    by: Choosing
    machines: tuple[Id, ...] = ()
    department: Id | None = None
    share: Annotated[Whole, Field(ge=1, le=100)] | None = None

    @model_validator(mode="after")
    def _whole(self) -> Self:
        given = {"machines": bool(self.machines), "department": self.department is not None, "share": self.share is not None}
        for name, is_given in given.items():
            if is_given != (self.by == name):
                raise ValueError(f"a wave by {self.by} {'says no' if is_given else 'needs'} {name}")
        twice = next((m for n, m in enumerate(self.machines) if m in self.machines[:n]), None)
        if twice is not None:
            raise ValueError(f"{twice} is named twice")
        return self


class Gate(Value):
    """What of the wave before opens a wave: so many hours without anything new there, at most so many percent of its machines
    stopped, and no change of somebody's own that waits for a word, unless `drift` lets it."""

    quiet_hours: Annotated[Whole, Field(ge=0, le=720)] = 2
    most_stopped: Percent = 10
    drift: Flag = False


class Window(Value):
    """When machines are written to, in the time of the organisation: on these days, from one full hour up to another one; where
    the first is later than the second, over midnight. `not_before`: a day before which nothing is."""

    days: Annotated[tuple[Day, ...], Field(max_length=7)] = (0, 1, 2, 3, 4, 5, 6)
    begins: Annotated[Whole, Field(ge=0, le=23)] = 0
    ends: Annotated[Whole, Field(ge=1, le=24)] = 24
    not_before: datetime.date | None = None

    @model_validator(mode="after")
    def _opens(self) -> Self:
        if not self.days or self.begins == self.ends:
            raise ValueError("the window never opens: say on which days, and two different hours")
        return self


class Wave(Value):
    """`name`: what people call it. `gate`: what opens it; of the first wave it says nothing."""

    name: Text
    chosen: Chosen
    gate: Gate = Gate()
    window: Window = Window()


class ReleasePlan(Value):
    """`overlap_days`: for so long keys that are given up work beside the new ones, where nothing else has them."""

    waves: Annotated[tuple[Wave, ...], Field(min_length=1, max_length=MOST_WAVES)]
    overlap_days: Annotated[Whole, Field(ge=0, le=365)] = 0

    @model_validator(mode="after")
    def _once(self) -> Self:
        named: dict[str, str] = {}
        for wave in self.waves:
            for machine in wave.chosen.machines:
                if machine in named:
                    raise ValueError(f"{machine} is in {named[machine]} and in {wave.name}")
                named[machine] = wave.name
        return self

    def named(self) -> Iterator[str]:
        """The machines that waves name one by one."""
        for wave in self.waves:
            yield from wave.chosen.machines
