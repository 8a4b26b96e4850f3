"""Debian's packages: installed where root runs us, named in one line where not."""

import os
import shutil
import subprocess

from amberkey.launcher.say import Stop, run, step

# Package, and what it is for.
DATABASE = ("postgresql", "the database server")
PANGO = (
    ("libpango-1.0-0", "what sets the type of printed cards"),
    ("libpangoft2-1.0-0", "what sets the type of printed cards"),
    ("libharfbuzz-subset0", "what puts fonts into printed cards"),
)
READER = ("poppler-utils", "what reads printed cards back, in the tests")
BROWSER = ("chromium", "the browser that the tests drive")
KEYMAPS = ("libxkbcommon0", "the keyboard layouts that the shipped ones are checked against")
DRIVER = ("libatomic1", "what the program that drives the browser needs")


def installed(package: str) -> bool:
    done = subprocess.run(
        ["dpkg-query", "-W", "-f=${Status}", package], capture_output=True, text=True, stdin=subprocess.DEVNULL
    )
    return done.returncode == 0 and done.stdout.endswith("installed")


def ensure(*packages: tuple[str, str]) -> None:
    """Raises Stop where a package is missing and can't be installed."""
    if shutil.which("dpkg-query") is None:
        raise Stop("This is not a Debian system (no dpkg). Amber Key installs itself on Debian 12 or later only.")
    missing = [(name, why) for name, why in packages if not installed(name)]
    if not missing:
        return
    names = [name for name, _ in missing]
    line = f"apt-get install -y --no-install-recommends {' '.join(names)}"
    if os.geteuid() != 0:
        raise Stop(f"Ask root to run this once, then try again: {line}")
    if shutil.which("apt-get") is None:
        raise Stop(f"There is no apt-get here. Install {', '.join(names)} by other means, then try again.")
    for name, why in missing:
        step(f"Debian package {name} is missing: {why}")
    env = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    run("Reading Debian's package lists", ["apt-get", "update", "-q"], hint="Check the network and the apt sources.", env=env)
    run(
        f"Installing {', '.join(names)}",
        ["apt-get", "install", "-y", "-q", "--no-install-recommends", *names],
        hint=f"Run `{line}` by hand to see why.",
        env=env,
    )
