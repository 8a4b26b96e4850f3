"""What a proposal solves and makes, whom it touches: computed on patched boards, never guessed."""

from collections.abc import Sequence, Set
from dataclasses import dataclass

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.finding import clashes_on, find_meant
from amberkey.core.clashes.model import Clash
from amberkey.core.profiles.model import Entry
from amberkey.core.profiles.setup import Setup
from amberkey.core.ways.changes import Change, patch, touched_strokes
from amberkey.core.worth.weighing import NO_WORTH, Scales, Worth, losers, taken_or_let_go


@dataclass(frozen=True, slots=True)
class Consequences:
    """Clashes that a change solves and makes, each with the setups where it does, and the setups in which any key moves."""

    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    setups: tuple[str, ...]
    people: int
    remains: tuple[Setup, ...] = ()
    """Setups that keep the clash in question."""
    uncovered: frozenset[str] = frozenset()
    """The identities of those clashes it makes whose parties all were there before: they lay behind what it takes away."""
    worth: Worth = NO_WORTH
    """Minutes a week that it saves or costs, and what old habits cost."""


NO_CONSEQUENCES = Consequences((), (), (), 0)


def consequences_of(estate: Estate, changes: Sequence[Change], solving: Group | None = None) -> Consequences:
    """Looks again at what a change touches in every setup that it reaches: the clashes gone and new, and who relearns.

    With `solving`, also the setups that keep that clash.
    """
    solved: dict[str, list[tuple[Clash, Setup]]] = {}
    made: dict[str, list[tuple[Clash, Setup]]] = {}
    moved: list[Setup] = []
    gone_in: set[str] = set()
    come: set[str] = set()
    scales = Scales(estate)
    entries = [c.item for c in changes if isinstance(c.item, Entry)]
    changed = [(e.program, e.command, tuple(sorted(e.arguments.items()))) for e in entries]
    for setup_id, setup in estate.setups.items():
        if not any(c.profile in setup.layers for c in changes):
            continue
        before = estate.board(setup_id)
        after = patch(before, estate.profiles, changes)
        if after is None:
            continue
        if after.moved:
            moved.append(setup)
        come.update({b.participant for b in after.come} - {b.participant for b in after.gone})
        strokes = touched_strokes(before, after)
        old = clashes_on(before, after.programs, strokes, after.gone, outside=after.outside)
        new = clashes_on(after.board, after.programs, strokes, after.come, outside=after.outside)
        if solving is not None and solving.clash.meant:
            # A shadow that its maker meant is among the clashes only for whoever doesn't believe it.
            old |= _meant_one(before, solving)
            new |= _meant_one(after.board, solving)
        lost, lost_now = losers(old.values()), losers(new.values())
        touched = dict.fromkeys((*changed, *taken_or_let_go(lost, lost_now)))
        scales.add(setup, before, after.board, touched, lost, lost_now)
        for identity, clash in old.items():
            if identity not in new:
                solved.setdefault(identity, []).append((clash, setup))
                if solving is not None and identity == solving.clash.identity:
                    gone_in.add(setup_id)
        for identity, clash in new.items():
            if identity not in old:
                made.setdefault(identity, []).append((clash, setup))
    return Consequences(
        solves=tuple(estate.grouped(solved)),
        makes=tuple(estate.grouped(made)),
        setups=tuple(s.id for s in moved),
        people=estate.people_of(moved),
        remains=tuple(s for s in solving.setups if s.id not in gone_in) if solving else (),
        uncovered=frozenset(i for i, found in made.items() if _lay_behind(found, come)),
        worth=scales.worth(),
    )


def _lay_behind(found: Sequence[tuple[Clash, Setup]], come: Set[str]) -> bool:
    return not any(b.participant in come for clash, _ in found for b in clash.parties)


def _meant_one(board: Board, group: Group) -> dict[str, Clash]:
    return {c.identity: c for c in find_meant(board) if c.identity == group.clash.identity}
