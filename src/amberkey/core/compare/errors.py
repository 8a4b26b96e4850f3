"""Errors of applying differences.

ValueError
└── PreconditionFailed     the section and key of the operation, what it expected, what stood there
"""

from amberkey.core.documents.canonical import Json


class PreconditionFailed(ValueError):
    """The document has moved on: at the operation's place stands something else than it expects."""

    def __init__(self, section: str, key: str, expected: Json, found: Json) -> None:
        super().__init__(f"{section} {key} has been changed since.")
        self.section = section
        self.key = key
        self.expected = expected
        self.found = found
