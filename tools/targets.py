"""What benchmarks share: a target with what was reached, and fair timing on a machine whose speed changes."""

import gc
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class Target:
    name: str
    reached: float
    at_most: float
    unit: str = "x"

    def line(self) -> str:
        mark = "ok  " if self.reached <= self.at_most else "MISS"
        return f"{mark} {self.name:<68} {self.reached:9.3g} {self.unit:<3} (at most {self.at_most:g})"


def best(run: Callable[[], object], tries: int) -> float:
    """The shortest time of several runs, in seconds, without the garbage collector in between."""
    times = []
    for _ in range(tries):
        gc.collect()
        gc.disable()
        begun = time.perf_counter()
        run()
        times.append(time.perf_counter() - begun)
        gc.enable()
    return min(times)


def ratio(run: Callable[[], object], floor: Callable[[], object], tries: int) -> tuple[float, float]:
    """The best time of each, in seconds, taken in turns: the speed of a shared machine changes under both alike."""
    pairs = [(best(run, 1), best(floor, 3)) for _ in range(tries)]
    return min(p[0] for p in pairs), min(p[1] for p in pairs)


def told(found: Iterable[Target]) -> int:
    """Print each target as it is reached or missed; 1 where one is missed, as an exit code."""
    targets = []
    for target in found:
        targets.append(target)
        print(target.line(), flush=True)
    missed = sum(t.reached > t.at_most for t in targets)
    print(f"\n{len(targets) - missed} of {len(targets)} targets reached")
    return 1 if missed else 0
