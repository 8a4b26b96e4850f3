"""Byte for byte: a machine's file as it was seen, against how it would be written."""

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.bytewise import Differs, bytewise
from amberkey.core.descriptions.records import open_file
from amberkey.core.programs.preference_files import preference_edits
from amberkey.core.programs.settings_files import read_settings, write_settings
from amberkey.server.estate import board_of, current_estate
from amberkey.server.fleet.models import MachineFile
from amberkey.server.fleet.preferring import preferring
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.fleet.standing import left_in, wanted_entries
from amberkey.server.fleet.verbs.watch import described_by
from amberkey.server.problems import NotFound, Problem


def difference_of(file_id: int) -> list[Differs]:
    """Where a file would change, as it was seen last. Raises NotFound; Problem where it wasn't, or can't be read."""
    file = MachineFile.objects.select_related("agent__machine", "content", "applied").filter(pk=file_id).first()
    estate = current_estate(released=True)
    setup_id = setup_of_agent(file.agent, released=True) if file is not None else ""
    board = board_of(estate, setup_id) if setup_id in estate.setups else None
    program = board.setup.program(file.program) if board is not None and file is not None else None
    described = described_by(file, program, board.setup.setup.works_on) if file and board and program else None
    if file is None or board is None or program is None or described is None:
        raise NotFound(f"settings file {file_id} in what is released")
    seen, how, platform = file.seen, described[1], board.setup.setup.works_on
    if seen is None:
        raise Problem(409, f"{file.path} isn't known.", "Its agent hasn't shown it, or that was too long ago.", "Wait for it.")
    try:
        left = left_in(file, read_settings(seen, program, how, platform).entries)
        wanted = {c: s for c, s in wanted_entries(board, program, file).items() if c not in left}
        written = write_settings(seen, program, how, wanted, platform)
        prefers = preferring(file, seen, board, program, described[0])
        edits = [*written.edits, *preference_edits(seen, program, described[0], prefers.write)]
        return bytewise(open_file(seen, how).opened.text, edits)
    except SettingsFileError as error:
        raise Problem(409, f"{file.path} can't be written.", error.says, "Mend it on the machine.") from error
