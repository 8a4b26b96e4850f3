"""`amberkey/decisions@1`: clashes that somebody accepted, and what the makers of programs meant."""

import datetime
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.documents.model import Document, Value
from amberkey.core.profiles.setup import grain_of
from amberkey.core.programs.model import Id, Text

Severity = Literal["blocker", "high", "medium", "low"]
SEVERITIES: tuple[Severity, ...] = ("blocker", "high", "medium", "low")


class Allowance(Value):
    """A clash that someone accepted: why, until when, and how bad it was in which setups."""

    clash: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]
    says: Annotated[str, Field(max_length=600)]
    reason: Annotated[str, Field(min_length=3, max_length=600)]
    by: Text
    until: datetime.date | None = None
    severity: Severity
    setups: tuple[Id, ...]

    def holds(self, today: datetime.date, severity: Severity, setups: frozenset[str]) -> bool:
        """Whether it still covers the clash as it is now: not expired, not worse, in no further setup.

        A setup whose programs were merely updated is no further one: see `grain_of`.
        """
        if self.until is not None and today > self.until:
            return False
        return SEVERITIES.index(severity) >= SEVERITIES.index(self.severity) and {grain_of(s) for s in setups} <= {
            grain_of(s) for s in self.setups
        }


class Meaning(Value):
    """What somebody found out of a clash within one program's own defaults: its maker meant it, or didn't."""

    clash: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]
    says: Annotated[str, Field(max_length=600)]
    meant: bool
    by: Text
    since: datetime.date | None = None


class Decisions(Document):
    format: Literal["amberkey/decisions@1"] = "amberkey/decisions@1"
    id: Id
    name: Text
    allowances: tuple[Allowance, ...] = ()
    meant: tuple[Meaning, ...] = ()
    """Where nobody said anything, what Amber Key takes a maker to have meant counts."""

    def normal(self) -> Self:
        return self.model_copy(
            update={
                "allowances": tuple(sorted(self.allowances, key=lambda a: a.clash)),
                "meant": tuple(sorted(self.meant, key=lambda m: m.clash)),
            }
        )

    @model_validator(mode="after")
    def _no_doubles(self) -> Self:
        if len({a.clash for a in self.allowances}) != len(self.allowances):
            raise ValueError("allowances: one clash is allowed twice")
        if len({m.clash for m in self.meant}) != len(self.meant):
            raise ValueError("meant: something is said of one clash twice")
        return self
