"""What the machine is, in its system's own words: the edition, the keyboard layouts, versions of programs. What these mean
knows the server."""

import contextlib
import json
import os
import pathlib
import platform
import re
import subprocess
import sys
from collections.abc import Collection
from typing import Any

from amberkey.agent.programs import versions

GIVEN = "AMBERKEY_MACHINE_FACTS"
"""Names a JSON file to say instead, for machines that are simulated."""
_LONGEST, _MOST = 120, 16


def facts(programs: Collection[str] = ()) -> dict[str, Any]:
    """`{"edition": text, "layouts": [text], "programs": {name: version}}`; what can't be found out is empty. `programs`: those
    that are asked about."""
    given = os.environ.get(GIVEN)
    if given:
        with contextlib.suppress(OSError, ValueError):
            return _sound(json.loads(pathlib.Path(given).read_text("utf-8")), programs)
    found: dict[str, Any] = {}
    with contextlib.suppress(OSError, ValueError, subprocess.SubprocessError):
        if sys.platform == "win32":
            found = {"edition": f"Windows {platform.release()} {platform.win32_edition()}", "layouts": _of_windows()}
        elif sys.platform == "darwin":
            found = {"edition": f"macOS {platform.mac_ver()[0]}", "layouts": _of_macos()}
        else:
            found = {"edition": _desktop(), "layouts": _of_linux(pathlib.Path("/etc/default/keyboard"))}
    with contextlib.suppress(OSError, subprocess.SubprocessError):
        found["programs"] = versions(programs)
    return _sound(found, programs)


def _sound(value: Any, programs: Collection[str]) -> dict[str, Any]:
    if not isinstance(value, dict):
        return {"edition": "", "layouts": [], "programs": {}}
    said = value.get("programs")
    own = said if isinstance(said, dict) else {}
    found = {name: str(own[name])[:_LONGEST] for name in programs if own.get(name)}
    layouts = value.get("layouts")
    named = [str(one)[:_LONGEST] for one in layouts if one] if isinstance(layouts, list) else []
    return {"edition": str(value.get("edition") or "")[:_LONGEST], "layouts": named[:_MOST], "programs": found}


def _desktop() -> str:
    return os.environ.get("XDG_CURRENT_DESKTOP", "")


def _of_linux(place: pathlib.Path) -> list[str]:
    """Layouts and variants as the system's keyboard file has them: `XKBLAYOUT="de,us"`, `XKBVARIANT="nodeadkeys,"`."""
    text = place.read_text("utf-8", "replace")
    said = {name: value.split(",") for name, value in re.findall(r'^(XKBLAYOUT|XKBVARIANT)="?([^"\n]*)"?', text, re.MULTILINE)}
    variants = [*said.get("XKBVARIANT", []), *[""] * _MOST]
    return [f"{one}({variants[n]})" if variants[n] else one for n, one in enumerate(said.get("XKBLAYOUT", [])) if one]


def _of_windows() -> list[str]:
    """Numbers of the person's layouts (`HKEY_CURRENT_USER\\Keyboard Layout\\Preload`, and `Substitutes` for them)."""
    if sys.platform != "win32":
        return []
    import winreg

    found, instead = [], {}
    with contextlib.suppress(OSError), winreg.OpenKey(winreg.HKEY_CURRENT_USER, r"Keyboard Layout\Substitutes") as key:
        entries = (winreg.EnumValue(key, n) for n in range(winreg.QueryInfoKey(key)[1]))
        instead = {name.lower(): str(value).lower() for name, value, _ in entries}
    with winreg.OpenKey(winreg.HKEY_CURRENT_USER, r"Keyboard Layout\Preload") as key:
        for n in range(winreg.QueryInfoKey(key)[1]):
            number = str(winreg.EnumValue(key, n)[1]).lower()
            found.append(instead.get(number, number))
    return found


def _of_macos() -> list[str]:
    """Names of the layouts that are switched on, as the system's settings have them."""
    command = ["/usr/bin/defaults", "read", "com.apple.HIToolbox", "AppleEnabledInputSources"]
    done = subprocess.run(command, capture_output=True, timeout=20, check=False)
    return re.findall(r'"KeyboardLayout Name" = "?([^";\n]+)"?;', done.stdout.decode("utf-8", "replace"))
