"""What an agent says: a file as it is, a problem with it, or the outcome of an order."""

from collections.abc import Callable

from django.db import transaction
from django.utils import timezone

from amberkey.server.fleet.models import Agent, FileBytes, MachineFile, Order
from amberkey.server.library.models import Given
from amberkey.server.people.models import AuditEntry
from amberkey.server.problems import NotFound

heard: list[Callable[[MachineFile], None]] = []
"""Whoever wants to know that an agent said something of a file."""


def _tell(file: MachineFile) -> None:
    for listener in heard:
        listener(file)


@transaction.atomic
def seen(agent: Agent, file_id: int, content: bytes | None, problem: str, backups: int | None = None) -> MachineFile:
    """Keep what the agent saw. A problem leaves the last known content in place."""
    file = MachineFile.objects.select_for_update(of=("self",)).filter(agent=agent, pk=file_id).first()
    if file is None:
        raise NotFound(f"settings file {file_id}")
    if content is not None:
        file.content = FileBytes.keep(content)
    if backups is not None:
        file.backups = backups
    file.problem = problem[:400]
    file.seen_at, file.stands_on = timezone.now(), ""
    file.save()
    _tell(file)
    return file


@transaction.atomic
def done(agent: Agent, order_id: str, outcome: str, says: str, backups: int | None = None) -> Order:
    """Keep the outcome of an order; hearing it twice changes nothing. What was written was written, also where the order had
    been given up meanwhile."""
    order = Order.objects.select_for_update(of=("self",)).filter(id=order_id, file__agent=agent).first()
    if order is None:
        raise NotFound("order")
    if order.state == Order.State.DONE or (order.state == Order.State.REFUSED and outcome != "written"):
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
    if backups is not None:
        file.backups = backups
    if order.state == Order.State.DONE:
        undone = order.undoes
        file.content, file.problem = order.content, ""
        file.applied = undone.applied_before if undone is not None else order.wanted
        file.applied_at = file.seen_at = timezone.now()
        if undone is not None and order.given is None:  # before that it had never been given anything
            Given.objects.filter(machine=agent.machine_id).delete()
        elif order.given is not None:
            Given.objects.update_or_create(machine=agent.machine_id, defaults={"state": order.given})
    file.save()
    AuditEntry.objects.create(
        machine=agent.machine_id,
        action=f"order {order.state}",
        subject=f"{order.file.program} on {agent.machine_id}",
        detail=says[:600],
    )
    _tell(file)
    return order
