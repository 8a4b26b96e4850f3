"""Where the running parts of this checkout keep their things.

As root that is below /var/lib, since the database must then run as the user postgres, who may not reach the checkout.
"""

import hashlib
import os
import pathlib
import socket
import time

from amberkey.launcher.say import ROOT, Stop, step


def folder() -> pathlib.Path:
    if os.geteuid() == 0:
        place = pathlib.Path("/var/lib/amberkey") / hashlib.sha256(str(ROOT).encode()).hexdigest()[:12]
    else:
        place = ROOT / ".state"
    try:
        place.mkdir(parents=True, exist_ok=True)
        place.chmod(0o711)
    except OSError as error:
        raise Stop(f"{place} can't be made ({error.strerror}). Run Amber Key as a user who may write there.") from error
    return place


def secret(name: str, home: pathlib.Path | None = None) -> str:
    """A random text that this checkout (or another folder) keeps, readable by its owner only."""
    file = (home or folder()) / name
    if not file.exists():
        handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(handle, "w") as out:
            out.write(os.urandom(24).hex())
    return file.read_text()


def signing_key(home: pathlib.Path) -> pathlib.Path:
    """The file of the key that bundles are signed with: 64 hexadecimal digits, made where there is none."""
    file = home / "signing-key"
    if not file.exists():
        fresh = file.with_name(f"signing-key.{os.getpid()}")
        with os.fdopen(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out:
            out.write(os.urandom(32).hex())
        fresh.replace(file)
    return file


def free_port(wanted: int | None = None, preferred: int | None = None) -> int:
    """The wanted port, or Stop where it is taken; the preferred one, or any free one."""
    for port in (wanted, preferred, 0):
        if port is None:
            continue
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError as error:
                if wanted is not None:
                    raise Stop(f"Port {wanted} can't be used ({error.strerror}). Give another one with --port.") from error
                continue
            return int(probe.getsockname()[1])
    raise Stop("No free port was found on 127.0.0.1.")


def wait_for_port(bind: str, seconds: float = 60) -> None:
    """Wait until an address (host:port) can be served on, as one that was just stopped may need a moment. Raises Stop then."""
    host, _, port = bind.rpartition(":")
    if not port.isdigit():
        raise Stop(f"{bind} is no address to serve on. Give a host and a port, 127.0.0.1:8470 for instance.")
    told = False
    end = time.monotonic() + seconds
    while True:
        with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host.strip("[]"), int(port)))
                return
            except OSError as error:
                if time.monotonic() > end:
                    raise Stop(
                        f"{bind} can't be used ({error.strerror}). End what uses it, or give another one in AMBERKEY_BIND."
                    ) from error
                if not told:
                    step(f"{bind} can't be used yet ({error.strerror}): waiting for it")
                    told = True
        time.sleep(0.2)
