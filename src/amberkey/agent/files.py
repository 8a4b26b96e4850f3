"""Reading a settings file, and replacing it by compare-and-swap with a backup.

At every moment the file is the old one or the new one, whole: the new bytes are written beside it, flushed to disk and
renamed over it. A process killed anywhere leaves at most a stray file beside it, which the next round removes.
"""

import contextlib
import errno
import hashlib
import os
import pathlib
import stat
from collections.abc import Callable, Iterator

from amberkey.agent.errors import Changed, FileProblem

MAX_FILE = 4 * 1024 * 1024
BACKUPS_KEPT = 10
Step = Callable[[str], None]


def no_step(name: str) -> None:
    """Called between the steps of a write; tests use it to stop there."""


def digest_of(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def place_of(home: pathlib.Path, path: str) -> pathlib.Path:
    """The file below the home; a path or link that leads outside is refused."""
    place = (home / path).resolve()
    if not place.is_relative_to(home.resolve()):
        raise FileProblem(f"{path} leads outside the home folder.")
    if not place.parent.is_dir():
        raise FileProblem(f"The folder {pathlib.PurePath(path).parent} isn't there. Start the program once, then try again.")
    return place


def read_file(home: pathlib.Path, path: str) -> bytes:
    place = place_of(home, path)
    try:
        if not stat.S_ISREG(place.stat().st_mode):
            raise FileProblem(f"{path} is not a file.")
        if place.stat().st_size > MAX_FILE:
            raise FileProblem(f"{path} is larger than {MAX_FILE // 1048576} MB.")
        return place.read_bytes()
    except FileNotFoundError:
        raise FileProblem(f"{path} isn't there. Start the program once, then try again.") from None
    except OSError as error:
        raise FileProblem(f"{path} can't be read: {error.strerror}.") from error


def swap(home: pathlib.Path, path: str, expect: str, content: bytes, backups: pathlib.Path, step: Step = no_step) -> str:
    """Write `content` if the file's digest is `expect`; returns `written`, or `already` where it holds the content.

    Raises Changed with the present bytes, or FileProblem.
    """
    place = place_of(home, path)
    with _locked(place, path):
        current = read_file(home, path)
        if digest_of(current) == digest_of(content):
            return "already"
        if digest_of(current) != expect:
            raise Changed(current)
        try:
            _back_up(backups, path, current)
            step("backed up")
            fresh = place.with_name(f".{place.name}.amberkey-new")
            _write(fresh, content, place.stat().st_mode)
            step("written beside")
            latest = read_file(home, path)  # a program that ignores locks may have saved meanwhile
            if digest_of(latest) != expect:
                fresh.unlink()
                raise Changed(latest)
            os.replace(fresh, place)
            _flush_folder(place.parent)
        except OSError as error:
            raise FileProblem(_why(path, error)) from error
    step("replaced")
    return "written"


def _why(path: str, error: OSError) -> str:
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return f"{path} can't be written: it or its folder is read-only. Allow writing, then try again."
    if error.errno == errno.ENOSPC:
        return f"{path} can't be written: the disk is full."
    return f"{path} can't be written: {error.strerror}."


@contextlib.contextmanager
def _locked(place: pathlib.Path, path: str) -> Iterator[None]:
    """Hold the file's advisory lock; a program that holds it is asked to be closed."""
    try:
        import fcntl
    except ImportError:  # not a POSIX system: renaming over a file that is open fails there by itself
        yield
        return
    try:
        handle = os.open(place, os.O_RDONLY)
    except FileNotFoundError:
        raise FileProblem(f"{path} isn't there. Start the program once, then try again.") from None
    except OSError as error:
        raise FileProblem(f"{path} can't be opened: {error.strerror}.") from error
    try:
        if not os.access(place, os.W_OK):
            raise FileProblem(f"{path} can't be written: it is read-only. Allow writing, then try again.")
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise FileProblem(f"{path} is locked by another program. Close it, then try again.") from None
        yield
    finally:
        os.close(handle)


def _write(file: pathlib.Path, content: bytes, mode: int) -> None:
    with file.open("wb") as out:
        out.write(content)
        out.flush()
        os.fsync(out.fileno())
    file.chmod(stat.S_IMODE(mode))


def _flush_folder(folder: pathlib.Path) -> None:
    if os.name == "posix":
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _back_up(backups: pathlib.Path, path: str, current: bytes) -> None:
    """Keep the present bytes under their digest; the newest ten of a file stay."""
    folder = backups / path.replace("/", "_")
    folder.mkdir(parents=True, exist_ok=True)
    _write(folder / digest_of(current), current, 0o600)
    os.utime(folder / digest_of(current))
    kept = sorted(folder.iterdir(), key=lambda p: p.stat().st_mtime_ns, reverse=True)
    for old in kept[BACKUPS_KEPT:]:
        old.unlink()
