"""How many may try to sign in at once, so that strangers who try slow nobody who works.

Checking a password is meant to be slow, so a few at once keep a processor busy. Each process lets one be checked at a time
and a few wait for it; each address may have some tries open, which come back with time, or at once where the password was
right. Both are kept by the process: they hold back floods. Lock-out after wrong tries is kept in the database, for all.
"""

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from amberkey.server.people.tries import Tries
from amberkey.server.problems import TryLater

AT_ONCE = 1
WAITING = 3
PATIENCE = 5.0  # seconds
TRIES = 10  # of one address, before it has to wait
BACK_AFTER = 6.0  # seconds until an address has one more try


@dataclass
class Gate:
    """`clock` gives seconds."""

    clock: Callable[[], float] = time.monotonic
    _checking: threading.BoundedSemaphore = field(default_factory=lambda: threading.BoundedSemaphore(AT_ONCE))
    _places: threading.BoundedSemaphore = field(default_factory=lambda: threading.BoundedSemaphore(AT_ONCE + WAITING))
    _tries: Tries = field(init=False)

    def __post_init__(self) -> None:
        self._tries = Tries(TRIES, BACK_AFTER, self.clock)

    @contextmanager
    def one_try(self, address: str) -> Iterator[Callable[[], None]]:
        """Around checking a password. Gives what to call where it was right. Raises TryLater, before anything is checked."""
        left = self._tries.take(address)
        if left is not None:
            raise self._too_many(left)
        if not self._places.acquire(blocking=False):
            raise _later("Too many are signing in at this moment.", 2)
        try:
            if not self._checking.acquire(timeout=PATIENCE):
                raise _later("Signing in takes too long at this moment.", 5)
            try:
                yield lambda: self._tries.give_back(address)
            finally:
                self._checking.release()
        finally:
            self._places.release()

    def refuses(self, address: str) -> TryLater | None:
        """The refusal of an address that has to wait; asked before anything else is done for it, as that costs nothing."""
        left = self._tries.left(address)
        return None if left >= 1 else self._too_many(left)

    def forget(self) -> None:
        """Every address may try anew."""
        self._tries.forget()

    def _too_many(self, left: float) -> TryLater:
        return _later("There were too many tries from where you are.", self._tries.seconds(left))


def _later(says: str, seconds: int) -> TryLater:
    return TryLater(429, says, "Nobody was signed in.", f"Wait {seconds} seconds, then try again.", seconds)


gate = Gate()
