"""Writing a backup: everything as it is at one moment."""

import hashlib
import io
import json
import tarfile
import tempfile
from typing import Any, BinaryIO, cast

from django.db import connection, transaction
from django.utils import timezone
from psycopg import sql

from amberkey import __version__
from amberkey.server.backup.sealing import Sealer
from amberkey.server.backup.tables import columns, newest_migrations, tables

FORMAT = 1
_IN_MEMORY = 8 * 1024 * 1024
_BLOCK = 256 * 1024


def write_backup(file: BinaryIO, passphrase: str, key: str, signing_key: str = "") -> dict[str, Any]:
    """Write everything to a file, sealed; `key` is the one that signs sessions, `signing_key` the one that signs bundles.
    Returns the manifest.

    Raises BackupError for a passphrase that is too short.
    """
    sealer = Sealer(file, passphrase)
    with transaction.atomic():
        with connection.cursor() as cursor:
            # All tables as they are at one moment, whoever writes meanwhile.
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
        manifest: dict[str, Any] = {
            "format": FORMAT,
            "version": __version__,
            "made_at": timezone.now().isoformat(timespec="seconds"),
            "key": key,
            "signing_key": signing_key,
            "migrations": newest_migrations(),
            "tables": {t: columns(t) for t in tables()},
        }
        digests: dict[str, str] = {}
        with tarfile.open(fileobj=cast(BinaryIO, sealer), mode="w|gz") as archive:
            _put(archive, digests, "manifest.json", io.BytesIO(json.dumps(manifest).encode()))
            for table, names in manifest["tables"].items():
                with tempfile.SpooledTemporaryFile(_IN_MEMORY) as rows:
                    _copy(table, names, cast(BinaryIO, rows))
                    _put(archive, digests, f"tables/{table}", cast(BinaryIO, rows))
            _put(archive, {}, "digests.json", io.BytesIO(json.dumps(digests).encode()))
    sealer.close()
    return manifest


def _copy(table: str, names: list[str], rows: BinaryIO) -> None:
    what = sql.SQL("COPY {} ({}) TO STDOUT").format(sql.Identifier(table), sql.SQL(", ").join(map(sql.Identifier, names)))
    with connection.cursor() as cursor, cursor.cursor.copy(what) as copy:
        for data in copy:
            rows.write(data)


def _put(archive: tarfile.TarFile, digests: dict[str, str], name: str, data: BinaryIO) -> None:
    info = tarfile.TarInfo(name)
    info.size = data.seek(0, io.SEEK_END)
    data.seek(0)
    digest = hashlib.sha256()
    while block := data.read(_BLOCK):
        digest.update(block)
    digests[name] = digest.hexdigest()
    data.seek(0)
    archive.addfile(info, data)
