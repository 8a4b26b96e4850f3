"""Progress for people, and the one kind of error that ends a step: a line that says what to do."""

import pathlib
import shutil
import subprocess
import sys
import time
from collections.abc import Mapping, Sequence

ROOT = pathlib.Path(__file__).resolve().parents[3]


class Stop(Exception):
    """A step failed. The text is one line: what is wrong and what to do."""


def step(text: str) -> None:
    print(f"  {text}", flush=True)


def run(
    what: str,
    command: Sequence[str | pathlib.Path],
    *,
    hint: str,
    env: Mapping[str, str] | None = None,
    cwd: pathlib.Path = ROOT,
    user: str | None = None,
) -> str:
    """Run one step quietly; its output is shown only where it fails, followed by the hint."""
    step(f"{what} ...")
    begun = time.monotonic()
    try:
        done = subprocess.run(
            [str(c) for c in command],
            cwd=cwd,
            env=env,
            user=user,
            group=user,
            extra_groups=() if user else None,
            stdin=subprocess.DEVNULL,
            capture_output=True,
            text=True,
            errors="replace",
        )
    except OSError as error:
        raise Stop(f"{what}: {command[0]} can't be started ({error.strerror}). {hint}") from error
    if done.returncode != 0:
        tail = (done.stdout + done.stderr).strip().splitlines()[-15:]
        print("\n".join(f"    {line}" for line in tail), file=sys.stderr)
        raise Stop(f"{what} failed. {hint}")
    took = time.monotonic() - begun
    if took > 3:
        step(f"{what}: done in {took:.0f} s")
    return done.stdout


def need_disk(folder: pathlib.Path, megabytes: int) -> None:
    free = shutil.disk_usage(folder).free // 1048576
    if free < megabytes:
        raise Stop(f"Only {free} MB are free on the disk of {folder}; {megabytes} MB are needed. Make room, then try again.")
