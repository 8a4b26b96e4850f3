"""What tests find in the database, as rows: worked out once a run and copied from then on. Loading it for every test took most
of the server tests' time."""

from collections.abc import Callable
from dataclasses import dataclass

from django.db import connection, transaction

from amberkey.server.backup.tables import tables

_SEQUENCES = "SELECT sequencename, last_value FROM pg_sequences WHERE schemaname = current_schema() AND last_value IS NOT NULL"


@dataclass(frozen=True, slots=True)
class _Rows:
    """By table in PostgreSQL's own text; by sequence the number that it had come to."""

    tables: dict[str, bytes]
    sequences: dict[str, int]


_kept: dict[str, _Rows] = {}


def put(what: str, load: Callable[[], object]) -> None:
    """Puts into an empty database what `load` does. Numbers that other tests were given are not given again."""
    with transaction.atomic():
        if what in _kept:
            _write(_kept[what])
        else:
            load()
            _kept[what] = _read()


def _read() -> _Rows:
    found: dict[str, bytes] = {}
    with connection.cursor() as cursor:
        for table in tables():
            with cursor.copy(f'COPY "{table}" TO STDOUT') as copy:
                rows = b"".join(bytes(part) for part in copy)
            if rows:
                found[table] = rows
        cursor.execute(_SEQUENCES)
        return _Rows(found, dict(cursor.fetchall()))


def _write(rows: _Rows) -> None:
    with connection.cursor() as cursor:
        for table, text in rows.tables.items():
            with cursor.copy(f'COPY "{table}" FROM STDIN') as copy:
                copy.write(text)
        cursor.execute(_SEQUENCES)
        now = dict(cursor.fetchall())
        for name, value in rows.sequences.items():
            if now.get(name, 0) < value:
                cursor.execute("SELECT setval(%s, %s)", [f'"{name}"', value])
