"""A clash: who wanted a press, who takes it, how bad that is, and an identity that lasts."""

from dataclasses import dataclass
from typing import Literal, get_args

from amberkey.core.clashes.board import Binding
from amberkey.core.clashes.trace import Station
from amberkey.core.documents.canonical import canonical_bytes, digest_of
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.strokes import Stroke
from amberkey.core.profiles.model import Severity

ClashKind = Literal["system_fixed", "system", "same_scope", "shadow", "swallows_text", "out_of_reach"]
CLASH_KINDS: tuple[ClashKind, ...] = get_args(ClashKind)


@dataclass(frozen=True, slots=True)
class Clash:
    """`loser` doesn't get the press, `holder` does. Where a shortcut swallows text, the text loses: `loser` is None and
    `text` says what can't be typed. Out of reach, nobody holds it."""

    kind: ClashKind
    severity: Severity
    identity: str
    platform: Platform
    stroke: Stroke | None
    holder: Binding | None
    loser: Binding | None
    station: Station | None
    text: str = ""
    spellings_meet: bool = False
    note: str = ""

    @property
    def subject(self) -> Binding:
        """The binding that the specialist would move first: the one that loses, or the one that swallows."""
        binding = self.loser or self.holder
        assert binding is not None
        return binding


def identity_of(kind: ClashKind, platform: Platform, *bindings: Binding) -> str:
    """16 hexadecimal digits from kind, platform and the unordered participants with their shortcuts as written.

    Never from version, layer, severity, setup or who holds it: so a decision sticks to its clash.
    """
    participants = sorted([b.program.id, b.command.id, b.scope, str(b.shortcut)] for b in bindings)
    return digest_of(canonical_bytes([kind, platform, *participants]))[:16]  # type: ignore[list-item]
