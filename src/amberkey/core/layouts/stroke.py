"""Stroke: what the fingers do. The value by which everything is indexed."""

from typing import NamedTuple

from amberkey.core.keys.platform import ORDER


class Stroke(NamedTuple):
    """A physical key (W3C code; None where modifiers alone are tapped) and the physical modifiers held. A modifier of which it
    matters whether it is the left or the right key stands under that key's code.

    A named tuple, as strokes are the keys of every index: it is hashed and compared without running Python code.
    """

    code: str | None
    modifiers: frozenset[str]

    def __str__(self) -> str:
        held = sorted(self.modifiers, key=lambda m: (ORDER.get(m, len(ORDER)), m))
        return "+".join([*held, f"code:{self.code}"] if self.code else held)
