"""`start` with a data folder of one's own, as a person starts it; and what it says of folders that can't be served."""

import json
import os
import pathlib
import re
import shutil
import signal
import subprocess
import urllib.request
import uuid

import pytest

from amberkey import __version__
from amberkey.launcher import data, keeping, say, state
from amberkey.launcher.data import DataFolder
from amberkey.launcher.say import ROOT, Stop

COMMAND = [str(ROOT / "amberkey")]


@pytest.fixture
def place():
    """Where the database's user may go: below the checkout's own folder."""
    found = state.folder() / f"own-test-{uuid.uuid4().hex[:8]}"
    yield found
    shutil.rmtree(found, ignore_errors=True)


def env_for(place: pathlib.Path) -> dict[str, str]:
    clean = {k: v for k, v in os.environ.items() if not k.startswith("AMBERKEY_") and k != "DJANGO_SETTINGS_MODULE"}
    return {**clean, "AMBERKEY_DATA": str(place), "AMBERKEY_PASSPHRASE": "a passphrase for tests"}


class Started:
    def __init__(self, place: pathlib.Path, port: int) -> None:
        self.process = subprocess.Popen(
            [*COMMAND, "start", "--port", str(port)],
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            env=env_for(place),
        )
        self.said = ""
        for line in self.process.stdout:
            self.said += line
            if line.startswith("Ctrl+C"):
                break

    def stop(self) -> None:
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(60)


def run(place: pathlib.Path, *words: str) -> subprocess.CompletedProcess:
    return subprocess.run([*COMMAND, *words], env=env_for(place), capture_output=True, text=True)


def look(port: int, secret: str) -> dict:
    body = json.dumps({"secret": secret}).encode()
    request = urllib.request.Request(f"http://127.0.0.1:{port}/api/links/look", body, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request) as answer:
        return json.loads(answer.read())


def test_it_starts_empty_keeps_what_is_there_and_goes_through_a_backup(place, tmp_path):
    port = state.free_port()
    first = Started(place, port)
    try:
        assert first.process.poll() is None, first.said
        secret = re.search(rf"http://127\.0\.0\.1:{port}/link#(\S+)", first.said)[1]
        assert look(port, secret)["first"] is True
        assert (place / "secret-key").stat().st_mode & 0o077 == 0
        refused = run(place, "start")
        assert refused.returncode == 1
        assert re.search(rf"served already by process \d+ at http://127\.0\.0\.1:{port}\. End that one", refused.stderr)
        refused = run(place, "restore", "nothing.amberkey")
        assert (refused.returncode, "served already" in refused.stderr) == (1, True)
        done = run(place, "backup", str(tmp_path / "all.amberkey"))  # while it is served
        assert (done.returncode, "0 documents" in done.stdout) == (0, True), done.stderr
    finally:
        first.stop()
    assert not (place / "database-own/data/postmaster.pid").exists()
    again = Started(place, port)
    try:
        assert look(port, re.search(r"#(\S+)", again.said)[1])["first"] is True
        with pytest.raises(urllib.error.HTTPError):
            look(port, secret)  # the newer link replaced it
    finally:
        again.stop()
    done = run(place, "restore", str(tmp_path / "all.amberkey"))
    assert (done.returncode, "Restored 0 documents" in done.stdout) == (0, True), done.stderr


def test_a_folder_of_a_newer_version_or_with_a_broken_note_is_refused(place, monkeypatch):
    monkeypatch.setenv("AMBERKEY_DATA", str(place))
    place.mkdir()
    note = place / "made-by.json"
    note.write_text(json.dumps({"version": "99.1"}))
    newer = rf"was served by Amber Key 99\.1, and this is {re.escape(__version__)}\. Start it with 99\.1"
    with pytest.raises(Stop, match=newer):
        DataFolder().open()
    note.write_text("{")
    with pytest.raises(Stop, match=r"made-by\.json that can't be read"):
        DataFolder().open()
    note.write_text(json.dumps({"version": "0.0.9"}))
    DataFolder().open()
    assert json.loads(note.read_text())["version"] == __version__


def test_a_folder_that_cannot_be_written_is_told_with_its_place(place, monkeypatch):
    monkeypatch.setenv("AMBERKEY_DATA", str(place))
    monkeypatch.setattr(DataFolder, "_is_read_only", lambda self: True)
    with pytest.raises(Stop, match=rf"{re.escape(str(place))} can't be written to\. Choose another folder in AMBERKEY_DATA"):
        DataFolder().open()
    place.rmdir()
    place.write_text("a file")
    with pytest.raises(Stop, match="can't be made"):
        DataFolder().open()
    place.unlink()


@pytest.mark.skipif(os.geteuid() != 0, reason="only root's database runs as another user")
def test_root_is_told_where_the_databases_user_may_not_go(tmp_path, monkeypatch):
    shut = tmp_path / "shut"
    shut.mkdir(mode=0o700)
    monkeypatch.setenv("AMBERKEY_DATA", str(shut / "data"))
    with pytest.raises(Stop, match="closed to the user postgres"):
        DataFolder().open()


def test_a_relative_folder_is_meant_from_where_the_command_was_given(monkeypatch):
    monkeypatch.setenv("AMBERKEY_FROM", "/srv/amber")
    monkeypatch.setenv("AMBERKEY_DATA", "data")
    assert DataFolder().place == pathlib.Path("/srv/amber/data")
    monkeypatch.setenv("AMBERKEY_DATA", "/srv/else")
    assert DataFolder().place == pathlib.Path("/srv/else")
    monkeypatch.delenv("AMBERKEY_DATA")
    assert DataFolder().place == data.default_place()


def test_a_full_disk_is_told_before_the_folder_is_held(place, monkeypatch):
    monkeypatch.setenv("AMBERKEY_DATA", str(place))
    monkeypatch.setattr(data, "need_disk", lambda folder, megabytes: say.need_disk(folder, 10**9))
    with pytest.raises(Stop, match="Make room"):
        DataFolder().open()
    assert not (place / "lock").exists()


def test_one_process_holds_a_folder(place, monkeypatch):
    monkeypatch.setenv("AMBERKEY_DATA", str(place))
    assert not DataFolder().is_served()
    holder = DataFolder()
    holder.open()
    holder.note_address("http://127.0.0.1:1")
    assert DataFolder().is_served()
    with pytest.raises(Stop, match=rf"by process {os.getpid()} at http://127\.0\.0\.1:1"):
        DataFolder().open()


def test_a_passphrase_that_others_can_read_is_not_taken(tmp_path, monkeypatch):
    monkeypatch.delenv("AMBERKEY_FROM", raising=False)
    file = tmp_path / "words"
    file.write_text("a long passphrase\n")
    file.chmod(0o644)
    with pytest.raises(Stop, match=f"chmod 600 {file}"):
        keeping._passphrase(str(file), twice=False)
    file.chmod(0o600)
    assert keeping._passphrase(str(file), twice=False) == "a long passphrase"
    with pytest.raises(Stop, match="can't be read"):
        keeping._passphrase(str(tmp_path / "none"), twice=False)
    monkeypatch.delenv("AMBERKEY_PASSPHRASE", raising=False)
    monkeypatch.setattr(keeping.sys.stdin, "isatty", lambda: False, raising=False)
    with pytest.raises(Stop, match="--passphrase-file"):
        keeping._passphrase(None, twice=False)
