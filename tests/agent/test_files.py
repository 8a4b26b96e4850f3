"""Reading and replacing settings files: whole at every moment, never outside the home, never without a backup."""

import errno
import fcntl
import itertools
import os
import signal
import subprocess
import sys

import pytest

from amberkey.agent import files, folders
from amberkey.agent.client import Client
from amberkey.agent.errors import Changed, FileProblem, ServerProblem
from amberkey.agent.files import BACKUPS_KEPT, back_up, backups_of, digest_of, read_file, swap
from tests.agent.conftest import NEW, OLD, PATH


@pytest.fixture(params=["handles", "exchanged by links", "paths"])
def way(request, monkeypatch):
    """Each way in which a system lets files be reached and replaced."""
    if request.param == "paths":
        monkeypatch.setattr(folders, "HAS_HANDLES", False)
    if request.param == "exchanged by links":
        monkeypatch.setattr(folders, "_call", None)
    return request.param


def write(home, content=NEW, expect=OLD, **more):
    return swap(home, PATH, digest_of(expect), content, **more)


def kept(home):
    return [data for _, data in backups_of(home, PATH)]


def beside(home):
    return [p.name for p in (home / "App").iterdir()]


def test_a_write_keeps_a_backup_and_the_mode(home, way):
    (home / PATH).chmod(0o640)
    assert write(home) == "written"
    assert read_file(home, PATH) == NEW
    assert kept(home) == [OLD]
    assert (home / PATH).stat().st_mode & 0o777 == 0o640
    assert beside(home) == ["settings.json"]


def test_writing_what_is_there_changes_nothing(home, way):
    write(home)
    assert write(home) == "already"
    assert kept(home) == [OLD]


def test_a_file_that_changed_is_not_touched(home, way):
    (home / PATH).write_bytes(b"by hand")
    with pytest.raises(Changed) as caught:
        write(home)
    assert caught.value.content == b"by hand"
    assert read_file(home, PATH) == b"by hand"


@pytest.mark.parametrize("at", ["backed up", "written beside", "looked last"])
@pytest.mark.parametrize("by", ["writing", "renaming"])
def test_what_a_program_saves_meanwhile_is_never_lost(home, way, at, by):
    def meddle(step):
        if step == at and by == "writing":
            (home / PATH).write_bytes(b"saved meanwhile")
        if step == at and by == "renaming":
            (home / "App/theirs").write_bytes(b"saved meanwhile")
            (home / "App/theirs").rename(home / PATH)

    with pytest.raises(Changed) as caught:
        write(home, step=meddle)
    assert caught.value.content == b"saved meanwhile"
    assert read_file(home, PATH) == b"saved meanwhile"
    assert beside(home) == ["settings.json"]
    assert kept(home)[-1] == OLD


KILLED = """
import os, pathlib, signal, sys
from amberkey.agent import folders
from amberkey.agent.files import swap
home, at = pathlib.Path(sys.argv[1]), sys.argv[2]
if sys.argv[5] == "exchanged by links":
    folders._call = None
if sys.argv[5] == "paths":
    folders.HAS_HANDLES = False
def step(name):
    if name == at:
        os.kill(os.getpid(), signal.SIGKILL)
swap(home, "App/settings.json", sys.argv[3], sys.argv[4].encode(), step=step)
"""


@pytest.mark.parametrize("at, left", [("backed up", OLD), ("written beside", OLD), ("looked last", OLD), ("replaced", NEW)])
def test_killed_anywhere_the_file_is_the_old_or_the_new_one_whole(home, way, at, left):
    command = [sys.executable, "-c", KILLED, str(home), at, digest_of(OLD), NEW.decode(), way]
    done = subprocess.run(command, env={**os.environ, "PYTHONPATH": "src"}, capture_output=True)
    assert done.returncode == -signal.SIGKILL
    assert read_file(home, PATH) == left
    assert OLD in kept(home)
    # The next round finishes the work, or finds it done; what was left beside is gone then.
    assert write(home) == ("already" if left == NEW else "written")
    assert read_file(home, PATH) == NEW
    assert beside(home) == ["settings.json"]


def test_old_backups_go_and_the_newest_stay_whatever_the_clock_says(home, way):
    contents = [f"version {n}".encode() for n in range(BACKUPS_KEPT + 4)]
    (home / PATH).write_bytes(contents[0])
    for n, (before, after) in enumerate(itertools.pairwise(contents)):
        write(home, after, before)
        for backup in (home / ".amberkey/backups").rglob("0*"):
            os.utime(backup, (4_000_000_000 - n, 4_000_000_000 - n))  # a clock that runs backwards
    assert kept(home) == contents[-2 : -2 - BACKUPS_KEPT : -1]


def test_two_files_never_share_their_backups(home):
    for path in ("a/b_c", "a_b/c", "a/b/c"):
        back_up(home, path, path.encode())
    assert [data for _, data in backups_of(home, "a/b_c")] == [b"a/b_c"]


def test_a_locked_file_is_left_alone(home):
    with (home / PATH).open() as holder:
        fcntl.flock(holder, fcntl.LOCK_EX)
        with pytest.raises(FileProblem, match="locked by another program"):
            write(home)
    assert read_file(home, PATH) == OLD


@pytest.mark.parametrize(
    "path, says",
    [
        ("App/missing.json", "isn't there"),
        ("Attic/settings.json", "folder Attic isn't there"),
        ("App/settings.json/x", "isn't there"),
        ("../settings.json", "outside the home"),
        ("App", "not a file"),
    ],
)
def test_what_cannot_be_read_is_told(home, way, path, says):
    with pytest.raises(FileProblem, match=says):
        read_file(home, path)


@pytest.mark.parametrize("leads", ["{out}/secret", "../../secret", "../App/../../secret", "/etc/hostname", "second"])
def test_a_link_that_leads_outside_is_refused(home, way, leads, tmp_path):
    (tmp_path / "secret").write_text("x")
    (home / "App/second").symlink_to(tmp_path / "secret")
    (home / "App/link.json").symlink_to(leads.format(out=tmp_path))
    with pytest.raises(FileProblem, match="outside"):
        read_file(home, "App/link.json")
    with pytest.raises(FileProblem, match="outside"):
        swap(home, "App/link.json", digest_of(b"x"), NEW)
    assert (tmp_path / "secret").read_text() == "x"


@pytest.mark.parametrize("leads", ["../Kept/real.json", "{home}/Kept/real.json", "second.json", "./../Kept//real.json"])
def test_a_link_below_the_home_is_written_through(home, way, leads):
    (home / "Kept").mkdir()
    (home / "Kept/real.json").write_bytes(OLD)
    (home / "App/second.json").symlink_to("../Kept/real.json")
    (home / "App/link.json").symlink_to(leads.format(home=home))
    assert swap(home, "App/link.json", digest_of(OLD), NEW) == "written"
    assert (home / "Kept/real.json").read_bytes() == NEW
    assert (home / "App/link.json").is_symlink()


def test_a_linked_folder_is_followed_below_the_home_and_not_outside(home, way, tmp_path):
    (home / "Linked").symlink_to("App")
    assert read_file(home, "Linked/settings.json") == OLD
    (tmp_path / "elsewhere").mkdir()
    (tmp_path / "elsewhere/settings.json").write_bytes(OLD)
    (home / "Out").symlink_to(tmp_path / "elsewhere")
    with pytest.raises(FileProblem, match="outside"):
        read_file(home, "Out/settings.json")


def test_a_ring_of_links_ends(home, way):
    (home / "App/a").symlink_to("b")
    (home / "App/b").symlink_to("a")
    with pytest.raises(FileProblem, match=r"ring of links|isn't there"):
        read_file(home, "App/a")


def test_a_pipe_is_no_file_and_nobody_waits_for_it(home, way):
    os.mkfifo(home / "App/pipe")
    with pytest.raises(FileProblem, match="not a file"):
        read_file(home, "App/pipe")


def test_a_folder_that_is_swapped_for_a_link_meanwhile_leads_nowhere(home, tmp_path):
    victim = tmp_path / "victim"
    victim.mkdir()
    (victim / "settings.json").write_bytes(OLD)

    def swapped(step):
        if step == "written beside":
            (home / "App").rename(home / "Was")
            (home / "App").symlink_to(victim)

    assert write(home, step=swapped) == "written"  # into the folder that it had opened
    assert (home / "Was/settings.json").read_bytes() == NEW
    assert (victim / "settings.json").read_bytes() == OLD
    assert [p.name for p in victim.iterdir()] == ["settings.json"]


@pytest.mark.parametrize("planted", [".amberkey", ".amberkey/backups"])
def test_a_link_in_place_of_the_agents_own_folder_is_not_followed(home, way, planted, tmp_path):
    victim = tmp_path / "victim"
    victim.mkdir()
    (home / planted).parent.mkdir(exist_ok=True)
    (home / planted).symlink_to(victim)
    with pytest.raises(FileProblem, match="link"):
        write(home)
    assert list(victim.iterdir()) == []
    assert read_file(home, PATH) == OLD


def test_a_link_planted_where_the_new_file_would_stand_is_never_written_to(home, way, monkeypatch, tmp_path):
    (tmp_path / "victim").write_text("theirs")
    monkeypatch.setattr(folders.secrets, "token_hex", lambda n: "0" * 16)  # as if it could be guessed

    def plant(step):
        if step == "backed up":
            (home / f"App/.settings.json.{'0' * 16}.amberkey").symlink_to(tmp_path / "victim")

    monkeypatch.setattr(files, "clear", lambda folder: None)
    with pytest.raises(FileProblem, match="can't be written"):
        write(home, step=plant)
    assert (tmp_path / "victim").read_text() == "theirs"
    assert read_file(home, PATH) == OLD


def test_a_file_of_somebody_else_is_left_alone(home, way, monkeypatch):
    monkeypatch.setattr(os, "geteuid", lambda: 12345)
    with pytest.raises(FileProblem, match="belongs to somebody else"):
        read_file(home, PATH)


def test_a_file_that_is_too_large_is_refused_unread(home, way):
    with (home / PATH).open("wb") as file:
        file.truncate(50 * 1024 * 1024)
    with pytest.raises(FileProblem, match="larger than 4 MB"):
        read_file(home, PATH)


@pytest.mark.parametrize("number, says", [(errno.ENOSPC, "disk is full"), (errno.EROFS, "read-only"), (errno.EIO, "error")])
def test_a_write_that_fails_leaves_nothing_beside(home, way, monkeypatch, number, says):
    def failing(handle):
        raise OSError(number, os.strerror(number))

    back_up(home, PATH, OLD)  # so that the backup is there already
    monkeypatch.setattr(os, "fsync", failing)
    with pytest.raises(FileProblem, match=says):
        write(home)
    assert read_file(home, PATH) == OLD
    assert beside(home) == ["settings.json"]


def test_the_group_of_a_file_stays(home):
    if os.geteuid() != 0:
        pytest.skip("only root gives files to groups")
    os.chown(home / PATH, -1, 12)
    (home / PATH).chmod(0o664)
    write(home)
    assert ((home / PATH).stat().st_gid, (home / PATH).stat().st_mode & 0o777) == (12, 0o664)


def test_a_read_only_file_is_told(home, monkeypatch):
    # Root may write anywhere, so the system's answer is played.
    monkeypatch.setattr(os, "access", lambda path, mode, **more: mode != os.W_OK)
    with pytest.raises(FileProblem, match="read-only"):
        write(home)
    assert read_file(home, PATH) == OLD


def test_a_token_never_travels_in_the_open():
    with pytest.raises(ServerProblem, match="https"):
        Client("http://example.org")
    assert Client("http://127.0.0.1:1").server
    with pytest.raises(ServerProblem, match="can't be reached"):
        Client("http://127.0.0.1:1").call("GET", "/work")
