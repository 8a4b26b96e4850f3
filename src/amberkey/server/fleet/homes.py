"""Whose home an agent works in."""

from collections.abc import Sequence
from typing import NamedTuple

from amberkey.core.organisation.model import Person
from amberkey.server.estate import current_organisation
from amberkey.server.fleet.models import Serves
from amberkey.server.library.names import NOBODY, names_of_people


class Home(NamedTuple):
    """Where an agent works. `account`: what the machine's system calls the account whose home it is; empty for what is the
    machine's own, and for an agent that didn't say."""

    serves: Serves = Serves.HOME
    account: str = ""


def seated(machine_id: str) -> Sequence[Person]:
    """Who sits at a machine today."""
    organisation = current_organisation()
    there = dict.fromkeys(s.person for s in organisation.seats if s.machine == machine_id)
    return [p for i in there if (p := organisation.people_by_id[i]).retired is None]


def whose(machine_id: str, home: Home) -> str:
    """The person whose home it is: of those who sit there the one who is called what the account is, here or in other lists,
    else the only one. Empty where that isn't clear."""
    there = [p.id for p in seated(machine_id)] if home.serves == Serves.HOME else []
    called, account = names_of_people(), home.account.casefold()
    known = [p for p in there if account and account in {p.casefold(), *(n.casefold() for n in called.get(p, NOBODY))}]
    if len(known) == 1:
        return known[0]
    return there[0] if len(there) == 1 else ""
