"""What a program can't take, judged by stroke: a refused press in another spelling is refused too, and so is a sequence with
one in it."""

from collections.abc import Iterator
from functools import lru_cache

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Keyboard, Way, ways_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.strokes import Reading
from amberkey.core.layouts.typing import types
from amberkey.core.programs.model import Program

_SHIFT = frozenset({"Shift"})


def why_not(program: Program, shortcut: Shortcut, keyboard: Keyboard) -> str:
    """Why a program can't take a shortcut on a keyboard, in words; empty where it can, or where no stroke makes it."""
    limits = program.limits
    too_long = limits.too_long(shortcut)
    if too_long:
        return too_long
    if limits.bare_keys and not limits.refuses:
        return ""
    reads = program.reads_on(keyboard.layout.platform)
    ways = ways_of(shortcut, keyboard, reads, program.pad_counts).ways
    for refused in limits.refuses:
        resolved = refused.resolve(keyboard.layout.platform)
        if any(_within(r, w) for r in _ways(resolved, keyboard, reads, program.pad_counts) for w in ways):
            return f"it refuses {resolved}" + ("" if resolved == shortcut else f", which is in {shortcut} on this keyboard")
    if not limits.bare_keys and any(is_bare(way[0], keyboard) for way in ways):
        return "it takes no letter, digit or sign without a modifier"
    return ""


@lru_cache(maxsize=4096)
def _ways(shortcut: Shortcut, keyboard: Keyboard, reads: Reading, pad: bool) -> tuple[Way, ...]:
    return ways_of(shortcut, keyboard, reads, pad).ways


def _within(part: Way, whole: Way) -> bool:
    """Whether some presses in a row are those of the part."""
    return any(whole[n : n + len(part)] == part for n in range(len(whole) - len(part) + 1))


def is_bare(stroke: Stroke, keyboard: Keyboard) -> bool:
    """Whether a stroke is a letter, a digit or a sign that nothing but Shift is held with."""
    if stroke.code is None or stroke.modifiers - _SHIFT:
        return False
    typed = types(stroke, keyboard.layout, keyboard.numlock)
    return typed is not None and not typed.text.isspace()


def refusals(program: Program, shortcuts: tuple[Shortcut, ...], keyboard: Keyboard) -> Iterator[str]:
    """For each of the shortcuts of one command why the program can't take it, or the empty text."""
    most = program.limits.shortcuts_per_command
    for n, shortcut in enumerate(shortcuts):
        why = why_not(program, shortcut, keyboard)
        if not why and n >= most:
            why = f"it takes at most {most} shortcut{'s' if most > 1 else ''} for a command"
        yield why
