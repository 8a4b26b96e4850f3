"""Opening the waves of a release, and giving each file of an open one its row."""

from collections.abc import Iterable
from typing import cast

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from amberkey.core.rollout.gates import Opening, Stands, State, gate_stands, window_stands
from amberkey.server.fleet.models import Agent
from amberkey.server.people.models import AuditEntry
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.world import World


def stands_of(world: World, wave: int) -> list[Stands]:
    """How the machines of a wave stand; one of which nothing is known yet is to come."""
    rows = world.plan.rows.filter(wave=wave).values_list("machine_id", "state", "since")
    silent = silent_machines(world, world.plan.waves[wave])
    found = [Stands(machine, cast(State, state), since, machine in silent) for machine, state, since in rows]
    known = {one.machine for one in found}
    return found + [Stands(m, "to come", world.now, m in silent) for m in world.plan.waves[wave] if m not in known]


def silent_machines(world: World, machines: Iterable[str]) -> set[str]:
    """Those of which no agent was heard for a while."""
    agents = Agent.objects.filter(machine__in=list(machines)).exclude(token_hash="")
    heard = {a.machine_id for a in agents if not world.silent(a)}
    return set(machines) - heard


def opening_of(world: World, wave: int) -> Opening:
    """Whether a wave may be opened now: by its gate, then by its window."""
    if wave > 0:
        if str(wave - 1) not in world.plan.opened:
            return Opening(False, "Shut until the wave before is open")
        found = gate_stands(world.document.waves[wave].gate, stands_of(world, wave - 1), world.now)
        if not found.open:
            return found
    return window_stands(world.document.waves[wave].window, world.now)


def more_to_open(world: World) -> bool:
    """Whether the next wave may be opened by now."""
    world.plan.refresh_from_db()
    nxt = next((n for n in range(len(world.plan.waves)) if str(n) not in world.plan.opened), None)
    return world.plan.state == Plan.State.RUNNING and nxt is not None and opening_of(world, nxt).open


@transaction.atomic
def open_waves(world: World) -> None:
    """Open the waves that may be, in their order, and give every file of an open wave its row."""
    plan = Plan.objects.select_for_update().get(pk=world.plan.pk)
    world.plan = plan
    if plan.state != Plan.State.RUNNING:
        return
    for n in range(len(plan.waves)):
        if str(n) not in plan.opened:
            if not opening_of(world, n).open:
                break
            plan.opened = {**plan.opened, str(n): timezone.now().isoformat()}
            plan.save(update_fields=["opened"])
            name = world.document.waves[n].name
            AuditEntry.objects.create(
                machine="release", action="opened a wave", subject=f"release {plan.number}", detail=name[:600]
            )
        give_rows(world, n, plan.waves[n])


def give_rows(world: World, wave: int, machines: Iterable[str]) -> None:
    """A row for each file of some machines that the plan's state describes, and one for a machine of which none is known; none
    for a machine without which the plan goes on, or on which it was taken back."""
    plan = world.plan
    out = plan.rows.filter(Q(goes_back=True) | Q(state=Carried.State.LEFT_OUT), file=None)
    kept_out = set(out.values_list("machine_id", flat=True))
    listed = [m for m in machines if m not in kept_out]
    rows = plan.rows.filter(machine__in=listed).values_list("machine_id", "file_id")
    known: set[tuple[str, int | None]] = set(rows)
    agents: dict[str, list[Agent]] = {m: [] for m in listed}
    for agent in (
        Agent.objects.filter(machine__in=listed).exclude(token_hash="").select_related("machine").prefetch_related("files")
    ):
        agents[agent.machine_id].append(agent)
    fresh, empty = [], []
    for machine, own in agents.items():
        files = []
        for agent in own:
            for file in agent.files.all():
                file.agent = agent
                if world.wanted(file) is not None:
                    files.append(file.pk)
        if files and (machine, None) in known:
            empty.append(machine)
        if not files and not any(m == machine for m, _ in known):
            fresh.append(Carried(plan=plan, wave=wave, machine_id=machine, says="It hasn't shown a settings file yet."))
        fresh += [Carried(plan=plan, wave=wave, machine_id=machine, file_id=f) for f in files if (machine, f) not in known]
    plan.rows.filter(machine__in=empty, file=None).delete()
    Carried.objects.bulk_create(fresh, ignore_conflicts=True)
