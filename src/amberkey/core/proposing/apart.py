"""A solver in a process of its own: it can be stopped, it can die or run out of memory, and the best so far is there."""

import contextlib
import math
import os
import pickle
import subprocess
import sys
import time
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import IO, Any

from amberkey.core.proposing.program import Program, Relaxed, Row, Search, Solved
from amberkey.core.proposing.question import CannotPropose

MEMORY = 3 * 1024**3
"""The most that a solver may have, in bytes of address space."""
_OVERTIME = 20.0
"""Seconds that a solver may take beyond its limit, for reading the program and for giving back."""
_BETWEEN = 0.2


class Apart:
    """HiGHS behind the port, each time in a new process."""

    def __init__(self, command: tuple[str, ...] = ("-m", "amberkey.core.proposing.apart"), memory: int = MEMORY) -> None:
        self.command, self.memory = command, memory

    def solve(self, program: Program, search: Search) -> Solved:
        """The cheapest choice, or the best that there was when time ran out, somebody stopped it or the process died."""
        best, bound = search.start, -math.inf
        for kind, *said in self._answers(("solve", program, search.alone), search):
            if kind == "solved":
                return Solved(*said[0])
            if kind == "progress":
                best, bound = said[0] or best, max(bound, said[1])
                search.progress(best, bound)
            elif kind == "refused":
                raise CannotPropose(*said)
        if best and program.allows(best):
            return Solved("feasible", best, program.cost_of(best), bound)
        return Solved("none", (), math.inf, bound)

    def relaxed(self, program: Program, search: Search, without: Iterable[int] = ()) -> Relaxed | None:
        """The bound with its prices; None where the process gave none."""
        for kind, *said in self._answers(("relaxed", program, search.alone, tuple(without)), search):
            if kind == "relaxed":
                return said[0]  # type: ignore[no-any-return]
            if kind == "refused":
                raise CannotPropose(*said)
        return None

    def floor(self, program: Program, search: Search) -> float:
        """The highest that the process came to."""
        found = -math.inf
        for kind, *said in self._answers(("floor", program, search.alone), search):
            if kind == "floor":
                found = max(found, said[0])
            elif kind == "refused":
                raise CannotPropose(*said)
        return found

    def relaxations(self, program: Program, search: Search, row: Row, mosts: Sequence[float]) -> list[Relaxed | None]:
        """Those that the process came to, in order; None for the others."""
        found: list[Relaxed | None] = []
        for kind, *said in self._answers(("relaxations", program, search.alone, row, tuple(mosts)), search):
            if kind == "relaxed":
                found.append(said[0])
            elif kind == "refused":
                raise CannotPropose(*said)
        return found + [None] * (len(mosts) - len(found))

    def _answers(self, asked: tuple[Any, ...], search: Search) -> Iterable[tuple[Any, ...]]:
        """What the process says until it ends, is stopped, or has taken too long."""
        env = {**os.environ, "PYTHONPATH": os.pathsep.join(p for p in sys.path if p), "AMBERKEY_SOLVER_BYTES": str(self.memory)}
        command = [sys.executable, *self.command]
        child = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=env)
        assert child.stdin is not None
        assert child.stdout is not None
        until = time.monotonic() + search.seconds + _OVERTIME
        try:
            with contextlib.suppress(BrokenPipeError), child.stdin:
                pickle.dump(asked, child.stdin)
            os.set_blocking(child.stdout.fileno(), False)
            waiting = b""
            while not search.stopped() and time.monotonic() < until:
                ended = child.poll() is not None
                waiting += child.stdout.read() or b""
                waiting, whole = _split(waiting)
                yield from map(pickle.loads, whole)
                if ended and not whole:
                    return
                if not whole:
                    with contextlib.suppress(subprocess.TimeoutExpired):
                        child.wait(_BETWEEN)
        finally:
            child.kill()
            child.wait()
            child.stdout.close()


def _split(data: bytes) -> tuple[bytes, list[bytes]]:
    """What is left over, and the whole messages: each has its length before it."""
    found = []
    while len(data) >= 8 and len(data) >= 8 + (size := int.from_bytes(data[:8], "big")):
        found.append(data[8 : 8 + size])
        data = data[8 + size :]
    return data, found


def _tell(out: IO[bytes], *said: object) -> None:
    data = pickle.dumps(said)
    out.write(len(data).to_bytes(8, "big") + data)
    out.flush()


def main() -> None:
    """The process: reads what is asked, says how far it is, and what came of it. It ends with the one that started it."""
    import ctypes
    import resource
    import signal

    from amberkey.core.proposing.highs import Highs

    with contextlib.suppress(ImportError):  # told when it is asked; loading it is not what may run out of memory
        import highspy  # noqa: F401
    with contextlib.suppress(OSError, AttributeError):  # Linux: PR_SET_PDEATHSIG is 1
        ctypes.CDLL(None).prctl(1, signal.SIGKILL)
    out = os.fdopen(os.dup(1), "wb")
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)  # the solver greets on the standard output
    most = int(os.environ.get("AMBERKEY_SOLVER_BYTES", MEMORY))
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    what, program, search, *more = pickle.load(sys.stdin.buffer)  # noqa: S301 - from the process that started this one
    last = [0.0, ()]

    def progress(chosen: tuple[int, ...], bound: float) -> None:
        now = time.monotonic()
        if chosen != last[1] or now - float(last[0]) > _BETWEEN:  # type: ignore[arg-type]
            last[:] = now, chosen
            _tell(out, "progress", chosen, bound)

    try:
        if what == "solve":
            _tell(out, "solved", tuple(Highs().solve(program, replace(search, progress=progress))))
        elif what == "floor":
            for floor in Highs().each_floor(program, search):
                _tell(out, "floor", floor)
        elif what == "relaxations":
            for relaxed in Highs().each_relaxation(program, search, *more):
                _tell(out, "relaxed", relaxed)
        else:
            _tell(out, "relaxed", Highs().relaxed(program, search, *more))
    except CannotPropose as error:
        _tell(out, "refused", error.says, error.cure)


if __name__ == "__main__":
    main()
