"""What becomes of what people changed on their machines: taken into a profile, or left for a while, with a reason."""

import datetime
from collections.abc import Mapping

from django.db import transaction
from django.utils import timezone

from amberkey.server.fleet.models import MachineFile
from amberkey.server.fleet.verbs.survey import planned
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.rollouts.drifting import Drift, drifts
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.tasks import put_to_work

LONGEST = 365  # days
_LONG_AGO = datetime.datetime(2000, 1, 1, tzinfo=datetime.UTC)


@transaction.atomic
def take(actor: Actor, into: Mapping[str, str]) -> ChangeSet:
    """Write what people changed into profiles, as one change that can be undone. `into`: for each drift, by its id, a profile's
    id, or `own`. A release that stops at it goes on without that file; what was taken comes with the next one. Raises NotFound,
    Problem."""
    actor.require(Role.EDITOR)
    found = drifts()
    by_id = {one.id: one for one in found.waiting}
    wanted, targets = [], {}
    for key, target in into.items():
        one, own = by_id.get(key), found.changes.get(key)
        if one is None:
            raise NotFound(f"own change {key[:40]}")
        if own is None:
            raise Problem(409, "Nobody's layers can take this.", "Nobody sits at those machines.", "Put it right, or leave it.")
        wanted.append(own)
        targets[own.id] = target
    plan = planned(wanted, targets)
    many = f"{len(into)} own change{'' if len(into) == 1 else 's'}"
    title = f"Took {many} from machines"
    done = change(actor, title, plan.operations, making=Making(make=plan.made, revive=plan.revived))
    for key in into:
        _go_on_without(by_id[key], f"{actor.name} took it into a profile; it comes with the next release.")
    return done


@transaction.atomic
def leave(actor: Actor, drift_id: str, reason: str, until: datetime.date) -> Drift:
    """What people changed stays on the machines that have it now, for a reason and until a day. Raises NotFound, Problem."""
    actor.require(Role.EDITOR)
    today = timezone.localdate()
    if not reason.strip():
        raise Problem(400, "Say why it stays.", "Who looks at it later wants to know.", "Give a reason.")
    if not today < until <= today + datetime.timedelta(days=LONGEST):
        raise Problem(400, "Say until when it stays.", f"A day from tomorrow on, {LONGEST} days from today at most.")
    one = next((d for d in drifts().waiting if d.id == drift_id), None)
    if one is None:
        raise NotFound(f"own change {drift_id[:40]}")
    said = {"has": _has(one), "reason": reason.strip()[:300], "until": until.isoformat()}
    said |= {"by": actor.name, "at": today.isoformat()}
    for here in one.here:
        locked = MachineFile.objects.select_for_update().get(pk=here.file.pk)
        MachineFile.objects.filter(pk=locked.pk).update(left={**(locked.left or {}), one.command: said}, stands_on="")
    _look_again(one)
    actor.record("left an own change", f"drift {drift_id}", reason[:600])
    return one


@transaction.atomic
def look_again(actor: Actor, drift_id: str) -> Drift:
    """What was left waits for a word again. Raises NotFound."""
    actor.require(Role.EDITOR)
    one = next((d for d in drifts().left if d.id == drift_id), None)
    if one is None:
        raise NotFound(f"own change {drift_id[:40]}")
    for here in one.here:
        locked = MachineFile.objects.select_for_update().get(pk=here.file.pk)
        stays = {c: why for c, why in (locked.left or {}).items() if c != one.command}
        MachineFile.objects.filter(pk=locked.pk).update(left=stays or None, stands_on="")
    _look_again(one)
    actor.record("looked again at an own change", f"drift {drift_id}")
    return one


def _has(one: Drift) -> list[object] | None:
    return None if one.has is None else [s.to_document() for s in one.has]


def _rows(one: Drift) -> list[Carried]:
    files = [here.file.pk for here in one.here]
    return list(
        Carried.objects.filter(file__in=files, plan__state__in=(Plan.State.RUNNING, Plan.State.PAUSED)).select_related("plan")
    )


def _go_on_without(one: Drift, says: str) -> None:
    for row in _rows(one):
        Carried.objects.filter(pk=row.pk, state=Carried.State.OWN_CHANGE).update(
            state=Carried.State.LEFT_OUT, says=says[:400], since=timezone.now()
        )
        put_to_work(row.plan)


def _look_again(one: Drift) -> None:
    for row in _rows(one):
        Carried.objects.filter(pk=row.pk).update(looked_at=_LONG_AGO)
        put_to_work(row.plan)
