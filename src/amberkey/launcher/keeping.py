"""What is done with all that is kept: `backup` into one sealed file, `restore` out of it, `forget` a person, `today` told."""

import getpass
import json
import os
import pathlib
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager, redirect_stdout
from typing import Any

from amberkey.launcher import debian, python_env, state
from amberkey.launcher.data import DataFolder
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.python_env import PYTHON, environment
from amberkey.launcher.say import Stop, run


def backup(file: str, passphrase_file: str | None) -> None:
    """A backup of the data folder, or of the database that environment variables name. A server may go on meanwhile."""
    place = _place(file)
    passphrase = _passphrase(passphrase_file, twice=True)
    with _database(alone=False) as (env, key):
        done = _do("write", place, {**env, "AMBERKEY_SECRET_KEY": key}, passphrase)
    print(f"{place}: {_told(done)}. Without its passphrase nobody can read it, nor can you.")


def restore(file: str, passphrase_file: str | None, *, over: bool, look: bool) -> None:
    """Restore into the data folder, or into the database that environment variables name; or only look whether it is whole."""
    place = _place(file)
    passphrase = _passphrase(passphrase_file, twice=False)
    python_env.ensure(development=False)
    if look:
        found = _do("look", place, environment(), passphrase)
        print(f"{place} is whole: made {found['made_at']} by Amber Key {found['version']}, {len(found['tables'])} tables.")
        return
    with _database(alone=True) as (env, _):
        done = _do("restore", place, env, passphrase, *(["--over"] if over else []))
        home = env.get("AMBERKEY_HOME")
        for name, part in (("secret-key", "key"), ("signing-key", "signing_key")):
            if home and done.get(part):
                _put_key(pathlib.Path(home) / name, done[part])
    print(f"Restored {_told(done)}, as of {done['made_at']}. Agents report as before; people sign in again.")


def forget(person: str) -> None:
    """Take a person's name out of the data folder's database, or out of the one that environment variables name."""
    with _database(alone=False) as (env, _):
        said = run(
            "Forgetting",
            [PYTHON, "-m", "amberkey.server.organisation.forgetting", person],
            hint="See the line above.",
            env=env,
        )
    done: dict[str, Any] = json.loads(said.splitlines()[-1])
    print(
        f"Forgotten: documents have them as {done['person']}, without a name. {done['bodies']} kept documents and files and "
        f"{done['texts']} other texts were changed. Backups made before still hold the name: let them go, or forget again "
        "after restoring one."
    )


def today(account: str | None, *, as_json: bool) -> int:
    """What needs somebody today, from the data folder's database or the one that environment variables name. Nothing else
    goes to standard output, so that a program can read it."""
    words = [*(["--json"] if as_json else []), *([account] if account else [])]
    with redirect_stdout(sys.stderr), _database(alone=False) as (env, key):
        command = [str(PYTHON), "-m", "amberkey.server.today.telling", *words]
        return subprocess.run(command, env={**env, "AMBERKEY_SECRET_KEY": key}, check=False).returncode


def _told(done: dict[str, Any]) -> str:
    return ", ".join(f"{done[what]} {what}" for what in ("documents", "revisions", "accounts", "agents"))


def _place(file: str) -> pathlib.Path:
    """Files are meant from where the command was given."""
    return pathlib.Path(os.environ.get("AMBERKEY_FROM", ".")) / pathlib.Path(file).expanduser()


@contextmanager
def _database(*, alone: bool) -> Iterator[tuple[dict[str, str], str]]:
    """The environment that leads to the database, and the key that signs sessions. `alone`: nobody may serve it meanwhile."""
    python_env.ensure(development=False)
    if any(name.startswith("AMBERKEY_DB_") for name in os.environ):
        yield environment(), os.environ.get("AMBERKEY_SECRET_KEY", "")
        return
    debian.ensure(debian.DATABASE)
    data = DataFolder()
    served = not alone and data.is_served()
    if not served:
        data.open()
    cluster = Cluster("own", home=data.place)
    cluster.start(adopt=not served)
    try:
        env = environment(**cluster.environment(), AMBERKEY_HOME=str(data.place))
        env.setdefault("AMBERKEY_SIGNING_KEY", state.signing_key(data.place).read_text())
        yield env, state.secret("secret-key", data.place)
    finally:
        if not served:
            cluster.stop()


def _do(verb: str, place: pathlib.Path, env: dict[str, str], passphrase: str, *more: str) -> dict[str, Any]:
    what = {"write": "Writing the backup", "restore": "Restoring", "look": "Looking at the backup"}[verb]
    said = run(
        what,
        [PYTHON, "-m", "amberkey.server.backup", verb, place, *more],
        hint="See the line above.",
        env={**env, "AMBERKEY_PASSPHRASE": passphrase},
    )
    done: dict[str, Any] = json.loads(said.splitlines()[-1])
    return done


def _passphrase(file: str | None, *, twice: bool) -> str:
    """From a file that its owner alone can read, the environment, or whoever sits at the terminal. Raises Stop."""
    if file is not None:
        place = _place(file)
        try:
            if place.stat().st_mode & 0o077:
                raise Stop(f"Others can read {place}. Make it yours alone: chmod 600 {place}")
            return place.read_text().strip("\n")
        except OSError as error:
            raise Stop(f"The passphrase can't be read from {place} ({error.strerror}).") from error
    given = os.environ.get("AMBERKEY_PASSPHRASE")
    if given:
        return given
    if not sys.stdin.isatty():
        raise Stop("Say the passphrase: --passphrase-file FILE, or the environment variable AMBERKEY_PASSPHRASE.")
    first = getpass.getpass("Passphrase: ")
    if twice and getpass.getpass("Once more: ") != first:
        raise Stop("The two passphrases differ. Nothing was written.")
    return first


def _put_key(file: pathlib.Path, key: str) -> None:
    fresh = file.with_suffix(".new")
    with open(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out:
        out.write(key)
    fresh.replace(file)
