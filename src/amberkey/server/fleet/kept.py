"""How all settings files stand, worked out once for each state of what is released and kept with them.

So looking how many machines need somebody is a question to the database, and nothing is read or compared for it.
"""

import dataclasses
from collections.abc import Iterable
from typing import cast

from amberkey.server.estate import current_estate
from amberkey.server.fleet.models import MachineFile
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.fleet.standing import WORST, Standing, State, standing_of
from amberkey.server.fleet.verbs.watch import described_by
from amberkey.server.library.given import released_basis

AT_ONCE = 300
"""How many files one request works out at most: after a release the next requests do the rest."""


def refresh() -> str:
    """Work out what is not known any more, and give the digest on which everything stands that is known."""
    basis = released_basis()
    stale = MachineFile.objects.exclude(stands_on=basis).order_by("pk")[:AT_ONCE]
    for file in stale.select_related("agent__machine", "content", "applied"):
        file.standing, file.stands_on = _worked_out(file), basis
        # Only if nobody has put another content in its place meanwhile.
        MachineFile.objects.filter(pk=file.pk, content=file.content, applied=file.applied, problem=file.problem).update(
            standing=file.standing, stands_on=basis, rank=_rank(file.standing)
        )
    return basis


def _worked_out(file: MachineFile) -> dict[str, object] | None:
    estate = current_estate(released=True)
    setup = estate.setups.get(setup_of_agent(file.agent, released=True))
    board = estate.board(setup.id) if setup else None
    program = board.setup.program(file.program) if board else None
    if board is None or program is None or described_by(file, program, board.setup.setup.works_on) is None:
        return None
    return dataclasses.asdict(standing_of(file, board, program))


def _rank(standing: dict[str, object] | None) -> int | None:
    return WORST.index(cast(State, standing["state"])) if standing is not None else None


def kept(file: MachineFile) -> Standing | None:
    """How a file stood when it was worked out last; None where its machine doesn't have the program."""
    if file.standing is None:
        return None
    return Standing(
        **{**file.standing, "differences": tuple(file.standing["differences"]), "own": tuple(file.standing.get("own", ()))}
    )


def forget(files: Iterable[MachineFile]) -> None:
    """What was worked out of some files holds no longer."""
    MachineFile.objects.filter(pk__in=[f.pk for f in files]).update(stands_on="")
