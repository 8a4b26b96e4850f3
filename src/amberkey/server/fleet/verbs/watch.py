"""Which settings files of a machine are watched: those that its programs' descriptions name, at paths that were approved."""

from collections.abc import Collection, Sequence

from django.db import transaction

from amberkey.core.descriptions.described import Described
from amberkey.core.keys.platform import Platform
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import described_on
from amberkey.server.estate import current_estate
from amberkey.server.fleet.models import Machine, MachineFile, Root
from amberkey.server.fleet.setups import setup_of
from amberkey.server.library.approving import may_lie


def described_by(file: MachineFile, program: Program, platform: Platform) -> tuple[int, Described] | None:
    """What describes a file that is watched, with its number: what names its place, else what named it before (its path was
    changed, and the new one isn't approved). None where nothing does any more."""
    found = described_on(program, platform)
    for number, how in found:
        if file.path == (how.export.called if how.export and file.root == Root.STORE else how.path.get(platform)):
            return number, how
    return next(((n, how) for n, how in found if n == file.number and platform in how.path), None)


def watched(machine: Machine, stores: Collection[str] | None = None) -> list[MachineFile]:
    """The files of a machine that a description names. `stores`: those that its agent can reach now; None for every one that
    it ever reached. Of a file that no description names any more the rows stay, and nothing is read."""
    setup = _setup(machine)
    return _named(setup, _rows(machine), stores) if setup is not None else []


def watch_files(machine: Machine, stores: Collection[str] = ()) -> list[MachineFile]:
    """Watch the settings files that programs of the machine's setup keep, and the settings stores that its agent can reach.

    Those of programs that were described or installed since are watched too; of a path that was changed the one before stays
    until the new one is approved. Gives all that are watched; none for a machine that is in no setup. Every agent asks for it
    every minute, so nothing is written where nothing is new.
    """
    setup = _setup(machine)
    if setup is None:
        return []
    rows = _rows(machine)
    platform = setup.setup.works_on
    missing: list[tuple[Program, int, Root, str]] = []
    for program in setup.programs:
        own = {(Root(row.root), row.path) for row in rows if row.program == program.id}
        for number, how in described_on(program, platform):
            place = (Root.STORE, how.export.called) if how.export else (Root.HOME, how.path.get(platform, ""))
            reached = how.export.called in stores if how.export else bool(place[1])
            if reached and place not in own:
                missing.append((program, number, *place))
    if missing and _begin(machine, setup, missing):
        rows = _rows(machine)
    return _named(setup, rows, stores)


@transaction.atomic
def _begin(machine: Machine, setup: ResolvedSetup, missing: Sequence[tuple[Program, int, Root, str]]) -> bool:
    """Rows for places that aren't watched yet, if they may be; whether there are any."""
    platform, approved = setup.setup.works_on, may_lie()
    begun = False
    rows = _rows(machine)
    for program, number, root, path in missing:
        if root == Root.HOME and not approved(program, platform, path):
            continue
        begun = True
        named = {how.path.get(platform) for _, how in described_on(program, platform)}
        own = (r for r in rows if (r.program, r.number, r.root) == (program.id, number, Root.HOME) and r.path not in named)
        before = next(own, None) if root == Root.HOME else None
        if before is not None:
            before.path = path
            before.save(update_fields=["path"])
        else:
            MachineFile.objects.get_or_create(
                machine=machine, program=program.id, root=root, path=path, defaults={"number": number}
            )
    return begun


def _setup(machine: Machine) -> ResolvedSetup | None:
    estate, setup_id = current_estate(), setup_of(machine)
    return estate.board(setup_id).setup if setup_id in estate.setups else None


def _rows(machine: Machine) -> list[MachineFile]:
    kept = machine.files.select_related("content", "applied").defer("content__sealed", "applied__packed")
    rows = list(kept.order_by("program", "number", "pk"))
    for row in rows:
        row.machine = machine
    return rows


def _named(setup: ResolvedSetup, rows: Sequence[MachineFile], stores: Collection[str] | None) -> list[MachineFile]:
    found = []
    for file in rows:
        program = setup.program(file.program)
        reached = file.root != Root.STORE or stores is None or file.path in stores
        if program is not None and reached and described_by(file, program, setup.setup.works_on) is not None:
            found.append(file)
    return found
