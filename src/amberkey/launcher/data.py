"""The folder in which an organisation's own data lives: found or made, checked, and held by one process at a time."""

import fcntl
import json
import os
import pathlib
import re
import stat

from amberkey import __version__
from amberkey.launcher.say import Stop, need_disk

_NEEDS = 60  # megabytes that must be free each time


def default_place() -> pathlib.Path:
    """As root below /var/lib, since the database then runs as the user postgres; else where people's programs keep data."""
    if os.geteuid() == 0:
        return pathlib.Path("/var/lib/amberkey/own")
    base = os.environ.get("XDG_DATA_HOME") or pathlib.Path.home() / ".local/share"
    return pathlib.Path(base) / "amberkey"


class DataFolder:
    """`place`: AMBERKEY_DATA, or the usual one. Every method raises Stop with one line that says where and what to do."""

    def __init__(self) -> None:
        said = os.environ.get("AMBERKEY_DATA", "")
        # A relative one is meant from where the command was given.
        here = pathlib.Path(os.environ.get("AMBERKEY_FROM", "."))
        self.place = (here / pathlib.Path(said).expanduser()).absolute() if said else default_place()
        self._lock: int | None = None

    def open(self) -> None:
        """Make it if need be, and hold it until this process ends. Nothing is written where it can't be served."""
        self._make()
        need_disk(self.place, _NEEDS)
        self._hold()
        try:
            self._check_version()
        except Stop:
            self._let_go()
            raise

    def is_served(self) -> bool:
        """Whether another process holds it."""
        try:
            handle = os.open(self.place / "lock", os.O_RDONLY)
        except OSError:
            return False
        try:
            fcntl.flock(handle, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            return True
        finally:
            os.close(handle)
        return False

    def note_address(self, address: str) -> None:
        """For whoever tries to serve the same folder: who does already, and where."""
        assert self._lock is not None
        os.ftruncate(self._lock, 0)
        os.pwrite(self._lock, json.dumps({"process": os.getpid(), "address": address}).encode(), 0)

    def _make(self) -> None:
        try:
            self.place.mkdir(parents=True, exist_ok=True)
            if os.geteuid() == 0:
                self.place.chmod(0o711)
            else:
                self.place.chmod(0o700)
        except OSError as error:
            raise self._unfit(f"can't be made ({error.strerror})") from error
        if not os.access(self.place, os.W_OK | os.X_OK) or self._is_read_only():
            raise self._unfit("can't be written to")
        if os.geteuid() == 0:
            closed = next((p for p in self.place.parents if not p.stat().st_mode & stat.S_IXOTH), None)
            if closed:
                raise self._unfit(f"is below {closed}, which is closed to the user postgres, as whom the database runs")

    def _is_read_only(self) -> bool:
        return bool(os.statvfs(self.place).f_flag & os.ST_RDONLY)

    def _unfit(self, why: str) -> Stop:
        return Stop(f"The data folder {self.place} {why}. Choose another folder in AMBERKEY_DATA, or mend that one.")

    def _hold(self) -> None:
        try:
            handle = os.open(self.place / "lock", os.O_RDWR | os.O_CREAT, 0o600)
        except OSError as error:
            raise self._unfit(f"can't be written to ({error.strerror})") from error
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            said = os.pread(handle, 1000, 0)
            os.close(handle)
            other = json.loads(said) if said else {}
            at = f" at {other['address']}" if other.get("address") else ""
            raise Stop(
                f"The data folder {self.place} is served already by process {other.get('process', 'unknown')}{at}. "
                "End that one, or choose another folder in AMBERKEY_DATA."
            ) from None
        self._lock = handle
        self.note_address("")

    def _let_go(self) -> None:
        assert self._lock is not None
        os.close(self._lock)
        self._lock = None

    def _check_version(self) -> None:
        file = self.place / "made-by.json"
        try:
            made_by = str(json.loads(file.read_text())["version"]) if file.exists() else ""
        except (OSError, ValueError, KeyError, TypeError):
            raise self._unfit("has a made-by.json that can't be read") from None
        if _figures(made_by) > _figures(__version__):
            raise Stop(
                f"The data folder {self.place} was served by Amber Key {made_by}, and this is {__version__}. "
                f"Start it with {made_by} or later, or choose another folder in AMBERKEY_DATA."
            )
        if made_by != __version__:
            fresh = file.with_suffix(".new")
            fresh.write_text(json.dumps({"version": __version__}))
            fresh.replace(file)


def _figures(version: str) -> tuple[int, ...]:
    return tuple(int(n) for n in re.findall(r"\d+", version))
