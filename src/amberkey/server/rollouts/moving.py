"""Moving a release plan on: waves are opened, orders given, and what came of them is written down.

Everything here may be broken off at any point and begun again: each row is moved in one transaction of its own, and what is
done follows from how the row and its file stand, never from what was done a moment ago.
"""

from uuid import UUID

from django.db import transaction
from django.db.models import F, Q
from django.utils import timezone

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.rollout.gates import window_stands
from amberkey.server.exchange.keys import own_key
from amberkey.server.fleet.kept import forget
from amberkey.server.fleet.models import Order
from amberkey.server.fleet.standing import standing_of
from amberkey.server.fleet.verbs.order import order_wanted
from amberkey.server.library.documents import digests
from amberkey.server.people.models import AuditEntry
from amberkey.server.problems import Problem
from amberkey.server.rollouts.going_back import go_back
from amberkey.server.rollouts.marking import stand
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.opening import more_to_open, open_waves, silent_machines
from amberkey.server.rollouts.world import SETTLED, Wanted, World

MOST_TURNS = 3
# How an agent, and the server, begin the two refusals after which a file is looked at anew.
CHANGED, REPLACED = "The file has changed since", "A newer order took its place"
S = Carried.State


def move(plan_id: UUID) -> None:
    """Do what a plan can do now. A plan that is paused, or was taken back, stays as it is."""
    plan = Plan.objects.filter(pk=plan_id).first()
    if plan is None or plan.state == Plan.State.PAUSED:
        return
    if plan.state == Plan.State.RUNNING and (gone := _taken_from_it(plan)):
        Plan.objects.filter(pk=plan.pk, state=Plan.State.RUNNING).update(state=Plan.State.PAUSED, says=gone)
        return
    world = World(plan)
    while True:
        if plan.state == Plan.State.RUNNING:
            open_waves(world)
        for row_id in _to_move(plan):
            move_row(row_id, world)
        if plan.state != Plan.State.RUNNING or not more_to_open(world):
            break
    _end(plan)


def _taken_from_it(plan: Plan) -> str:
    """Why a plan can't bring what it says any more: a revision of it was taken back, or let go. Empty where it can."""
    released = digests(released=True)
    for key in plan.of:
        if released.get(key) != plan.documents.get(key):
            return f"{key.replace('/', ' ', 1).capitalize()} is released in another revision, or in none, since it began."
    return ""


def _to_move(plan: Plan) -> list[int]:
    """The rows that may have something to do. What only waits for its machine isn't looked at: of thousands of rows few move at
    a time."""
    now = timezone.now()
    new = Q(file__seen_at__gt=F("looked_at"))
    new |= Q(file__agent__enrolled_at__gt=F("looked_at")) | Q(file__agent__person_at__gt=F("looked_at"))
    heard = Q(order__state__in=(Order.State.DONE, Order.State.REFUSED)) & (Q(wrote=None) | ~Q(order=F("wrote")))
    awaited = Q(order__state=Order.State.WAITING)
    on = Q(goes_back=False) & (
        (Q(state=S.TO_COME) & ~awaited)
        | (Q(state=S.ASKED) & ~awaited)
        | (Q(state=S.STOPPED) & ~awaited & (new | heard | Q(again_at=None) | Q(again_at__lte=now)))
        | (Q(state=S.OWN_CHANGE) & (new | Q(over=True)))
        | (Q(state=S.IN_STEP) & (new | Q(file__overlap_until__lte=timezone.localdate())))
    )
    back = Q(goes_back=True) & ((~Q(state__in=SETTLED) & ~(awaited & Q(order__undoes__isnull=False))) | Q(state=S.IN_STEP))
    # Written although it had been given up: that is taken back too.
    late = Q(goes_back=True, state=S.TAKEN_BACK, order__state=Order.State.DONE, order__undoes=None)
    late &= Q(wrote=None) | ~Q(order=F("wrote"))
    rows = plan.rows.filter(on | back | late)
    return list(rows.order_by("wave", "machine_id", "pk").values_list("pk", flat=True))


@transaction.atomic
def move_row(row_id: int, world: World) -> None:
    """Move one row as far as it can be now."""
    row = Carried.objects.select_for_update(of=("self",)).filter(pk=row_id).first()
    # Paused or taken back while others were moved: then this one waits.
    state = Plan.objects.filter(pk=world.plan.pk).values_list("state", flat=True).first()
    if row is None or state == Plan.State.PAUSED:
        return
    row.plan = world.plan
    if row.file is not None:
        row.file.agent.machine = row.machine
    if row.goes_back:
        go_back(row, world)
    else:
        _go_on(row, world)
    row.looked_at = timezone.now()
    row.save()


def _go_on(row: Carried, world: World) -> None:
    file = row.file
    if file is None:
        return None
    later = row.machine_id in world.later
    if world.plan.state == Plan.State.DONE and later:
        return None
    if not file.agent.token_hash:
        return stand(row, S.STOPPED, "It has no agent any more. Enrol it, or go on without it.")
    wanted = world.wanted(file)
    if wanted is None:
        return stand(row, S.LEFT_OUT, "It doesn't have that program any more.")
    if row.order is not None and not _heard_of_order(row, world):
        return None
    if row.state == S.TO_COME and (says := _waits(row, world)):
        return stand(row, S.TO_COME, says)
    return _look(row, wanted, world)


def _waits(row: Carried, world: World) -> str:
    """For what a row waits that says nothing of its file."""
    if row.machine_id in world.waits_for:
        return f"It waits for release {world.waits_for[row.machine_id]}, which has the machine in hand."
    window = window_stands(world.window(row.wave), world.now)
    return "" if window.open else f"{window.says}."


def _heard_of_order(row: Carried, world: World) -> bool:
    """What came of the order that was given last; whether the row can be looked at."""
    order, file = row.order, row.file
    assert order is not None
    assert file is not None
    if order.state == Order.State.WAITING:
        told = order.says or "It was asked to write, and hasn't answered yet."
        stand(row, S.STOPPED if row.tries else S.ASKED, row.says if row.tries and not order.says else told)
        return False
    if order.state == Order.State.DONE:
        if row.wrote_id != order.pk:
            row.wrote, row.tries, row.again_at, row.over = order, 0, None, False
        return True
    changed = file.content_id is not None and file.content_id != order.expect
    if order.says.startswith(CHANGED) and not changed:
        return False  # what is there now comes in a moment
    row.order = row.wrote
    if changed or order.says.startswith(REPLACED):
        return True  # nothing is wrong with the machine: its file isn't what it was
    row.tries += 1
    row.again_at = None
    stand(row, S.STOPPED, order.says or "It was refused.")
    return False


def _look(row: Carried, wanted: Wanted, world: World) -> None:
    """How the file stands against what the plan wants, and what follows."""
    file = row.file
    assert file is not None
    if file.overlap_until is not None and file.overlap_until <= world.now.date():
        file.overlap = file.overlap_until = None  # keys that were given up go now
        file.save(update_fields=["overlap", "overlap_until"])
    standing = standing_of(file, wanted.board, wanted.program)
    was_in_step = row.state == S.IN_STEP
    if standing.state == "waiting":  # somebody else's order: it is heard first
        return stand(row, S.ASKED, standing.says)
    if standing.state == "unseen":
        return stand(row, S.TO_COME, standing.says)
    if standing.state == "problem":
        return stand(row, S.STOPPED, standing.says)
    if standing.state == "in step":
        row.tries, row.again_at, row.over = 0, None, False
        return stand(row, S.IN_STEP)
    if was_in_step and standing.state == "drifted":
        row.turns += 1
    if row.turns > MOST_TURNS:
        return stand(row, S.STOPPED, "It says two things in turn: something there changes the file back each time.")
    if standing.own and not row.over:
        return stand(row, S.OWN_CHANGE, " ".join(own["says"] for own in standing.own[:3]))
    if row.tries and row.again_at is not None and row.again_at > world.now:
        return stand(row, S.STOPPED, row.says)
    if says := _waits(row, world):
        return stand(row, S.TO_COME, says)
    if not world.may_lie(file, wanted):
        return stand(row, S.STOPPED, f"That its file lies at {file.path} isn't approved any more.")
    if own_key() is None:
        return stand(row, S.STOPPED, "Orders can't be signed: this server has no signing key.")
    try:
        by, until = world.plan.made_by, world.overlap_until(row.wave)
        row.order = order_wanted(by, file, wanted.program, wanted.how, wanted.board, world.plan.released, until)
    except SettingsFileError as error:
        return stand(row, S.STOPPED, f"The file can't be written: {error.says}")
    except Problem as problem:
        return stand(row, S.TO_COME, str(problem))
    forget([file])
    stand(
        row, S.STOPPED if row.tries else S.ASKED, row.says if row.tries else "It was asked to write, and hasn't answered yet."
    )
    return None


def _end(plan: Plan) -> None:
    """Whether a plan is at its end: every wave is open and nothing is awaited but of machines that are silent."""
    with transaction.atomic():
        locked = Plan.objects.select_for_update().get(pk=plan.pk)
        open_rows = locked.rows.exclude(state__in=SETTLED)
        if locked.state == Plan.State.GOING_BACK and not open_rows.exists():
            _ended(locked, Plan.State.TAKEN_BACK)
        if locked.state == Plan.State.RUNNING and len(locked.opened) == len(locked.waves):
            world = World(locked)
            waiting = set(open_rows.values_list("machine_id", flat=True))
            stuck = open_rows.filter(state__in=(S.STOPPED, S.OWN_CHANGE)).exists()
            if not stuck and waiting <= silent_machines(world, waiting):
                _ended(locked, Plan.State.DONE)


def _ended(plan: Plan, state: Plan.State) -> None:
    plan.state, plan.ended_at, plan.says = state, timezone.now(), ""
    plan.save(update_fields=["state", "ended_at", "says"])
    AuditEntry.objects.create(machine="release", action=f"release {state}", subject=f"release {plan.number}", detail=plan.title)
