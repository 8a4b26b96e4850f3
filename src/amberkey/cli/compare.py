"""`amberkey compare`: what differs between two documents, and taking chosen differences over."""

import json
import pathlib
from argparse import Namespace
from typing import cast

from amberkey.cli.answer import Answer, Facts, columns
from amberkey.cli.errors import Wrong
from amberkey.cli.files import read_one
from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.compare.merging import merge
from amberkey.core.compare.operations import JsonDocument, apply
from amberkey.core.compare.operations import compare as differences
from amberkey.core.compare.views import as_json, as_rows, as_sentences, chosen
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import Document, read_document
from amberkey.core.formats import FORMATS


def compare(asked: Namespace) -> tuple[list[Answer], int]:
    """What turns one document into another. Exit code 1 where anything differs."""
    one, other = (read_one(p, Document) for p in (asked.one, asked.other))  # type: ignore[type-abstract, unused-ignore]
    if one.format != other.format:
        raise Wrong(f"{asked.one} is {one.format} and {asked.other} is {other.format}. Compare two of one kind.")
    a, b = cast(JsonDocument, one.to_json()), cast(JsonDocument, other.to_json())
    if asked.base:
        return _merged(asked, a, b, one.format)
    operations = differences(a, b)
    if asked.take or asked.take_all:
        try:
            wanted = operations if asked.take_all else chosen(operations, asked.take)
        except KeyError as error:
            raise Wrong(f"There is no difference {error.args[0]}. Each is named as in --json.") from error
        value = _checked(apply(a, wanted), "The document with these differences")
        _write(asked.to, value)
    rows = [(r.does, r.section or "field", r.key, r.field, r.before, r.after) for r in as_rows(operations)]
    text = columns(rows) if asked.table else "\n".join(as_sentences(operations))
    facts: Facts = {"one": one.id, "other": other.id, "format": one.format, "differences": as_json(operations)}
    return [Answer(text or "Nothing differs.", facts)], int(bool(operations))


def _merged(asked: Namespace, ours: JsonDocument, theirs: JsonDocument, format_name: str) -> tuple[list[Answer], int]:
    base = read_one(asked.base, Document)  # type: ignore[type-abstract, unused-ignore]
    if base.format != format_name:
        raise Wrong(f"{asked.base} is {base.format}. The base is of the same kind as both others.")
    merged = merge(cast(JsonDocument, base.to_json()), ours, theirs)
    against = [
        {"section": c.section, "key": c.key, "base": c.base, "one": c.ours, "other": c.theirs} for c in merged.contradictions
    ]
    if asked.to and not against:
        _write(asked.to, _checked(merged.document, "What both make together"))
    told = [f"Both made something else of the {c.section or 'field'} {c.key}." for c in merged.contradictions]
    text = "\n".join([*as_sentences(merged.operations), *told]) or "One has nothing that the other lacks."
    facts: Facts = {"operations": as_json(merged.operations), "contradictions": against}
    return [Answer(text, facts)], int(bool(against))


def _checked(value: JsonDocument, what: str) -> Document:
    try:
        return read_document(value, FORMATS)
    except (DocumentError, PreconditionFailed) as error:
        raise Wrong(f"{what} would be faulty: {error}") from error


def _write(to: str | None, value: Document) -> None:
    if not to:
        raise Wrong("Say with --to where the document is to be written.")
    try:
        pathlib.Path(to).write_text(json.dumps(value.to_json(), ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
    except OSError as error:
        raise Wrong(f"{to} can't be written: {error.strerror or error}.", {"file": to}) from error
