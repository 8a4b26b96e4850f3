"""Beginning a release plan."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import connection, transaction

from amberkey.core.rollout.model import ReleasePlan
from amberkey.core.rollout.waves import resolved
from amberkey.server.library.documents import State, digests
from amberkey.server.library.given import keep_state
from amberkey.server.library.models import Document
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.rollouts.models import Plan
from amberkey.server.rollouts.reaching import Reach, reach_of
from amberkey.server.rollouts.tasks import put_to_work

_LOCK = 0x414B_5031  # of the numbers of plans, in this database


@dataclass(frozen=True)
class Drawn:
    """A plan with its waves resolved."""

    title: str
    reach: Reach
    waves: list[tuple[str, ...]]
    state: State


def draw(of: Sequence[str], plan: ReleasePlan) -> Drawn:
    """What a plan would do. Raises NotFound; Problem where it reaches nobody, or names what it doesn't reach."""
    state = digests(released=True)
    titles = []
    for key in of:
        document = Document.objects.filter(key=key, deleted_at=None).select_related("released").first()
        if document is None:
            raise NotFound(key.replace("/", " ", 1)[:80])
        if document.released is None:
            raise Problem(409, f"{document.name} isn't released.", "Machines get what is.", "Release a revision of it first.")
        titles.append(f"{document.name}, revision {document.released.number}")
    reach = reach_of(of, state)
    if not reach.reached:
        says = "No machine with an agent has it." if of else "No machine has an agent."
        raise Problem(409, "This release reaches nobody.", says, "Enrol machines first, or choose another profile.")
    known = {r.machine for r in reach.reached}
    strange = next((m for m in plan.named() if m not in known), None)
    if strange is not None:
        raise Problem(
            409, f"The release doesn't reach {strange}.", "It has no agent there, or nothing of it.", "Take it out of its wave."
        )
    waves = resolved(plan, reach.reached)
    if not any(waves):
        raise Problem(409, "There is no machine in any wave.", "What the waves choose isn't reached.", "Choose others.")
    title = " and ".join(titles) if 0 < len(titles) <= 2 else f"{titles[0]} and {len(titles) - 1} more" if titles else ""
    return Drawn(title or "Everything that is released", reach, waves, state)


@transaction.atomic
def begin(actor: Actor, of: Sequence[str], plan: ReleasePlan) -> Plan:
    """Begin a release. Raises NotFound, Problem."""
    actor.require(Role.RELEASER)
    with connection.cursor() as cursor:  # two releasers at once: the second sees what the first began
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
    drawn = draw(of, plan)
    released = keep_state(drawn.state)
    same = Plan.objects.filter(state__in=("running", "paused"), of=list(of), released=released).first()
    if same is not None:
        raise Problem(
            409,
            f"{same.made_by.display_name} has begun this release already.",
            f"It is release {same.number}, {same.title}.",
            "Look at that one.",
        )
    newest = Plan.objects.order_by("-number").values_list("number", flat=True).first() or 0
    made = Plan.objects.create(
        number=newest + 1,
        title=drawn.title[:200],
        of=list(of),
        plan=plan.model_dump(mode="json", exclude_defaults=True),
        waves=[list(wave) for wave in drawn.waves],
        released=released,
        made_by=actor.user,
    )
    many = sum(map(len, drawn.waves))
    actor.record("began a release", f"release {made.number}", f"{made.title}, to {many} machines in {len(drawn.waves)} waves")
    put_to_work(made)
    return made
