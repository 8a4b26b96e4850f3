"""Which programs run on the machine, by the names of their processes."""

import contextlib
import hashlib
import os
import pathlib
import subprocess
import sys
import uuid

LONGEST = 20  # seconds


def running() -> frozenset[str]:
    """The names of the processes of this machine, in small letters and without the ending of Windows' programs."""
    return frozenset(name.casefold().removesuffix(".exe") for name in _names())


def _names() -> list[str]:
    if sys.platform == "linux":
        return _of_linux()
    command = ["tasklist", "/fo", "csv", "/nh"] if os.name == "nt" else ["ps", "-A", "-o", "comm="]
    try:
        done = subprocess.run(command, capture_output=True, timeout=LONGEST, check=False)
    except (OSError, subprocess.TimeoutExpired):
        return []
    lines = done.stdout.decode("utf-8", "replace").splitlines()
    return [line.split('","')[0].strip('" ') if os.name == "nt" else line.strip().rpartition("/")[2] for line in lines]


def _of_linux() -> list[str]:
    """From the system's table of processes: the name that a process has, and the file that it was started from."""
    found = []
    for place in pathlib.Path("/proc").iterdir():
        if not place.name.isdecimal():
            continue
        try:
            found.append((place / "comm").read_text("utf-8", "replace").strip())
            command = (place / "cmdline").read_bytes().split(b"\0")
        except OSError:  # it ended meanwhile
            continue
        found += [part.decode("utf-8", "replace").rpartition("/")[2] for part in command[:2] if part]
    return found


def account() -> str:
    """What the system calls the account that this runs as, asked of the system itself and not of the environment."""
    try:
        import pwd
    except ImportError:
        with contextlib.suppress(OSError):
            return os.getlogin()[:80]
        return ""
    with contextlib.suppress(KeyError):
        return pwd.getpwuid(os.geteuid()).pw_name[:80]
    return ""


def machine_mark() -> str:
    """Something that stays the same on a machine and differs from every other one, told to nobody as it is: 32 hexadecimal
    digits. By it the server knows when one token is used on two machines."""
    for place in ("/etc/machine-id", "/var/lib/dbus/machine-id"):
        with contextlib.suppress(OSError):
            said = pathlib.Path(place).read_text("utf-8", "replace").strip()
            if said:
                return _hashed(said)
    return _hashed(f"{uuid.getnode():012x}")


def _hashed(text: str) -> str:
    return hashlib.sha256(f"amberkey machine {text}".encode()).hexdigest()[:32]
