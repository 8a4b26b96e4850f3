"""Which setup an agent works for."""

from collections.abc import Sequence

from amberkey.core.organisation.deriving import Derived
from amberkey.server.estate import current_derived
from amberkey.server.fleet.models import Agent, Machine


def setup_of(machine: Machine, *, released: bool = False) -> str:
    """The setup of most people who sit at the machine, now or as it is released; for one that nobody has put into the
    organisation, the planned setup that it was given. Empty where there is neither.
    """
    return setups_of([machine], released=released)[machine.id]


def setup_of_agent(agent: Agent, *, released: bool = False) -> str:
    """The setup of the person whose home the agent works in, at its machine; where nobody knows whose that is, or they don't
    sit there any more, that of the machine."""
    return setup_in(current_derived(released=released), agent)


def setup_in(derived: Derived, agent: Agent) -> str:
    """The same in some state of the documents."""
    return setup_at(derived, agent.machine_id, agent.person, agent.machine.setup)


def setup_at(derived: Derived, machine_id: str, person: str, planned: str) -> str:
    """The setup of a person at a machine, else that of most who sit there, else the planned one."""
    own = derived.setups_of(person=person, machine=machine_id) if person else ()
    there = own or derived.setups_of(machine=machine_id)
    return there[0] if len(there) == 1 else max(there, key=lambda i: derived.setups[i].people, default=planned)


def setups_of(machines: Sequence[Machine], *, released: bool = False) -> dict[str, str]:
    """The same for several machines, by their ids."""
    derived = current_derived(released=released)
    found = {}
    for machine in machines:
        of_people = derived.setups_of(machine=machine.id)
        found[machine.id] = max(of_people, key=lambda i: derived.setups[i].people, default=machine.setup)
    return found
