"""Steering a release that is under way: paused, gone on with, taken back, and what becomes of single machines."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from amberkey.core.rollout.model import ReleasePlan
from amberkey.core.rollout.waves import resolved
from amberkey.server.fleet.models import Machine
from amberkey.server.fleet.verbs.order import holders
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.reaching import Reach, reach_of
from amberkey.server.rollouts.tasks import put_to_work
from amberkey.server.rollouts.world import SETTLED, in_hand

S = Carried.State
RUNNING, PAUSED = Plan.State.RUNNING, Plan.State.PAUSED


def _plan(actor: Actor, plan_id: UUID) -> Plan:
    actor.require(Role.RELEASER)
    plan = Plan.objects.select_for_update().filter(pk=plan_id).first()
    if plan is None:
        raise NotFound("release")
    return plan


@transaction.atomic
def pause(actor: Actor, plan_id: UUID) -> Plan:
    """Nothing is ordered any more until it goes on; what was ordered already may still be written. Done again, it stays."""
    plan = _plan(actor, plan_id)
    if plan.state == PAUSED:
        return plan
    _has_to_be(plan, RUNNING)
    return _become(actor, plan, PAUSED, "paused a release", f"{actor.name} paused it.")


@transaction.atomic
def go_on(actor: Actor, plan_id: UUID) -> Plan:
    """A release that was paused goes on."""
    plan = _plan(actor, plan_id)
    if plan.state == RUNNING:
        return plan
    _has_to_be(plan, PAUSED)
    return _become(actor, plan, RUNNING, "went on with a release", "")


@transaction.atomic
def take_back(actor: Actor, plan_id: UUID, machine_id: str | None = None) -> Plan:
    """What a release wrote is as it was before, everywhere or on one machine; what else changed there since stays. What it
    hasn't written it doesn't write any more. Raises NotFound, Problem."""
    plan = _plan(actor, plan_id)
    if plan.state in (Plan.State.GOING_BACK, Plan.State.TAKEN_BACK):
        return plan
    rows = plan.rows.exclude(goes_back=True)
    if machine_id is None:
        _none_later(plan, set(rows.values_list("machine_id", flat=True)))
        rows.update(goes_back=True, again_at=None, tries=0)
        return _become(actor, plan, Plan.State.GOING_BACK, "took back a release", "")
    _reaches(plan, machine_id)
    _none_later(plan, {machine_id})
    _mark(plan, machine_id)
    rows.filter(machine=machine_id).update(goes_back=True, again_at=None, tries=0)
    actor.record("took back a release", f"release {plan.number}", f"on {machine_id}")
    put_to_work(plan)
    return plan


@transaction.atomic
def go_without(actor: Actor, plan_id: UUID, machine_id: str) -> Plan:
    """The release goes on without a machine: nothing more is written there, and no gate waits for it."""
    plan = _plan(actor, plan_id)
    _reaches(plan, machine_id)
    _mark(plan, machine_id)
    rows = plan.rows.filter(machine=machine_id).exclude(state__in=SETTLED)
    rows.update(state=S.LEFT_OUT, since=timezone.now(), says=f"{actor.name} went on without it.", again_at=None)
    actor.record("went on without a machine", f"release {plan.number}", machine_id)
    put_to_work(plan)
    return plan


@transaction.atomic
def try_again(actor: Actor, plan_id: UUID, machine_id: str) -> Plan:
    """What stopped, or was left out, on a machine is tried once more now."""
    plan = _plan(actor, plan_id)
    _reaches(plan, machine_id)
    rows = plan.rows.filter(machine=machine_id, goes_back=False)
    rows.filter(state__in=(S.STOPPED, S.LEFT_OUT)).update(
        state=S.TO_COME, since=timezone.now(), says="", again_at=None, tries=0, turns=0
    )
    actor.record("tried again", f"release {plan.number}", machine_id)
    put_to_work(plan)
    return plan


@transaction.atomic
def put_right(actor: Actor, plan_id: UUID, machine_id: str) -> Plan:
    """What somebody changed on a machine is overwritten by what the release brings; a backup stays there."""
    plan = _plan(actor, plan_id)
    _reaches(plan, machine_id)
    plan.rows.filter(machine=machine_id, state=S.OWN_CHANGE).update(over=True)
    actor.record("put right", f"release {plan.number}", machine_id)
    put_to_work(plan)
    return plan


@transaction.atomic
def change_waves(actor: Actor, plan_id: UUID, wanted: ReleasePlan, seen: str) -> Plan:
    """Change the waves that aren't open yet. `seen`: which waves were open when whoever changes them looked, so that nothing is
    changed that began meanwhile. Raises Problem."""
    plan = _plan(actor, plan_id)
    drawn = drawn_anew(plan, wanted, seen)
    plan.plan = wanted.model_dump(mode="json", exclude_defaults=True)
    plan.waves = drawn.waves
    plan.save(update_fields=["plan", "waves"])
    actor.record("changed the waves of a release", f"release {plan.number}")
    put_to_work(plan)
    return plan


@dataclass(frozen=True)
class DrawnAnew:
    """The waves of a plan as they would resolve, the open ones as they are; `left`: reached machines that would be in none."""

    reach: Reach
    waves: list[list[str]]
    left: int


def drawn_anew(plan: Plan, wanted: ReleasePlan, seen: str) -> DrawnAnew:
    """What changed waves would come to; saves nothing. Raises Problem as `change_waves` does."""
    if plan.state not in (RUNNING, PAUSED):
        raise Problem(409, f"Release {plan.number} is {plan.state}.", "Its waves can't be changed any more.")
    opened = len(plan.opened)
    if seen != waves_seen(plan):
        raise Problem(
            409, "A wave was opened meanwhile.", "What is open stays as it is.", "Look again, then change what comes after it."
        )
    if wanted.waves[:opened] != plan.document.waves[:opened]:
        raise Problem(
            400, "A wave that is open can't be changed.", "Its machines may have been written to.", "Change later ones."
        )
    reach = reach_of(plan.of, plan.documents)
    fixed = {m for wave in plan.waves[:opened] for m in wave}
    left = [r for r in reach.reached if r.machine not in fixed]
    # A newly named machine has to be one that isn't in an open wave.
    gone = next((m for wave in wanted.waves[opened:] for m in wave.chosen.machines if m in fixed), None)
    if gone is not None:
        raise Problem(409, f"{gone} is in a wave that is open.", "A machine is in one wave.", "Take it out of the later one.")
    later = wanted.waves[opened:]
    waves = resolved(wanted.model_copy(update={"waves": later}), left) if later else []
    taken = {m for wave in waves for m in wave}
    return DrawnAnew(reach, [*plan.waves[:opened], *(list(w) for w in waves)], len(left) - len(taken))


def waves_seen(plan: Plan) -> str:
    """What tells whether a wave was opened since."""
    return ",".join(sorted(plan.opened))


def _has_to_be(plan: Plan, state: Plan.State) -> None:
    if plan.state != state:
        raise Problem(409, f"Release {plan.number} is {plan.state}.", "Somebody else may have been quicker.", "Look again.")


def _become(actor: Actor, plan: Plan, state: Plan.State, action: str, says: str) -> Plan:
    plan.state, plan.says = state, says
    plan.save(update_fields=["state", "says"])
    actor.record(action, f"release {plan.number}", plan.title)
    put_to_work(plan)
    return plan


def _reaches(plan: Plan, machine_id: str) -> None:
    if not plan.rows.filter(machine=machine_id).exists() and machine_id not in {m for wave in plan.waves for m in wave}:
        raise NotFound(f"machine {machine_id[:60]} in release {plan.number}")


def _mark(plan: Plan, machine_id: str) -> None:
    """A row of the machine as a whole: what becomes of it holds for files too that come to it later."""
    Carried.objects.get_or_create(plan=plan, machine_id=machine_id, file=None, defaults={"wave": _wave_of(plan, machine_id)})


def _wave_of(plan: Plan, machine_id: str) -> int:
    return next((n for n, wave in enumerate(plan.waves) if machine_id in wave), Carried.NEWCOMERS)


def _none_later(plan: Plan, machines: set[str]) -> None:
    """What a later release has written since is taken back first: else its machines would get back what came before both."""
    for later in Plan.objects.filter(number__gt=plan.number).exclude(state=Plan.State.TAKEN_BACK).order_by("-number"):
        wrote = set(later.rows.filter(wrote__isnull=False).exclude(state=S.TAKEN_BACK).values_list("machine_id", flat=True))
        if wrote & machines:
            raise Problem(
                409,
                f"Release {later.number} came after this one.",
                "It has written to the same machines.",
                f"Take release {later.number} back first.",
            )


def _in_hand(machine_id: str) -> Problem | None:
    for plan in Plan.objects.filter(state__in=(RUNNING, PAUSED, Plan.State.GOING_BACK)).order_by("number"):
        if machine_id in in_hand(plan):
            name = Machine.objects.filter(pk=machine_id).values_list("name", flat=True).first() or machine_id
            return Problem(
                409,
                f"Release {plan.number} has {name} in hand.",
                "Two that write to one machine would be mixed.",
                "Steer it there, or wait until it is done with it.",
            )
    return None


holders.append(_in_hand)


def machines_of(plan: Plan) -> Sequence[str]:
    """All machines of a plan's waves, and those that came later."""
    later = plan.rows.filter(wave=Carried.NEWCOMERS).values_list("machine_id", flat=True)
    return list(dict.fromkeys([*(m for wave in plan.waves for m in wave), *later]))
