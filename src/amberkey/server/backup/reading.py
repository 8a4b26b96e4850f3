"""Restoring a backup: made beside what is there, in a schema of its own, which takes the place of the old one in one moment.

So nothing is half done, whenever it is broken off: what a killed one left behind is dropped by the next.
"""

import hashlib
import json
import tarfile
from contextlib import ExitStack
from typing import Any, BinaryIO, cast

from django.db import connection, transaction
from django.db.migrations.executor import MigrationExecutor
from psycopg import sql

from amberkey.server.backup.errors import BackupError
from amberkey.server.backup.sealing import Opener
from amberkey.server.backup.writing import FORMAT

_BESIDE = "restoring"
_BLOCK = 256 * 1024
_LARGEST_MANIFEST = 4 * 1024 * 1024


def look(file: BinaryIO, passphrase: str) -> dict[str, Any]:
    """The manifest of a backup that is whole; every digest is checked. Raises BackupError."""
    return _read(file, passphrase, None)


def restore(file: BinaryIO, passphrase: str, *, over: bool = False) -> dict[str, Any]:
    """Make the database what it was when the backup was written. Returns the manifest. `over`: instead of what is there.

    A backup of an older version is brought up to date. Raises BackupError, and then nothing has changed.
    """
    if not over and not is_empty():
        raise BackupError(
            "The database is not empty. Restore into an empty one, or say --over: then everything that is there now is gone."
        )
    restoring = _Restoring()
    try:
        manifest = _read(file, passphrase, restoring)
        restoring.take_the_place()
    finally:
        restoring.forget()
    return manifest


def is_empty() -> bool:
    """Whether nothing of an organisation is there: no account and no document."""
    there = set(connection.introspection.table_names())
    with connection.cursor() as cursor:
        for table in ("people_user", "library_document"):
            if table in there:
                cursor.execute(sql.SQL("SELECT 1 FROM {} LIMIT 1").format(sql.Identifier(table)))
                if cursor.fetchone():
                    return False
    return True


class _Restoring:
    """Takes a backup in, part by part, beside the schema in use."""

    def begin(self, manifest: dict[str, Any]) -> None:
        """An empty schema as the backup's version had it. Raises BackupError for a version that this one doesn't know."""
        known = MigrationExecutor(connection).loader.disk_migrations
        targets = list(manifest["migrations"].items())
        newer = next((t for t in targets if t not in known), None)
        if newer:
            raise BackupError(
                f"This backup is of a newer Amber Key, {manifest['version']} (it has {newer[0]} {newer[1]}). "
                "Restore it with that version."
            )
        with connection.cursor() as cursor:
            cursor.execute(f"DROP SCHEMA IF EXISTS {_BESIDE} CASCADE")
            cursor.execute(f"CREATE SCHEMA {_BESIDE}")
            cursor.execute(f"SET search_path TO {_BESIDE}")
        MigrationExecutor(connection).migrate(targets)

    def table(self, name: str, names: list[str], data: BinaryIO) -> None:
        what = sql.SQL("COPY {} ({}) FROM STDIN").format(sql.Identifier(name), sql.SQL(", ").join(map(sql.Identifier, names)))
        with connection.cursor() as cursor:
            cursor.execute(sql.SQL("DELETE FROM {}").format(sql.Identifier(name)))  # what migrating put in
            with cursor.cursor.copy(what) as copy:
                while block := data.read(_BLOCK):
                    copy.write(block)

    def end(self) -> None:
        """Numbers go on where they were, and the schema is this version's."""
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT table_name, column_name FROM information_schema.columns"
                " WHERE table_schema = %s AND is_identity = 'YES'",
                [_BESIDE],
            )
            next_one = "SELECT setval(pg_get_serial_sequence({t}, {c}), coalesce(max({i}), 0) + 1, false) FROM {n}"
            for table, column in cursor.fetchall():
                names = {"i": sql.Identifier(column), "n": sql.Identifier(table)}
                cursor.execute(sql.SQL(next_one).format(t=sql.Literal(f'"{table}"'), c=sql.Literal(column), **names))
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())

    def take_the_place(self) -> None:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("DROP SCHEMA public CASCADE")
            cursor.execute(f"ALTER SCHEMA {_BESIDE} RENAME TO public")

    def forget(self) -> None:
        """What was begun and not finished is gone."""
        with connection.cursor() as cursor:
            cursor.execute(f"DROP SCHEMA IF EXISTS {_BESIDE} CASCADE")
            cursor.execute("SET search_path TO DEFAULT")


def _read(file: BinaryIO, passphrase: str, into: _Restoring | None) -> dict[str, Any]:
    opener = Opener(file, passphrase)
    manifest: dict[str, Any] = {}
    digests: dict[str, str] = {}
    said: dict[str, str] | None = None
    try:
        with ExitStack() as within, tarfile.open(fileobj=cast(BinaryIO, opener), mode="r|gz") as archive:
            for member in archive:
                data = archive.extractfile(member)
                assert data is not None
                reader = _Digesting(cast(BinaryIO, data))
                if member.name == "manifest.json":
                    manifest = json.loads(reader.read(_LARGEST_MANIFEST))
                    if manifest["format"] != FORMAT:
                        raise BackupError("This backup is of a newer Amber Key. Restore it with that version.")
                    if into:
                        into.begin(manifest)
                        within.enter_context(transaction.atomic())  # tables name each other, in any order
                elif member.name == "digests.json":
                    said = json.loads(reader.read(_LARGEST_MANIFEST))
                    continue
                else:
                    table = member.name.removeprefix("tables/")
                    names = manifest["tables"][table]
                    if into:
                        into.table(table, names, cast(BinaryIO, reader))
                    reader.drain()
                digests[member.name] = reader.digest
    except (tarfile.TarError, EOFError, OSError, ValueError, KeyError) as error:
        raise BackupError("The backup can't be read: it is damaged. Nothing was restored; take another copy of it.") from error
    opener.finish()
    if said != digests or digests.keys() != {"manifest.json", *(f"tables/{t}" for t in manifest.get("tables", {}))}:
        raise BackupError("The backup is not as it was written: a digest is another one. Nothing was restored.")
    if into:
        into.end()
    return manifest


class _Digesting:
    """Reads, and knows the digest of what was read."""

    def __init__(self, data: BinaryIO) -> None:
        self._data, self._digest = data, hashlib.sha256()

    def read(self, size: int) -> bytes:
        found = self._data.read(size)
        self._digest.update(found)
        return found

    def drain(self) -> None:
        while self.read(_BLOCK):
            pass

    @property
    def digest(self) -> str:
        return self._digest.hexdigest()
