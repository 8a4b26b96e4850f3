"""Shortcut as a field of documents: read forgivingly, written canonically."""

from typing import Annotated

from pydantic import BeforeValidator, InstanceOf, PlainSerializer, WithJsonSchema

from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.shortcut import Shortcut

ShortcutField = Annotated[
    InstanceOf[Shortcut],
    BeforeValidator(read_document_shortcut),
    PlainSerializer(lambda s: s.to_document(), return_type=str | list[str]),
    WithJsonSchema(
        {
            "description": "One press as a text, or the presses of a sequence as a list.",
            "anyOf": [{"type": "string"}, {"type": "array", "items": {"type": "string"}, "minItems": 1, "maxItems": 12}],
        }
    ),
]
