"""How many tries an address has, which come back with time. Kept by each process: it holds back floods."""

import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field

_ADDRESSES = 10_000


@dataclass
class Tries:
    """Of one address: `most` at once; one comes back every `back_after` seconds. `clock` gives seconds."""

    most: int
    back_after: float
    clock: Callable[[], float] = time.monotonic
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _left: OrderedDict[str, tuple[float, float]] = field(default_factory=OrderedDict)
    """For each address that tried lately: tries left, and when that was so."""

    def left(self, address: str) -> float:
        """How many tries an address has left; less than one: it has to wait."""
        with self._lock:
            return self._now(address)

    def take(self, address: str) -> float | None:
        """Take one try. None where there was one; else what is left, less than one."""
        with self._lock:
            left = self._now(address)
            if left < 1:
                return left
            self._keep(address, left - 1)
            return None

    def give_back(self, address: str) -> None:
        """One try more, as it was no try after all."""
        with self._lock:
            self._keep(address, min(self.most, self._now(address) + 1))

    def seconds(self, left: float) -> int:
        """So long an address has to wait that has so much left."""
        return max(1, round((1 - left) * self.back_after))

    def forget(self) -> None:
        """Every address may try anew."""
        with self._lock:
            self._left.clear()

    def _now(self, address: str) -> float:
        left, at = self._left.get(address, (float(self.most), self.clock()))
        return min(float(self.most), left + (self.clock() - at) / self.back_after)

    def _keep(self, address: str, left: float) -> None:
        self._left[address] = (left, self.clock())
        self._left.move_to_end(address)
        while len(self._left) > _ADDRESSES:
            self._left.popitem(last=False)
