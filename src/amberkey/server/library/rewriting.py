"""Changing what has been kept for good: texts in every body and every column, with everything that names a body by its digest.

Only two things ask for that: taking names out of what an older version kept, and forgetting a person.
"""

import json
import re
import zlib
from collections.abc import Callable, Collection, Iterator, Mapping
from typing import Any

from django.db import connection, models
from psycopg import sql

from amberkey.core.documents.canonical import Json, canonical_bytes, digest_of
from amberkey.core.documents.reading import read_json

_DIGEST = re.compile(r"[0-9a-f]{64}")
_DIGEST_LENGTH = 64
_TEXTS = ("text", "character varying", "json", "jsonb")
Registry = Any  # the models as they are, or as a migration knows them
Change = Callable[[Json], Json]


def rewrite_bodies(registry: Registry, change: Change, of_file: Callable[[bytes], bytes] = lambda data: data) -> int:
    """Change every body that is JSON by a function of its value, and every other one by `of_file`; whatever names a body by its
    digest, in other bodies and in all tables, names the new one from then on. Returns how many are others now.

    In one transaction, or not at all. Bodies are read one after the other, as often as digests stand in each other.
    """
    body_model = registry.get_model("library", "Body")
    moved: dict[str, str] = {}
    for digest, data in _bodies(body_model):
        value = _json(data)
        now = of_file(data) if value is None else _bytes(value, change(value), data)
        if now != data:
            moved[digest] = _keep(body_model, now)
    fresh = dict(moved)
    while fresh:
        known, fresh = fresh, {}
        for digest, data in _bodies(body_model):
            if digest in moved or _json(data) is None:
                continue
            text = data.decode()
            if any(d in known for d in _DIGEST.findall(text)):
                fresh[digest] = _keep(body_model, _with_digests(text, known).encode())
        moved |= fresh
    _name_anew(registry, {old: _last(old, moved) for old in moved})
    body_model.objects.filter(pk__in=[old for old in moved if old not in set(moved.values())]).delete()
    return len(moved)


def _bodies(body_model: Any) -> Iterator[tuple[str, bytes]]:
    digests = list(body_model.objects.order_by("pk").values_list("pk", flat=True))
    for digest in digests:
        yield digest, zlib.decompress(body_model.objects.values_list("packed", flat=True).get(pk=digest))


def _json(data: bytes) -> Json:
    """The value of a body in canonical JSON; None where it is a file of another kind."""
    if data[:1] not in (b"{", b"["):
        return None
    try:
        value = read_json(data)
    except ValueError:
        return None
    return value if canonical_bytes(value) == data else None


def _bytes(value: Json, then: Json, data: bytes) -> bytes:
    return data if then == value else canonical_bytes(then)


def _keep(body_model: Any, data: bytes) -> str:
    digest = digest_of(data)
    body_model.objects.get_or_create(digest=digest, defaults={"packed": zlib.compress(data)})
    return digest


def _with_digests(text: str, moved: Mapping[str, str]) -> str:
    return _DIGEST.sub(lambda m: moved.get(m[0], m[0]), text)


def _last(digest: str, moved: Mapping[str, str]) -> str:
    """Where a digest leads in the end."""
    seen = {digest}
    while moved.get(digest) and moved[digest] not in seen:
        digest = moved[digest]
        seen.add(digest)
    return digest


def _name_anew(registry: Registry, moved: Mapping[str, str]) -> None:
    """Every column that names a body, or holds a digest as a text."""
    for model in registry.get_models():
        for field in model._meta.concrete_fields:
            names = field.remote_field is not None and field.remote_field.model._meta.label == "library.Body"
            holds = isinstance(field, models.CharField) and field.max_length == _DIGEST_LENGTH and not field.primary_key
            if not names and not holds:
                continue
            rows = model._base_manager.order_by()
            for old in set(rows.values_list(field.attname, flat=True).distinct()) & moved.keys():
                rows.filter(**{field.attname: old}).update(**{field.attname: moved[old]})


def rewrite_columns(change: Callable[[str], str], like: str, but: Collection[str] = ()) -> int:
    """Change every text in every column of every table, keys of rows too, by a function. Returns how many are others now.

    `like`: a pattern (POSIX, any letter case) that all texts fit which it may change; `but`: tables that stay. In one
    transaction: what names a row by its key is changed along before that is looked at.
    """
    count = 0
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL DEFERRED")
        cursor.execute(
            "SELECT c.table_name, c.column_name, c.data_type FROM information_schema.columns c"
            " JOIN information_schema.tables t USING (table_schema, table_name)"
            " WHERE c.table_schema = current_schema() AND t.table_type = 'BASE TABLE' AND c.data_type = ANY(%s)"
            " AND c.is_generated = 'NEVER' AND c.table_name <> ALL(%s)",
            [list(_TEXTS), ["django_migrations", *but]],
        )
        for table, column, kind in cursor.fetchall():
            names = {"t": sql.Identifier(table), "c": sql.Identifier(column), "k": sql.SQL(kind)}
            cursor.execute(sql.SQL("SELECT DISTINCT {c}::text FROM {t} WHERE {c}::text ~* %s").format(**names), [like])
            for (text,) in cursor.fetchall():
                then = _changed_json(text, change) if kind.startswith("json") else change(text)
                if then != text:
                    count += 1
                    cursor.execute(sql.SQL("UPDATE {t} SET {c} = %s::{k} WHERE {c}::text = %s").format(**names), [then, text])
    return count


def _changed_json(text: str, change: Callable[[str], str]) -> str:
    return json.dumps(in_texts(json.loads(text), change), ensure_ascii=False)


def in_texts(value: Json, change: Callable[[str], str]) -> Json:
    """A value with every text in it changed, names of members too."""
    if isinstance(value, str):
        return change(value)
    if isinstance(value, list):
        return [in_texts(v, change) for v in value]
    if isinstance(value, dict):
        return {change(k): in_texts(v, change) for k, v in value.items()}
    return value
