"""A release as it is shown: its waves as they stand, and where it stops."""

import datetime
from collections import Counter
from collections.abc import Collection
from typing import Literal, cast
from uuid import UUID

from django.utils import timezone

from amberkey.core.organisation.model import Organisation
from amberkey.core.rollout.gates import WORST, Stands, State, gate_stands, parts
from amberkey.core.rollout.model import ReleasePlan
from amberkey.server.estate import ORGANISATION
from amberkey.server.fleet.models import Agent, Machine
from amberkey.server.fleet.notes import notes
from amberkey.server.library.documents import parsed
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.opening import opening_of, silent_machines, stands_of
from amberkey.server.rollouts.verbs.steer import waves_seen
from amberkey.server.rollouts.world import SILENT_AFTER, World
from amberkey.server.schema import NamedOut, Schema

PlanState = Literal["running", "paused", "done", "going back", "taken back"]
Stand = Literal["to come", "asked", "in step", "stopped", "own change", "left out", "taken back", "silent"]
MOST_SHOWN = 400


class PartOut(Schema):
    """Machines of a wave that stand alike."""

    state: Stand
    machines: list[NamedOut]


class ReleaseWaveOut(Schema):
    """`opened`: since when it is open. `gate`: why it isn't, or what opened it; `opens_at`: when, where only the clock keeps
    it."""

    name: str
    opened: datetime.datetime | None
    gate: str
    opens_at: datetime.datetime | None
    many: int
    people: int
    done: int
    parts: list[PartOut]


class FileStandsOut(Schema):
    program: str
    path: str
    state: Stand
    says: str
    tries: int
    again_at: datetime.datetime | None


class MachineStandsOut(Schema):
    """A machine that needs a look: what of it stopped, or whose own change waits, or that is silent."""

    id: str
    name: str
    state: Stand
    heard_at: datetime.datetime | None
    files: list[FileStandsOut]


class ReleasePlanOut(Schema):
    """A release and how far it is. `newcomers`: machines that came after it began. `seen`: goes along where its waves are
    changed."""

    id: UUID
    number: int
    title: str
    of: list[str]
    by: str
    at: datetime.datetime
    state: PlanState
    says: str
    ended_at: datetime.datetime | None
    machines: int
    in_step: int
    stopped: int
    to_come: int
    written: int
    waves: list[ReleaseWaveOut]
    newcomers: ReleaseWaveOut | None
    stops: list[MachineStandsOut]
    plan: ReleasePlan
    seen: str


class ReleaseShortOut(Schema):
    id: UUID
    number: int
    title: str
    by: str
    at: datetime.datetime
    state: PlanState
    machines: int
    in_step: int
    stopped: int


def told_shortly(plan: Plan) -> ReleaseShortOut:
    worst = Counter(state for _, state in _by_machine(plan).values())
    return ReleaseShortOut(
        id=plan.pk,
        number=plan.number,
        title=plan.title,
        by=plan.made_by.display_name,
        at=plan.at,
        state=_state(plan),
        machines=sum(map(len, plan.waves)),
        in_step=worst["in step"],
        stopped=worst["stopped"] + worst["own change"],
    )


def _state(plan: Plan) -> PlanState:
    return cast(PlanState, plan.state)


def _by_machine(plan: Plan) -> dict[str, tuple[int, str]]:
    found: dict[str, tuple[int, str]] = {}
    for machine, state in plan.rows.values_list("machine_id", "state"):
        rank = WORST.index(state)
        if machine not in found or rank < found[machine][0]:
            found[machine] = rank, state
    return found


def told(plan: Plan) -> ReleasePlanOut:
    world = World(plan)
    listed = [*(m for wave in plan.waves for m in wave), *plan.rows.values_list("machine_id", flat=True)]
    names = dict(Machine.objects.filter(pk__in=listed).values_list("pk", "name"))
    waves = [_wave(world, n, names) for n in range(len(plan.waves))]
    later = _newcomers(world, names)
    states = Counter(
        dict.fromkeys(("in step", "stopped", "own change", "silent", "to come", "asked", "left out", "taken back"), 0)
    )
    for wave in [*waves, *([later] if later else [])]:
        for part in wave.parts:
            states[part.state] += len(part.machines)
    return ReleasePlanOut(
        id=plan.pk,
        number=plan.number,
        title=plan.title,
        of=plan.of,
        by=plan.made_by.display_name,
        at=plan.at,
        state=_state(plan),
        says=plan.says,
        ended_at=plan.ended_at,
        machines=len(set(listed)),
        in_step=states["in step"],
        stopped=states["stopped"] + states["own change"],
        to_come=states["to come"] + states["asked"] + states["silent"],
        written=plan.rows.filter(wrote__isnull=False).exclude(state="taken back").values("machine").distinct().count(),
        waves=waves,
        newcomers=later,
        stops=_stops(plan, names, world),
        plan=plan.document,
        seen=waves_seen(plan),
    )


def _wave(world: World, n: int, names: dict[str, str]) -> ReleaseWaveOut:
    plan = world.plan
    machines = plan.waves[n]
    opened = plan.opened.get(str(n))
    shown = [_part(p.state, p.machines, names) for p in parts(stands_of(world, n))]
    opening = None
    if opened and n > 0:
        opening = gate_stands(world.document.waves[n].gate, stands_of(world, n - 1), world.now)
    elif not opened and plan.state in ("running", "paused"):
        opening = opening_of(world, n)
    return ReleaseWaveOut(
        name=world.document.waves[n].name,
        opened=datetime.datetime.fromisoformat(opened) if opened else None,
        gate=opening.says if opening is not None and (opening.open or not opened) else "",
        opens_at=opening.at if opening is not None and not opened else None,
        many=len(machines),
        people=_people(world, machines),
        done=sum(len(p.machines) for p in shown if p.state in ("in step", "left out", "taken back")),
        parts=shown,
    )


def _newcomers(world: World, names: dict[str, str]) -> ReleaseWaveOut | None:
    """The machines that came after the release began, as a wave of their own; None where none did."""
    machines = sorted(set(world.plan.rows.filter(wave=Carried.NEWCOMERS).values_list("machine_id", flat=True)))
    if not machines:
        return None
    silent = silent_machines(world, machines)
    rows = world.plan.rows.filter(wave=Carried.NEWCOMERS).values_list("machine_id", "state", "since")
    stands = [Stands(m, cast(State, s), at, m in silent) for m, s, at in rows]
    shown = [_part(p.state, p.machines, names) for p in parts(stands)]
    return ReleaseWaveOut(
        name="Came later",
        opened=None,
        gate="Each in the next window",
        opens_at=None,
        many=len(machines),
        people=_people(world, machines),
        done=sum(len(p.machines) for p in shown if p.state == "in step"),
        parts=shown,
    )


def _part(state: Stand, machines: tuple[str, ...], names: dict[str, str]) -> PartOut:
    return PartOut(state=state, machines=[NamedOut(id=m, name=names.get(m, m)) for m in machines])


def _people(world: World, machines: list[str]) -> int:
    """How many people sit at some machines, in the plan's state."""
    digest = world.plan.documents.get(ORGANISATION)
    organisation = parsed(digest) if digest else None
    if not isinstance(organisation, Organisation):
        return sum(world.estate.setups[i].people for m in machines for i in world.derived.setups_of(machine=m))
    wanted = set(machines)
    there = {(s.person, s.machine) for s in organisation.seats if s.machine in wanted}
    return sum(organisation.people_by_id[p].stands_for for p, _ in there)


def _stops(plan: Plan, names: dict[str, str], world: World) -> list[MachineStandsOut]:
    """The machines where a release stops, and those that are silent though something is awaited of them."""
    rows = plan.rows.exclude(state__in=("in step", "left out", "taken back")).select_related("file")
    by_machine: dict[str, list[Carried]] = {}
    for row in rows.order_by("wave", "machine_id", "pk"):
        by_machine.setdefault(row.machine_id, []).append(row)
    heard: dict[str, datetime.datetime | None] = {}
    for agent in Agent.objects.filter(machine__in=list(by_machine)).exclude(token_hash=""):
        heard[agent.machine_id] = max((t for t in (heard.get(agent.machine_id), agent.heard_at) if t), default=None)
    found = []
    for machine, own in by_machine.items():
        at = heard.get(machine)
        silent = at is None or at < timezone.now() - SILENT_AFTER
        bad = [r for r in own if r.state in ("stopped", "own change")]
        if not bad and not silent:
            continue
        state = cast(Stand, bad[0].state) if bad else "silent"
        found.append(
            MachineStandsOut(
                id=machine,
                name=names.get(machine, machine),
                state="stopped" if any(r.state == "stopped" for r in bad) else state,
                heard_at=at,
                files=[_file(r) for r in (bad or own)],
            )
        )
    order = {"stopped": 0, "own change": 1, "silent": 2}
    return sorted(found, key=lambda m: (order[m.state], m.name))[:MOST_SHOWN]


def _file(row: Carried) -> FileStandsOut:
    return FileStandsOut(
        program=row.file.program if row.file is not None else "",
        path=row.file.path if row.file is not None else "",
        state=cast(Stand, row.state),
        says=row.says,
        tries=row.tries,
        again_at=row.again_at if row.state == "stopped" else None,
    )


def _came_later(machines: Collection[str]) -> dict[str, str]:
    """Of machines that came after a release had ended, how they stand with it: said where machines are listed."""
    rows = Carried.objects.filter(wave=Carried.NEWCOMERS, machine__in=machines).exclude(state=Carried.State.TAKEN_BACK)
    found: dict[str, tuple[int, set[str]]] = {}
    for machine, number, state in rows.order_by("plan__number").values_list("machine_id", "plan__number", "state"):
        last, states = found.get(machine, (number, set()))
        found[machine] = (number, {*(states if last == number else ()), state})
    return {
        machine: f"It came after release {number} had ended, {_stands(states)}." for machine, (number, states) in found.items()
    }


def _stands(states: Collection[str]) -> str:
    worst = max((_S(s) for s in states), key=_WORST_FIRST.index)
    return _NEWCOMER.get(worst, "and it stops there")


_S = Carried.State
_WORST_FIRST = (_S.LEFT_OUT, _S.IN_STEP, _S.ASKED, _S.TO_COME, _S.OWN_CHANGE, _S.STOPPED)
_NEWCOMER = {
    _S.LEFT_OUT: "and was left out",
    _S.IN_STEP: "and was given it then",
    _S.ASKED: "and is being given it",
    _S.TO_COME: "and gets it in the next window",
    _S.OWN_CHANGE: "and somebody's own change stands there against it",
}
notes.append(_came_later)
