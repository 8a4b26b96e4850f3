"""Jobs on release plans, for the workers. Each may be begun again at any time, and broken off at any point."""

from collections.abc import Iterator
from datetime import timedelta
from uuid import UUID

from django.db.models import Q
from django.utils import timezone
from procrastinate import JobContext

from amberkey.server.cards.drawing import dated
from amberkey.server.fleet.models import MachineFile
from amberkey.server.fleet.verbs.hear import heard
from amberkey.server.jobs import AGAIN, app, begun, for_the_worker
from amberkey.server.library.documents import State
from amberkey.server.library.given import held
from amberkey.server.rollouts.dated import moves_of
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.watch.logs import current_id

LATELY = timedelta(days=1)
"""So long a plan that has ended is moved at once when a machine says something new; later with all others, now and then."""


@app.task(queue="rollouts", retry=AGAIN, pass_context=True)
def move_plan(context: JobContext, plan_id: str, asked_in: str = "") -> None:
    from amberkey.server.rollouts.moving import move  # every process loads this module, and few do the work

    with begun(context, asked_in, lambda why: stop(UUID(plan_id), why)):
        move(UUID(plan_id))


def stop(plan_id: UUID, why: str) -> None:
    """A plan whose job failed is paused, and says why: nothing goes on unseen."""
    Plan.objects.filter(pk=plan_id, state=Plan.State.RUNNING).update(state=Plan.State.PAUSED, says=why[:400])


def put_to_work(plan: Plan) -> None:
    """A job for a plan, unless one waits already; of one plan one is done at a time.

    Two that wait do no harm. A rule that forbids it would: a job that is tried again, or whose worker died, would have to wait
    beside the one that came meanwhile, couldn't, and stay for good what all others wait for.
    """
    from procrastinate.contrib.django.models import ProcrastinateJob

    named = f"plan-{plan.pk}"
    if not ProcrastinateJob.objects.filter(status="todo", lock=named).exists():
        move_plan.configure(lock=named).defer(plan_id=str(plan.pk), asked_in=current_id())


def under_way() -> list[Plan]:
    """The plans that may have something to do: those under way, and those that are done while something still comes."""
    open_rows = Carried.objects.exclude(state__in=("in step", "left out", "taken back")).values("plan")
    late = Plan.objects.filter(state__in=(Plan.State.DONE, Plan.State.TAKEN_BACK), pk__in=open_rows)
    running = Plan.objects.filter(state__in=(Plan.State.RUNNING, Plan.State.GOING_BACK))
    over = Carried.objects.filter(file__overlap_until__lte=timezone.localdate(), state=Carried.State.IN_STEP).values("plan")
    late |= Plan.objects.filter(state=Plan.State.DONE, pk__in=over)
    return sorted({*running, *late}, key=lambda p: p.number)


@for_the_worker
def plans_that_move() -> int:
    """The clock opens gates and windows, and machines come and go, so each plan is looked at now and then. It is no work that
    was left behind, so none is told."""
    from amberkey.server.rollouts.newcomers import welcome

    welcome()
    for plan in under_way():
        put_to_work(plan)
    return 0


def _heard(file: MachineFile) -> None:
    """An agent said something of a file: the plans that carry it go on at once."""
    lately = timezone.now() - LATELY
    going = Q(state__in=(Plan.State.RUNNING, Plan.State.GOING_BACK)) | Q(ended_at__gt=lately)
    for plan in Plan.objects.filter(going, rows__file=file).distinct():
        put_to_work(plan)


@for_the_worker
def settled_drift_goes() -> int:
    """Nobody has to ask for it: what was left on machines is looked at again when its time is over, and goes a month later."""
    from amberkey.server.rollouts.drifting import forget_settled

    return forget_settled(timezone.localdate())


def _brought() -> Iterator[State]:
    """What releases bring, as long as they may bring it."""
    for plan in Plan.objects.exclude(state=Plan.State.TAKEN_BACK).select_related("released"):
        yield plan.documents


heard.append(_heard)
held.append(_brought)
dated.append(moves_of)
