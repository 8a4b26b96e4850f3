"""The agent's package: built, unpacked, and run by the system's own Python with nothing else."""

import json
import os
import pathlib
import shutil
import subprocess
import sys

import pytest

ROOT = pathlib.Path(__file__).parents[2]
BUILD = ROOT / "tools/build_agent.py"
SYSTEM = pathlib.Path("/usr/bin/python3")


def build(*words):
    env = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
    return subprocess.run([sys.executable, BUILD, *words], capture_output=True, text=True, env=env)


@pytest.fixture(scope="module")
def unpacked(tmp_path_factory):
    if shutil.which("dpkg-deb") is None:
        pytest.skip("only Debian builds its packages")
    out = tmp_path_factory.mktemp("package")
    done = build("linux", out)
    assert done.returncode == 0, done.stderr
    root = out / "root"
    subprocess.run(["dpkg-deb", "-x", done.stdout.strip(), root], check=True)
    subprocess.run(["dpkg-deb", "-e", done.stdout.strip(), root / "DEBIAN"], check=True)
    return root


def test_it_runs_on_the_systems_python_with_nothing_but_what_it_brings(unpacked, tmp_path):
    version = subprocess.run([SYSTEM, "-c", "import sys; print(sys.version_info[:2])"], capture_output=True, text=True)
    if version.stdout.strip() != str(sys.version_info[:2]):
        pytest.skip("the package is for the Python that it was built with")
    place = unpacked / "opt/amberkey-agent"
    env = {"PYTHONPATH": str(place), "HOME": str(tmp_path)}
    said = "import amberkey.agent.orders as o, cryptography as c; print(o.__file__); print(c.__file__)"
    where = subprocess.run([SYSTEM, "-c", said], env=env, capture_output=True, text=True, check=True).stdout.split()
    assert [str(place) in w for w in where] == [True, True]
    done = subprocess.run(
        [SYSTEM, "-m", "amberkey.agent", "status", "--home", str(tmp_path)], env=env, capture_output=True, text=True
    )
    assert (done.returncode, "not enrolled" in done.stderr) == (1, True)


def test_it_brings_a_service_for_everybody_and_enrols_by_what_it_is_installed_with(unpacked, tmp_path):
    service = (unpacked / "usr/lib/systemd/user/amberkey-agent.service").read_text()
    assert "serve --home %h --config /etc/amberkey-agent.json" in service
    script = (unpacked / "DEBIAN/postinst").read_text().replace("/etc/", f"{tmp_path}/").replace("systemctl", "no-such-command")
    env = {"AMBERKEY_SERVER": "https://keys.example", "AMBERKEY_KEY": "k3y", "PATH": "/usr/bin:/bin"}
    subprocess.run(["/bin/sh", "-c", script], env=env, check=True)
    assert json.loads((tmp_path / "amberkey-agent.json").read_text()) == {"server": "https://keys.example", "key": "k3y"}
    (tmp_path / "amberkey-agent.json").unlink()
    subprocess.run(["/bin/sh", "-c", script], env={"PATH": "/usr/bin:/bin"}, check=True)
    assert not (tmp_path / "amberkey-agent.json").exists()


@pytest.mark.parametrize("platform", ["windows", "macos"])
def test_the_steps_for_other_platforms_are_told(platform, tmp_path):
    done = build(platform, tmp_path, "--dry-run")
    assert done.returncode == 0
    steps = done.stdout.splitlines()
    assert len(steps) == 5
    assert any("cryptography==" in s for s in steps)
    assert build(platform, tmp_path).returncode == 1
