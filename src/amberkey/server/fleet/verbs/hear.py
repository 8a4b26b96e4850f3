"""What an agent says: a file as it is, a problem with it, or the outcome of an order."""

from django.db import transaction
from django.utils import timezone

from amberkey.server.fleet.models import Agent, FileBytes, MachineFile, Order
from amberkey.server.library.models import Given
from amberkey.server.people.models import AuditEntry
from amberkey.server.problems import NotFound


@transaction.atomic
def seen(agent: Agent, file_id: int, content: bytes | None, problem: str) -> MachineFile:
    """Keep what the agent saw. A problem leaves the last known content in place."""
    file = MachineFile.objects.select_for_update(of=("self",)).filter(agent=agent, pk=file_id).first()
    if file is None:
        raise NotFound(f"settings file {file_id}")
    if content is not None:
        file.content = FileBytes.keep(content)
    file.problem = problem[:400]
    file.seen_at, file.stands_on = timezone.now(), ""
    file.save()
    return file


@transaction.atomic
def done(agent: Agent, order_id: str, outcome: str, says: str) -> Order:
    """Keep the outcome of an order; hearing it twice changes nothing."""
    order = Order.objects.select_for_update(of=("self",)).filter(id=order_id, file__agent=agent).first()
    if order is None:
        raise NotFound("order")
    if order.state != Order.State.WAITING:
        return order
    if outcome == "waiting":
        order.says = says[:400]
        order.save(update_fields=["says"])
        order.file.stands_on = ""
        order.file.save(update_fields=["stands_on"])
        return order
    order.state = Order.State.DONE if outcome == "written" else Order.State.REFUSED
    order.says = says[:400]
    order.save(update_fields=["state", "says"])
    file = order.file
    file.stands_on = ""
    if order.state == Order.State.DONE:
        file.content, file.applied, file.problem = order.content, order.wanted, ""
        file.applied_at = file.seen_at = timezone.now()
        if order.given is not None:
            Given.objects.update_or_create(machine=agent.machine_id, defaults={"state": order.given})
    file.save()
    AuditEntry.objects.create(
        machine=agent.machine_id,
        action=f"order {order.state}",
        subject=f"{order.file.program} on {agent.machine_id}",
        detail=says[:600],
    )
    return order
