"""Reading a settings file, and replacing it by compare-and-swap with a backup.

At every moment the file is the old one or the new one, whole: the new bytes are written beside it, flushed to disk and
exchanged with it. A process killed anywhere leaves at most a stray file beside it, which the next writing removes.
"""

import contextlib
import errno
import hashlib
import pathlib
import secrets
from collections.abc import Callable, Iterable, Iterator

from amberkey.agent.errors import Changed, FileProblem
from amberkey.agent.folders import Folder, Seen, clear, opened, own_folder
from amberkey.agent.paths import STATE, sound_parts

BACKUPS_KEPT = 10
Step = Callable[[str], None]


def no_step(name: str) -> None:
    """Called between the steps of a write; tests use it to stop there."""


def digest_of(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def read_file(base: pathlib.Path, path: str, allowed: Iterable[str] = ()) -> bytes:
    """The bytes of a settings file below a home, or below the folder of what is the machine's own. Raises FileProblem."""
    with _place(base, path, allowed) as (folder, name):
        return _read(folder, name).data


def swap(
    home: pathlib.Path,
    path: str,
    expect: str,
    content: bytes,
    allowed: Iterable[str] = (),
    step: Step = no_step,
    base: pathlib.Path | None = None,
) -> str:
    """Write `content` if the file's digest is `expect`; returns `written`, or `already` where it holds the content.

    `home`: where backups are kept, and below what the file lies where `base` says nothing else.

    Raises Changed with the present bytes, or FileProblem.
    """
    with _place(base or home, path, allowed) as (folder, name), _locked(folder, name):
        current = _read(folder, name)
        if digest_of(current.data) == digest_of(content):
            return "already"
        if digest_of(current.data) != expect:
            raise Changed(current.data)
        try:
            back_up(home, path, current.data)
            step("backed up")
            clear(folder)
            fresh = folder.put_beside(name, content, current.stat)
            step("written beside")
            try:
                _exchange(folder, fresh, name, home, path, expect, step)
            finally:
                folder.remove(fresh)
            folder.flush()
        except OSError as error:
            raise FileProblem(_why(path, error)) from error
    step("replaced")
    return "written"


def _exchange(folder: Folder, fresh: str, name: str, home: pathlib.Path, path: str, expect: str, step: Step) -> None:
    """Put the new file in the old one's place. What a program that ignores locks saved meanwhile is put back, and kept."""
    latest = _read(folder, name)
    if digest_of(latest.data) != expect:
        raise Changed(latest.data)
    step("looked last")
    aside = fresh
    try:
        folder.exchange(fresh, name)
    except NotImplementedError:
        aside = f".{name[:100]}.{secrets.token_hex(8)}.amberkey"
        folder.link(name, aside)
        folder.rename(fresh, name)
    try:
        before = _read(folder, aside)
        if digest_of(before.data) != expect:
            back_up(home, path, before.data)
            folder.rename(aside, name)
            raise Changed(before.data)
    finally:
        folder.remove(aside)


def backups_of(home: pathlib.Path, path: str) -> list[tuple[str, bytes]]:
    """What was in a file before it was written, the newest first, each with what it is called."""
    with own_folder(home, STATE, "backups", _called(path)) as folder:
        return [(name, folder.read(name).data) for name in reversed(_kept(folder))]


def back_up(home: pathlib.Path, path: str, current: bytes) -> None:
    """Keep the present bytes; the newest ten of a file stay, in the order in which they were kept, whatever the clock says."""
    with own_folder(home, STATE, "backups", _called(path)) as folder:
        clear(folder)
        kept = _kept(folder)
        if kept and kept[-1].endswith(digest_of(current)):
            return
        number = int(kept[-1].partition("-")[0]) + 1 if kept else 1
        folder.rename(folder.put_beside("backup", current), f"{number:08}-{digest_of(current)}")
        folder.flush()
        for old in kept[: max(0, len(kept) + 1 - BACKUPS_KEPT)]:
            folder.remove(old)


def _kept(folder: Folder) -> list[str]:
    return [n for n in folder.names() if n[:8].isdecimal() and n[8:9] == "-"]


def _called(path: str) -> str:
    """A name for the folder of a file's backups: two paths never share one."""
    return f"{path.rpartition('/')[2][:80]}.{digest_of(path.encode())[:12]}"


@contextlib.contextmanager
def _place(base: pathlib.Path, path: str, allowed: Iterable[str]) -> Iterator[tuple[Folder, str]]:
    try:
        with opened(base, sound_parts(path, allowed)) as found:
            yield found
    except (OSError, UnicodeError) as error:
        says = error.strerror if isinstance(error, OSError) else "its name is odd"
        raise FileProblem(f"{path} can't be reached: {says}.") from error


def _read(folder: Folder, name: str) -> Seen:
    try:
        return folder.read(name)
    except FileNotFoundError:
        raise FileProblem(f"{folder.shown} isn't there. Start the program once, then try again.") from None
    except OSError as error:
        raise FileProblem(f"{folder.shown} can't be read: {error.strerror}.") from error


@contextlib.contextmanager
def _locked(folder: Folder, name: str) -> Iterator[None]:
    with contextlib.ExitStack() as held:
        try:
            held.enter_context(folder.locked(name))
        except FileNotFoundError:
            raise FileProblem(f"{folder.shown} isn't there. Start the program once, then try again.") from None
        except OSError as error:
            raise FileProblem(f"{folder.shown} can't be opened: {error.strerror}.") from error
        yield


def _why(path: str, error: OSError) -> str:
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return f"{path} can't be written: it or its folder is read-only. Allow writing, then try again."
    if error.errno == errno.ENOSPC:
        return f"{path} can't be written: the disk is full."
    return f"{path} can't be written: {error.strerror}."
