"""Clashes of many setups by identity, and the groups that are shown of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.model import Clash
from amberkey.core.profiles.decisions import SEVERITIES
from amberkey.core.profiles.setup import Setup

_WORST = {severity: n for n, severity in enumerate(SEVERITIES)}


@dataclass(frozen=True, eq=False)
class Group:
    """One clash with all its copies: the setups that have it (those of most people first), the worst severity, the people that
    it touches."""

    clash: Clash
    setups: tuple[Setup, ...]
    people: int


@dataclass(frozen=True, eq=False)
class Grouping:
    """All clashes of some boards. `copies` maps an identity to the setups that have it, each with its own clash; `found` are
    the same by setup, as they were when they were counted: another thread may be finding those of a board anew.

    One that is made from another one shares every identity that no changed board has or had; `changed` are the others, and
    `origin` is the token of that other one, which it doesn't keep alive.
    """

    boards: Mapping[str, Board]
    copies: Mapping[str, Mapping[str, Clash]]
    found: Mapping[str, Sequence[Clash]]
    origin: object = None
    changed: frozenset[str] = frozenset()
    token: object = field(default_factory=object, repr=False)

    def differing(self, boards: Mapping[str, Board]) -> int:
        """How many setups have another board, or are in one of the two only."""
        return sum(self.boards.get(i) is not b for i, b in boards.items()) + sum(i not in boards for i in self.boards)

    @classmethod
    def made(cls, boards: Mapping[str, Board], found: Mapping[str, Sequence[Clash]], nearest: "Grouping | None") -> "Grouping":
        """`found` has the clashes of each setup."""
        if nearest is not None and nearest.differing(boards) == 0:
            return nearest
        if nearest is None or nearest.differing(boards) * 2 > len(boards):
            copies: dict[str, dict[str, Clash]] = {}
            for setup_id in boards:
                for clash in found[setup_id]:
                    copies.setdefault(clash.identity, {})[setup_id] = clash
            return cls(dict(boards), copies, dict(found))
        after: dict[str, Mapping[str, Clash]] = dict(nearest.copies)
        own: dict[str, dict[str, Clash]] = {}

        def mine(identity: str) -> dict[str, Clash]:
            if identity not in own:
                own[identity] = dict(after.get(identity, {}))
            return own[identity]

        for setup_id, board in nearest.boards.items():
            if boards.get(setup_id) is not board:
                for clash in nearest.found[setup_id]:
                    mine(clash.identity).pop(setup_id, None)
        counted: dict[str, Sequence[Clash]] = {}
        for setup_id, board in boards.items():
            if nearest.boards.get(setup_id) is board:
                counted[setup_id] = nearest.found[setup_id]
                continue
            counted[setup_id] = found[setup_id]
            for clash in found[setup_id]:
                mine(clash.identity)[setup_id] = clash
        for identity, copy in own.items():
            if copy:
                after[identity] = copy
            else:
                after.pop(identity, None)
        return cls(dict(boards), after, counted, nearest.token, frozenset(own))


def worst_of(copies: Sequence[Clash]) -> Clash:
    """The clash that speaks for its copies: of equally bad ones the first."""
    return min(copies, key=lambda c: _WORST[c.severity])


def in_order(groups: list[Group]) -> list[Group]:
    """The worst first, then those that touch most people."""
    return sorted(groups, key=lambda g: (_WORST[g.clash.severity], -g.people, g.clash.identity))
