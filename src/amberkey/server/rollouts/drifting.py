"""What people changed on their machines since it was written there, told once for all machines on which it is the same."""

import datetime
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, cast

from amberkey.core.documents.canonical import Json, canonical_bytes, digest_of
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.organisation.surveying import FromFile, OwnChange, own_changes
from amberkey.core.programs.model import Program
from amberkey.server.estate import board_of, current_derived, current_estate, current_organisation
from amberkey.server.fleet.kept import kept, refresh
from amberkey.server.fleet.models import MachineFile
from amberkey.server.fleet.setups import setup_in
from amberkey.server.fleet.surveying import setups_of
from amberkey.server.rollouts.models import Carried


@dataclass(frozen=True, slots=True)
class Here:
    """One file in which something differs. `left`: why it stays there, where somebody decided so."""

    file: MachineFile
    people: tuple[str, ...]
    left: Mapping[str, str] | None = None


@dataclass
class Drift:
    """The same own keys of one command, on every machine that has them. `has`, `wanted`: None is the program's default."""

    program: Program
    platform: Platform
    command: str
    has: tuple[Shortcut, ...] | None
    wanted: tuple[Shortcut, ...] | None
    here: list[Here] = field(default_factory=list)

    @property
    def id(self) -> str:
        """16 hexadecimal digits that name it, wherever it is."""
        said = [self.program.id, self.platform, self.command, _json(self.has)]
        return digest_of(canonical_bytes(cast(Json, said)))[:16]

    @property
    def shortcuts(self) -> tuple[Shortcut, ...]:
        """What the command answers to there."""
        if self.has is not None:
            return self.has
        command = self.program.command(self.command)
        return tuple(command.defaults_on(self.platform)) if command is not None else ()


def _json(shortcuts: tuple[Shortcut, ...] | None) -> Json:
    return None if shortcuts is None else cast("list[Json]", [s.to_document() for s in shortcuts])


def _read(value: Any) -> tuple[Shortcut, ...] | None:
    return None if value is None else tuple(read_document_shortcut(s) for s in value)


@dataclass
class Drifts:
    """`waiting`: what waits for a word; `left`: what was left, with a reason. `changes`: the same as own changes of people, by
    the ids of drifts, for those that can be taken into a profile."""

    waiting: list[Drift]
    left: list[Drift]
    changes: dict[str, OwnChange]


def drifts() -> Drifts:
    """All of it, as the files were seen last; what is on most machines first."""
    refresh()
    waiting: dict[str, Drift] = {}
    left: dict[str, Drift] = {}
    said: list[FromFile] = []
    # Before the first release what people have set is told by a survey; where a release stops at it, it waits for a word here.
    stopped_at = set(Carried.objects.filter(state=Carried.State.OWN_CHANGE).values_list("file_id", flat=True))
    for file, program, platform, people in _files():
        standing = kept(file)
        asked = standing is not None and (standing.state == "drifted" or file.pk in stopped_at)
        drifted = standing.own if standing is not None and asked else ()
        for own in drifted:
            one = Drift(program, platform, own["command"], _read(own["has"]), _read(own["wanted"]))
            waiting.setdefault(one.id, one).here.append(Here(file, people))
        for command, why in (file.left or {}).items():
            one = Drift(program, platform, command, _read(why["has"]), None)
            left.setdefault(one.id, one).here.append(Here(file, people, why))
        own_keys = {o["command"]: Drift(program, platform, o["command"], _read(o["has"]), None).shortcuts for o in drifted}
        said += [FromFile(person, program.id, platform, own_keys) for person in people]
    everybody = {one.person for one in said}
    changes = own_changes(said, setups_of(everybody), current_organisation()) if waiting else []
    known = {(c.program, c.platform, c.command, c.shortcuts): c for c in changes}
    taken = {one.id: known.get((one.program.id, one.platform, one.command, one.shortcuts)) for one in waiting.values()}
    return Drifts(_ordered(waiting), _ordered(left), {i: change for i, change in taken.items() if change is not None})


def _ordered(found: Mapping[str, Drift]) -> list[Drift]:
    return sorted(found.values(), key=lambda d: (-len(d.here), d.program.name, d.command, d.id))


def _files() -> Iterator[tuple[MachineFile, Program, Platform, tuple[str, ...]]]:
    """Every file that was seen, with the program that it is of and whose it is: of one person, or of all who sit there."""
    estate, derived = current_estate(released=True), current_derived(released=True)
    seats: dict[str, dict[str, None]] = {}
    for seat in current_organisation().seats:
        seats.setdefault(seat.machine, {})[seat.person] = None
    files = MachineFile.objects.exclude(standing=None).select_related("agent__machine").defer("applied", "content")
    for file in files.order_by("machine_id", "pk"):
        setup_id = setup_in(derived, file.agent)
        if setup_id not in estate.setups:
            continue
        setup = board_of(estate, setup_id).setup
        program = setup.program(file.program)
        if program is None:
            continue
        there = seats.get(file.machine_id, {})
        people = (file.agent.person,) if file.agent.person in there else tuple(there)
        yield file, program, setup.setup.works_on, people


def forget_settled(today: datetime.date) -> int:
    """What was left goes 30 days after that ended; until then it can be seen that it was. Returns how many went."""
    gone = 0
    before = (today - datetime.timedelta(days=30)).isoformat()
    for file in MachineFile.objects.exclude(left=None):
        left = file.left or {}
        stays = {command: why for command, why in left.items() if why["until"] >= before}
        ended = any(why["until"] < today.isoformat() for why in left.values())
        if len(stays) != len(left):
            gone += len(left) - len(stays)
            MachineFile.objects.filter(pk=file.pk, left=file.left).update(left=stays or None)
        if ended and file.stands_on:
            MachineFile.objects.filter(pk=file.pk).update(stands_on="")
    return gone
