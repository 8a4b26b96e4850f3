"""Taking a release back: what of a file is put back, and what somebody changed since and so stays."""

from collections.abc import Mapping
from dataclasses import dataclass

from amberkey.core.keys.shortcut import Shortcut

Entries = Mapping[str, tuple[Shortcut, ...]]


@dataclass(frozen=True, slots=True)
class PutBack:
    """`wanted`: the commands that get what they had; None: their default. `kept`: those that somebody changed since."""

    wanted: dict[str, tuple[Shortcut, ...] | None]
    kept: tuple[str, ...]


def put_back(before: Entries, wrote: Entries, now: Entries) -> PutBack:
    """What to write into a file so that what a release wrote is as it was. `before`, `wrote`: what the file said before and
    after it was written; `now`: what it says. A command that it doesn't name has its default."""
    wanted: dict[str, tuple[Shortcut, ...] | None] = {}
    kept = []
    for command in sorted({*before, *wrote}):
        was, then, has = before.get(command), wrote.get(command), now.get(command)
        if was == then or has == was:
            continue
        if has == then:
            wanted[command] = was
        else:
            kept.append(command)
    return PutBack(wanted, tuple(kept))
