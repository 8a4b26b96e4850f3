import fcntl
import itertools
import os
import signal
import subprocess
import sys

import pytest

from amberkey.agent.client import Client
from amberkey.agent.errors import Changed, FileProblem, ServerProblem
from amberkey.agent.files import BACKUPS_KEPT, digest_of, read_file, swap

OLD, NEW = b'{"keyboard": "old"}\n', b'{"keyboard": "new", "more": 1}\n'


@pytest.fixture
def home(tmp_path):
    home = tmp_path / "home"
    (home / "App").mkdir(parents=True)
    (home / "App/settings.json").write_bytes(OLD)
    return home


def write(home, content=NEW, expect=OLD, **more):
    return swap(home, "App/settings.json", digest_of(expect), content, home / "backups", **more)


def backups(home):
    return [p.read_bytes() for p in (home / "backups").rglob("*") if p.is_file()]


def test_a_write_keeps_a_backup_and_the_mode(home):
    (home / "App/settings.json").chmod(0o640)
    assert write(home) == "written"
    assert read_file(home, "App/settings.json") == NEW
    assert backups(home) == [OLD]
    assert (home / "App/settings.json").stat().st_mode & 0o777 == 0o640
    assert [p.name for p in (home / "App").iterdir()] == ["settings.json"]


def test_writing_what_is_there_changes_nothing(home):
    write(home)
    assert write(home) == "already"
    assert backups(home) == [OLD]


def test_a_file_that_changed_is_not_touched(home):
    (home / "App/settings.json").write_bytes(b"by hand")
    with pytest.raises(Changed) as caught:
        write(home)
    assert caught.value.content == b"by hand"
    assert read_file(home, "App/settings.json") == b"by hand"


def test_a_change_between_backup_and_write_wins(home):
    def meddle(step):
        if step == "written beside":
            (home / "App/settings.json").write_bytes(b"saved meanwhile")

    with pytest.raises(Changed):
        write(home, step=meddle)
    assert read_file(home, "App/settings.json") == b"saved meanwhile"
    assert [p.name for p in (home / "App").iterdir()] == ["settings.json"]


KILLED = """
import os, pathlib, signal, sys
from amberkey.agent.files import swap
home, at = pathlib.Path(sys.argv[1]), sys.argv[2]
def step(name):
    if name == at:
        os.kill(os.getpid(), signal.SIGKILL)
swap(home, "App/settings.json", sys.argv[3], sys.argv[4].encode(), home / "backups", step)
"""


@pytest.mark.parametrize("at, left", [("backed up", OLD), ("written beside", OLD), ("replaced", NEW)])
def test_killed_anywhere_the_file_is_the_old_or_the_new_one_whole(home, at, left):
    command = [sys.executable, "-c", KILLED, str(home), at, digest_of(OLD), NEW.decode()]
    done = subprocess.run(command, env={**os.environ, "PYTHONPATH": "src"}, capture_output=True)
    assert done.returncode == -signal.SIGKILL
    assert read_file(home, "App/settings.json") == left
    assert OLD in backups(home)
    # The next round finishes the work, or finds it done.
    assert write(home) == ("already" if left == NEW else "written")
    assert read_file(home, "App/settings.json") == NEW
    assert [p.name for p in (home / "App").iterdir()] == ["settings.json"]


def test_old_backups_go(home):
    contents = [f"version {n}".encode() for n in range(BACKUPS_KEPT + 4)]
    (home / "App/settings.json").write_bytes(contents[0])
    for before, after in itertools.pairwise(contents):
        write(home, after, before)
    assert len(backups(home)) == BACKUPS_KEPT
    assert contents[-2] in backups(home)


def test_a_locked_file_is_left_alone(home):
    with (home / "App/settings.json").open() as holder:
        fcntl.flock(holder, fcntl.LOCK_EX)
        with pytest.raises(FileProblem, match="locked by another program"):
            write(home)
    assert read_file(home, "App/settings.json") == OLD


@pytest.mark.parametrize(
    "path, says",
    [
        ("App/missing.json", "isn't there"),
        ("Attic/settings.json", "folder Attic isn't there"),
        ("../settings.json", "outside the home"),
        ("App", "not a file"),
    ],
)
def test_what_cannot_be_read_is_told(home, path, says):
    with pytest.raises(FileProblem, match=says):
        read_file(home, path)


def test_a_link_that_leads_outside_is_refused(home, tmp_path):
    (tmp_path / "secret").write_text("x")
    (home / "App/link.json").symlink_to(tmp_path / "secret")
    with pytest.raises(FileProblem, match="outside"):
        read_file(home, "App/link.json")


def test_a_read_only_file_is_told(home, monkeypatch):
    # Root may write anywhere, so the system's answer is played.
    monkeypatch.setattr(os, "access", lambda path, mode: mode != os.W_OK)
    with pytest.raises(FileProblem, match="read-only"):
        write(home)
    assert read_file(home, "App/settings.json") == OLD


def test_a_token_never_travels_in_the_open():
    with pytest.raises(ServerProblem, match="https"):
        Client("http://example.org")
    assert Client("http://127.0.0.1:1").server
    with pytest.raises(ServerProblem, match="can't be reached"):
        Client("http://127.0.0.1:1").call("GET", "/work")
