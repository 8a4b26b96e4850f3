"""Many simulated machines in one process, some of them odd: each has a real agent in a home of its own.

    python -m amberkey.demo.fleet FOLDER SERVER [--every SECONDS] [--rounds N]

FOLDER holds `fleet.json`, which says the enrolment key and which machine does what (see `Does`), and a home for each. Which
round an odd machine misses comes from its name, so every start goes the same way.
"""

import argparse
import contextlib
import dataclasses
import errno
import itertools
import json
import os
import pathlib
import random
import sys
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from amberkey.agent.client import Client
from amberkey.agent.errors import FileProblem, ServerProblem
from amberkey.agent.facts import GIVEN
from amberkey.agent.files import Step, no_step
from amberkey.agent.running import machine_mark
from amberkey.agent.state import Config, State, Work, alone
from amberkey.agent.work import work_once

Does = Literal["as it should", "offline", "slow", "full", "read-only", "wrong time", "edited by hand", "two agents"]
"""`offline`: heard once and never again. `slow`: misses most rounds. `full`: nothing fits on its disk. `read-only`: nothing can
be written. `wrong time`: its files are of a year that hasn't come. `edited by hand`: somebody changes a key after it was
written. `two agents`: its home was copied to another machine."""
LIST = "fleet.json"
EDITS: Mapping[str, tuple[bytes, bytes]] = {
    "boardwright": (b'press="F2"', b'press="F9"'),
    "quaysheet": (b'"ctl-f9"', b'"ctl-f8"'),
}
"""What somebody changes by hand in a program's file: the text before and after."""
_LATER = 4_102_444_800  # the year 2100
_SLOW = 5


@dataclass(frozen=True, slots=True)
class Placed:
    """A simulated home: of which machine and account, where, and what is odd about it. `files`: its settings files by
    program."""

    machine: str
    account: str
    does: Does
    files: Mapping[str, str]
    allowed: tuple[str, ...] = ()
    facts: str = ""

    @property
    def name(self) -> str:
        return f"{self.machine}.{self.account}"


def read_list(folder: pathlib.Path) -> tuple[str, list[Placed]]:
    """The enrolment key and the homes of a fleet's folder."""
    said = json.loads((folder / LIST).read_text("utf-8"))
    return said["key"], [Placed(**{**one, "allowed": tuple(one["allowed"])}) for one in said["homes"]]


def write_list(folder: pathlib.Path, key: str, homes: list[Placed]) -> None:
    """What `read_list` reads."""
    folder.mkdir(parents=True, exist_ok=True)
    said = {"key": key, "homes": [dataclasses.asdict(one) for one in homes]}
    (folder / LIST).write_text(json.dumps(said, indent=1), "utf-8")


def home_of(folder: pathlib.Path, placed: Placed) -> pathlib.Path:
    """Where a simulated home lies."""
    return folder / placed.name / "home"


def keep_state(folder: pathlib.Path, placed: Placed, token: str, machine: str, key: str, server: str = "") -> State:
    """What an agent that was enrolled keeps in its home."""
    home = home_of(folder, placed)
    own = Config(server, token, machine, key, sorted(placed.allowed), account=placed.account)
    state = State(home, own, Work())
    state.keep_work()
    state.keep_config()
    return state


def enrol(folder: pathlib.Path, server: str, key: str, placed: Placed) -> State:
    """The state of a home's agent; enrolled by the key where it wasn't yet. Raises ServerProblem."""
    home = home_of(folder, placed)
    try:
        state = State.of(home)
    except FileProblem:
        asked = {"key": key, "machine": placed.machine, "account": placed.account}
        answer = Client(server).call("POST", "/enrol-many", asked)
        state = keep_state(folder, placed, answer["token"], answer["machine"], answer["key"], server)
    state.config.server = server  # the demo's port may be another one this time
    state.keep_config()
    return state


def round_of(folder: pathlib.Path, placed: Placed, number: int) -> str:
    """One round of a home's agent, the first is 0; gives what came of it in a word or a sentence."""
    if not _comes(placed, number):
        return "missed"
    home = home_of(folder, placed)
    if placed.does == "wrong time":
        for path in placed.files.values():
            with contextlib.suppress(FileNotFoundError):
                os.utime(home / path, (_LATER, _LATER))
    os.environ[GIVEN] = placed.facts
    try:
        with alone(home):
            state = State.of(home)
            work_once(Client(state.config.server, state.config.token), state, _step(placed), mark=_mark(placed, number))
    except (ServerProblem, FileProblem) as problem:
        return str(problem)
    if placed.does == "edited by hand":
        _edit(home, placed, State.of(home))
    return "heard"


def _comes(placed: Placed, number: int) -> bool:
    if placed.does == "offline":
        return number == 0
    if placed.does == "slow":
        return number == 0 or random.Random(f"{placed.name} {number}").random() < 1 / _SLOW  # noqa: S311
    return True


def _step(placed: Placed) -> Step:
    why = {"full": errno.ENOSPC, "read-only": errno.EROFS}.get(placed.does)
    if why is None:
        return no_step

    def stop(name: str) -> None:
        if name == "backed up":
            raise OSError(why, os.strerror(why))

    return stop


def _mark(placed: Placed, number: int) -> Callable[[], str]:
    """Every second round of a home that is on two machines comes from the other one."""
    if placed.does == "two agents" and number % 2:
        return lambda: "0" * 32
    return machine_mark


def _edit(home: pathlib.Path, placed: Placed, state: State) -> None:
    """Somebody changes a key, once, after one of their files was written."""
    done = home.parent / "edited"
    if done.exists():
        return
    for program, (before, after) in EDITS.items():
        path = placed.files.get(program, "")
        if path and f"home:{path}" in state.work.done:
            text = (home / path).read_bytes()
            if before in text:
                (home / path).write_bytes(text.replace(before, after, 1))
                done.touch()
                return


def main() -> int:
    parser = argparse.ArgumentParser(description="Many simulated machines.")
    parser.add_argument("folder", type=pathlib.Path)
    parser.add_argument("server")
    parser.add_argument("--every", type=float, default=5.0, help="seconds between rounds")
    parser.add_argument("--rounds", type=int, default=0, help="how many; without it: until it is stopped")
    given = parser.parse_args()
    key, homes = read_list(given.folder)
    working: list[Placed] = []
    for placed in homes:
        try:
            enrol(given.folder, given.server, key, placed)
            working.append(placed)
        except (ServerProblem, FileProblem) as problem:
            print(f"{placed.name}: {problem}", file=sys.stderr)
    for number in range(given.rounds) if given.rounds else itertools.count():
        for placed in working:
            said = round_of(given.folder, placed, number)
            if said not in ("heard", "missed"):
                print(f"{placed.name}: {said}", file=sys.stderr)
        if not given.rounds:
            time.sleep(given.every)
    return 0


if __name__ == "__main__":
    sys.exit(main())
