"""Builds the agent's package for a platform: itself, `cryptography`, and a service that starts it.

    python tools/build_agent.py linux OUT
    python tools/build_agent.py windows OUT --dry-run
    python tools/build_agent.py macos OUT --dry-run

Linux: a Debian package, built by dpkg-deb. Installed silently, it enrols by the key that it is given:

    AMBERKEY_SERVER=https://amberkey.example AMBERKEY_KEY=KEY dpkg -i amberkey-agent_VERSION_ARCH.deb

Windows and macOS need tools of their own; what is to be done there is written down step by step, and told by `--dry-run`.
"""

import argparse
import os
import pathlib
import subprocess
import sys
import tempfile
import tomllib

from amberkey.server.fleet.packing import files, versions

ROOT = pathlib.Path(__file__).resolve().parent.parent
PLACE = "opt/amberkey-agent"
CONFIG = "etc/amberkey-agent.json"
OWN_HOME = "var/lib/amberkey-agent"
"""Where the agent that works in what is the machine's own keeps what it needs."""
SERVICE = f"""[Unit]
Description=Keeps settings files in step with their profile

[Service]
ExecStart=/usr/bin/amberkey-agent serve --home %h --config /{CONFIG}
Restart=on-failure
RestartSec=60

[Install]
WantedBy=default.target
"""
MACHINE_SERVICE = f"""[Unit]
Description=Keeps the machine's own settings files in step with their profile

[Service]
ExecStart=/usr/bin/amberkey-agent serve --home /{OWN_HOME} --for-the-machine --config /{CONFIG}
StateDirectory=amberkey-agent
Restart=on-failure
RestartSec=60

[Install]
WantedBy=multi-user.target
"""
RUNS = f"""#!/bin/sh
PYTHONPATH=/{PLACE} exec /usr/bin/python3 -m amberkey.agent "$@"
"""
AFTER = f"""#!/bin/sh
set -e
if [ -n "$AMBERKEY_SERVER" ] && [ -n "$AMBERKEY_KEY" ]; then
    umask 022
    printf '{{"server": "%s", "key": "%s"}}\\n' "$AMBERKEY_SERVER" "$AMBERKEY_KEY" > /{CONFIG}
fi
if command -v systemctl > /dev/null; then
    systemctl --global enable amberkey-agent.service > /dev/null 2>&1 || true
    systemctl enable --now amberkey-agent-machine.service > /dev/null 2>&1 || true
fi
"""
BEFORE_REMOVAL = """#!/bin/sh
if command -v systemctl > /dev/null; then
    systemctl --global disable amberkey-agent.service > /dev/null 2>&1 || true
    systemctl disable --now amberkey-agent-machine.service > /dev/null 2>&1 || true
fi
"""
STEPS = {
    "windows": (
        "Fetch Python's embeddable package for Windows (64 bit, the version of this project) and unpack it into agent\\.",
        "pip download --only-binary=:all: --platform win_amd64 --no-deps -d wheels cryptography=={cryptography} "
        "cffi=={cffi} pycparser=={pycparser}; unpack the wheels into agent\\.",
        "Copy src\\amberkey\\__init__.py and src\\amberkey\\agent into agent\\amberkey; add the line . to python3*._pth.",
        "Put agent\\ into an installer that takes SERVER and KEY, writes %ProgramData%\\amberkey-agent.json, and makes a "
        "task at sign-in for everybody: pythonw.exe -m amberkey.agent serve --home %USERPROFILE% --config "
        "%ProgramData%\\amberkey-agent.json, and one at the machine's start as SYSTEM: --home %ProgramData%\\amberkey-agent "
        "--for-the-machine. Silent: msiexec /i amberkey-agent.msi /qn SERVER=... KEY=...",
        "Sign the installer with the organisation's certificate for code.",
    ),
    "macos": (
        "Make a folder with a relocatable Python of this project's version at Library/Application Support/Amberkey/agent.",
        "pip download --only-binary=:all: --platform macosx_11_0_universal2 --no-deps -d wheels cryptography=={cryptography} "
        "cffi=={cffi} pycparser=={pycparser}; unpack the wheels into it.",
        "Copy src/amberkey/__init__.py and src/amberkey/agent into its amberkey folder.",
        "Put Library/LaunchAgents/local.amberkey.agent.plist beside it: serve --home $HOME --config "
        "/Library/Application Support/Amberkey/agent.json, at load, kept alive. Put a daemon of the same kind into "
        "Library/LaunchDaemons: --home /Library/Application Support/Amberkey/machine --for-the-machine.",
        "pkgbuild --root ROOT --identifier local.amberkey.agent --version {version} amberkey-agent.pkg; sign it with the "
        "organisation's certificate. Silent: installer -pkg amberkey-agent.pkg -target /",
    ),
}


def main() -> int:
    parser = argparse.ArgumentParser(description="Builds the agent's package for a platform.")
    parser.add_argument("platform", choices=("linux", "windows", "macos"))
    parser.add_argument("out", type=pathlib.Path)
    parser.add_argument("--dry-run", action="store_true", help="tell what would be done")
    given = parser.parse_args()
    version = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"]
    if given.platform != "linux":
        for n, step in enumerate(STEPS[given.platform], 1):
            print(f"{n}. {step.format(version=version, **versions())}")
        if not given.dry_run:
            print("These steps need that platform's own tools.", file=sys.stderr)
        return 0 if given.dry_run else 1
    if given.dry_run:
        print(f"1. Lay out /{PLACE}, /usr/bin/amberkey-agent and its service. 2. dpkg-deb --build.")
        return 0
    print(build_deb(given.out, version))
    return 0


def build_deb(out: pathlib.Path, version: str) -> pathlib.Path:
    """The Debian package in a folder; the same files give the same package."""
    out.mkdir(parents=True, exist_ok=True)
    architecture = subprocess.run(["dpkg", "--print-architecture"], capture_output=True, text=True, check=True).stdout.strip()
    python = f"{sys.version_info.major}.{sys.version_info.minor}"
    after = f"{sys.version_info.major}.{sys.version_info.minor + 1}"
    with tempfile.TemporaryDirectory() as folder:
        root = pathlib.Path(folder)
        root.chmod(0o755)
        _lay_out(root / PLACE)
        _write(root / "usr/bin/amberkey-agent", RUNS, 0o755)
        _write(root / "usr/lib/systemd/user/amberkey-agent.service", SERVICE)
        _write(root / "usr/lib/systemd/system/amberkey-agent-machine.service", MACHINE_SERVICE)
        control = {
            "Package": "amberkey-agent",
            "Version": version,
            "Architecture": architecture,
            "Maintainer": "Amber Key <amberkey@localhost>",
            "Depends": f"python3 (>= {python}), python3 (<< {after})",
            "Description": "Keeps settings files on a machine in step with their profile",
        }
        _write(root / "DEBIAN/control", "".join(f"{name}: {value}\n" for name, value in control.items()))
        _write(root / "DEBIAN/postinst", AFTER, 0o755)
        _write(root / "DEBIAN/prerm", BEFORE_REMOVAL, 0o755)
        package = out / f"amberkey-agent_{version}_{architecture}.deb"
        command = ["dpkg-deb", "--root-owner-group", "--build", str(root), str(package)]
        subprocess.run(command, check=True, capture_output=True, env={**os.environ, "SOURCE_DATE_EPOCH": "1767225600"})
    return package


def _lay_out(place: pathlib.Path) -> None:
    """The agent and the packages that it needs, taken from the running interpreter."""
    for path, data in files():
        (place / path).parent.mkdir(parents=True, exist_ok=True)
        (place / path).write_bytes(data)


def _write(file: pathlib.Path, text: str, mode: int = 0o644) -> None:
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(text, encoding="utf-8")
    file.chmod(mode)


if __name__ == "__main__":
    sys.exit(main())
