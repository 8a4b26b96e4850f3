"""A small example that stays as it is: five programs, four planned setups, three machines. Tests count on every key in it."""

import pathlib

from amberkey.demo.load import lay_out_home, load_documents

DOCUMENTS = pathlib.Path(__file__).parent
# machine, name, setup, whether an agent is simulated for it
MACHINES = (
    ("counter-3", "Counter 3, Westquay", "ticket-counters", True),
    ("training-1", "Training room 1", "training-centre", True),
    ("harbour-desk-2", "Harbour desk 2", "harbour-control", False),
)


def load(actor) -> None:
    load_documents(actor, DOCUMENTS)


def load_machines(actor, folder: pathlib.Path) -> None:
    from amberkey.server.fleet.models import Machine

    for machine_id, name, setup, simulated in MACHINES:
        machine, _ = Machine.objects.get_or_create(id=machine_id, defaults={"name": name, "setup": setup})
        if simulated:
            lay_out_home(actor, machine, folder)
