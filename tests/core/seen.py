"""The example in full, as an estate."""

import pathlib
from functools import cache

from amberkey.core.clashes.estate import Estate
from amberkey.core.formats import read_any
from amberkey.core.inventory.rows import Sheet, sheet_of
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.reference import system_tables
from amberkey.core.tasks.model import NO_TASKS, Tasks

DOCUMENTS = sorted((pathlib.Path(__file__).parents[2] / "src/amberkey/demo/documents").glob("*.json"))


@cache
def whole_example() -> Estate:
    documents = [read_any(path.read_bytes()) for path in DOCUMENTS]
    programs = [*(d for d in documents if isinstance(d, Program)), *system_tables()]
    organisation = next(d for d in documents if isinstance(d, Organisation))
    derived = derive(organisation, {p.id: p.name for p in programs})
    return Estate(
        setups=derived.setups,
        programs={(p.id, p.version): p for p in programs},
        profiles={p.id: p for p in documents if isinstance(p, Profile)},
        tasks=next((d for d in documents if isinstance(d, Tasks)), NO_TASKS),
        census=derived.census,
    )


@cache
def whole_sheet() -> Sheet:
    estate = whole_example()
    return sheet_of(estate, estate.setups)
