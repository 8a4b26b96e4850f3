"""Deciding several clashes at once, each by the best way out that makes no clash, as one change set."""

from collections.abc import Sequence

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.ways.several import Settlement, settle
from amberkey.server.estate import target_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Conflict, Problem

MOST = 60
"""How many are settled at once: what is decided together should still be looked at."""


def settlement(estate: Estate, groups: Sequence[Group]) -> Settlement:
    """What settling some groups would come to. Raises Problem for none, and for more than anybody would look at."""
    if not groups:
        raise Problem(400, "No clash is chosen.", cure="Choose some first.")
    if len(groups) > MOST:
        raise Problem(400, f"{len(groups)} clashes are too many at once.", cure=f"Choose at most {MOST}.")
    return settle(estate, groups, lambda g: target_of(g.setups[0]))


def decide_several(actor: Actor, estate: Estate, groups: Sequence[Group], told: Sequence[str], reason: str = "") -> ChangeSet:
    """Do what `settlement` found. `told`: the keys of the ways that were shown, in the order of the groups ("" for none);
    raises Conflict where they are other ones by now."""
    actor.require(Role.EDITOR)
    found = settlement(estate, groups)
    if [s.way.key if s.way else "" for s in found.settled] != list(told):
        raise Conflict("The ways out are other ones by now.", "Something was changed in the meantime. Look at them again.")
    done = [s for s in found.settled if s.way is not None]
    if not done:
        raise Problem(409, "None of these has a way out that makes no clash.", cure="Open them one by one.")
    first = done[0].group.clash.subject
    others = f" and {len(done) - 1} more" if len(done) > 1 else ""
    title = (
        f"Settled {len(done)} {'clash' if len(done) == 1 else 'clashes'}: {first.command.name} in {first.program.name}{others}"
    )
    changes = {f"profile/{profile}": operations for profile, operations in found.operations.items()}
    return change(actor, title, changes, clashes=[s.group.clash.identity for s in done], reason=reason.strip())
