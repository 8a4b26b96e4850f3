"""Applying the released profile to a machine: an order to write its settings file, by compare-and-swap."""

from django.db import transaction

from amberkey.core.clashes.board import Board
from amberkey.core.descriptions.described import Described, place_of
from amberkey.core.documents.canonical import Json, digest_of
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import read_settings, write_settings
from amberkey.server.estate import board_of, current_estate
from amberkey.server.exchange.keys import own_key
from amberkey.server.fleet.kept import forget
from amberkey.server.fleet.models import Agent, FileBytes, Machine, MachineFile, Order, Root
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.fleet.standing import entries_json, standing_of, wanted_entries
from amberkey.server.fleet.verbs.watch import described_by, watched
from amberkey.server.library.approving import may_lie
from amberkey.server.library.documents import digests
from amberkey.server.library.given import keep_state
from amberkey.server.library.models import Body
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.watch.logs import current_id


@transaction.atomic
def apply(actor: Actor, machine_id: str, *, over_drift: bool) -> list[Order]:
    """Order every settings file of the machine to be brought in step.

    A change that people made themselves is overwritten only when `over_drift` says so. Raises Problem otherwise.
    """
    actor.require(Role.RELEASER)
    machine = Machine.objects.select_for_update().filter(id=machine_id).first()
    if machine is None:
        raise NotFound(f"machine {machine_id}")
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
            orders.append(_order(actor, file, program, described[1], board, given))
    return orders


def _order(actor: Actor, file: MachineFile, program: Program, how: Described, board: Board, given: Body) -> Order:
    seen = file.seen
    assert seen is not None
    platform = board.setup.setup.works_on
    wanted = wanted_entries(board, program, file)
    content = write_settings(seen, program, how, wanted, platform).data
    applied: Json = {
        "wanted": {c: v for c, v in entries_json(wanted).items() if v is not None},
        "entries": entries_json(read_settings(content, program, how, platform).entries),
    }
    machine = file.machine
    machine.orders_given += 1
    machine.save(update_fields=["orders_given"])
    # An order that still waits is replaced: only the newest wish counts.
    file.orders.filter(state=Order.State.WAITING).update(state=Order.State.REFUSED, says="A newer order took its place.")
    return Order.objects.create(
        file=file,
        number=machine.orders_given,
        expect=digest_of(seen),
        digest=digest_of(content),
        content=FileBytes.keep(content),
        wanted=Body.keep_json(applied),
        actor=actor.user,
        given=given,
        asked_in=current_id(),
    )
