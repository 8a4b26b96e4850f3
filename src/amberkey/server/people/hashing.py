"""Passwords hashed beside everything else: one at a time on a host, in a thread that gives way to all others."""

import contextlib
import os
import pathlib
import tempfile
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor

from django.contrib.auth.hashers import PBKDF2PasswordHasher

_LEAST = 19  # how far a thread of Linux can stand back


def _stand_back() -> None:
    with contextlib.suppress(OSError, AttributeError):  # elsewhere than on Linux a thread has no priority of its own
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), _LEAST)


@contextlib.contextmanager
def _alone_on_this_host() -> Iterator[None]:
    """Several processes of a server would else keep all of its processors busy with passwords."""
    try:
        import fcntl
    except ImportError:  # not a POSIX system: one at a time in each process then
        yield
        return
    place = pathlib.Path(tempfile.gettempdir()) / f"amberkey-passwords-{os.getuid()}.lock"
    handle = os.open(place, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX)
        yield
    finally:
        os.close(handle)


_beside = ThreadPoolExecutor(1, thread_name_prefix="passwords", initializer=_stand_back)


class PatientHasher(PBKDF2PasswordHasher):
    """Django's own in all that is kept; somebody who signs in waits a little longer while others read."""

    def encode(self, password: str, salt: str, iterations: int | None = None) -> str:
        return _beside.submit(self._alone, password, salt, iterations).result()

    def _alone(self, password: str, salt: str, iterations: int | None) -> str:
        with _alone_on_this_host():
            return super().encode(password, salt, iterations)
