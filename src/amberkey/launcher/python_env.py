"""The project's own Python environment in .venv, from the pinned lock files. Node comes in it as a package."""

import hashlib
import os
import pathlib
import sys

from amberkey.launcher.say import ROOT, Stop, need_disk, run

VENV = ROOT / ".venv"
BIN = VENV / "bin"
PYTHON = BIN / "python"
_STAMP = VENV / ".amberkey-locks"


def ensure(*, development: bool) -> None:
    """Make or refresh .venv; quick where the lock files are those that it was made from."""
    names = ["runtime", "dev"] if development else ["runtime"]
    marks = {name: _mark(ROOT / "requirements" / f"{name}.txt") for name in ("runtime", "dev")}
    have = _STAMP.read_text().split() if _STAMP.exists() and PYTHON.exists() else []
    if all(marks[name] in have for name in names):
        return
    need_disk(ROOT, 1500)
    if not PYTHON.exists():
        run(
            "Making the Python environment",
            [sys.executable, "-m", "venv", "--clear", VENV],
            hint="On Debian the package python3-venv is needed: ask root to run apt-get install -y python3-venv.",
        )
    lock = ROOT / "requirements" / ("dev.txt" if development else "runtime.txt")
    run(
        "Installing Python packages and Node (pinned, checked by digest)",
        [PYTHON, "-m", "pip", "install", "-q", "--disable-pip-version-check", "--require-hashes", "-r", lock],
        hint="Check that the package index can be reached, and that the disk has room.",
    )
    # The lock for development holds everything that the one for running holds.
    _STAMP.write_text("\n".join([marks["runtime"], *([marks["dev"]] if development else [])]))


def environment(**more: str) -> dict[str, str]:
    """The environment for programs of ours: .venv first on the path, src importable."""
    return {
        **os.environ,
        "PATH": f"{BIN}{os.pathsep}{os.environ.get('PATH', '')}",
        "PYTHONPATH": str(ROOT / "src"),
        "PYTHONUNBUFFERED": "1",
        **more,
    }


def require_node() -> None:
    if not (BIN / "node").exists() or not (BIN / "npm").exists():
        raise Stop("Node is missing from .venv. Remove the folder .venv and try again.")


def _mark(file: pathlib.Path) -> str:
    return hashlib.sha256(file.read_bytes()).hexdigest()
