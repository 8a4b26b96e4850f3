"""Folders held open, so that nobody can swap one for a link to somewhere else while the agent works in it.

Where the system has handles of folders every step goes through them and follows no link by itself: links are read, and lead on
only below the home. Elsewhere (`PlainFolder`) paths are looked at before each step, which leaves a moment in between.
"""

import contextlib
import ctypes
import errno
import os
import pathlib
import re
import secrets
import stat
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from amberkey.agent.errors import FileProblem

MAX_FILE = 4 * 1024 * 1024
MOST_LINKS = 20
_STRAY = re.compile(r"\..+\.[0-9a-f]{16}\.amberkey")
_FLAGS = getattr(os, "O_NOFOLLOW", 0) | getattr(os, "O_CLOEXEC", 0) | getattr(os, "O_BINARY", 0)
_AT_ONCE = getattr(os, "O_NONBLOCK", 0)  # a pipe answers at once instead of waiting for somebody to write
_EXCHANGE = 2  # RENAME_EXCHANGE of Linux: both names at once


@dataclass(frozen=True, slots=True)
class Seen:
    """A file as it was when it was read."""

    data: bytes
    stat: os.stat_result


class Folder:
    """An open folder. `shown`: what people call the file that this is about."""

    def __init__(self, handle: int, shown: str) -> None:
        self._handle = handle
        self.shown = shown

    def close(self) -> None:
        os.close(self._handle)

    def read(self, name: str) -> Seen:
        """A file of this folder, never through a link. Raises FileProblem, FileNotFoundError, OSError."""
        handle = self._open(name, os.O_RDONLY | _AT_ONCE)
        try:
            return _read(handle, self.shown)
        finally:
            os.close(handle)

    def _open(self, name: str, flags: int) -> int:
        """A handle of a file of this folder, never through a link."""
        return os.open(name, flags | _FLAGS, 0o600, dir_fd=self._handle)

    @contextlib.contextmanager
    def locked(self, name: str) -> Iterator[None]:
        """Hold the file's advisory lock; a program that holds it is asked to be closed."""
        import fcntl

        handle = self._open(name, os.O_RDONLY | _AT_ONCE)
        try:
            if not os.access(name, os.W_OK, dir_fd=self._handle, follow_symlinks=False):
                raise FileProblem(f"{self.shown} can't be written: it is read-only. Allow writing, then try again.")
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                raise FileProblem(f"{self.shown} is locked by another program. Close it, then try again.") from None
            yield
        finally:
            os.close(handle)

    @contextlib.contextmanager
    def open_lock(self) -> Iterator[int]:
        """A file to hold a lock by."""
        handle = self._open("lock", os.O_RDWR | os.O_CREAT)
        try:
            yield handle
        finally:
            os.close(handle)

    def put_beside(self, name: str, data: bytes, like: os.stat_result | None = None) -> str:
        """A new file in this folder, on disk, with mode and group of `like`; gives its name, which nobody can guess."""
        fresh = f".{name[:100]}.{secrets.token_hex(8)}.amberkey"
        handle = self._open(fresh, os.O_WRONLY | os.O_CREAT | os.O_EXCL)
        try:
            with os.fdopen(handle, "wb") as out:
                out.write(data)
                out.flush()
                if like is not None:
                    _liken(out.fileno(), like)
                os.fsync(out.fileno())
        except BaseException:
            self.remove(fresh)
            raise
        return fresh

    def exchange(self, fresh: str, name: str) -> None:
        """What is called `name` and what is called `fresh` change names in one step.

        Raises NotImplementedError where the system has no such step.
        """
        _renameat2(self._handle, fresh, name, _EXCHANGE)

    def rename(self, old: str, new: str) -> None:
        os.rename(old, new, src_dir_fd=self._handle, dst_dir_fd=self._handle)

    def link(self, name: str, other: str) -> None:
        os.link(name, other, src_dir_fd=self._handle, dst_dir_fd=self._handle, follow_symlinks=False)

    def remove(self, name: str) -> None:
        with contextlib.suppress(FileNotFoundError):
            os.unlink(name, dir_fd=self._handle)

    def names(self) -> list[str]:
        return sorted(os.listdir(self._handle))

    def flush(self) -> None:
        os.fsync(self._handle)

    def inner(self, name: str) -> "Folder":
        """A folder in this one that nobody else can look into, made where it isn't there. Raises FileProblem for a link."""
        with contextlib.suppress(FileExistsError):
            os.mkdir(name, 0o700, dir_fd=self._handle)
        try:
            handle = os.open(name, os.O_RDONLY | os.O_DIRECTORY | _FLAGS, dir_fd=self._handle)
        except NotADirectoryError:
            raise FileProblem(f"{name} is a link or a file, so nothing is kept there.") from None
        if os.fstat(handle).st_uid != os.geteuid():
            os.close(handle)
            raise FileProblem(f"{name} belongs to somebody else, so nothing is kept there.")
        return Folder(handle, name)


class PlainFolder(Folder):
    """The same by paths, for systems without handles of folders."""

    def __init__(self, place: pathlib.Path, shown: str) -> None:
        self.place = place
        self.shown = shown

    def close(self) -> None:
        pass

    def _open(self, name: str, flags: int) -> int:
        if not flags & os.O_EXCL and (self.place / name).is_symlink():
            raise FileProblem(f"{self.shown} is a link.")
        return os.open(self.place / name, flags | _FLAGS, 0o600)

    @contextlib.contextmanager
    def locked(self, name: str) -> Iterator[None]:
        """Here a program that holds a file open keeps others from renaming over it, so there is nothing to hold."""
        if not os.access(self.place / name, os.W_OK):
            raise FileProblem(f"{self.shown} can't be written: it is read-only. Allow writing, then try again.")
        yield

    def exchange(self, fresh: str, name: str) -> None:
        raise NotImplementedError

    def rename(self, old: str, new: str) -> None:
        os.replace(self.place / old, self.place / new)

    def link(self, name: str, other: str) -> None:
        os.link(self.place / name, self.place / other)

    def remove(self, name: str) -> None:
        (self.place / name).unlink(missing_ok=True)

    def names(self) -> list[str]:
        return sorted(p.name for p in self.place.iterdir())

    def flush(self) -> None:
        pass

    def inner(self, name: str) -> "Folder":
        inner = self.place / name
        if inner.is_symlink():
            raise FileProblem(f"{name} is a link, so nothing is kept there.")
        inner.mkdir(mode=0o700, exist_ok=True)
        return PlainFolder(inner, name)


HAS_HANDLES = os.open in os.supports_dir_fd and hasattr(os, "O_NOFOLLOW") and hasattr(os, "O_DIRECTORY")


@contextlib.contextmanager
def opened(home: pathlib.Path, parts: tuple[str, ...]) -> Iterator[tuple[Folder, str]]:
    """The folder of a file below the home and the file's name in it, links followed that stay below the home.

    Raises FileProblem where one leads outside or a folder isn't there.
    """
    folder, name = (_by_handles if HAS_HANDLES else by_paths)(home, parts)
    try:
        yield folder, name
    finally:
        folder.close()


@contextlib.contextmanager
def own_folder(home: pathlib.Path, *names: str) -> Iterator[Folder]:
    """A folder of the agent's own below the home, made where it isn't there; no link is followed on the way."""
    real = home.resolve()
    at: Folder = Folder(_open_folder(str(real), None, "The home folder"), str(real)) if HAS_HANDLES else PlainFolder(real, "")
    for name in names:
        try:
            inner = at.inner(name)
        finally:
            at.close()
        at = inner
    try:
        yield at
    finally:
        at.close()


def _by_handles(home: pathlib.Path, parts: tuple[str, ...]) -> tuple[Folder, str]:
    path, real = "/".join(parts), home.resolve()
    handles = [_open_folder(str(real), None, "The home folder")]
    try:
        todo, links = list(parts), 0
        while True:
            step = todo.pop(0)
            if step in ("", "."):
                found = None
            elif step == "..":
                if len(handles) == 1:
                    raise FileProblem(f"{path} leads outside the home folder.")
                os.close(handles.pop())
                found = None
            else:
                found = _stat(step, handles[-1])
            if found is not None and stat.S_ISLNK(found.st_mode):
                links += 1
                if links > MOST_LINKS:
                    raise FileProblem(f"{path} goes through a ring of links.")
                leads = os.readlink(step, dir_fd=handles[-1])
                if leads.startswith("/"):
                    inner = pathlib.PurePosixPath(leads)
                    if not inner.is_relative_to(real):
                        raise FileProblem(f"{path} leads outside the home folder.")
                    while len(handles) > 1:
                        os.close(handles.pop())
                    todo = [*inner.relative_to(real).parts, *todo]
                else:
                    todo = [*leads.split("/"), *todo]
                if not todo:
                    raise FileProblem(f"{path} is not a file.")
                continue
            if not todo:
                if step in ("", ".", ".."):
                    raise FileProblem(f"{path} is not a file.")
                return Folder(handles.pop(), path), step
            if step not in ("", ".", ".."):
                handles.append(_open_folder(step, handles[-1], path))
    finally:
        for handle in handles:
            os.close(handle)


def _stat(name: str, folder: int) -> os.stat_result | None:
    try:
        return os.stat(name, dir_fd=folder, follow_symlinks=False)
    except FileNotFoundError:
        return None


def _open_folder(name: str, within: int | None, path: str) -> int:
    try:
        return os.open(name, os.O_RDONLY | os.O_DIRECTORY | _FLAGS, dir_fd=within)
    except (FileNotFoundError, NotADirectoryError):
        folder = pathlib.PurePosixPath(path).parent
        raise FileProblem(f"The folder {folder} isn't there. Start the program once, then try again.") from None
    except OSError as error:
        if error.errno == errno.ELOOP:
            raise FileProblem(f"{path} goes through a link that wasn't there before, so nothing was done.") from None
        raise


def by_paths(home: pathlib.Path, parts: tuple[str, ...]) -> tuple[Folder, str]:
    """As `opened`, for systems without handles of folders."""
    path, real = "/".join(parts), home.resolve()
    try:
        place = real.joinpath(*parts).resolve()
    except (OSError, RuntimeError):  # a ring of links
        raise FileProblem(f"{path} goes through a ring of links.") from None
    if not place.is_relative_to(real):
        raise FileProblem(f"{path} leads outside the home folder.")
    if not place.parent.is_dir():
        raise FileProblem(f"The folder {pathlib.PurePath(path).parent} isn't there. Start the program once, then try again.")
    return PlainFolder(place.parent, path), place.name


def clear(folder: Folder) -> None:
    """Take away what a writing left that was cut off."""
    for name in folder.names():
        if _STRAY.fullmatch(name):
            folder.remove(name)


def _read(handle: int, shown: str) -> Seen:
    found = os.fstat(handle)
    if not stat.S_ISREG(found.st_mode):
        raise FileProblem(f"{shown} is not a file.")
    if hasattr(os, "geteuid") and found.st_uid != os.geteuid():
        raise FileProblem(f"{shown} belongs to somebody else, so it is left alone.")
    if found.st_size > MAX_FILE:
        raise FileProblem(f"{shown} is larger than {MAX_FILE // 1048576} MB.")
    with os.fdopen(os.dup(handle), "rb") as file:
        data = file.read(MAX_FILE + 1)
    if len(data) > MAX_FILE:
        raise FileProblem(f"{shown} is larger than {MAX_FILE // 1048576} MB.")
    return Seen(data, found)


def _liken(handle: int, like: os.stat_result) -> None:
    if not hasattr(os, "fchmod"):  # Windows gives a new file the rights of its folder
        return
    os.fchmod(handle, stat.S_IMODE(like.st_mode))
    if os.fstat(handle).st_gid != like.st_gid:
        os.fchown(handle, -1, like.st_gid)
        os.fchmod(handle, stat.S_IMODE(like.st_mode))  # changing the group takes some bits away


def _found_renameat2() -> Callable[..., int] | None:
    if sys.platform != "linux":
        return None
    try:
        return ctypes.CDLL(None, use_errno=True).renameat2
    except (OSError, AttributeError):
        return None


_call = _found_renameat2()


def _renameat2(folder: int, old: str, new: str, flags: int) -> None:
    if _call is None:
        raise NotImplementedError
    if _call(folder, os.fsencode(old), folder, os.fsencode(new), flags) != 0:
        number = ctypes.get_errno()
        if number in (errno.EINVAL, errno.ENOSYS):  # a file system, or a kernel, that can't
            raise NotImplementedError
        raise OSError(number, os.strerror(number))
