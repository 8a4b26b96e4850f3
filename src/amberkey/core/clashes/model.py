"""A clash: who wanted a press, who takes it, how bad that is, and an identity that lasts."""

import hashlib
from dataclasses import dataclass
from typing import Literal, NamedTuple, get_args

from amberkey.core.clashes.binding import Binding, Station
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.decisions import Severity
from amberkey.core.profiles.effective import DEFAULT

ClashKind = Literal[
    "system_fixed",
    "system",
    "utility",
    "browser",
    "same_scope",
    "shadow",
    "prefix",
    "swallows_text",
    "takes_caret",
    "out_of_reach",
    "awkward",
    "protected",
    "cannot",
    "duplicate",
    "orphan",
    "input_method",
    "remote",
    "menu_letter",
    "goes_first",
    "recycled",
    "abbreviation",
]


class Begins(NamedTuple):
    """How a program goes on after a press that is a whole shortcut and begins a longer one: the short one runs, it waits for
    the long one, or the short one runs after a pause of so many milliseconds."""

    goes_on: Literal["short", "long", "pause"]
    pause: int = 0


CLASH_KINDS: tuple[ClashKind, ...] = get_args(ClashKind)


@dataclass(slots=True, eq=False)
class Clash:
    """`loser` doesn't get the press, `holder` does. Not frozen, since setups have thousands of them; nobody changes one.

    Where a shortcut takes text or a caret movement, people lose it: `loser` is None and `text` says what they lose. Where a
    shortcut can't be had at all, nobody holds it. `also` are others at the holder's station that would take the press
    too. `focus` is the program and scope in which it can be seen. `meant`: the maker of the program meant it.
    `why`: what is wrong with a shortcut by itself, in words. `begins`: of a prefix, how its program goes on. `accent`: what
    people lose is the beginning of an accent.
    """

    kind: ClashKind
    severity: Severity
    platform: Platform
    stroke: Stroke | None
    holder: Binding | None
    loser: Binding | None
    station: Station | None
    text: str = ""
    spellings_meet: bool = False
    why: str = ""
    begins: Begins | None = None
    accent: bool = False
    also: tuple[Binding, ...] = ()
    focus: tuple[str, str] | None = None
    meant: bool = False
    _identity: str = ""

    @property
    def identity(self) -> str:
        """16 hexadecimal digits of SHA-256 over kind, platform and the participants with their shortcuts as written, unordered.

        Never from version, layer, severity, setup or who holds it: so a decision sticks to its clash.
        """
        if not self._identity:
            participants = [b.participant for b in (self.holder, self.loser, *self.also) if b is not None]
            participants.sort()
            text = "\n".join((self.kind, self.platform, *participants))
            self._identity = hashlib.sha256(text.encode()).hexdigest()[:16]
        return self._identity

    @property
    def subject(self) -> Binding:
        """The binding that the specialist would move first: the one that loses, or the one that takes what people need."""
        binding = self.holder if self.kind in ("browser", "recycled") and self.station == "program" else self.loser
        binding = binding or self.holder
        assert binding is not None
        return binding

    @property
    def may_be_meant(self) -> bool:
        """Whether the maker of a program can have meant it: only that program's own defaults are in it."""
        program = self.subject.program
        return program.kind not in ("system", "utility") and all(
            b.program is program and b.layer == DEFAULT for b in self.parties
        )

    @property
    def parties(self) -> tuple[Binding, ...]:
        """Everybody who is in it: holder, loser, and the others at the holder's station."""
        return tuple(b for b in (self.holder, self.loser, *self.also) if b is not None)
