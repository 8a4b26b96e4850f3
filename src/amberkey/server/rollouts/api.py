"""Releases for specialists: drawing a plan, beginning it, looking at it, steering it."""

import datetime
from collections import Counter
from typing import Annotated, Literal, cast
from uuid import UUID

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import Field

from amberkey.core.organisation.model import Organisation
from amberkey.core.rollout.gates import WORST, Stands, State, gate_stands, parts
from amberkey.core.rollout.model import ReleasePlan
from amberkey.server.estate import ORGANISATION
from amberkey.server.fleet.models import Agent, Machine
from amberkey.server.library.documents import parsed
from amberkey.server.library.models import Document
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.rollouts import drift
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.moving import opening_of, silent_machines, stands_of
from amberkey.server.rollouts.reaching import people_of
from amberkey.server.rollouts.verbs.begin import begin, draw
from amberkey.server.rollouts.verbs.steer import (
    change_waves,
    go_on,
    go_without,
    pause,
    put_right,
    take_back,
    try_again,
    waves_seen,
)
from amberkey.server.rollouts.world import World
from amberkey.server.schema import NamedOut, Schema

router = Router(tags=["rollouts"])
router.add_router("", drift.router)

Key = Annotated[str, Field(pattern=r"^(profile|program)/[^\s]{1,120}$")]
MachineId = Annotated[str, Field(max_length=80)]
PlanState = Literal["running", "paused", "done", "going back", "taken back"]
Stand = Literal["to come", "asked", "in step", "stopped", "own change", "left out", "taken back", "silent"]
MOST_SHOWN = 400


class DrawIn(Schema):
    """`of`: the documents whose released revision is to go out; none: everything that is released."""

    of: Annotated[list[Key], Field(max_length=20)] = []
    plan: ReleasePlan


class RelearnedOut(Schema):
    program: str
    command: str
    before: str
    after: str
    people: int


class CannotOut(Schema):
    """A machine, or a program on it, that the release can't be brought to, and why."""

    machine: str
    why: str


class ClosesOut(Schema):
    program: str
    machines: int


class DrawnWaveOut(Schema):
    name: str
    machines: list[NamedOut]
    many: int
    people: int


class DrawnOut(Schema):
    """What a plan would do: its waves as they resolve, who relearns what, what can't take it, what has to be closed first."""

    title: str
    machines: int
    people: int
    waves: list[DrawnWaveOut]
    not_in_a_wave: int
    learners: int
    relearned: list[RelearnedOut]
    cannot: list[CannotOut]
    closes: list[ClosesOut]


class PartOut(Schema):
    """Machines of a wave that stand alike."""

    state: Stand
    machines: list[NamedOut]


class WaveOut(Schema):
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


class PlanOut(Schema):
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
    waves: list[WaveOut]
    newcomers: WaveOut | None
    stops: list[MachineStandsOut]
    plan: ReleasePlan
    seen: str


class PlanShortOut(Schema):
    id: UUID
    number: int
    title: str
    by: str
    at: datetime.datetime
    state: PlanState
    machines: int
    in_step: int
    stopped: int


class WavesIn(Schema):
    plan: ReleasePlan
    seen: str


class OfferedOut(Schema):
    """A document that can go out to machines, and the number of its released revision."""

    key: str
    name: str
    number: int


@router.get("/rollouts/offered", response=list[OfferedOut], auth=By(Role.RELEASER))
def offered(request: HttpRequest) -> list[OfferedOut]:
    """What can go out: the profiles that are released."""
    rows = Document.objects.filter(format="amberkey/profile@1", deleted_at=None, released__isnull=False)
    found = [
        OfferedOut(key=d.key, name=d.name, number=d.released.number) for d in rows.select_related("released") if d.released
    ]
    return sorted(found, key=lambda d: d.name.casefold())


@router.post("/rollouts/draw", response=DrawnOut, auth=By(Role.RELEASER))
def draw_plan(request: HttpRequest, given: DrawIn) -> DrawnOut:
    """What a plan would do, before it begins. Nothing is changed by it."""
    drawn = draw(given.of, given.plan)
    reach = drawn.reach
    taken = {m for wave in drawn.waves for m in wave}
    return DrawnOut(
        title=drawn.title,
        machines=len(reach.reached),
        people=sum(r.people for r in reach.reached),
        waves=[
            DrawnWaveOut(
                name=wave.name,
                machines=[NamedOut(id=m, name=reach.names[m]) for m in machines[:MOST_SHOWN]],
                many=len(machines),
                people=people_of(reach, machines),
            )
            for wave, machines in zip(given.plan.waves, drawn.waves, strict=True)
        ],
        not_in_a_wave=len(reach.reached) - len(taken),
        learners=reach.learners,
        relearned=[RelearnedOut(**one.relearned._asdict(), people=one.people) for one in reach.learns],
        cannot=[CannotOut(machine=c.name, why=c.why) for c in reach.cannot[:MOST_SHOWN]],
        closes=[ClosesOut(program=p, machines=many) for p, many in reach.closes.items()],
    )


@router.get("/rollouts", response=list[PlanShortOut])
def plans(request: HttpRequest) -> list[PlanShortOut]:
    """The releases, the newest first."""
    return [_short(plan) for plan in Plan.objects.select_related("made_by")[:100]]


def _short(plan: Plan) -> PlanShortOut:
    worst = Counter(state for _, state in _by_machine(plan).values())
    return PlanShortOut(
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


@router.post("/rollouts", response=PlanOut, auth=By(Role.RELEASER))
def begin_plan(request: HttpRequest, given: DrawIn) -> PlanOut:
    """Begin a release: its waves go out one after the other, as their gates and windows let them."""
    return _told(begin(actor_of(request), given.of, given.plan))


@router.get("/rollouts/{plan_id}", response=PlanOut)
def plan_shown(request: HttpRequest, plan_id: UUID) -> PlanOut:
    """A release, wave by wave, and where it stops."""
    return _told(_plan(plan_id))


def _plan(plan_id: UUID) -> Plan:
    plan = Plan.objects.select_related("made_by", "released").filter(pk=plan_id).first()
    if plan is None:
        raise NotFound("release")
    return plan


@router.post("/rollouts/{plan_id}/pause", response=PlanOut, auth=By(Role.RELEASER))
def pause_plan(request: HttpRequest, plan_id: UUID) -> PlanOut:
    """Nothing more is ordered until it goes on."""
    return _told(pause(actor_of(request), plan_id))


@router.post("/rollouts/{plan_id}/go-on", response=PlanOut, auth=By(Role.RELEASER))
def go_on_plan(request: HttpRequest, plan_id: UUID) -> PlanOut:
    """A release that was paused goes on."""
    return _told(go_on(actor_of(request), plan_id))


@router.post("/rollouts/{plan_id}/take-back", response=PlanOut, auth=By(Role.RELEASER))
def take_back_plan(request: HttpRequest, plan_id: UUID) -> PlanOut:
    """Everything that it wrote is as it was before; what else changed there since stays."""
    return _told(take_back(actor_of(request), plan_id))


@router.post("/rollouts/{plan_id}/waves", response=PlanOut, auth=By(Role.RELEASER))
def change_plan_waves(request: HttpRequest, plan_id: UUID, given: WavesIn) -> PlanOut:
    """Change the waves that aren't open yet."""
    return _told(change_waves(actor_of(request), plan_id, given.plan, given.seen))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/take-back", response=PlanOut, auth=By(Role.RELEASER))
def take_back_machine(request: HttpRequest, plan_id: UUID, machine_id: str) -> PlanOut:
    """What it wrote on one machine is as it was before."""
    return _told(take_back(actor_of(request), plan_id, machine_id))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/try-again", response=PlanOut, auth=By(Role.RELEASER))
def try_machine_again(request: HttpRequest, plan_id: UUID, machine_id: str) -> PlanOut:
    """What stopped on a machine is tried once more now."""
    return _told(try_again(actor_of(request), plan_id, machine_id))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/without", response=PlanOut, auth=By(Role.RELEASER))
def go_without_machine(request: HttpRequest, plan_id: UUID, machine_id: str) -> PlanOut:
    """The release goes on without a machine."""
    return _told(go_without(actor_of(request), plan_id, machine_id))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/put-right", response=PlanOut, auth=By(Role.RELEASER))
def put_machine_right(request: HttpRequest, plan_id: UUID, machine_id: str) -> PlanOut:
    """What somebody changed there is overwritten by what the release brings; a backup stays on the machine."""
    return _told(put_right(actor_of(request), plan_id, machine_id))


def _told(plan: Plan) -> PlanOut:
    world = World(plan)
    listed = [*(m for wave in plan.waves for m in wave), *plan.rows.values_list("machine_id", flat=True)]
    names = dict(Machine.objects.filter(pk__in=listed).values_list("pk", "name"))
    waves = [_wave(world, n, names) for n in range(len(plan.waves))]
    later = stands_of_newcomers(world, names)
    states = Counter(
        dict.fromkeys(("in step", "stopped", "own change", "silent", "to come", "asked", "left out", "taken back"), 0)
    )
    for wave in [*waves, *([later] if later else [])]:
        for part in wave.parts:
            states[part.state] += len(part.machines)
    return PlanOut(
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


def _wave(world: World, n: int, names: dict[str, str]) -> WaveOut:
    plan = world.plan
    machines = plan.waves[n]
    opened = plan.opened.get(str(n))
    shown = [_part(p.state, p.machines, names) for p in parts(stands_of(world, n))]
    opening = None
    if opened and n > 0:
        opening = gate_stands(world.document.waves[n].gate, stands_of(world, n - 1), world.now)
    elif not opened and plan.state in ("running", "paused"):
        opening = opening_of(world, n)
    return WaveOut(
        name=world.document.waves[n].name,
        opened=datetime.datetime.fromisoformat(opened) if opened else None,
        gate=opening.says if opening is not None and (opening.open or not opened) else "",
        opens_at=opening.at if opening is not None and not opened else None,
        many=len(machines),
        people=_people(world, machines),
        done=sum(len(p.machines) for p in shown if p.state in ("in step", "left out", "taken back")),
        parts=shown,
    )


def stands_of_newcomers(world: World, names: dict[str, str]) -> WaveOut | None:
    """The machines that came after the release began, as a wave of their own; None where none did."""
    machines = sorted(set(world.plan.rows.filter(wave=Carried.NEWCOMERS).values_list("machine_id", flat=True)))
    if not machines:
        return None
    silent = silent_machines(world, machines)
    rows = world.plan.rows.filter(wave=Carried.NEWCOMERS).values_list("machine_id", "state", "since")
    stands = [Stands(m, cast(State, s), at, m in silent) for m, s, at in rows]
    shown = [_part(p.state, p.machines, names) for p in parts(stands)]
    return WaveOut(
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
        silent = at is None or at < timezone.now() - datetime.timedelta(minutes=5)
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
