"""The table of what is assumed: seconds of the operators with their source, and how people take to new keys.

`docs/worth.md` tells where each figure comes from and works an example out by hand.
"""

from typing import Annotated

from pydantic import Field

from amberkey.core.documents.field import Id
from amberkey.core.documents.model import Value, Whole

Milliseconds = Annotated[Whole, Field(ge=0, le=60_000)]
Percent = Annotated[Whole, Field(ge=0, le=100)]


class Assumptions(Value):
    """Milliseconds of the operators; `reach_ms` for each point of reach. `weekly`: uses a week where nobody has said; `share`:
    how many people in a hundred can be expected to use a key that they have, `shares` the same by role where it is known.

    A key that moved is missed in `slips` of a hundred uses in the first week, half as often every `halves_after` weeks, for
    `weeks` weeks; each slip costs `notice_ms`, the way back and the right key, `risky` times as much where the old key now does
    something risky.
    """

    keystroke_ms: Milliseconds = 280
    pointing_ms: Milliseconds = 1100
    button_ms: Milliseconds = 200
    homing_ms: Milliseconds = 400
    thought_ms: Milliseconds = 1350
    reach_ms: Milliseconds = 10
    weekly: Annotated[Whole, Field(ge=0, le=1000)] = 5
    share: Percent = 50
    shares: dict[Id, Percent] = Field(default_factory=dict)
    slips: Percent = 30
    halves_after: Annotated[Whole, Field(ge=1, le=52)] = 2
    weeks: Annotated[Whole, Field(ge=1, le=52)] = 13
    notice_ms: Milliseconds = 1500
    risky: Annotated[Whole, Field(ge=1, le=100)] = 3

    def share_of(self, role: str) -> int:
        """How many in a hundred people with a role can be expected to use a key that they have."""
        return self.shares.get(role, self.share)


ASSUMED = Assumptions()
