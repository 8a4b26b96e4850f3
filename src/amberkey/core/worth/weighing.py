"""What a change is worth: minutes a week gained or lost by everybody whom it touches, and minutes lost to old habits.

    gained a week = (seconds before - seconds after) x uses a week x people who can be expected to use it
    lost over the first weeks = slips x (seconds to notice + the old key once more + the new one), for keys that moved

A key that another binding takes before it is no key: then the command costs its way by the mouse. Where nobody has said how
often a command is used, a figure is made from assumed uses and counts as points, never as minutes. Of fewer than five people
nothing is told.
"""

from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple, TypeAlias

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part
from amberkey.core.profiles.effective import Arguments
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Command, Program
from amberkey.core.worth.assumptions import Assumptions
from amberkey.core.worth.seconds import with_keys, without_key

FEWEST = 5
"""Of fewer people no figure is told: it would say something of single ones."""


@dataclass(frozen=True, slots=True)
class Weighed:
    """One command for some people: seconds before and after, and how often in a week those use it who can be expected to.
    What that makes in minutes: `gained` a week (less than 0: lost), `lost` to old habits in all.

    `known`: somebody has said how often it is used; else both are points.
    """

    program: Program
    command: Command
    arguments: Arguments
    setups: tuple[str, ...]
    people: int
    before: float
    after: float
    moved: bool
    uses: float
    known: bool
    gained: float
    lost: float


@dataclass(frozen=True, slots=True)
class Worth:
    """`weighed`: those that weigh most first. `people`: everybody in them, each once."""

    weighed: tuple[Weighed, ...]
    people: int

    @property
    def minutes(self) -> float:
        """Gained a week, of what uses are known."""
        return sum(w.gained for w in self.weighed if w.known)

    @property
    def minutes_lost(self) -> float:
        """Lost to old habits in all, of what uses are known."""
        return sum(w.lost for w in self.weighed if w.known)

    @property
    def points(self) -> float:
        """Gained a week by assumed uses."""
        return sum(w.gained for w in self.weighed if not w.known)

    @property
    def points_lost(self) -> float:
        """Lost to old habits by assumed uses."""
        return sum(w.lost for w in self.weighed if not w.known)

    @property
    def told(self) -> bool:
        """Whether there is anything that may be told: a figure, and not of a few people only."""
        return self.people >= FEWEST and bool(self.weighed)


NO_WORTH = Worth((), 0)


class _Of(NamedTuple):
    """What is the same for people who weigh a command alike."""

    program: str
    version: str
    command: str
    arguments: Arguments
    before: float
    after: float
    moved: bool
    risky: bool


_At: TypeAlias = tuple[str, str, Arguments]
"""Program and command by their ids, and the arguments of a template."""


_Known: TypeAlias = dict[tuple[int, int], tuple[_At, ...]]
"""By two parts, the commands that differ between them."""


@dataclass(slots=True)
class _Alike:
    program: Program
    command: Command
    setups: list[Setup] = field(default_factory=list)


class Scales:
    """Gathers what a change is worth, setup by setup. `estate` counts the people, and says what is assumed."""

    def __init__(self, estate: Estate) -> None:
        self._estate = estate
        self._alike: dict[_Of, _Alike] = {}

    def add(
        self, setup: Setup, old: Board, new: Board, commands: Iterable[_At], lost: Container[str], lost_now: Container[str]
    ) -> None:
        """Some commands of a setup before and after; `lost`: the participants that somebody else takes the press of."""
        assumed = self._estate.assumed
        for program_id, command_id, arguments in commands:
            was, part = old.parts.get(program_id), new.parts.get(program_id)
            command = part.program.command(command_id) if part is not None else None
            if was is None or part is None or command is None:
                continue
            then, now = _working(was, command, arguments, lost), _working(part, command, arguments, lost_now)
            mouse = without_key(command, assumed)
            seconds = with_keys(then, was.ground, assumed), with_keys(now, part.ground, assumed)
            spent = [round(mouse if s is None else s, 3) for s in seconds]
            kept = {way for b in now for way in b.ways}
            gone = [b for b in then if not any(way in kept for way in b.ways)]
            if spent[0] == spent[1] and not gone:
                continue
            moved = bool(gone) and seconds[1] is not None
            risky = moved and any(_does_harm(part, b) for b in gone)
            of = _Of(program_id, part.program.version, command.id, arguments, spent[0], spent[1], moved, risky)
            self._alike.setdefault(of, _Alike(part.program, command)).setups.append(setup)

    def worth(self) -> Worth:
        """What all of it is worth."""
        weighed = [_weighed(of, one, self._estate) for of, one in self._alike.items()]
        found = sorted(
            (w for w in weighed if w.people), key=lambda w: (-abs(w.gained) - w.lost, w.program.name, w.command.name)
        )
        setups = dict.fromkeys(i for w in found for i in w.setups)
        return Worth(tuple(found), self._estate.people_of(self._estate.setups[i] for i in setups))


def worth_between(before: Estate, after: Estate, only: Container[str] | None = None) -> Worth:
    """What one state of things is worth against another, over the setups that both have, or those of them in `only`."""
    scales = Scales(after)
    known: _Known = {}
    if before is not after:
        for setup_id, setup in after.setups.items():
            if setup_id not in before.setups or (only is not None and setup_id not in only):
                continue
            old, new = before.board(setup_id), after.board(setup_id)
            if old is not new:
                lost, lost_now = losers(before.clashes(setup_id)), losers(after.clashes(setup_id))
                scales.add(
                    setup,
                    old,
                    new,
                    dict.fromkeys((*_changed(old, new, known), *taken_or_let_go(lost, lost_now))),
                    lost,
                    lost_now,
                )
    return scales.worth()


def losers(clashes: Iterable[Clash]) -> Mapping[str, Binding]:
    """The bindings that somebody else takes the press of, by their participants."""
    return {c.loser.participant: c.loser for c in clashes if c.loser is not None and c.severity != "low"}


def taken_or_let_go(lost: Mapping[str, Binding], lost_now: Mapping[str, Binding]) -> Iterator[_At]:
    """The commands whose keys others took or let go."""
    for participant in lost.keys() ^ lost_now.keys():
        binding = lost.get(participant) or lost_now[participant]
        yield binding.program.id, binding.command.id, binding.arguments


def _changed(old: Board, new: Board, known: _Known) -> Iterator[_At]:
    """The commands that have other keys than before, in programs that were there. `known`: kept between boards, of which many
    share their parts."""
    for program_id, part in new.parts.items():
        was = old.parts.get(program_id)
        if was is None or was is part:
            continue
        key = (id(was), id(part))
        if key not in known:
            known[key] = tuple(_changed_in(was, part))
        yield from known[key]


def _changed_in(was: Part, part: Part) -> Iterator[_At]:
    for one in part.effective.commands:
        place = was.effective.places.get((one.command.id, one.arguments))
        before = was.effective.commands[place].now.shortcuts if place is not None else ()
        if before != one.now.shortcuts:
            yield part.program.id, one.command.id, one.arguments


def _working(part: Part, command: Command, arguments: Arguments, lost: Container[str]) -> list[Binding]:
    own = part.commanded(command.id)
    return [b for b in own if b.arguments == arguments and b.live and b.participant not in lost]


def _does_harm(part: Part, old: Binding) -> bool:
    """Whether an old key now does something risky in the same program."""
    others = (b for way in old.ways for b in part.first.get(way[0], ()) if way in b.ways)
    return any(b.command.risky for b in others)


def _weighed(of: _Of, one: _Alike, estate: Estate) -> Weighed:
    assumed = estate.assumed
    people = estate.people_of(one.setups)
    uses, known = uses_of(estate, of.program, of.command, one.setups)
    slips = _slips(assumed) if of.moved else 0.0
    each = assumed.notice_ms / 1000 + 2 * of.after
    lost = uses * slips * each * (assumed.risky if of.risky else 1) / 60
    gained = uses * (of.before - of.after) / 60
    return Weighed(
        program=one.program,
        command=one.command,
        arguments=of.arguments,
        setups=tuple(s.id for s in one.setups),
        people=people,
        before=of.before,
        after=of.after,
        moved=of.moved,
        uses=uses,
        known=known,
        gained=gained,
        lost=lost,
    )


def uses_of(estate: Estate, program: str, command: str, setups: Sequence[Setup]) -> tuple[float, bool]:
    """How often a week those who can be expected to use a command do, in some setups, and whether anybody has said."""
    assumed, census = estate.assumed, estate.census
    weekly = census.weekly.get((program, command)) if census is not None else None
    if weekly is None or census is None:
        return estate.people_of(setups) * assumed.weekly * assumed.share / 100, False
    ids, roles = frozenset(s.id for s in setups), census.roles
    return sum(n * roles[r].within(ids) * assumed.share_of(r) / 100 for r, n in weekly.items() if r in roles), True


def _slips(assumed: Assumptions) -> float:
    """How many uses of one a week go to the old key, over all weeks together."""
    return sum((assumed.slips / 100 * 0.5 ** (week / assumed.halves_after) for week in range(assumed.weeks)), start=0.0)
