"""Stand-ins for programs on simulated machines: each reads its settings file when it starts, and does to it what programs do.

    python -m amberkey.demo.programs NAME FILE --does rewrites [--open SECONDS --closed SECONDS]

`rewrites`: writes at its end what it read at its start, so that what was written meanwhile is lost. `sorts`: writes a JSON file
at its end with its names in order. `locks`: holds the file as long as it runs. `drops`: writes a JSON file at its end without
the parts that it doesn't know. It runs until its input ends; with `--open` it is opened and closed again and again.
"""

import argparse
import contextlib
import ctypes
import json
import pathlib
import sys
import time
from collections.abc import Collection, Iterator
from typing import Any, Literal

Does = Literal["rewrites", "sorts", "locks", "drops"]
KNOWN = frozenset({"keyboard", "window"})
"""What a program that drops parts knows of its file."""


@contextlib.contextmanager
def opened(file: pathlib.Path, does: Does, known: Collection[str] = KNOWN) -> Iterator[None]:
    """A program that runs: what it does at its end is done when the context ends."""
    before = file.read_bytes()
    with contextlib.ExitStack() as held:
        if does == "locks":
            import fcntl

            handle = held.enter_context(file.open("rb"))
            fcntl.flock(handle, fcntl.LOCK_EX)
        yield
    match does:
        case "rewrites":
            _put(file, before)
        case "sorts":
            _put(file, (json.dumps(_read(file), sort_keys=True, indent=4, ensure_ascii=False) + "\n").encode())
        case "drops":
            kept = {name: value for name, value in _read(file).items() if name in known}
            _put(file, (json.dumps(kept, indent=2, ensure_ascii=False) + "\n").encode())
        case "locks":
            pass


def _read(file: pathlib.Path) -> dict[str, Any]:
    found = json.loads(file.read_bytes())
    return found if isinstance(found, dict) else {}


def _put(file: pathlib.Path, data: bytes) -> None:
    if file.read_bytes() != data:
        beside = file.with_name(f"{file.name}.saving")
        beside.write_bytes(data)
        beside.replace(file)


def _called(name: str) -> None:
    """What the system calls this process from now on, as far as it can be told (PR_SET_NAME of Linux)."""
    if sys.platform == "linux":
        with contextlib.suppress(OSError, AttributeError):
            ctypes.CDLL(None).prctl(15, name.encode()[:15], 0, 0, 0)


def main() -> int:
    parser = argparse.ArgumentParser(description="A program on a simulated machine.")
    parser.add_argument("name")
    parser.add_argument("file", type=pathlib.Path)
    parser.add_argument("--does", choices=("rewrites", "sorts", "locks", "drops"), default="rewrites")
    parser.add_argument("--open", type=float, default=0.0, help="seconds for which it is open each time")
    parser.add_argument("--closed", type=float, default=10.0, help="seconds between")
    given = parser.parse_args()
    if not given.open:
        _called(given.name)
        with opened(given.file, given.does):
            print("up", flush=True)
            sys.stdin.read()
        return 0
    while True:
        _called(given.name)
        with opened(given.file, given.does):
            time.sleep(given.open)
        _called(f"no-{given.name}")
        time.sleep(given.closed)


if __name__ == "__main__":
    sys.exit(main())
