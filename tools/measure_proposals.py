"""How good the proposals of tasks are on the example with the task of every command taken away: `tools/measure_proposals.py`.

`--others` leaves the other programs their tasks, as in daily work. `--misses` prints what was sure and wrong.
"""

import sys

from amberkey.core.catalogue.proposing import Proposer, figures
from amberkey.core.formats import read_any
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import Tasks
from amberkey.demo.load import DOCUMENTS


def example() -> tuple[list[Program], Tasks]:
    """The programs and tasks of the example."""
    found = [read_any(p.read_bytes()) for p in sorted(DOCUMENTS.glob("*.json"))]
    return [d for d in found if isinstance(d, Program)], next(d for d in found if isinstance(d, Tasks))


def main() -> None:
    programs, tasks = example()
    right = {(f"{p.id}@{p.version}", c.id): c.task for p in programs for c in p.commands}
    bare = [p.model_copy(update={"commands": tuple(c.model_copy(update={"task": None}) for c in p.commands)}) for p in programs]
    proposals = {}
    for program in bare:
        others = [p for p in programs if p.id != program.id] if "--others" in sys.argv else ()
        proposals[f"{program.id}@{program.version}"] = Proposer(tasks, others).propose(program)
    for name, share in figures(proposals, right).items():
        print(f"{name:16} {100 * share:5.1f} %")
    if "--misses" in sys.argv:
        for key, own in proposals.items():
            for one in own:
                if one.sure and one.task != right[key, one.command]:
                    print(f"{key} {one.command}: {one.candidates[0]}, and it is {right[key, one.command]}")


if __name__ == "__main__":
    main()
