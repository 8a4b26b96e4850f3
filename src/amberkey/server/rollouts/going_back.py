"""Going back: what a release wrote on a machine is put back, and what it hasn't written isn't written any more."""

from amberkey.core.containers.errors import SettingsFileError
from amberkey.server.fleet.kept import forget
from amberkey.server.fleet.models import Order
from amberkey.server.fleet.verbs.order import order_back, taking_back
from amberkey.server.problems import Problem
from amberkey.server.rollouts.marking import stand
from amberkey.server.rollouts.models import Carried
from amberkey.server.rollouts.world import World

S = Carried.State


def go_back(row: Carried, world: World) -> None:
    """Put back what was written; what hasn't been is not written any more."""
    file, order = row.file, row.order
    if file is None:
        return stand(row, S.TAKEN_BACK, "Nothing had been written.")
    if order is not None and order.undoes_id is None and order.pk != row.wrote_id:
        if order.state == Order.State.WAITING:
            Order.objects.filter(pk=order.pk).update(state=Order.State.REFUSED, says="Taken back before it was carried out.")
            order.state = Order.State.REFUSED
            forget([file])
        elif order.state == Order.State.DONE:
            row.wrote = order
    if row.wrote is None:
        return stand(row, S.TAKEN_BACK, "Nothing had been written.")
    if order is not None and order.undoes_id == row.wrote_id:
        return _heard_of_going_back(row, world)
    return _ask_back(row, world)


def _heard_of_going_back(row: Carried, world: World) -> None:
    order, file = row.order, row.file
    assert order is not None
    assert file is not None
    if order.state == Order.State.DONE:
        return stand(row, S.TAKEN_BACK, row.says if row.says.startswith(_KEPT) else "")
    if order.state == Order.State.WAITING:
        says = row.says if row.says.startswith(_KEPT) else order.says or "It was asked to put it back, and hasn't answered yet."
        return stand(row, S.STOPPED if row.tries else S.ASKED, says)
    if file.content_id is not None and file.content_id != order.expect:
        return _ask_back(row, world)
    if row.state != S.STOPPED:
        row.tries, row.again_at = row.tries + 1, None
        return stand(row, S.STOPPED, order.says)
    if row.again_at is None or row.again_at <= world.now:
        return _ask_back(row, world)
    return None


_KEPT = "What was changed since stays: "


def _ask_back(row: Carried, world: World) -> None:
    file, wrote = row.file, row.wrote
    assert file is not None
    assert wrote is not None
    wanted = world.wanted(file)
    if wanted is None:
        return stand(row, S.TAKEN_BACK, "It doesn't have that program any more.")
    wrote.file = file
    try:
        kept = taking_back(wrote, wanted.program, wanted.how, wanted.board).kept
        back = order_back(world.plan.made_by, wrote, wanted.program, wanted.how, wanted.board)
    except SettingsFileError as error:
        return stand(row, S.STOPPED, f"The file can't be read: {error.says}")
    except Problem as problem:
        return stand(row, S.STOPPED, str(problem))
    names = ", ".join(c.name if (c := wanted.program.command(k)) is not None else k for k in kept)
    says = f"{_KEPT}{names}." if names else ""
    if back is None:
        return stand(row, S.TAKEN_BACK, says)
    row.order = back
    forget([file])
    stand(row, S.ASKED, says or "It was asked to put it back, and hasn't answered yet.")
    return None
