"""What an order says, word for word: the text that is signed, and that an agent checks before it writes."""

import json

from amberkey.core.descriptions.described import Described
from amberkey.server.estate import current_estate
from amberkey.server.fleet.models import MachineFile, Order, Root
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.fleet.verbs.watch import described_by

FORMAT = "amberkey/order@1"


def said_of(order: Order) -> str:
    """The text of an order, the same each time: JSON without blanks, names in order."""
    file = order.file
    how = _described(file)
    said = {
        "at": order.at.isoformat(timespec="seconds"),
        "digest": order.digest,
        "expect": order.expect,
        "format": FORMAT,
        "home": file.agent.account,
        "machine": file.machine_id,
        "number": order.number,
        "path": file.path,
        "root": file.root,
        "sections": sections_of(file),
        "waits_for": list(how.runs_as) if how is not None and how.rewrites_at_exit else [],
    }
    return json.dumps(said, ensure_ascii=True, separators=(",", ":"), sort_keys=True)


def sections_of(file: MachineFile) -> list[str]:
    """The folders of a settings store in which the program's commands have their keys; of nothing else may be told."""
    if file.root != Root.STORE:
        return []
    estate, setup_id = current_estate(), setup_of_agent(file.agent)
    program = estate.board(setup_id).setup.program(file.program) if setup_id in estate.setups else None
    commands = program.commands if program is not None else ()
    return sorted({folder for c in commands if (folder := c.in_file.rpartition("/")[0])})


def _described(file: MachineFile) -> Described | None:
    estate, setup_id = current_estate(), setup_of_agent(file.agent)
    if setup_id not in estate.setups:
        return None
    setup = estate.board(setup_id).setup
    program = setup.program(file.program)
    found = described_by(file, program, setup.setup.works_on) if program is not None else None
    return found[1] if found is not None else None
