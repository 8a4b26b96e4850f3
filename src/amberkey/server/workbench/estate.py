"""The estate as the library has it now, computed once for each state of its documents.

The key of the cache is what the answer depends on: the digests of all documents in it.
"""

import datetime
from functools import lru_cache

from django.utils import timezone

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.profiles.decisions import Decisions
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import NO_TASKS, Tasks
from amberkey.server.library.documents import digests, parsed
from amberkey.server.problems import NotFound

DECISIONS = "decisions/decisions"
HOUSE = "house"


def current_estate(*, released: bool = False) -> Estate:
    """All setups in use with the newest documents, or with the released ones as machines get them."""
    found = digests(released=released)
    return _estate(tuple(sorted(d for key, d in found.items() if not key.startswith("decisions/"))), timezone.localdate())


@lru_cache(maxsize=16)
def _estate(keys: tuple[str, ...], today: datetime.date) -> Estate:
    documents = [parsed(d) for d in keys]
    return Estate(
        setups={d.id: d for d in sorted(documents, key=lambda d: d.id) if isinstance(d, Setup)},
        programs={(d.id, d.version): d for d in documents if isinstance(d, Program)},
        profiles={d.id: d for d in documents if isinstance(d, Profile)},
        tasks=next((d for d in documents if isinstance(d, Tasks)), NO_TASKS),
        today=today,
    )


def decisions() -> Decisions:
    digest = digests().get(DECISIONS)
    value = parsed(digest) if digest else None
    return value if isinstance(value, Decisions) else Decisions(id="decisions", name="Allowed clashes")


def target_of(setup: Setup) -> str:
    """The profile in which decisions made through a setup are kept: the house's, or its nearest where it has no house."""
    return HOUSE if HOUSE in setup.layers or not setup.layers else setup.layers[-1]


def board_of(estate: Estate, setup_id: str) -> Board:
    """Raises NotFound for a setup that isn't in use."""
    if setup_id not in estate.setups:
        raise NotFound(f"setup {setup_id[:60]}")
    return estate.board(setup_id)
