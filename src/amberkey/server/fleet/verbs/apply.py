"""Applying the released profile to a machine: an order to write its settings file, by compare-and-swap."""

from django.db import transaction

from amberkey.core.descriptions.described import place_of
from amberkey.server.estate import board_of, current_estate
from amberkey.server.exchange.keys import own_key
from amberkey.server.fleet.kept import forget
from amberkey.server.fleet.models import Agent, Machine, Order, Root
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.fleet.standing import standing_of
from amberkey.server.fleet.verbs.order import held, order_wanted
from amberkey.server.fleet.verbs.watch import described_by, watched
from amberkey.server.library.approving import may_lie
from amberkey.server.library.documents import digests
from amberkey.server.library.given import keep_state
from amberkey.server.library.models import Body
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem


@transaction.atomic
def apply(actor: Actor, machine_id: str, *, over_drift: bool) -> list[Order]:
    """Order every settings file of the machine to be brought in step.

    A change that people made themselves is overwritten only when `over_drift` says so. Raises Problem otherwise.
    """
    actor.require(Role.RELEASER)
    machine = Machine.objects.select_for_update().filter(id=machine_id).first()
    if machine is None:
        raise NotFound(f"machine {machine_id}")
    in_hand = held(machine.id)
    if in_hand is not None:
        raise in_hand
    agents = list(machine.agents.exclude(token_hash=""))
    if not agents:
        raise Problem(409, f"{machine.name} has no agent yet.", cure="Enrol it first.")
    given = keep_state(digests(released=True))
    orders = []
    for agent in agents:
        agent.machine = machine
        orders += _ordered(actor, agent, given, over_drift=over_drift)
    if orders and own_key() is None:
        raise Problem(409, "Orders can't be signed.", "This server has no signing key.", "Give it one, under Who signs.")
    forget(machine.files.all())
    if not orders:
        raise Problem(409, f"{machine.name} is in step already.", "There is nothing to write.")
    actor.record("applied", f"machine/{machine.id}", f"{len(orders)} settings files")
    return orders


def _ordered(actor: Actor, agent: Agent, given: Body, *, over_drift: bool) -> list[Order]:
    """The orders for what one agent reads and writes."""
    machine, approved = agent.machine, may_lie()
    setup = setup_of_agent(agent, released=True)
    estate = current_estate(released=True)
    if setup not in estate.setups:
        raise Problem(
            409,
            f"{machine.name} is in nothing that is released.",
            "What machines there are, who sits at them and what runs on them reach them as released.",
            "Release the organisation and its programs first, under Profiles.",
        )
    board, orders = board_of(estate, setup), []
    for file in watched(agent):
        program = board.setup.program(file.program)
        described = described_by(file, program, board.setup.setup.works_on) if program is not None else None
        if program is None or described is None:
            continue
        place = place_of(file.root, file.path)
        if file.root != Root.STORE and not approved(program, board.setup.setup.works_on, place):
            raise Problem(
                409,
                f"{program.name} on {machine.name} can't be written now.",
                f"That its file lies at {file.path} isn't approved any more.",
                "Ask a releaser to look at it, under Profiles.",
            )
        standing = standing_of(file, board, program)
        if standing.state in ("problem", "unseen"):
            raise Problem(409, f"{program.name} on {machine.name} can't be written now.", standing.says, "Mend that first.")
        if standing.state == "drifted" and not over_drift:
            raise Problem(
                409,
                f"{program.name} was changed on {machine.name}.",
                " ".join(standing.differences),
                "Put it right only if those changes may be lost; a backup is kept on the machine.",
            )
        if standing.state != "in step":
            orders.append(order_wanted(actor.user, file, program, described[1], board, given))
    return orders
