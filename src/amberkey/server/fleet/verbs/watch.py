"""Which settings files of a machine are watched: those that its programs' descriptions name, at paths that were approved."""

from collections.abc import Collection

from django.db import transaction

from amberkey.core.descriptions.described import Described
from amberkey.core.keys.platform import Platform
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
    """The files of a machine that a description names. `stores`: those that its agent can reach now; None for every one that it
    ever reached. Of a file that no description names any more the rows stay, and nothing is read."""
    estate, setup_id = current_estate(), setup_of(machine)
    if setup_id not in estate.setups:
        return []
    setup = estate.board(setup_id).setup
    found = []
    for file in machine.files.select_related("content", "applied").order_by("program", "number", "pk"):
        program = setup.program(file.program)
        reached = file.root != Root.STORE or stores is None or file.path in stores
        if program is not None and reached and described_by(file, program, setup.setup.works_on) is not None:
            file.machine = machine
            found.append(file)
    return found


@transaction.atomic
def watch_files(machine: Machine, stores: Collection[str] = ()) -> None:
    """Watch the settings files that programs of the machine's setup keep, and the settings stores that its agent can reach.

    Those of programs that were described or installed since are watched too; of a path that was changed the one before stays
    until the new one is approved. Does nothing for a machine that is in no setup.
    """
    estate, setup_id = current_estate(), setup_of(machine)
    if setup_id not in estate.setups:
        return
    setup = estate.board(setup_id).setup
    platform, approved = setup.setup.works_on, may_lie()
    rows: dict[str, list[MachineFile]] = {}
    for row in machine.files.order_by("pk"):
        rows.setdefault(row.program, []).append(row)
    for program in setup.programs:
        own = rows.get(program.id, [])
        described = described_on(program, platform)
        places = {
            (Root.STORE, how.export.called) if how.export else (Root.HOME, how.path[platform]): number
            for number, how in described
            if (how.export.called in stores if how.export else platform in how.path)
        }
        known = {(Root(row.root), row.path): row for row in own}
        moved = [row for place, row in known.items() if place not in places and row.root == Root.HOME]
        for (root, path), number in places.items():
            if (root, path) in known or (root == Root.HOME and not approved(program, platform, path)):
                continue
            before = next((row for row in moved if row.number == number), None)
            if before is not None:
                before.path = path
                before.save(update_fields=["path"])
            else:
                MachineFile.objects.create(machine=machine, program=program.id, number=number, root=root, path=path)
