"""Verbs that answer from files, on a checkout in which nothing is installed yet."""

import contextlib
import os
import sys
from collections.abc import Sequence
from typing import NoReturn

from amberkey.launcher import python_env
from amberkey.launcher.python_env import PYTHON
from amberkey.launcher.say import ROOT

ANSWERS = {
    "press": "read shortcuts and say what makes them on a keyboard",
    "layout": "say what the keys of layouts type",
    "check": "find the clashes of setups",
    "trace": "follow presses through a setup",
    "coverage": "say how far setups follow a standard",
    "propose": "choose keys for all tasks of a platform at once, and say how good they are at least",
    "upgrade": "say what a new version of a program changes, and for whom",
    "compare": "say what differs between two documents",
    "bundle": "make, inspect and verify signed bundles",
    "convert": "read a settings file as a profile, or write one with what a profile says",
}
# These need nothing but the standard library.
_AT_ONCE = ("press", "layout")


def answer(words: Sequence[str]) -> NoReturn:
    """Becomes the command line's process. Raises Stop where what it needs can't be installed."""
    python = sys.executable
    if words[0] not in _AT_ONCE:
        with contextlib.redirect_stdout(sys.stderr):  # what is asked for is the answer alone
            python_env.ensure(development=False)
        python = str(PYTHON)
    os.chdir(os.environ.get("AMBERKEY_FROM") or os.curdir)
    os.environ["PYTHONPATH"] = str(ROOT / "src")
    os.execv(  # noqa: S606  (the shell would only stand in between)
        python, [python, "-X", "utf8", "-m", "amberkey.cli", *words]
    )
