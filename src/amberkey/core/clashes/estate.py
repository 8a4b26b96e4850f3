"""Everything in use at once: all setups with their programs and profiles, and the clashes of each, computed once."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from amberkey.core.clashes.board import Board, lay_out
from amberkey.core.clashes.finding import find_clashes
from amberkey.core.clashes.model import Clash
from amberkey.core.profiles.effective import resolve_setup
from amberkey.core.profiles.model import SEVERITIES, Profile, Setup
from amberkey.core.programs.model import Program


@dataclass(frozen=True)
class Group:
    """One clash with all its copies: the setups that have it, the worst severity, the people that it touches."""

    clash: Clash
    setups: tuple[Setup, ...]

    @property
    def people(self) -> int:
        return sum(s.people for s in self.setups)


@dataclass(frozen=True)
class Estate:
    """`setups` by id, `programs` by (id, version), `profiles` by id."""

    setups: Mapping[str, Setup]
    programs: Mapping[tuple[str, str], Program]
    profiles: Mapping[str, Profile]
    _boards: dict[str, Board] = field(default_factory=dict, repr=False, compare=False)
    _clashes: dict[str, list[Clash]] = field(default_factory=dict, repr=False, compare=False)

    def board(self, setup_id: str) -> Board:
        """The board of a setup. Raises MissingPart, UnknownLayout or UnknownBody where the setup can't be put together."""
        if setup_id not in self._boards:
            self._boards[setup_id] = lay_out(resolve_setup(self.setups[setup_id], self.programs, self.profiles))
        return self._boards[setup_id]

    def clashes(self, setup_id: str) -> list[Clash]:
        if setup_id not in self._clashes:
            self._clashes[setup_id] = find_clashes(self.board(setup_id))
        return self._clashes[setup_id]

    def groups(self, setup_ids: Iterable[str] | None = None) -> list[Group]:
        """All clashes of some setups (or of all), copies together: most people first, then the worst."""
        found: dict[str, list[tuple[Clash, Setup]]] = {}
        for setup_id in self.setups if setup_ids is None else setup_ids:
            for clash in self.clashes(setup_id):
                found.setdefault(clash.identity, []).append((clash, self.setups[setup_id]))
        groups = []
        for copies in found.values():
            worst = min(copies, key=lambda c: SEVERITIES.index(c[0].severity))[0]
            groups.append(Group(worst, tuple(s for _, s in copies)))
        return sorted(groups, key=lambda g: (SEVERITIES.index(g.clash.severity), -g.people, g.clash.identity))

    def with_profiles(self, changed: Iterable[Profile]) -> "Estate":
        """The same estate with some profiles in a new state; setups without them keep what was computed."""
        profiles = {p.id: p for p in changed}
        keep = {i for i, s in self.setups.items() if not profiles.keys() & set(s.layers)}
        return replace(
            self,
            profiles={**self.profiles, **profiles},
            _boards={i: b for i, b in self._boards.items() if i in keep},
            _clashes={i: c for i, c in self._clashes.items() if i in keep},
        )
