"""Press and Shortcut: the values that everything else passes around."""

from collections.abc import Iterable
from dataclasses import dataclass

from amberkey.core.keys.platform import MAIN, ORDER, SIDE, Platform


@dataclass(frozen=True, slots=True)
class Press:
    """Modifiers held plus one key, named by what it types (`key`) or by where it is (`code`).

    With neither, the modifiers themselves are tapped. `modifiers` is in canonical order.
    """

    modifiers: tuple[str, ...]
    key: str | None = None
    code: str | None = None

    @classmethod
    def of(cls, modifiers: Iterable[str], key: str | None = None, code: str | None = None) -> "Press":
        return cls(tuple(sorted(set(modifiers), key=ORDER.__getitem__)), key, code)

    @property
    def is_tap(self) -> bool:
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


@dataclass(frozen=True, slots=True)
class Shortcut:
    """One press, or several in a row."""

    presses: tuple[Press, ...]

    def __str__(self) -> str:
        return " then ".join(map(str, self.presses))

    def resolve(self, platform: Platform) -> "Shortcut":
        return Shortcut(tuple(p.resolve(platform) for p in self.presses))

    def to_document(self) -> str | list[str]:
        """The form in documents: a list of presses; a single press is a plain string."""
        texts = [str(p) for p in self.presses]
        return texts[0] if len(texts) == 1 else texts
