"""Which settings files an agent watches: those that its programs' descriptions name, at paths that were approved."""

from collections.abc import Collection, Sequence

from django.db import transaction

from amberkey.core.descriptions.described import Described, place_of
from amberkey.core.keys.platform import Platform
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import described_on
from amberkey.server.estate import current_estate
from amberkey.server.fleet.models import Agent, MachineFile, Root, Serves
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.library.approving import may_lie

Place = tuple[Root, str]
"""Below what a file lies, and its path there; of a store what it is called."""


def _place(how: Described, platform: Platform) -> Place | None:
    if how.export is not None:
        return Root.STORE, how.export.called
    return (Root(how.root), how.path[platform]) if platform in how.path else None


def described_by(file: MachineFile, program: Program, platform: Platform) -> tuple[int, Described] | None:
    """What describes a file that is watched, with its number: what names its place, else what named it before (its path was
    changed, and the new one isn't approved). None where nothing does any more."""
    found = described_on(program, platform)
    for number, how in found:
        if (file.root, file.path) == _place(how, platform):
            return number, how
    same = ((n, how) for n, how in found if n == file.number and platform in how.path and how.root == file.root)
    return next(same, None)


def watched(agent: Agent, stores: Collection[str] | None = None) -> list[MachineFile]:
    """The files of an agent that a description names. `stores`: those that it can reach now; None for every one that it ever
    reached. Of a file that no description names any more the rows stay, and nothing is read."""
    setup = _setup(agent)
    return _named(setup, _rows(agent), stores) if setup is not None else []


def watch_files(agent: Agent, stores: Collection[str] = ()) -> list[MachineFile]:
    """Watch the settings files that programs of the agent's setup keep where it works, and the settings stores that it can
    reach.

    Those of programs that were described or installed since are watched too; of a path that was changed the one before stays
    until the new one is approved. Gives all that are watched; none for an agent that is in no setup. Every agent asks for it
    every minute, so nothing is written where nothing is new.
    """
    setup = _setup(agent)
    if setup is None:
        return []
    rows = _rows(agent)
    platform = setup.setup.works_on
    missing: list[tuple[Program, int, Place]] = []
    for program in setup.programs:
        own = {(Root(row.root), row.path) for row in rows if row.program == program.id}
        for number, how in described_on(program, platform):
            place = _place(how, platform)
            if place is not None and place not in own and _reaches(agent, place, stores):
                missing.append((program, number, place))
    if missing and _begin(agent, setup, missing):
        rows = _rows(agent)
    return _named(setup, rows, stores)


def programs_at(agent: Agent) -> list[Program]:
    """The programs that somebody uses where an agent works, without the system itself."""
    setup = _setup(agent)
    return [p for p in setup.programs if p.kind != "system"] if setup is not None else []


def _reaches(agent: Agent, place: Place, stores: Collection[str]) -> bool:
    root, path = place
    if root == Root.STORE:
        return path in stores
    return (root == Root.MACHINE) == (agent.serves == Serves.MACHINE)


@transaction.atomic
def _begin(agent: Agent, setup: ResolvedSetup, missing: Sequence[tuple[Program, int, Place]]) -> bool:
    """Rows for places that aren't watched yet, if they may be; whether there are any."""
    platform, approved = setup.setup.works_on, may_lie()
    begun = False
    rows = _rows(agent)
    for program, number, (root, path) in missing:
        if root != Root.STORE and not approved(program, platform, place_of(root, path)):
            continue
        begun = True
        named = {_place(how, platform) for _, how in described_on(program, platform)}
        own = (r for r in rows if (r.program, r.number, r.root) == (program.id, number, root))
        before = next((r for r in own if (Root(r.root), r.path) not in named), None) if root != Root.STORE else None
        if before is not None:
            before.path = path
            before.save(update_fields=["path"])
        else:
            MachineFile.objects.get_or_create(
                agent=agent,
                program=program.id,
                root=root,
                path=path,
                defaults={"number": number, "machine": agent.machine},
            )
    return begun


def _setup(agent: Agent) -> ResolvedSetup | None:
    estate, setup_id = current_estate(), setup_of_agent(agent)
    return estate.board(setup_id).setup if setup_id in estate.setups else None


def _rows(agent: Agent) -> list[MachineFile]:
    kept = agent.files.select_related("content", "applied").defer("content__sealed", "applied__packed")
    rows = list(kept.order_by("program", "number", "pk"))
    for row in rows:
        row.agent, row.machine = agent, agent.machine
    return rows


def _named(setup: ResolvedSetup, rows: Sequence[MachineFile], stores: Collection[str] | None) -> list[MachineFile]:
    found = []
    for file in rows:
        program = setup.program(file.program)
        reached = file.root != Root.STORE or stores is None or file.path in stores
        if program is not None and reached and described_by(file, program, setup.setup.works_on) is not None:
            found.append(file)
    return found
