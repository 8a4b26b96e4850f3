"""Errors of exchange.

ValueError
├── BundleError            what is wrong with the bundle, in which part, what to do
├── KeyFault               why something is no key
└── SheetError             why a sheet can't be read at all, with places
"""

from amberkey.core.documents.errors import Fault


class BundleError(ValueError):
    def __init__(self, says: str, part: str = "", cure: str = "") -> None:
        super().__init__(" ".join(t for t in (f"{part}: {says}" if part else says, cure) if t))
        self.says = says
        self.part = part
        self.cure = cure


class KeyFault(ValueError):
    """What was given as a key is none."""


class SheetError(ValueError):
    """A sheet that can't be read at all; `faults` say where and why."""

    def __init__(self, faults: list[Fault]) -> None:
        super().__init__("; ".join(f.sentence() for f in faults[:5]))
        self.faults = faults
