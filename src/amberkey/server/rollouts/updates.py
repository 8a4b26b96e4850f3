"""Programs that were updated on machines: what has to be done there again, said where machines are listed."""

from collections.abc import Collection, Iterator

from amberkey.core.organisation.reported import Contradicted
from amberkey.core.upgrading.changes import version_changes
from amberkey.server.estate import current_organisation
from amberkey.server.fleet.models import Machine
from amberkey.server.fleet.notes import notes
from amberkey.server.fleet.verbs.take_fact import contradicted
from amberkey.server.library.documents import programs_by_key

_SAID = 3
"""So many things to do again are said of a program."""


def _done_again(machines: Collection[str]) -> dict[str, str]:
    """Of machines that say that they have another version of a program than the list, what that version wants done again."""
    rows = list(Machine.objects.filter(id__in=machines))
    found = {}
    for machine, parts in contradicted(rows).items():
        says = " ".join(says for part in parts for says in _of_machine(machine, part))
        if says:
            found[machine] = says
    return found


def _of_machine(machine: str, part: Contradicted) -> Iterator[str]:
    if part.part != "programs" or part.taken is None:
        return
    organisation, programs = current_organisation(), programs_by_key()
    listed = {u.id: u.version for u in organisation.programs_on(organisation.machines_by_id[machine])}
    for used in part.taken.programs:
        old = programs.get(f"program/{used.id}@{listed.get(used.id, '')}")
        new = programs.get(f"program/{used.id}@{used.version}")
        if old is not None and new is not None and old is not new:
            again = version_changes(old, new).again[:_SAID]
            if again:
                yield f"{new.name} is {new.version} there now. {' '.join(again)}"


def say_where_machines_are_listed() -> None:
    """From now on it is said there."""
    notes.append(_done_again)
