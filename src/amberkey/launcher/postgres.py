"""A private PostgreSQL cluster on loopback, from Debian's binaries. No other server on the machine is touched."""

import os
import pathlib
import pwd
import re
import shutil
import subprocess

from amberkey.launcher import state
from amberkey.launcher.say import Stop, need_disk, run

USER = DATABASE = "amberkey"
_DEBIAN = pathlib.Path("/usr/lib/postgresql")


class Cluster:
    """`home`: the folder to keep it in, else the checkout's own. `fast` gives up safety against power cuts, for tests only."""

    def __init__(self, name: str, *, home: pathlib.Path | None = None, fast: bool = False) -> None:
        self.folder = (home or state.folder()) / f"database-{name}"
        self.data = self.folder / "data"
        self.fast = fast
        self.password = state.secret(f"database-{name}.password", home)
        self.port = 0
        # PostgreSQL refuses to run as root.
        self.user = "postgres" if os.geteuid() == 0 else None
        self._started = False

    def start(self, *, adopt: bool = False) -> None:
        """Make the cluster if need be, start it on a free port, and make its database. A running one is used as it is.

        `adopt`: a running one was left behind by a process that was killed, so it is stopped in the end like one's own.
        """
        self.folder.mkdir(parents=True, exist_ok=True)
        if self.user:
            owner = _account(self.user)
            os.chown(self.folder, owner.pw_uid, owner.pw_gid)
        if not (self.data / "PG_VERSION").exists():
            self._make()
        if self._running_port():
            self.port = self._running_port()
            self._started = adopt
        else:
            self.port = self.port or state.free_port()
            self._pg_ctl(
                "Starting the database", "start", "-w", "-t", "60", "-l", str(self.folder / "log"), "-o", self._options()
            )
            self._started = True
        self._make_database()

    def stop(self) -> None:
        """Stop it if this process started it."""
        if self._started:
            self._pg_ctl("Stopping the database", "stop", "-w", "-m", "fast")
            self._started = False

    def environment(self) -> dict[str, str]:
        return {
            "AMBERKEY_DB_HOST": "127.0.0.1",
            "AMBERKEY_DB_PORT": str(self.port),
            "AMBERKEY_DB_NAME": DATABASE,
            "AMBERKEY_DB_USER": USER,
            "AMBERKEY_DB_PASSWORD": self.password,
        }

    def _binaries(self) -> pathlib.Path:
        made_by = (self.data / "PG_VERSION").read_text().strip() if (self.data / "PG_VERSION").exists() else None
        found = sorted((p for p in _DEBIAN.glob("*/bin") if (p / "initdb").exists()), key=lambda p: float(p.parent.name))
        if made_by:
            found = [p for p in found if p.parent.name == made_by]
            if not found:
                raise Stop(
                    f"The database in {self.data} was made by PostgreSQL {made_by}, which isn't installed. "
                    f"Install postgresql-{made_by}, or remove that folder to begin anew."
                )
        if not found:
            raise Stop("PostgreSQL's server is missing. Ask root to run: apt-get install -y postgresql")
        return found[-1]

    def _make(self) -> None:
        need_disk(self.folder, 300)
        if self.data.exists():  # a half-made cluster of an interrupted first start
            shutil.rmtree(self.data)
        file = self.folder / "password"
        file.write_text(self.password)
        file.chmod(0o600)
        if self.user:
            os.chown(file, _account(self.user).pw_uid, -1)
        run(
            "Making the database cluster",
            [
                *(self._binaries() / "initdb", "-D", self.data, "-U", USER, "-A", "scram-sha-256", f"--pwfile={file}"),
                *("-E", "UTF8", "--locale=C.UTF-8", "--no-instructions", *(["--no-sync"] if self.fast else [])),
            ],
            hint=f"See whether the disk has room and {self.folder} can be written by {self.user or 'you'}.",
            cwd=pathlib.Path("/"),
            user=self.user,
        )
        file.unlink()

    def _options(self) -> str:
        options = [f"-p {self.port}", "-c listen_addresses=127.0.0.1", "-c unix_socket_directories=''"]
        if self.fast:
            options += ["-c fsync=off", "-c synchronous_commit=off", "-c full_page_writes=off"]
        return " ".join(options)

    def _pg_ctl(self, what: str, *words: str) -> None:
        run(
            what,
            [self._binaries() / "pg_ctl", "-D", self.data, *words],
            hint=f"Its log is {self.folder / 'log'}.",
            cwd=pathlib.Path("/"),
            user=self.user,
        )

    def _running_port(self) -> int:
        """The port of the running server, or 0. A pid file without its process is a leftover."""
        file = self.data / "postmaster.pid"
        if not file.exists():
            return 0
        lines = file.read_text().splitlines()
        try:
            os.kill(int(lines[0]), 0)
            name = pathlib.Path(f"/proc/{lines[0]}/comm").read_text()
        except (OSError, ValueError, IndexError):
            return 0
        return int(lines[3]) if re.match("postgres|postmaster", name) and len(lines) > 3 else 0

    def _make_database(self) -> None:
        env = {**os.environ, "PGPASSWORD": self.password}
        ask: list[str | pathlib.Path] = [
            self._binaries() / "psql",
            "-h",
            "127.0.0.1",
            "-p",
            str(self.port),
            "-U",
            USER,
            "-At",
            "postgres",
            "-c",
        ]
        there = subprocess.run(
            [*ask, f"select 1 from pg_database where datname = '{DATABASE}'"],  # noqa: S608
            env=env,
            cwd="/",
            capture_output=True,
            text=True,
            stdin=subprocess.DEVNULL,
        )
        if there.returncode != 0:
            raise Stop(
                f"The database doesn't answer on port {self.port}: {there.stderr.strip()} Its log is {self.folder / 'log'}."
            )
        if not there.stdout.strip():
            run("Making the database", [*ask, f"create database {DATABASE}"], hint="See the line above.", env=env)


def _account(name: str) -> pwd.struct_passwd:
    try:
        return pwd.getpwnam(name)
    except KeyError:
        raise Stop(f"There is no user {name}; Debian's postgresql package makes it. Install that package again.") from None
