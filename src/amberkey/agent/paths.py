"""Which paths an agent touches at all: below the home, or what is the machine's own; sound on every system, and no folder of
secrets.

Checked here whatever the server says: whoever takes over a server shall not read a person's keys through it.
"""

import sys
from collections.abc import Iterable

from amberkey.agent.errors import FileProblem

# Names that Windows gives to devices, whatever their ending (Windows documentation, "Naming Files, Paths, and Namespaces").
_DEVICES = frozenset(
    {"con", "prn", "aux", "nul", "conin$", "conout$", *(f"{d}{n}" for d in ("com", "lpt") for n in "0123456789¹²³")}
)
_NEVER = '<>:"|?*\\'
STATE = ".amberkey"
"""The agent's own folder below the home."""


def machine_root() -> str:
    """The folder in which programs keep settings that hold for everybody on the machine. Windows: that of its known folder
    ProgramData; macOS: that of the local domain (File System Programming Guide, "The Library Directory"); Linux: the host's own
    configuration (Filesystem Hierarchy Standard 3.0, 3.7)."""
    return {"win32": "C:/ProgramData", "darwin": "/Library/Application Support"}.get(sys.platform, "/etc")


def sound_parts(path: str, allowed: Iterable[str] = ()) -> tuple[str, ...]:
    """The steps of a path below the home. `allowed`: folders and files whose names begin with a dot and that whoever runs the
    machine opened to the agent. Raises FileProblem for every other path of that kind, and for one that isn't plain."""
    parts = tuple(path.split("/"))
    for part in parts:
        if part in ("", ".", "..") or part != part.strip(" ") or part.endswith("."):
            raise FileProblem(f"{path[:120]} leads outside the home folder, or has an odd step.")
        if any(c in _NEVER or ord(c) < 32 or ord(c) == 127 for c in part):
            raise FileProblem(f"{path[:120]} has a sign in it that no settings file's path has.")
        if part.split(".")[0].casefold().strip() in _DEVICES:
            raise FileProblem(f"{path[:120]} names a device of the system.")
    if parts[0].casefold() == STATE:
        raise FileProblem(f"{path[:120]} is the agent's own; it never leaves this machine.")
    if any(p.startswith(".") for p in parts) and not any(_lies_in(parts, a) for a in allowed):
        raise FileProblem(
            f"{path[:120]} lies in a folder whose name begins with a dot. "
            f"Whoever runs this machine opens it with: allow {_opening(parts)}"
        )
    return parts


def _lies_in(parts: tuple[str, ...], allowed: str) -> bool:
    opened = tuple(allowed.split("/"))
    return parts[: len(opened)] == opened and not any(p.startswith(".") for p in parts[len(opened) :])


def _opening(parts: tuple[str, ...]) -> str:
    """The path up to its last step with a dot and one more: what is enough to open, and not more."""
    last = max(n for n, p in enumerate(parts) if p.startswith("."))
    return "/".join(parts[: last + 2])
