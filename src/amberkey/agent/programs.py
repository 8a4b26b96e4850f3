"""Which versions of programs are installed, of those that the server asks about and of no others."""

import contextlib
import pathlib
import plistlib
import re
import subprocess
import sys
from collections.abc import Callable, Collection, Iterator

LONGEST, MOST = 120, 60
_APPLICATIONS = pathlib.Path("/Applications")
_UNINSTALL = r"SOFTWARE\Microsoft\Windows\CurrentVersion\Uninstall"


def versions(names: Collection[str]) -> dict[str, str]:
    """The version of each program that is found by its name, as its system has it."""
    found = {}
    find = _way_of_this_system()
    for name in list(names)[:MOST]:
        with contextlib.suppress(OSError, ValueError, subprocess.SubprocessError):
            version = find(name[:LONGEST])
            if version:
                found[name[:LONGEST]] = version[:LONGEST]
    return found


def _way_of_this_system() -> Callable[[str], str]:
    if sys.platform == "win32":
        installed = dict(_of_windows())
        return lambda name: installed.get(name.casefold(), "")
    return _of_macos if sys.platform == "darwin" else of_debian


def of_debian(name: str, command: str = "dpkg-query") -> str:
    """By the package that is called as the program is, in small letters with hyphens; its version without what Debian adds to
    it before a colon and behind the last hyphen (Debian Policy 5.6.12)."""
    package = re.sub(r"[^a-z0-9+.]+", "-", name.casefold()).strip("-")
    if not re.fullmatch(r"[a-z0-9][a-z0-9+.-]+", package):
        return ""
    words = [command, "-W", "-f", "${db:Status-Status} ${Version}", package]
    done = subprocess.run(words, capture_output=True, timeout=20, check=False)
    status, _, version = done.stdout.decode("utf-8", "replace").partition(" ")
    if done.returncode != 0 or status != "installed":
        return ""
    upstream = version.partition(":")[2] or version
    return upstream.rpartition("-")[0] or upstream


def _of_macos(name: str, folder: pathlib.Path = _APPLICATIONS) -> str:
    """From the property list of the application that is called so."""
    if "/" in name:
        return ""
    said = plistlib.loads((folder / f"{name}.app/Contents/Info.plist").read_bytes())
    return str(said.get("CFBundleShortVersionString") or "")


def _of_windows() -> Iterator[tuple[str, str]]:
    """Names and versions as the list of installed programs has them, of the machine and of the person."""
    if sys.platform != "win32":
        return
    import winreg

    for root in (winreg.HKEY_LOCAL_MACHINE, winreg.HKEY_CURRENT_USER):
        with contextlib.suppress(OSError), winreg.OpenKey(root, _UNINSTALL) as programs:
            for n in range(winreg.QueryInfoKey(programs)[0]):
                with contextlib.suppress(OSError), winreg.OpenKey(programs, winreg.EnumKey(programs, n)) as one:
                    name = str(winreg.QueryValueEx(one, "DisplayName")[0])
                    yield name.casefold(), str(winreg.QueryValueEx(one, "DisplayVersion")[0])
