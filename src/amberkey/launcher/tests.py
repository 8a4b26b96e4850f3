"""`test`: sets up what tests need, runs every kind of them, and ends with one line that counts."""

import fcntl
import os
import pathlib
import subprocess
import time
from collections.abc import Mapping, Sequence
from typing import IO

from amberkey.launcher import debian, front_end, python_env, state
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.python_env import BIN, PYTHON, environment
from amberkey.launcher.say import ROOT, Stop

WEB = ROOT / "web"
Check = tuple[pathlib.Path, list[str | pathlib.Path]]
"""The folder of a check and its command."""


def test(parts: Sequence[str]) -> None:
    """Run all checks, or those named. Raises Stop where one fails."""
    alone = _claim()
    checks = _checks()
    unknown = sorted(set(parts) - checks.keys())
    if unknown:
        raise Stop(f"There is no check {unknown[0]}. There are {', '.join(checks)}.")
    chosen = {name: c for name, c in checks.items() if not parts or name in parts}
    packages = [debian.KEYMAPS] if "core" in chosen else []
    packages += [debian.DATABASE, *debian.PANGO] if chosen.keys() & {"server", "browser", "agent"} else []
    packages += [debian.READER] if "server" in chosen else []
    packages += [debian.BROWSER, debian.DRIVER] if "browser" in chosen else []
    if packages:
        debian.ensure(*packages)
    python_env.ensure(development=True)
    if chosen.keys() & {"web-lint", "web-types", "web-units", "server"}:
        front_end.ensure_packages()
    if chosen.keys() & {"browser"}:
        front_end.ensure_build()
    cluster = None
    env = environment(DJANGO_SETTINGS_MODULE="amberkey.server.settings", AMBERKEY_DB_POOL="0")
    if chosen.keys() & {"server", "browser", "agent"}:
        cluster = Cluster("tests", fast=True)
        cluster.start()
        env |= cluster.environment()
    failed = []
    try:
        for name, check in chosen.items():
            if not _passes(name, check, env):
                failed.append(name)
    finally:
        if cluster is not None:
            cluster.stop()
        alone.close()
    print(f"\nchecks: {len(chosen) - len(failed)} passed, {len(failed)} failed", flush=True)
    if failed:
        raise Stop(f"These checks failed: {', '.join(failed)}")


def _passes(name: str, check: Check, env: Mapping[str, str]) -> bool:
    """Runs a check to its end."""
    folder, command = check
    print(f"\n== {name}", flush=True)
    begun = time.monotonic()
    code = subprocess.call([str(c) for c in command], cwd=folder, env=env, stdin=subprocess.DEVNULL)
    print(f"== {name}: {'passed' if code == 0 else 'FAILED'} in {time.monotonic() - begun:.0f} s", flush=True)
    return code == 0


def _claim() -> IO[str]:
    """Two test runs of one checkout would share a database."""
    lock = (state.folder() / "tests.lock").open("w")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.close()
        raise Stop("Tests of this checkout are running already. Wait for them, or end them.") from None
    return lock


def _pytest(*folders: str, by: str = "worksteal") -> list[str | pathlib.Path]:
    """Tests by as many processes as there are processors, up to four, each with a database of its own. One that has no tests
    left takes some of another's, unless all of one file stay together (`by` loadfile), as those that share a folder do."""
    workers = max(1, min(4, os.cpu_count() or 1))
    return [PYTHON, "-m", "pytest", "-n", str(workers), "--dist", by, *folders]


def _checks() -> dict[str, Check]:
    """Name to folder and command, the quick ones first."""
    npm = BIN / "npm"
    quiet = ["run", "--silent"]
    return {
        "lint": (ROOT, [BIN / "ruff", "check", "src", "tests", "tools"]),
        "format": (ROOT, [BIN / "ruff", "format", "--check", "src", "tests", "tools"]),
        "imports": (ROOT, [BIN / "lint-imports", "--no-cache"]),
        "types": (ROOT, [BIN / "mypy", "src/amberkey"]),
        "web-lint": (WEB, [npm, *quiet, "lint"]),
        "web-types": (WEB, [npm, *quiet, "types"]),
        "web-units": (WEB, [npm, *quiet, "test"]),
        "core": (ROOT, _pytest("tests/core", "tests/cli")),
        "agent": (ROOT, _pytest("tests/agent", "tests/launcher", by="loadfile")),
        "server": (ROOT, _pytest("tests/server")),
        "browser": (ROOT, _pytest("tests/browser")),
    }
