"""The programs that a demo runs: started with their logs in files, watched, stopped in reverse order."""

import ctypes
import os
import pathlib
import signal
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Mapping, Sequence

from amberkey.launcher import state
from amberkey.launcher.say import Stop


class Processes:
    """`home`: where their logs go, in a folder of that name; else the checkout's own."""

    def __init__(self, home: pathlib.Path | None = None) -> None:
        self.running: list[tuple[str, subprocess.Popen[bytes]]] = []
        self.again: dict[str, Callable[[], None]] = {}
        """How those are begun again whose end doesn't end everything, by name."""
        self.logs = (home or state.folder()) / "logs"
        self.logs.mkdir(exist_ok=True)

    def start(self, name: str, command: Sequence[str | pathlib.Path], env: Mapping[str, str], *, vital: bool = True) -> None:
        """`vital`: everything ends with it; else it is begun again when it ends by itself."""
        if not vital:
            self.again[name] = lambda: self.start(name, command, env, vital=False)
        with (self.logs / f"{name}.log").open("ab") as log:
            # A session of its own: Ctrl+C reaches the launcher only, which then stops all in order.
            process = subprocess.Popen(
                [str(c) for c in command],
                env=env,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=subprocess.STDOUT,
                start_new_session=True,
                cwd="/",
                preexec_fn=_end_with_the_launcher,
            )
        self.running.append((name, process))

    def watch(self) -> None:
        """Wait until one of them ends that is vital; raises Stop with its log."""
        while True:
            self.look()
            time.sleep(0.5)

    def look(self) -> None:
        """See whether all still run, and begin those again that aren't vital. Raises Stop."""
        for name, process in list(self.running):
            if process.poll() is None:
                continue
            said = f"{name} ended by itself with code {process.returncode}. Its log is {self.logs / name}.log"
            if name not in self.again:
                raise Stop(said)
            print(f"  {said}. It is begun again.", flush=True)
            self.running.remove((name, process))
            self.again[name]()

    def wait_for(self, name: str, address: str, seconds: float = 60) -> None:
        process = next(p for n, p in self.running if n == name)
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            if process.poll() is not None:
                break
            try:
                with urllib.request.urlopen(address, timeout=2):  # noqa: S310
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.05)
        raise Stop(f"{name} doesn't answer at {address}. Its log is {self.logs / name}.log")

    def stop(self) -> None:
        for _, process in reversed(self.running):
            if process.poll() is None:
                process.terminate()
        for _, process in reversed(self.running):
            try:
                process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                process.kill()
        self.running.clear()


def _end_with_the_launcher() -> None:
    """A launcher that is killed can't stop what it started: Linux then asks those to end (PR_SET_PDEATHSIG is 1)."""
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


def pid_file() -> pathlib.Path:
    return state.folder() / "running.pid"


def claim() -> None:
    """Only one demo of a checkout at a time."""
    other = running_pid()
    if other:
        raise Stop(f"Amber Key is running here already (process {other}). `./amberkey stop` ends it.")
    pid_file().write_text(str(os.getpid()))


def running_pid() -> int:
    try:
        pid = int(pid_file().read_text())
        command = pathlib.Path(f"/proc/{pid}/cmdline").read_bytes()
    except (OSError, ValueError):
        return 0
    return pid if b"amberkey.launcher" in command and pid != os.getpid() else 0


def stop_running() -> bool:
    """End a demo that runs in another terminal; True where there was one."""
    pid = running_pid()
    if not pid:
        return False
    os.kill(pid, signal.SIGTERM)
    for _ in range(300):
        if running_pid() != pid:
            return True
        time.sleep(0.1)
    raise Stop(f"Process {pid} doesn't end. Look at it with: ps {pid}")
