"""What the machine is, in its system's own words: the edition and the keyboard layouts. What these mean knows the server."""

import contextlib
import json
import os
import pathlib
import platform
import re
import subprocess
import sys
from typing import Any

GIVEN = "AMBERKEY_MACHINE_FACTS"
"""Names a JSON file to say instead, for machines that are simulated."""
_LONGEST, _MOST = 120, 16


def facts() -> dict[str, Any]:
    """`{"edition": text, "layouts": [text]}`; what can't be found out is empty."""
    given = os.environ.get(GIVEN)
    if given:
        with contextlib.suppress(OSError, ValueError):
            return _sound(json.loads(pathlib.Path(given).read_text("utf-8")))
    found: dict[str, Any] = {}
    with contextlib.suppress(OSError, ValueError, subprocess.SubprocessError):
        if sys.platform == "win32":
            found = {"edition": f"Windows {platform.release()} {platform.win32_edition()}", "layouts": _of_windows()}
        elif sys.platform == "darwin":
            found = {"edition": f"macOS {platform.mac_ver()[0]}", "layouts": _of_macos()}
        else:
            found = {"edition": _desktop(), "layouts": _of_linux(pathlib.Path("/etc/default/keyboard"))}
    return _sound(found)


def _sound(value: Any) -> dict[str, Any]:
    if not isinstance(value, dict):
        return {"edition": "", "layouts": []}
    layouts = value.get("layouts")
    named = [str(one)[:_LONGEST] for one in layouts if one] if isinstance(layouts, list) else []
    return {"edition": str(value.get("edition") or "")[:_LONGEST], "layouts": named[:_MOST]}


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
