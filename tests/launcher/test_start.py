"""`start` on a real database, configured by environment variables."""

import os
import signal
import subprocess
import sys
import urllib.request

import pytest

from amberkey.launcher import state
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.processes import Processes
from amberkey.launcher.say import ROOT, Stop

COUNT = "import django; django.setup(); from amberkey.server.people.models import User; print(User.objects.count())"


def test_start_migrates_and_serves_without_the_example():
    cluster = Cluster("start-test", fast=True)
    cluster.start()
    port = state.free_port()
    env = {
        **os.environ,
        **cluster.environment(),
        "AMBERKEY_SECRET_KEY": "a long random text",
        "AMBERKEY_HOSTS": "127.0.0.1",
        "AMBERKEY_BIND": f"127.0.0.1:{port}",
    }
    processes = Processes()
    try:
        processes.start("start-test", [ROOT / "amberkey", "start"], env)
        processes.wait_for("start-test", f"http://127.0.0.1:{port}/api/session", seconds=120)
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/") as page:
            policy = page.headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        manage = [ROOT / ".venv/bin/python", "-c", COUNT]
        more = {"PYTHONPATH": str(ROOT / "src"), "DJANGO_SETTINGS_MODULE": "amberkey.server.settings", "AMBERKEY_DB_POOL": "0"}
        counted = subprocess.run(manage, env={**env, **more}, capture_output=True, text=True, check=True)
        assert counted.stdout.strip() == "0"
        process = processes.running[0][1]
        process.send_signal(signal.SIGTERM)
        assert process.wait(30) == 0
    finally:
        processes.stop()
        cluster.stop()


def test_what_is_not_vital_is_begun_again_and_what_is_ends_everything(tmp_path, capsys):
    processes = Processes(tmp_path)
    ends = [sys.executable, "-c", "raise SystemExit(3)"]
    try:
        processes.start("agent", ends, dict(os.environ), vital=False)
        first = processes.running[0][1]
        first.wait()
        processes.look()
        assert processes.running[0][1] is not first
        assert "agent ended by itself with code 3" in capsys.readouterr().out
        processes.start("web", ends, dict(os.environ))
        processes.running[-1][1].wait()
        with pytest.raises(Stop, match="web ended by itself with code 3"):
            processes.look()
    finally:
        processes.stop()
