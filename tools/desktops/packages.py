"""Packages of Debian, unpacked for reading: binary ones by `dpkg-deb`, sources by `tar`. Nothing of them is run."""

import pathlib
import re
import shutil
import subprocess
import tarfile
from dataclasses import dataclass

from tools.desktops import reading
from tools.desktops.reading import Presses

SMALL = tuple(dict.fromkeys((*(p for _, p, _ in reading.GSETTINGS), "libxfce4ui-common", "xkb-data")))
"""The packages that can be had quickly; the others hold a desktop's whole data or sources."""
_X = "usr/share"


@dataclass(frozen=True)
class Read:
    """What one file of one package says: `presses` as they are written there, by the name of the setting; `on`: whether what
    takes them is switched on as it ships."""

    edition: str
    release: str
    package: str
    version: str
    file: str
    presses: Presses
    on: bool = True


@dataclass(frozen=True)
class Package:
    name: str
    version: str
    root: pathlib.Path


def fetch(names: tuple[str, ...], folder: pathlib.Path) -> bool:
    """Have apt put packages of this machine's own suite into a folder. False where it can't."""
    apt = shutil.which("apt-get")
    if apt is None:
        return False
    got = subprocess.run([apt, "download", "-q", *names], cwd=folder, capture_output=True, check=False)
    return got.returncode == 0


def unpack(folder: pathlib.Path, into: pathlib.Path) -> list[Package]:
    """Unpack every .deb and every .orig.tar of a folder."""
    found = []
    for file in sorted(folder.glob("*.deb")):
        said = subprocess.run(["dpkg-deb", "-W", file], capture_output=True, text=True, check=True).stdout.split()
        root = into / f"{said[0]}_{said[1].replace(':', '.')}"
        if not root.exists():
            subprocess.run(["dpkg-deb", "-x", file, root], check=True)
        found.append(Package(said[0], said[1], root))
    for file in sorted(folder.glob("*.orig.tar.*")):
        match = re.fullmatch(r"(.+)_([^_]+)\.orig\.tar\.\w+", file.name)
        if match is None:
            continue
        root = into / f"source_{match[1]}_{match[2]}"
        if not root.exists():
            wanted = {_at(f, where) for p, f, _ in reading.SOURCES if p == match[1] for where in _PLUGINS}
            wanted |= {f"{f.rpartition('/')[0]}/metadata.json" for f in wanted}
            with tarfile.open(file) as tar:
                members = [m for m in tar if m.isfile() and m.name.partition("/")[2] in wanted]
                tar.extractall(root, members, filter="data")
        inner = next(iter(root.iterdir()), root)
        found.append(Package(f"source:{match[1]}", match[2], inner))
    return found


_PLUGINS = ("plugins", "effects")
"""Where kwin keeps its effects: from version 6 on, and before."""


def _at(pattern: str, where: str) -> str:
    return pattern.replace("{plugins}", where)


# Programs of the desktop that count their versions by years, with the Plasma that Debian ships them with.
_PLASMA = {"22.12": "5.27", "25.04": "6.3"}


def _release(version: str, parts: int) -> str:
    figures = re.sub(r"^\d+:", "", version).split("-")[0].split(".")
    return ".".join(figures[:parts])


def read(package: Package) -> list[Read]:
    """Everything that a package says of presses."""
    found = []

    def note(edition: str, release: str, file: str, presses: Presses, on: bool = True) -> None:
        if presses:
            found.append(Read(edition, release, package.name, package.version, file, presses, on))

    for edition, name, schema in reading.GSETTINGS:
        file = f"{_X}/glib-2.0/schemas/{schema}.gschema.xml"
        if name == package.name and (package.root / file).exists():
            release = _release(package.version, 1 if edition == "GNOME" else 2)
            note(edition, release, file, reading.gsettings(package.root / file))
    if package.name == "libxfce4ui-common":
        note("XFCE", _release(package.version, 2), reading.XFCE, reading.xfce(package.root / reading.XFCE))
    if package.name == "xfce4-pulseaudio-plugin":
        file = next((str(f.relative_to(package.root)) for f in package.root.rglob("libpulseaudio-plugin.so")), "")
        presses = reading.library((package.root / file).read_bytes()) if file else {}
        note("XFCE", "", re.sub(r"lib/[a-z0-9_-]+-linux-gnu", "lib", file), presses)
    if package.name == "cinnamon-common":
        for name in reading.APPLETS:
            at = f"{_X}/cinnamon/applets/{name}@cinnamon.org"
            file = f"{at}/settings-schema.json"
            note("X-Cinnamon", _release(package.version, 2), file, reading.applet(package.root / file, name))
        file = f"{_X}/cinnamon/applets/grouped-window-list@cinnamon.org/applet.js"
        script = (package.root / file).read_text(encoding="utf-8")
        note("X-Cinnamon", _release(package.version, 2), file, reading.numbered_applet(script))
    for name, desktop in reading.DESKTOP_FILES:
        if name == package.name:
            at = next(
                (p for p in ("kglobalaccel", "applications") if (package.root / _X / p / f"{desktop}.desktop").exists()), ""
            )
            file = f"{_X}/{at}/{desktop}.desktop"
            if at:
                release = _release(package.version, 2)
                note("KDE Plasma", _PLASMA.get(release, release), file, reading.desktop_file(package.root / file, desktop))
    if package.name == "xkb-data":
        file = f"{_X}/X11/xkb/symbols/srvr_ctrl"
        presses = reading.consoles((package.root / file).read_text(encoding="utf-8"))
        for edition in ("KDE Plasma", "XFCE"):
            note(edition, "", file, presses)
    for name, pattern, patterns in reading.SOURCES:
        if package.name != f"source:{name}":
            continue
        file = next((f for w in _PLUGINS if (package.root / (f := _at(pattern, w))).exists()), "")
        if file:
            text = (package.root / file).read_text(encoding="utf-8")
            presses = reading.source(text, patterns)
            if file.endswith("shellcorona.cpp"):
                presses |= reading.task_presses(text)
            about = (package.root / file).parent / "metadata.json"
            on = not (about.exists() and re.search(r'"EnabledByDefault": false', about.read_text(encoding="utf-8")))
            note("KDE Plasma", _release(package.version, 2), file, presses, on)
    return found
