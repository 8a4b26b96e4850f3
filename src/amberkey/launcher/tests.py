"""`test`: sets up what tests need, runs every kind of them, and ends with one line that counts."""

import fcntl
import pathlib
import subprocess
import tempfile
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
    beside = None
    try:
        # The browser's take as long as all others together: they run beside those, and are told when those are done.
        beside = _Running("browser", chosen["browser"], env, beside=True) if "browser" in chosen and len(chosen) > 1 else None
        for name, check in chosen.items():
            running = beside if beside is not None and name == "browser" else _Running(name, check, env)
            if not running.passed():
                failed.append(name)
    finally:
        if beside is not None and beside.process.poll() is None:  # somebody broke off
            beside.process.terminate()
            beside.process.wait()
        if cluster is not None:
            cluster.stop()
        alone.close()
    print(f"\nchecks: {len(chosen) - len(failed)} passed, {len(failed)} failed", flush=True)
    if failed:
        raise Stop(f"These checks failed: {', '.join(failed)}")


class _Running:
    """A check that runs. One beside others keeps what it says until it is asked for, and has a database of its own."""

    def __init__(self, name: str, check: Check, env: Mapping[str, str], *, beside: bool = False) -> None:
        folder, command = check
        self.name, self.begun = name, time.monotonic()
        self.said = tempfile.TemporaryFile("w+", encoding="utf-8", errors="replace") if beside else None  # noqa: SIM115
        if self.said is None:
            print(f"\n== {name}", flush=True)
        elif "AMBERKEY_DB_NAME" in env:
            env = {**env, "AMBERKEY_DB_NAME": f"{env['AMBERKEY_DB_NAME']}_beside"}
        self.process = subprocess.Popen(
            [str(c) for c in command],
            cwd=folder,
            env=env,
            stdin=subprocess.DEVNULL,
            stdout=self.said,
            stderr=subprocess.STDOUT if self.said else None,
        )

    def passed(self) -> bool:
        """Waits for its end and tells it."""
        code = self.process.wait()
        took = time.monotonic() - self.begun
        if self.said is not None:
            self.said.seek(0)
            print(f"\n== {self.name}\n{self.said.read()}", flush=True)
            self.said.close()
        print(f"== {self.name}: {'passed' if code == 0 else 'FAILED'} in {took:.0f} s", flush=True)
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
        "core": (ROOT, [PYTHON, "-m", "pytest", "tests/core", "tests/cli"]),
        "agent": (ROOT, [PYTHON, "-m", "pytest", "tests/agent", "tests/launcher"]),
        "server": (ROOT, [PYTHON, "-m", "pytest", "tests/server"]),
        "browser": (ROOT, [PYTHON, "-m", "pytest", "tests/browser"]),
    }
