"""Keyboard bodies: which keys there are and where they lie, in key widths from the top left corner.

Positions follow ISO/IEC 9995-2 and the common staggered rows: the number row starts at 0, the rows below it are shifted by
1.5, 1.75 and 2.25 (ISO: 1.25 and an extra key) key widths.
"""

from dataclasses import dataclass
from functools import cache

from amberkey.core.layouts.errors import UnknownBody


@dataclass(frozen=True, slots=True)
class Key:
    """One key. `below` is the second, narrower part of an ISO Enter: (x, width) in the row beneath."""

    code: str
    x: float
    y: float
    w: float = 1.0
    below: tuple[float, float] | None = None


@dataclass(frozen=True)
class Body:
    id: str
    name: str
    keys: tuple[Key, ...]
    width: float
    rows: int

    def key(self, code: str) -> Key | None:
        return next((k for k in self.keys if k.code == code), None)


_NUMBERS = ("Backquote", *(f"Digit{n}" for n in (1, 2, 3, 4, 5, 6, 7, 8, 9, 0)), "Minus", "Equal")
_TOP = (*(f"Key{c}" for c in "QWERTYUIOP"), "BracketLeft", "BracketRight")
_HOME = (*(f"Key{c}" for c in "ASDFGHJKL"), "Semicolon", "Quote")
_BOTTOM = (*(f"Key{c}" for c in "ZXCVBNM"), "Comma", "Period", "Slash")
_NAVIGATION = (
    *(("Insert", 0, 1), ("Home", 1, 1), ("PageUp", 2, 1), ("Delete", 0, 2), ("End", 1, 2), ("PageDown", 2, 2)),
    *(("ArrowUp", 1, 4), ("ArrowLeft", 0, 5), ("ArrowDown", 1, 5), ("ArrowRight", 2, 5)),
)
_PAD = (
    *(("NumLock", 0, 1, 1), ("NumpadDivide", 1, 1, 1), ("NumpadMultiply", 2, 1, 1), ("NumpadSubtract", 3, 1, 1)),
    *(("Numpad7", 0, 2, 1), ("Numpad8", 1, 2, 1), ("Numpad9", 2, 2, 1), ("NumpadAdd", 3, 2, 1)),
    *(("Numpad4", 0, 3, 1), ("Numpad5", 1, 3, 1), ("Numpad6", 2, 3, 1)),
    *(("Numpad1", 0, 4, 1), ("Numpad2", 1, 4, 1), ("Numpad3", 2, 4, 1), ("NumpadEnter", 3, 4, 1)),
    *(("Numpad0", 0, 5, 2), ("NumpadDecimal", 2, 5, 1)),
)


def _functions(gap: float) -> list[Key]:
    keys = [Key("Escape", 0, 0)]
    for n in range(12):
        keys.append(Key(f"F{n + 1}", 2 + n + gap * (n // 4), 0))
    return keys


def _row(codes: tuple[str, ...], x: float, y: float) -> list[Key]:
    return [Key(code, x + n, y) for n, code in enumerate(codes)]


def _bottom_row(names: tuple[tuple[str, float], ...]) -> list[Key]:
    keys, x = [], 0.0
    for code, w in names:
        keys.append(Key(code, x, 5, w))
        x += w
    return keys


_PC_BOTTOM = (
    *(("ControlLeft", 1.25), ("MetaLeft", 1.25), ("AltLeft", 1.25), ("Space", 6.25)),
    *(("AltRight", 1.25), ("MetaRight", 1.25), ("ContextMenu", 1.25), ("ControlRight", 1.25)),
)
_MAC_BOTTOM = (
    *(("ControlLeft", 1.5), ("AltLeft", 1.25), ("MetaLeft", 1.5), ("Space", 6.5)),
    *(("MetaRight", 1.5), ("AltRight", 1.25), ("ControlRight", 1.5)),
)


def _main(iso: bool, bottom: tuple[tuple[str, float], ...]) -> list[Key]:
    keys = [*_row(_NUMBERS, 0, 1), Key("Backspace", 13, 1, 2)]
    keys += [Key("Tab", 0, 2, 1.5), *_row(_TOP, 1.5, 2)]
    keys += [Key("CapsLock", 0, 3, 1.75), *_row(_HOME, 1.75, 3)]
    if iso:
        keys += [Key("Enter", 13.5, 2, 1.5, below=(13.75, 1.25)), Key("Backslash", 12.75, 3)]
        keys += [Key("ShiftLeft", 0, 4, 1.25), Key("IntlBackslash", 1.25, 4)]
    else:
        keys += [Key("Backslash", 13.5, 2, 1.5), Key("Enter", 12.75, 3, 2.25)]
        keys += [Key("ShiftLeft", 0, 4, 2.25)]
    keys += [*_row(_BOTTOM, 2.25, 4), Key("ShiftRight", 12.25, 4, 2.75), *_bottom_row(bottom)]
    return keys


def _body(body_id: str, name: str, *, iso: bool, mac: bool = False, pad: bool = True) -> Body:
    keys = [*_functions(0.33), *_main(iso, _MAC_BOTTOM if mac else _PC_BOTTOM)]
    # A Mac board has Fn where others have Insert; no program hears it.
    keys += [Key(code, 15.25 + x, y) for code, x, y in _NAVIGATION if not (mac and code == "Insert")]
    top = ("F13", "F14", "F15") if mac else ("PrintScreen", "ScrollLock", "Pause")
    keys += _row(top, 15.25, 0)
    if pad:
        keys += [Key(code, 18.5 + x, y, w) for code, x, y, w in _PAD]
    return Body(body_id, name, tuple(keys), 22.5 if pad else 18.25, 6)


@cache
def _bodies() -> dict[str, Body]:
    made = (
        _body("iso", "ISO, with numeric pad", iso=True),
        _body("iso-no-pad", "ISO, no numeric pad", iso=True, pad=False),
        _body("ansi", "ANSI, with numeric pad", iso=False),
        _body("ansi-no-pad", "ANSI, no numeric pad", iso=False, pad=False),
        _body("mac-ansi", "Mac ANSI, with numeric pad", iso=False, mac=True),
    )
    return {b.id: b for b in made}


def body_ids() -> tuple[str, ...]:
    return tuple(_bodies())


def load_body(body_id: str) -> Body:
    """Raises UnknownBody."""
    try:
        return _bodies()[body_id]
    except KeyError:
        raise UnknownBody(body_id, body_ids()) from None
