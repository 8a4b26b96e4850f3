"""What the launcher says when a step can't go on: one line that tells what to do."""

import socket
import subprocess

import pytest

from amberkey.launcher import debian, python_env, say, serve, state
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.say import Stop


def test_a_missing_package_is_named_for_root_in_one_line(monkeypatch):
    monkeypatch.setattr(debian, "installed", lambda name: False)
    monkeypatch.setattr(debian.os, "geteuid", lambda: 1000)
    with pytest.raises(Stop, match=r"Ask root .* once.*apt-get install -y --no-install-recommends postgresql chromium"):
        debian.ensure(debian.DATABASE, debian.BROWSER)


def test_without_apt_it_says_so(monkeypatch):
    monkeypatch.setattr(debian, "installed", lambda name: False)
    monkeypatch.setattr(debian.os, "geteuid", lambda: 0)
    monkeypatch.setattr(debian.shutil, "which", lambda name: None if name == "apt-get" else "/usr/bin/x")
    with pytest.raises(Stop, match="no apt-get"):
        debian.ensure(debian.DATABASE)


def test_a_taken_port_is_refused_and_another_one_found():
    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        taken = holder.getsockname()[1]
        with pytest.raises(Stop, match=f"Port {taken} can't be used.*--port"):
            state.free_port(taken)
        assert state.free_port(None, taken) != taken


def test_a_full_disk_is_told_before_anything_is_written(tmp_path):
    with pytest.raises(Stop, match="Make room"):
        say.need_disk(tmp_path, 10**9)


def test_a_failed_step_shows_its_output_and_the_hint(capsys):
    with pytest.raises(Stop, match=r"Trying failed\. Do that\."):
        say.run("Trying", ["sh", "-c", "echo why; exit 3"], hint="Do that.")
    assert "why" in capsys.readouterr().err
    with pytest.raises(Stop, match="can't be started"):
        say.run("Trying", ["/no/such/program"], hint="Do that.")


def test_without_node_it_says_so(monkeypatch, tmp_path):
    monkeypatch.setattr(python_env, "BIN", tmp_path)
    with pytest.raises(Stop, match="Node is missing"):
        python_env.require_node()


def test_start_names_every_missing_variable(monkeypatch):
    for name in serve._NEEDED:
        monkeypatch.delenv(name, raising=False)
    monkeypatch.setenv("AMBERKEY_DB_NAME", "amberkey")  # so it is meant for a given server
    with pytest.raises(Stop) as caught:
        serve.start()
    assert all(name in str(caught.value) for name in serve._NEEDED)


def test_too_old_a_python_is_told(tmp_path):
    old = tmp_path / "python3"
    old.write_text("#!/bin/sh\nexit 1\n")
    old.chmod(0o755)
    tools = {"dirname": "/usr/bin/dirname", "sh": "/bin/sh"}
    for name, target in tools.items():
        (tmp_path / name).symlink_to(target)
    done = subprocess.run(["/bin/sh", "./amberkey", "stop"], env={"PATH": str(tmp_path)}, capture_output=True, text=True)
    assert done.returncode == 1
    assert "Python 3.11 or later is needed" in done.stderr


def test_a_cluster_starts_on_loopback_and_stops_cleanly():
    cluster = Cluster("launcher-test", fast=True)
    cluster.start()
    try:
        again = Cluster("launcher-test", fast=True)
        again.start()
        assert again.port == cluster.port
        again.stop()  # it didn't start it, so it doesn't stop it
        with socket.create_connection(("127.0.0.1", cluster.port), timeout=5):
            pass
        options = (cluster.data / "postmaster.opts").read_text()
        assert "listen_addresses=127.0.0.1" in options
    finally:
        cluster.stop()
    with pytest.raises(ConnectionRefusedError):
        socket.create_connection(("127.0.0.1", cluster.port), timeout=5)
