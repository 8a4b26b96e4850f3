"""Errors of reading documents.

ValueError
├── Faults                    what a validator found, before it is known in which document
└── DocumentError             one or more faults, each with its place
    ├── NotReadable           not JSON at all, or not text
    ├── TooLarge              more bytes, levels or items than a document may have
    ├── UnknownFormat         no `format` field, or one that nobody here knows
    └── NewerFormat           made by a newer Amber Key than this one
"""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that is wrong: where it stands (`entries[3].platform`), what it is, what to do."""

    place: str
    says: str
    cure: str = ""

    def sentence(self) -> str:
        """The fault in one line: place, what is wrong, what to do."""
        where = f"{self.place}: " if self.place else ""
        return f"{where}{self.says}" + (f" {self.cure}" if self.cure else "")


class Faults(ValueError):
    """For validators that find several faults at once, each with its place below the part that they look at."""

    def __init__(self, faults: list[Fault]) -> None:
        super().__init__("; ".join(f.sentence() for f in faults[:5]))
        self.faults = faults


class DocumentError(ValueError):
    def __init__(self, faults: list[Fault]) -> None:
        super().__init__("; ".join(f.sentence() for f in faults[:5]))
        self.faults = faults


class NotReadable(DocumentError):
    pass


class TooLarge(DocumentError):
    pass


class UnknownFormat(DocumentError):
    pass


class NewerFormat(DocumentError):
    pass
