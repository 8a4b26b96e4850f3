"""The front end: npm packages from the lock file, and Vite's build, each made again only when its sources changed."""

import hashlib
import pathlib

from amberkey.launcher.python_env import BIN, environment, require_node
from amberkey.launcher.say import ROOT, run

WEB = ROOT / "web"
_PACKAGES = WEB / "node_modules" / ".amberkey-lock"
_BUILT = WEB / "dist" / ".amberkey-sources"


def ensure_packages() -> None:
    mark = _digest([WEB / "package-lock.json"])
    if _PACKAGES.exists() and _PACKAGES.read_text() == mark:
        return
    require_node()
    run(
        "Installing the front end's packages",
        [BIN / "npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"],
        hint="Check that the npm registry can be reached, and that the disk has room.",
        env=environment(),
        cwd=WEB,
    )
    _PACKAGES.write_text(mark)


def ensure_build() -> None:
    sources = [p for p in (WEB / "src").rglob("*") if p.is_file()]
    mark = _digest([WEB / "package-lock.json", WEB / "vite.config.ts", WEB / "index.html", *sorted(sources)])
    if _BUILT.exists() and _BUILT.read_text() == mark:
        return
    ensure_packages()
    run(
        "Building the front end",
        [BIN / "npm", "run", "--silent", "build"],
        hint="See the lines above; `npm run build` in web/ shows them all.",
        env=environment(),
        cwd=WEB,
    )
    _BUILT.write_text(mark)


def _digest(files: list[pathlib.Path]) -> str:
    found = hashlib.sha256()
    for file in files:
        found.update(str(file.relative_to(ROOT)).encode() + b"\0" + file.read_bytes() + b"\0")
    return found.hexdigest()
