"""What a proposal is asked for: a platform, what is settled beforehand, how much may be relearned, and what counts how much."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from amberkey.core.keys.platform import PLATFORMS, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.decisions import Severity


@dataclass(frozen=True, slots=True)
class Weights:
    """What a proposal is to avoid, in points. A point is what one person suffers from one awkward trifle.

    Where `weight` is said, the figure is taken times the people and times 1 + floor(log2(1 + uses a week)) of the command.
    """

    relearned: int = 20
    """A key that somebody has to learn anew, times the weight."""
    first: int = 2
    """A key of a command that had none, times the weight."""
    not_agreeing: int = 30
    """A program that keeps its own key for a task, times the weight."""
    lost: int = 60
    """A command that is left without a key, times the weight."""
    cleared: int = 10
    """One of several keys of a command that is given up, times the weight."""
    reach_share: float = 0.5
    """The part of a key's reach that counts, times the weight."""
    reach_most: int = 60
    """What is harder to reach than this counts as this."""
    strange_letter: int = 2
    """A key whose letter begins no word of the task, times the weight."""
    other_key: int = 1
    """A key that is no letter, times the weight."""
    changed_line: int = 40
    """A line of the standard that becomes another one, whoever has it."""
    unlike: int = 10
    """A line with another shape than another platform's line for the same task, for each person who has the task on the one of
    the two where fewer have it."""
    two_meanings: int = 10
    """A line's key that the same people have for another task already, for each of them."""
    clashes: Mapping[Severity, int] = field(default_factory=lambda: {"blocker": 120, "high": 80, "medium": 30, "low": 4})
    """A clash that stays, for each person."""
    anew: int = 5
    """So many times that for a clash that the present lines spare people."""
    uses_assumed: int = 5
    """Uses a week of a command by one person where nobody has said."""


WEIGHTS = Weights()


@dataclass(frozen=True)
class Settled:
    """What is settled beforehand on one platform: see `Question`."""

    pins: Mapping[str, Shortcut] = field(default_factory=dict)
    bans: frozenset[Shortcut] = frozenset()
    without: Mapping[str, frozenset[Shortcut]] = field(default_factory=dict)


NOTHING_SETTLED = Settled()


@dataclass(frozen=True)
class Question:
    """`pins`: the keys that tasks must have; `kept`: tasks whose line, or lack of one, stays; `bans`: keys that no line may
    get; `without`: by task, keys that it may not get; `spared`: programs in which nothing may change; `alone`: setups, by their
    ids, whose people press everything as before. `beside`: platforms for which keys are chosen in the same go; pins, bans and
    `without` say nothing there, what `elsewhere` has for them does.
    `seconds`: how long a solver may look; `few`: how many of the cheapest keys of each line are looked at first.
    """

    platform: Platform
    beside: tuple[Platform, ...] = ()
    pins: Mapping[str, Shortcut] = field(default_factory=dict)
    kept: frozenset[str] = frozenset()
    bans: frozenset[Shortcut] = frozenset()
    spared: frozenset[str] = frozenset()
    alone: frozenset[str] = frozenset()
    without: Mapping[str, frozenset[Shortcut]] = field(default_factory=dict)
    elsewhere: Mapping[Platform, Settled] = field(default_factory=dict)
    weights: Weights = WEIGHTS
    seconds: float = 60.0
    few: int = 12
    moves: int = 12
    """To how many keys a command that makes room may move."""

    @property
    def platforms(self) -> tuple[Platform, ...]:
        """All for which keys are chosen, the first one before the others."""
        return (self.platform, *(p for p in PLATFORMS if p in self.beside and p != self.platform))

    def on(self, platform: Platform) -> "Question":
        """The part of the question that concerns one of its platforms."""
        others = tuple(p for p in self.platforms if p != platform)
        if platform == self.platform:
            return replace(self, beside=others, elsewhere={})
        own = self.elsewhere.get(platform, NOTHING_SETTLED)
        return replace(self, platform=platform, beside=others, pins=own.pins, bans=own.bans, without=own.without, elsewhere={})


class CannotPropose(Exception):
    """A question that has no answer: `says` why, in a sentence; `cure` what to do about it."""

    def __init__(self, says: str, cure: str) -> None:
        super().__init__(says)
        self.says, self.cure = says, cure
