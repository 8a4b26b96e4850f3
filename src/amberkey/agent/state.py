"""What an agent keeps on its machine: where its server is and what it may do, and how far it is with orders and reports.

Two files in its own folder, each written beside and renamed, so that one of them is always whole: `agent.json` is made when it
enrols, `state.json` changes while it works.
"""

import contextlib
import dataclasses
import json
import pathlib
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from amberkey.agent.errors import FileProblem
from amberkey.agent.folders import clear, own_folder
from amberkey.agent.paths import STATE

CONFIG, WORK = "agent.json", "state.json"
MOST_REPORTS = 200


@dataclass
class Config:
    """`key`: the organisation's public key (base64), pinned when it enrolled. `allowed`: folders and files with a dot that were
    opened. `stores`: settings stores that it may reach, each with the command lines that take its export out and put one in.
    `account`: whose home it is, as the system calls them; `machine_root`: the folder of what is the machine's own, where the
    agent works in that and in no home."""

    server: str
    token: str
    machine: str
    key: str
    allowed: list[str] = field(default_factory=list)
    stores: dict[str, dict[str, list[str]]] = field(default_factory=dict)
    paused: bool = False
    account: str = ""
    machine_root: str = ""

    @property
    def root(self) -> str:
        """Below what its files lie: `home` or `machine`."""
        return "machine" if self.machine_root else "home"


@dataclass
class Work:
    """`begun` and `done`: the number of the newest order by file. `reports`: those that the server hasn't heard yet. `files`:
    what was said of each file last, for whoever asks at the machine."""

    begun: dict[str, int] = field(default_factory=dict)
    done: dict[str, int] = field(default_factory=dict)
    reports: list[dict[str, Any]] = field(default_factory=list)
    files: dict[str, str] = field(default_factory=dict)


@contextlib.contextmanager
def alone(home: pathlib.Path) -> Iterator[None]:
    """Hold the home: two agents in one would each believe that they know how far it is. Raises FileProblem where one works."""
    try:
        import fcntl
    except ImportError:  # not a POSIX system: its service starts one only
        yield
        return
    with own_folder(home, STATE) as folder, folder.open_lock() as handle:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise FileProblem("Another agent works in this home already.") from None
        clear(folder)
        yield


class State:
    """Both files of a home."""

    def __init__(self, home: pathlib.Path, config: Config, work: Work) -> None:
        self.home, self.config, self.work = home, config, work

    @classmethod
    def of(cls, home: pathlib.Path) -> "State":
        """What is kept in a home. Raises FileProblem where nothing is, or what is there can't be read."""
        config = _read(home, CONFIG)
        if config is None:
            raise FileProblem("This machine is not enrolled. Run `enrol` with a code first.")
        try:
            return cls(home, Config(**config), Work(**(_read(home, WORK) or {})))
        except TypeError as error:
            raise FileProblem(f"What the agent keeps in {STATE} is of another version: enrol it again.") from error

    @property
    def base(self) -> pathlib.Path:
        """The folder below which its files lie; what the agent keeps itself is always in `home`."""
        return pathlib.Path(self.config.machine_root) if self.config.machine_root else self.home

    def keep_config(self) -> None:
        _write(self.home, CONFIG, dataclasses.asdict(self.config))

    def keep_work(self) -> None:
        """Raises FileProblem where it can't be written: then nothing else is either."""
        _write(self.home, WORK, dataclasses.asdict(self.work))

    def begin(self, file: str, number: int) -> None:
        """An order is about to be carried out."""
        if self.work.begun.get(file, 0) != number:
            self.work.begun[file] = number
            self.keep_work()

    def end(self, file: str, number: int, report: dict[str, Any]) -> None:
        """An order was carried out: it never is again, and the report is kept until the server has heard it."""
        self.work.begun[file] = self.work.done[file] = number
        self.keep_report(report)

    def keep_report(self, report: dict[str, Any]) -> None:
        rest = [r for r in self.work.reports if r.get("order") != report.get("order")]
        self.work.reports = [*rest, report][-MOST_REPORTS:]
        self.keep_work()

    def heard(self, report: dict[str, Any]) -> None:
        self.work.reports = [r for r in self.work.reports if r != report]
        self.keep_work()


def _read(home: pathlib.Path, name: str) -> dict[str, Any] | None:
    try:
        with own_folder(home, STATE) as folder:
            found = json.loads(folder.read(name).data)
    except FileNotFoundError:
        return None
    except (OSError, ValueError, RecursionError) as error:
        raise FileProblem(f"{STATE}/{name} can't be read: {error}") from error
    if not isinstance(found, dict):
        raise FileProblem(f"{STATE}/{name} isn't what the agent wrote.")
    return found


def _write(home: pathlib.Path, name: str, value: dict[str, Any]) -> None:
    try:
        with own_folder(home, STATE) as folder:
            fresh = folder.put_beside(name, json.dumps(value, indent=1).encode())
            try:
                folder.rename(fresh, name)
            finally:
                folder.remove(fresh)
            folder.flush()
    except OSError as error:
        raise FileProblem(f"The agent's own folder can't be written: {error.strerror}.") from error
