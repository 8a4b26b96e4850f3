"""Which setup a machine's agent works for."""

from collections.abc import Sequence

from amberkey.server.estate import current_derived
from amberkey.server.fleet.models import Machine


def setup_of(machine: Machine, *, released: bool = False) -> str:
    """The setup of most people who sit at the machine, now or as it is released; for one that nobody has put into the
    organisation, the planned setup that it was given. Empty where there is neither.
    """
    return setups_of([machine], released=released)[machine.id]


def setups_of(machines: Sequence[Machine], *, released: bool = False) -> dict[str, str]:
    """The same for several machines, by their ids."""
    derived = current_derived(released=released)
    found = {}
    for machine in machines:
        of_people = derived.setups_of(machine=machine.id)
        found[machine.id] = max(of_people, key=lambda i: derived.setups[i].people, default=machine.setup)
    return found
