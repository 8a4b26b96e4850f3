"""Ticking what was set by hand on machines, and taking ticks back."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction

from amberkey.server.fleet.models import HandWork
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role


@dataclass(frozen=True, slots=True)
class Tick:
    """One thing on one machine. `content`: what it was set to; None: the tick is taken back."""

    machine: str
    item: str
    content: str | None


@transaction.atomic
def tick(actor: Actor, wanted: Sequence[Tick]) -> list[Tick]:
    """Tick things, or take ticks back; gives what would bring back how it was."""
    actor.require(Role.EDITOR)
    before: list[Tick] = []
    for one in sorted(wanted, key=lambda t: (t.machine, t.item)):  # one order of locks for everybody
        row = HandWork.objects.select_for_update().filter(machine=one.machine, item=one.item).first()
        before.append(Tick(one.machine, one.item, row.content if row is not None else None))
        if one.content is None:
            if row is not None:
                row.delete()
        elif row is None or row.content != one.content:
            HandWork.objects.update_or_create(
                machine=one.machine, item=one.item, defaults={"content": one.content, "by": actor.user}
            )
    if wanted:
        machines = sorted({t.machine for t in wanted})
        actor.record("ticked by hand", ", ".join(machines)[:200], f"{len(wanted)} things")
    return before
