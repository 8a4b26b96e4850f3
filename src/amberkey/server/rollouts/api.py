"""Releases for specialists: drawing a plan, beginning it, looking at it, steering it."""

from collections import Counter
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.rollout.model import ReleasePlan
from amberkey.core.worth.weighing import worth_between
from amberkey.server.estate import current_organisation, estate_of
from amberkey.server.fleet.models import Machine
from amberkey.server.library.documents import digests
from amberkey.server.library.given import givens, state_of
from amberkey.server.library.models import Document
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.rollouts import drift, updates
from amberkey.server.rollouts.models import Plan
from amberkey.server.rollouts.reaching import people_of, reaches_setup
from amberkey.server.rollouts.shown import MOST_SHOWN, ReleasePlanOut, ReleaseShortOut, told, told_shortly
from amberkey.server.rollouts.verbs.begin import begin, draw
from amberkey.server.rollouts.verbs.steer import (
    change_waves,
    drawn_anew,
    go_on,
    go_without,
    pause,
    put_right,
    take_back,
    try_again,
)
from amberkey.server.schema import NamedOut, Schema
from amberkey.server.workbench.worth import NO_WORTH_OUT, WorthOut, worth_out

router = Router(tags=["rollouts"])
updates.say_where_machines_are_listed()
router.add_router("", drift.router)

Key = Annotated[str, Field(pattern=r"^(profile|program)/[^\s]{1,120}$")]
MachineId = Annotated[str, Field(max_length=80)]


class DrawIn(Schema):
    """`of`: the documents whose released revision is to go out; none: everything that is released."""

    of: Annotated[list[Key], Field(max_length=20)] = []
    plan: ReleasePlan


class ReleaseTeachesOut(Schema):
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
    relearned: list[ReleaseTeachesOut]
    cannot: list[CannotOut]
    closes: list[ClosesOut]


class WavesDrawnOut(Schema):
    """What changed waves would come to: how many machines have their turn sooner or later, are in no wave, or in none any
    more."""

    waves: list[DrawnWaveOut]
    sooner: int
    later: int
    not_in_a_wave: int
    no_more: int


class WavesIn(Schema):
    plan: ReleasePlan
    seen: str


class OfferedOut(Schema):
    """A document that can go out to machines, and the number of its released revision."""

    key: str
    name: str
    number: int


class OffersOut(Schema):
    """`machines`: those with an agent."""

    documents: list[OfferedOut]
    departments: list[NamedOut]
    machines: list[NamedOut]


@router.get("/rollouts/offered", response=OffersOut, auth=By(Role.RELEASER))
def offered(request: HttpRequest) -> OffersOut:
    """What can go out, and by what its waves can choose."""
    rows = Document.objects.filter(format="amberkey/profile@1", deleted_at=None, released__isnull=False)
    released = rows.select_related("released")
    documents = [OfferedOut(key=d.key, name=d.name, number=d.released.number) for d in released if d.released]
    machines = Machine.objects.filter(agents__token_hash__gt="").distinct().order_by("name", "id")
    return OffersOut(
        documents=sorted(documents, key=lambda d: d.name.casefold()),
        departments=[NamedOut(id=d.id, name=d.name) for d in current_organisation().departments],
        machines=[NamedOut(id=m.id, name=m.name) for m in machines],
    )


class ReleaseOfIn(Schema):
    """Documents by their keys; none stands for everything that is released."""

    of: Annotated[list[Key], Field(max_length=20)] = []


@router.post("/rollouts/worth", response=WorthOut, auth=By(Role.RELEASER))
def release_worth(request: HttpRequest, given: ReleaseOfIn) -> WorthOut:
    """What a release is worth to the people whom it reaches, against what most machines were given last."""
    after, given_last = digests(released=True), Counter(givens().values()).most_common(1)
    if not given_last:
        return NO_WORTH_OUT
    estate = estate_of(after)
    only = {i for i, setup in estate.setups.items() if reaches_setup(given.of, setup)}
    return worth_out(worth_between(estate_of(state_of(given_last[0][0])), estate, only))


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
        relearned=[ReleaseTeachesOut(**one.relearned._asdict(), people=one.people) for one in reach.learns],
        cannot=[CannotOut(machine=c.name, why=c.why) for c in reach.cannot[:MOST_SHOWN]],
        closes=[ClosesOut(program=p, machines=many) for p, many in reach.closes.items()],
    )


@router.get("/rollouts", response=list[ReleaseShortOut])
def plans(request: HttpRequest) -> list[ReleaseShortOut]:
    """The releases, the newest first."""
    return [told_shortly(plan) for plan in Plan.objects.select_related("made_by")[:100]]


@router.post("/rollouts", response=ReleasePlanOut, auth=By(Role.RELEASER))
def begin_plan(request: HttpRequest, given: DrawIn) -> ReleasePlanOut:
    """Begin a release: its waves go out one after the other, as their gates and windows let them."""
    return told(begin(actor_of(request), given.of, given.plan))


@router.get("/rollouts/{plan_id}", response=ReleasePlanOut)
def plan_shown(request: HttpRequest, plan_id: UUID) -> ReleasePlanOut:
    """A release, wave by wave, and where it stops."""
    return told(_plan(plan_id))


def _plan(plan_id: UUID) -> Plan:
    plan = Plan.objects.select_related("made_by", "released").filter(pk=plan_id).first()
    if plan is None:
        raise NotFound("release")
    return plan


@router.post("/rollouts/{plan_id}/pause", response=ReleasePlanOut, auth=By(Role.RELEASER))
def pause_plan(request: HttpRequest, plan_id: UUID) -> ReleasePlanOut:
    """Nothing more is ordered until it goes on."""
    return told(pause(actor_of(request), plan_id))


@router.post("/rollouts/{plan_id}/go-on", response=ReleasePlanOut, auth=By(Role.RELEASER))
def go_on_plan(request: HttpRequest, plan_id: UUID) -> ReleasePlanOut:
    """A release that was paused goes on."""
    return told(go_on(actor_of(request), plan_id))


@router.post("/rollouts/{plan_id}/take-back", response=ReleasePlanOut, auth=By(Role.RELEASER))
def take_back_plan(request: HttpRequest, plan_id: UUID) -> ReleasePlanOut:
    """Everything that it wrote is as it was before; what else changed there since stays."""
    return told(take_back(actor_of(request), plan_id))


@router.post("/rollouts/{plan_id}/waves/draw", response=WavesDrawnOut, auth=By(Role.RELEASER))
def draw_changed_waves(request: HttpRequest, plan_id: UUID, given: WavesIn) -> WavesDrawnOut:
    """What changed waves would come to. Nothing is changed by it."""
    plan = Plan.objects.filter(pk=plan_id).first()
    if plan is None:
        raise NotFound("release")
    drawn = drawn_anew(plan, given.plan, given.seen)
    before = {m: n for n, wave in enumerate(plan.waves) for m in wave}
    now = {m: n for n, wave in enumerate(drawn.waves) for m in wave}
    return WavesDrawnOut(
        waves=[
            DrawnWaveOut(
                name=wave.name,
                machines=[NamedOut(id=m, name=drawn.reach.names.get(m, m)) for m in machines[:MOST_SHOWN]],
                many=len(machines),
                people=people_of(drawn.reach, machines),
            )
            for wave, machines in zip(given.plan.waves, drawn.waves, strict=True)
        ],
        sooner=sum(n < before[m] for m, n in now.items() if m in before),
        later=sum(n > before[m] for m, n in now.items() if m in before),
        not_in_a_wave=drawn.left,
        no_more=len(before.keys() - now.keys()),
    )


@router.post("/rollouts/{plan_id}/waves", response=ReleasePlanOut, auth=By(Role.RELEASER))
def change_plan_waves(request: HttpRequest, plan_id: UUID, given: WavesIn) -> ReleasePlanOut:
    """Change the waves that aren't open yet."""
    return told(change_waves(actor_of(request), plan_id, given.plan, given.seen))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/take-back", response=ReleasePlanOut, auth=By(Role.RELEASER))
def take_back_machine(request: HttpRequest, plan_id: UUID, machine_id: str) -> ReleasePlanOut:
    """What it wrote on one machine is as it was before."""
    return told(take_back(actor_of(request), plan_id, machine_id))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/try-again", response=ReleasePlanOut, auth=By(Role.RELEASER))
def try_machine_again(request: HttpRequest, plan_id: UUID, machine_id: str) -> ReleasePlanOut:
    """What stopped on a machine is tried once more now."""
    return told(try_again(actor_of(request), plan_id, machine_id))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/without", response=ReleasePlanOut, auth=By(Role.RELEASER))
def go_without_machine(request: HttpRequest, plan_id: UUID, machine_id: str) -> ReleasePlanOut:
    """The release goes on without a machine."""
    return told(go_without(actor_of(request), plan_id, machine_id))


@router.post("/rollouts/{plan_id}/machines/{machine_id}/put-right", response=ReleasePlanOut, auth=By(Role.RELEASER))
def put_machine_right(request: HttpRequest, plan_id: UUID, machine_id: str) -> ReleasePlanOut:
    """What somebody changed there is overwritten by what the release brings; a backup stays on the machine."""
    return told(put_right(actor_of(request), plan_id, machine_id))
