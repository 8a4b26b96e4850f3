"""`amberkey/decisions@1`: clashes that somebody accepted, and what the makers of programs meant."""

import datetime
from typing import Annotated, Literal

from pydantic import Field

from amberkey.core.documents.field import Id, Text
from amberkey.core.documents.model import Document, Flag, Value
from amberkey.core.profiles.setup import grain_of

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
    meant: Flag
    by: Text
    since: datetime.date | None = None


class Decisions(Document):
    format: Literal["amberkey/decisions@1"] = "amberkey/decisions@1"
    id: Id
    name: Text
    allowances: tuple[Allowance, ...] = ()
    meant: tuple[Meaning, ...] = ()
    """Where nobody said anything, what Amber Key takes a maker to have meant counts."""
