"""Which setup a machine's agent works for."""

from amberkey.server.estate import current_derived
from amberkey.server.fleet.models import Machine


def setup_of(machine: Machine, *, released: bool = False) -> str:
    """The setup of most people who sit at the machine, now or as it is released; for one that nobody has put into the
    organisation, the planned setup that it was given. Empty where there is neither.
    """
    derived = current_derived(released=released)
    found = derived.setups_of(machine=machine.id)
    return max(found, key=lambda i: derived.setups[i].people, default=machine.setup)
