"""Everything in one sealed file and out of it again: real databases, the real command, and files that were damaged."""

import io
import json
import os
import pathlib
import subprocess
import sys
import uuid

import psycopg
import pytest
from django.conf import settings

from amberkey.server.backup.errors import BackupError
from amberkey.server.backup.sealing import PIECE, Opener, Sealer

ROOT = pathlib.Path(__file__).parents[2]
OLD = pathlib.Path(__file__).parent / "data/version-0.1.0.amberkey"
OLD_PASSPHRASE = "of the small example"
PASSPHRASE = "a passphrase for tests"
STATE = """
import json, django; django.setup()
from django.test import Client
from amberkey.core.formats import read_any
from amberkey.server.library.models import Body, ChangeSet, Document
from amberkey.server.people.models import User
from amberkey.server.estate import current_estate
bearer = {"Authorization": "Bearer token-of-counter-3"}
heard = Client(SERVER_NAME="127.0.0.1").post("/api/agent/work", "{}", content_type="application/json", headers=bearer)
print(json.dumps({
    "digests": {d.key: d.newest.digest for d in Document.objects.select_related("newest")},
    "read": sorted(read_any(d.newest.body.data).id for d in Document.objects.select_related("newest__body")),
    "same": all(Body(digest=b.digest, packed=b.packed).data == b.data for b in Body.objects.all()),
    "accounts": sorted(User.objects.values_list("username", "role")),
    "agent": heard.status_code,
    "setups": len(current_estate().setups),
    "changes": ChangeSet.objects.count(),
}))
"""
MORE = """
import django; django.setup()
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.undo import undo
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import User
undo(Actor(User.objects.get(username="ines")), ChangeSet.objects.filter(undone=False, undoes=None).latest("id").id)
"""


def sealed(data: bytes, passphrase: str = PASSPHRASE) -> bytes:
    file = io.BytesIO()
    sealer = Sealer(file, passphrase)
    for at in range(0, len(data), 100_000):
        sealer.write(data[at : at + 100_000])
    sealer.close()
    return file.getvalue()


def opened(data: bytes, passphrase: str = PASSPHRASE) -> bytes:
    opener = Opener(io.BytesIO(data), passphrase)
    found = opener.read()
    opener.finish()
    return found


@pytest.mark.parametrize("size", [0, 1, PIECE - 1, PIECE, PIECE + 1, 3 * PIECE])
def test_what_is_sealed_comes_out_as_it_went_in(size):
    data = os.urandom(size)
    assert opened(sealed(data)) == data


def test_what_is_not_as_it_was_written_is_refused():
    whole = sealed(os.urandom(3 * PIECE))
    head = whole.index(b"\n", 20) + 1
    piece = PIECE + 16 + 4
    for broken in (
        whole[:-1],
        whole[: head + piece],  # cut at the end of a piece
        whole[: head + piece // 2],
        whole[:head],
        whole + b"x",
        whole[:head] + whole[head + piece :],  # a piece is gone
        whole[:head] + whole[head + piece : head + 2 * piece] + whole[head : head + piece] + whole[head + 2 * piece :],
        whole[: head + piece + 99] + bytes([whole[head + piece + 99] ^ 1]) + whole[head + piece + 100 :],
        whole.replace(b'"n": 32768', b'"n": 16384'),
    ):
        assert broken != whole
        with pytest.raises(BackupError, match="Nothing was restored"):
            opened(broken)


def test_a_wrong_passphrase_a_short_one_and_another_file_are_told():
    with pytest.raises(BackupError, match="passphrase is wrong"):
        opened(sealed(b"x"), "another passphrase")
    with pytest.raises(BackupError, match="has 5 signs"):
        sealed(b"x", "short")
    with pytest.raises(BackupError, match="no backup of Amber Key"):
        opened(b"PK\x03\x04 and so on")


class Databases:
    """Databases of their own on the tests' server."""

    def __init__(self) -> None:
        own = settings.DATABASES["default"]
        self.server = {"host": own["HOST"], "port": own["PORT"], "user": own["USER"], "password": own["PASSWORD"]}
        self.made: list[str] = []

    def make(self) -> str:
        name = f"backup_{uuid.uuid4().hex[:8]}"
        self._say(f"create database {name}")
        self.made.append(name)
        return name

    def drop(self) -> None:
        for name in self.made:
            self._say(f"drop database if exists {name} with (force)")

    def _say(self, statement: str) -> None:
        with psycopg.connect(**self.server, dbname="postgres", autocommit=True) as connection:
            connection.execute(statement)

    def run(self, name: str, *command: str, passphrase: str = PASSPHRASE) -> subprocess.CompletedProcess:
        env = {**os.environ, "AMBERKEY_DB_NAME": name, "AMBERKEY_DB_POOL": "0", "AMBERKEY_PASSPHRASE": passphrase}
        env |= {"AMBERKEY_SECRET_KEY": "the key of sessions", "PYTHONPATH": str(ROOT / "src")}
        env["DJANGO_SETTINGS_MODULE"] = "amberkey.server.settings"
        return subprocess.run([sys.executable, *command], env=env, capture_output=True, text=True)

    def backup(self, name: str, *words: str, **more: str) -> subprocess.CompletedProcess:
        return self.run(name, "-m", "amberkey.server.backup", *words, **more)

    def state(self, name: str) -> dict:
        done = self.run(name, "-c", STATE)
        assert done.returncode == 0, done.stderr
        return json.loads(done.stdout.splitlines()[-1])


@pytest.fixture(scope="module")
def databases():
    found = Databases()
    yield found
    found.drop()


@pytest.fixture(scope="module")
def old(databases):
    """A database as version 0.1.0 left it, brought up to date, with what it then holds."""
    name = databases.make()
    done = databases.backup(name, "restore", str(OLD), passphrase=OLD_PASSPHRASE)
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout)["documents"] == 16
    return name, databases.state(name)


def test_a_database_of_an_older_version_comes_up_and_goes_through_a_backup(databases, old, tmp_path):
    (one, before), other = old, databases.make()
    assert len(before["read"]) == 16
    assert (before["agent"], before["same"], before["changes"]) == (200, True, 3)
    assert before["setups"] > 0

    refused = databases.backup(one, "restore", str(OLD), passphrase=OLD_PASSPHRASE)
    assert (refused.returncode, "not empty" in refused.stderr) == (1, True)

    file = tmp_path / "all.amberkey"
    assert databases.backup(one, "write", str(file)).returncode == 0
    again = databases.backup(one, "write", str(file))
    assert (again.returncode, "is there already" in again.stderr) == (1, True)
    assert file.stat().st_mode & 0o077 == 0
    looked = databases.backup(one, "look", str(file))
    assert json.loads(looked.stdout)["key"] == "the key of sessions"

    cut = tmp_path / "cut.amberkey"
    cut.write_bytes(file.read_bytes()[:-1000])
    for bad in (
        databases.backup(other, "restore", str(cut)),
        databases.backup(other, "restore", str(file), passphrase="x" * 20),
    ):
        assert (bad.returncode, "Nothing was restored" in bad.stderr) == (1, True)

    # Into a database that is still empty, or it would be refused.
    assert databases.backup(other, "restore", str(file)).returncode == 0
    assert databases.state(other) == before

    changed = databases.run(other, "-c", MORE)  # numbers go on where they were
    assert changed.returncode == 0, changed.stderr
    assert databases.state(other)["changes"] == 4
    assert databases.state(other)["digests"] != before["digests"]
    bad = databases.backup(other, "restore", str(cut), "--over")
    assert (bad.returncode, databases.state(other)["changes"]) == (1, 4)
    assert databases.backup(other, "restore", str(file), "--over").returncode == 0
    assert databases.state(other) == before


def test_a_backup_of_a_newer_version_is_refused(databases, old, tmp_path):
    """One whose database has had a migration that this version doesn't know."""
    one, before = old
    code = "import django; django.setup(); from amberkey.server.backup import writing; "
    code += "writing.newest_migrations = lambda: {'library': '9999_of_next_year'}; "
    code += f"writing.write_backup(open({str(tmp_path / 'newer')!r}, 'wb'), '{PASSPHRASE}', '')"
    assert databases.run(one, "-c", code).returncode == 0
    done = databases.backup(one, "restore", str(tmp_path / "newer"), "--over")
    assert (done.returncode, "is of a newer Amber Key" in done.stderr) == (1, True)
    assert databases.state(one) == before
