"""The demo as a person starts it: up on the given port, refused a second time, down without a trace."""

import re
import signal
import socket
import subprocess
import urllib.request

import pytest

from amberkey.launcher import processes, state
from amberkey.launcher.say import ROOT

COMMAND = [str(ROOT / "amberkey")]


@pytest.fixture
def demo():
    if processes.running_pid():
        pytest.skip("a demo of this checkout runs already")
    port = state.free_port()
    process = subprocess.Popen(
        [*COMMAND, "demo", "--port", str(port)], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )
    lines = []
    for line in process.stdout:
        lines.append(line)
        if line.startswith("Ctrl+C"):
            break
    yield process, port, "".join(lines)
    if process.poll() is None:
        process.send_signal(signal.SIGINT)
        process.wait(60)


def test_it_serves_on_the_given_port_and_stops_cleanly(demo):
    process, port, said = demo
    assert process.poll() is None, said
    assert f"http://127.0.0.1:{port}" in said
    assert re.search(r"ines\s+releaser", said)
    with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session") as answer:
        assert b'"me": null' in answer.read()
    again = subprocess.run([*COMMAND, "demo"], capture_output=True, text=True)
    assert again.returncode == 1
    assert "running here already" in again.stderr
    assert _pid_file().exists()
    stopped = subprocess.run([*COMMAND, "stop"], capture_output=True, text=True)
    assert stopped.stdout.strip() == "Stopped."
    process.wait(60)
    with pytest.raises(ConnectionRefusedError):
        socket.create_connection(("127.0.0.1", port), timeout=5)
    assert not _pid_file().exists()
    assert subprocess.run([*COMMAND, "stop"], capture_output=True, text=True).stdout.strip() == "Nothing was running."


def _pid_file():
    return state.folder() / "database-demo/data/postmaster.pid"
