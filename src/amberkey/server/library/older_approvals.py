"""What an older version had released counts as approved: once, when a database is brought up to this version."""

import zlib
from typing import Any

from amberkey.core.documents.errors import DocumentError
from amberkey.core.exchange.approving import sensitive_in
from amberkey.core.formats import read_any


def approve_released(registry: Any) -> None:
    """A yes by nobody in particular to everything that released profiles and programs run or say of where files lie."""
    table = registry.get_model("library", "Approval")
    documents = registry.get_model("library", "Document").objects.exclude(released=None).filter(deleted_at=None)
    for document in documents.filter(format__in=("amberkey/profile@1", "amberkey/program@1")).select_related("released__body"):
        try:
            value = read_any(zlib.decompress(document.released.body.packed))
        except DocumentError:  # what can't be read any more goes nowhere anyway
            continue
        for one in sensitive_in(value):
            defaults = {"subject": one.subject[:300], "content": one.content}
            table.objects.get_or_create(digest=one.digest, defaults=defaults)
