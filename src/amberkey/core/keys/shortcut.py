"""Press and Shortcut: the values that everything else passes around.

Named tuples, as they are looked up by the ten thousand: they are hashed and compared without running Python code.
"""

from collections.abc import Iterable
from functools import lru_cache
from typing import NamedTuple

from amberkey.core.keys.platform import MAIN, ORDER, SIDE, SIDES, Platform


@lru_cache(maxsize=4096)
def _in_order(modifiers: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(sorted(set(modifiers), key=ORDER.__getitem__))


class Press(NamedTuple):
    """Modifiers held plus one key, named by what it types (`key`) or by where it is (`code`).

    With neither, the modifiers themselves are tapped. `modifiers` is in canonical order.
    """

    modifiers: tuple[str, ...]
    key: str | None = None
    code: str | None = None

    @classmethod
    def of(cls, modifiers: Iterable[str], key: str | None = None, code: str | None = None) -> "Press":
        """A press with its modifiers put into order. Either a key value or a W3C code, or neither for modifiers alone."""
        return cls(_in_order(tuple(modifiers)), key, code)

    @property
    def is_tap(self) -> bool:
        """Whether modifiers alone are tapped."""
        return self.key is None and self.code is None

    def __str__(self) -> str:
        last = "Plus" if self.key == "+" else self.key
        if self.code is not None:
            last = f"code:{self.code}"
        return "+".join((*self.modifiers, last) if last is not None else self.modifiers)

    def resolve(self, platform: Platform) -> "Press":
        """`Main` and `Side` turned into the platform's own modifiers."""
        if not self.modifiers or self.modifiers[0] not in ("Main", "Side"):
            return self
        real = {"Main": MAIN[platform], "Side": SIDE}
        return Press.of((real.get(m, m) for m in self.modifiers), self.key, self.code)


class Shortcut(NamedTuple):
    """One press, or several in a row."""

    presses: tuple[Press, ...]

    def __str__(self) -> str:
        return " then ".join(map(str, self.presses))

    def resolve(self, platform: Platform) -> "Shortcut":
        """The shortcut with `Main` and `Side` turned into a platform's own modifiers."""
        presses = tuple([p.resolve(platform) for p in self.presses])
        return self if presses == self.presses else Shortcut(presses)

    def to_document(self) -> str | list[str]:
        """The form in documents: a list of presses; a single press is a plain string."""
        texts = [str(p) for p in self.presses]
        return texts[0] if len(texts) == 1 else texts


def sided_in(shortcuts: Iterable[Shortcut]) -> frozenset[Press]:
    """The presses of some shortcuts that say of a modifier which of its two keys is held."""
    return frozenset(p for s in shortcuts for p in s.presses if p.modifiers and not SIDES.keys().isdisjoint(p.modifiers))
