"""Errors of applying differences.

ValueError
└── PreconditionFailed     the operation, and what stood in its place
"""

from typing import TYPE_CHECKING

from amberkey.core.documents.canonical import Json

if TYPE_CHECKING:
    from amberkey.core.compare.operations import Operation


class PreconditionFailed(ValueError):
    """The document has moved on: at the operation's place stands something else than it expects."""

    def __init__(self, operation: "Operation", found: Json) -> None:
        super().__init__(f"{operation.section} {operation.key} has been changed since.")
        self.operation = operation
        self.found = found
