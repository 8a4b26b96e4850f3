"""Every document format that this Amber Key reads, and the JSON Schemas made from the models that check them."""

import json

from amberkey.core.documents.canonical import Json
from amberkey.core.documents.model import Document, read_document
from amberkey.core.documents.reading import DEFAULT_LIMITS, Limits, read_json
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.decisions import Decisions
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.standard.model import Standard
from amberkey.core.tasks.model import Tasks

FORMATS: dict[str, type[Document]] = {
    "amberkey/program@1": Program,
    "amberkey/tasks@1": Tasks,
    "amberkey/standard@1": Standard,
    "amberkey/profile@1": Profile,
    "amberkey/organisation@1": Organisation,
    "amberkey/setup@1": Setup,
    "amberkey/decisions@1": Decisions,
}


def read_any(data: bytes, limits: Limits = DEFAULT_LIMITS) -> Document:
    """Bytes to a checked document of any format. Raises DocumentError with every fault and its place."""
    return read_document(read_json(data, limits), FORMATS)


def read_kept(data: bytes) -> Document:
    """The same for bytes that `Document.to_bytes` wrote and that were kept since: what the document says is checked, and not
    whether its JSON is hostile, which for thousands of machines takes as long."""
    return read_document(json.loads(data), FORMATS)


def schema_of(format_name: str) -> dict[str, Json]:
    """The JSON Schema (draft 2020-12) of a format, made from the model that checks it. Raises KeyError for an unknown one."""
    schema = FORMATS[format_name].model_json_schema(mode="validation")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": format_name, **schema}
