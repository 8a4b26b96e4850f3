"""Benchmarks of lists of commands, as ratios within one run.

    PYTHONPATH=src python tools/bench_lists.py

Reading and checking a sheet of 5,000 commands, a command, against one of 1,000; likewise matching commands to tasks.
"""

import random
import sys

from targets import Target, best, told

from amberkey.core.catalogue.headings import match_headings
from amberkey.core.catalogue.listing import ListOfCommands
from amberkey.core.catalogue.proposing import Proposer
from amberkey.core.catalogue.tables import read_tables
from amberkey.core.programs.making import blank_program, with_commands
from amberkey.core.programs.model import Program
from amberkey.core.tasks.neutral import neutral_tasks


def sheet(rows: int) -> bytes:
    """A sheet of that many commands, as CSV."""
    lines = (
        f'Group {n // 40},Command number {n},"Ctrl+K, {chr(65 + n % 26)}",⌘⇧{chr(65 + n % 26)},What {n} does to the sheet'
        for n in range(rows)
    )
    return "\n".join(("Group,Command,Windows,Mac,Description", *lines)).encode()


def check(data: bytes) -> None:
    """All of what is done with a sheet before it is taken."""
    table = read_tables(data)[0]
    program = blank_program("Weir Desk", "1", "office", ["windows", "macos"], ())
    ListOfCommands(program, neutral_tasks(), match_headings(table)).read(table)


def drawn(commands: int) -> Program:
    """A program whose commands are called by words of the tasks."""
    draw = random.Random(7)
    words = [w for t in neutral_tasks().tasks for w in t.name.split()]
    names = [{"name": f"{' '.join(draw.sample(words, 3))} {n}"} for n in range(commands)]
    return with_commands(blank_program("Weir Desk", "1", "office", ["windows"], ()), names)


def main() -> int:
    small, large = sheet(1_000), sheet(5_000)
    few, many = drawn(1_000), drawn(5_000)
    proposer = Proposer(neutral_tasks())
    proposer.propose(drawn(20))  # SciPy is loaded when it is first used
    checking, checking_large = best(lambda: check(small), 3), best(lambda: check(large), 3)
    matching, matching_large = best(lambda: proposer.propose(few), 3), best(lambda: proposer.propose(many), 3)
    print(
        f"checking 5,000 commands {checking_large:.2f} s; matching 1,000 to {len(neutral_tasks().tasks)} tasks {matching:.2f} s"
    )
    return told(
        [
            Target("checking, a command of 5,000 to one of 1,000", checking_large / 5 / checking, 1.3),
            Target("matching, a command of 5,000 to one of 1,000", matching_large / 5 / matching, 1.3),
        ]
    )


if __name__ == "__main__":
    sys.exit(main())
