"""Keyboard bodies: which keys there are and where they lie, in key widths from the top left corner.

Positions follow ISO/IEC 9995-2 and the common staggered rows: the number row starts at 0, the rows below it are shifted by
1.5, 1.75 and 2.25 (ISO: 1.25 and an extra key) key widths.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Literal

from amberkey.core.layouts.errors import UnknownBody


@dataclass(frozen=True, slots=True)
class Key:
    """One key. `below` is the second, narrower part of an ISO Enter: (x, width) in the row beneath."""

    code: str
    x: float
    y: float
    w: float = 1.0
    below: tuple[float, float] | None = None


@dataclass(frozen=True, eq=False)
class Body:
    """`fn` maps a key that has no cap of its own to the one that makes it while Fn is held; `under_fn` is what keys make then,
    and `bare` what keys of the top row make without it, where that isn't what their caps say. One object per body and state of
    its top row."""

    id: str
    name: str
    keys: tuple[Key, ...]
    width: float
    rows: int
    fn: Mapping[str, str] = field(default_factory=dict)
    under_fn: Mapping[str, str] = field(default_factory=dict)
    bare: Mapping[str, str] = field(default_factory=dict)
    fn_key: Key | None = None
    """The key Fn, where there is one. It isn't among the others: outside of macOS nothing hears it."""
    by_code: Mapping[str, Key] = field(init=False, repr=False)
    codes: frozenset[str] = field(init=False, repr=False)
    """Every key that can be made on this body."""

    def __post_init__(self) -> None:
        object.__setattr__(self, "by_code", {k.code: k for k in self.keys})
        object.__setattr__(self, "codes", frozenset((*self.by_code, *self.fn, *self.bare.values())))

    @property
    def has_fn(self) -> bool:
        """Whether it has a key Fn."""
        return self.fn_key is not None

    @property
    def has_pad(self) -> bool:
        """Whether it has a numeric pad."""
        return "Numpad0" in self.by_code

    def key(self, code: str) -> Key | None:
        """The key that is pressed for a code, the one under Fn included."""
        key = self.fn.get(code) or next((k for k, makes in self.bare.items() if makes == code), code)
        return self.by_code.get(key)

    @property
    def has_special_row(self) -> bool:
        """Whether its top row can be special keys instead of function keys."""
        return "F1" in self.under_fn


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


def _functions(groups: bool) -> list[Key]:
    """Escape and F1 to F12: in three groups with half a key between them, or in one closed row."""
    if not groups:
        return [Key("Escape", 0, 0, 1.5), *(Key(f"F{n + 1}", 1.5 + n, 0) for n in range(12))]
    return [Key("Escape", 0, 0), *(Key(f"F{n + 1}", 2 + n + 0.5 * (n // 4), 0) for n in range(12))]


def _row(codes: Iterable[str], x: float, y: float) -> list[Key]:
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
_JIS_BOTTOM = (
    *(("ControlLeft", 1.25), ("MetaLeft", 1.25), ("AltLeft", 1.25), ("NonConvert", 1.25), ("Space", 2.75)),
    *(("Convert", 1.25), ("KanaMode", 1.0), ("AltRight", 1.25), ("MetaRight", 1.25), ("ContextMenu", 1.25)),
    ("ControlRight", 1.25),
)
# A compact laptop has Fn between Control and Meta (no program hears it) and no second Meta; the arrows follow.
_LAPTOP_BOTTOM = (
    *(("ControlLeft", 1.0), ("Fn", 1.0), ("MetaLeft", 1.0), ("AltLeft", 1.25), ("Space", 5.75)),
    *(("AltRight", 1.0), ("ContextMenu", 1.0), ("ControlRight", 1.0)),
)
_MAC_BOTTOM = (
    *(("ControlLeft", 1.5), ("AltLeft", 1.25), ("MetaLeft", 1.5), ("Space", 6.5)),
    *(("MetaRight", 1.5), ("AltRight", 1.25), ("ControlRight", 1.5)),
)
# A Japanese Mac has a key to either side of Space that switches between its scripts.
_MAC_JIS_BOTTOM = (
    *(("ControlLeft", 1.5), ("AltLeft", 1.25), ("MetaLeft", 1.25), ("Lang2", 1.25), ("Space", 4.5), ("Lang1", 1.25)),
    *(("MetaRight", 1.25), ("AltRight", 1.25), ("ControlRight", 1.5)),
)
_MAC_JIS_LAPTOP_BOTTOM = (
    *(("Fn", 1.0), ("ControlLeft", 1.0), ("AltLeft", 1.0), ("MetaLeft", 1.25), ("Lang2", 1.0), ("Space", 3.75)),
    *(("Lang1", 1.0), ("MetaRight", 1.25), ("AltRight", 1.25)),
)
_JIS_LAPTOP_BOTTOM = (
    *(("ControlLeft", 1.0), ("Fn", 1.0), ("MetaLeft", 1.0), ("AltLeft", 1.0), ("NonConvert", 1.0), ("Space", 2.75)),
    *(("Convert", 1.0), ("KanaMode", 1.0), ("AltRight", 1.0), ("ContextMenu", 1.0), ("ControlRight", 1.25)),
)
_MAC_LAPTOP_BOTTOM = (
    *(("Fn", 1.0), ("ControlLeft", 1.0), ("AltLeft", 1.0), ("MetaLeft", 1.25), ("Space", 5.75)),
    *(("MetaRight", 1.25), ("AltRight", 1.25)),
)
# What the top row of a Mac does, from F1 on, where it isn't function keys (Apple Support, "Use the function keys on Mac").
_SPECIAL = (
    *("BrightnessDown", "BrightnessUp", "ShowAllWindows", "LaunchApp1", "SpeechInputToggle", "DoNotDisturbToggle"),
    *("MediaTrackPrevious", "MediaPlayPause", "MediaTrackNext", "AudioVolumeMute", "AudioVolumeDown", "AudioVolumeUp"),
)
_MAC_ROW = {f"F{n + 1}": special for n, special in enumerate(_SPECIAL)}
# What other laptops do there differs from maker to maker; no program hears it by name.
_LAPTOP_ROW = {f"F{n}": "Unidentified" for n in range(1, 13)}
_FN_NAVIGATION = {"Home": "ArrowLeft", "End": "ArrowRight", "PageUp": "ArrowUp", "PageDown": "ArrowDown"}

Shape = Literal["ansi", "iso", "jis", "abnt2"]


def _main(shape: Shape, bottom: tuple[tuple[str, float], ...], compact: bool) -> list[Key]:
    keys = _row(_NUMBERS, 0, 1)
    keys += [Key("IntlYen", 13, 1), Key("Backspace", 14, 1)] if shape == "jis" else [Key("Backspace", 13, 1, 2)]
    keys += [Key("Tab", 0, 2, 1.5), *_row(_TOP, 1.5, 2)]
    keys += [Key("CapsLock", 0, 3, 1.75), *_row(_HOME, 1.75, 3)]
    if shape == "ansi":
        keys += [Key("Backslash", 13.5, 2, 1.5), Key("Enter", 12.75, 3, 2.25)]
    else:
        keys += [Key("Enter", 13.5, 2, 1.5, below=(13.75, 1.25)), Key("Backslash", 12.75, 3)]
    wide = shape in ("ansi", "jis")
    keys += [Key("ShiftLeft", 0, 4, 2.25)] if wide else [Key("ShiftLeft", 0, 4, 1.25), Key("IntlBackslash", 1.25, 4)]
    keys += _row(_BOTTOM, 2.25, 4)
    right = 12.25
    if shape in ("jis", "abnt2"):
        keys.append(Key("IntlRo", right, 4))
        right += 1
    keys += [Key("ShiftRight", right, 4, (14 if compact else 15) - right), *_bottom_row(bottom)]
    return keys


def _body(body_id: str, name: str, shape: Shape, *, mac: bool = False, pad: bool = True) -> Body:
    jis = shape == "jis"
    bottom = (_MAC_JIS_BOTTOM if jis else _MAC_BOTTOM) if mac else _JIS_BOTTOM if jis else _PC_BOTTOM
    keys = [*_functions(groups=True), *_main(shape, bottom, compact=False)]
    # A Mac board has Fn where others have Insert; no program hears it.
    keys += [Key(code, 15.25 + x, y) for code, x, y in _NAVIGATION if not (mac and code == "Insert")]
    fn = Key("Fn", 15.25, 1) if mac else None
    top = ("F13", "F14", "F15") if mac else ("PrintScreen", "ScrollLock", "Pause")
    keys += _row(top, 15.25, 0)
    if pad:
        keys += [Key(code, 18.5 + x, y, w) for code, x, y, w in _PAD if not (mac and code == "NumLock")]
    if pad and shape == "abnt2":
        keys.append(Key("NumpadComma", 21.5, 3))
    under = {**{key: makes for makes, key in _FN_NAVIGATION.items()}, "Backspace": "Delete", **_MAC_ROW} if mac else {}
    return Body(body_id, name, tuple(keys), 22.5 if pad else 18.25, 6, under_fn=under, fn_key=fn)


def _laptop(body_id: str, name: str, shape: Shape, *, mac: bool = False) -> Body:
    """No pad, arrows at the lower right, Home, End and the page keys under Fn."""
    jis = shape == "jis"
    pc = _JIS_LAPTOP_BOTTOM if jis else _LAPTOP_BOTTOM
    bottom = (_MAC_JIS_LAPTOP_BOTTOM if jis else _MAC_LAPTOP_BOTTOM) if mac else pc
    keys = [*_functions(groups=False), *_main(shape, bottom, compact=True)]
    fn_key = next(k for k in keys if k.code == "Fn")
    keys.remove(fn_key)
    keys += [Key("ArrowUp", 14, 4), Key("ArrowLeft", 13, 5), Key("ArrowDown", 14, 5), Key("ArrowRight", 15, 5)]
    fn = {**_FN_NAVIGATION}
    if mac:
        fn["Delete"] = "Backspace"
    else:
        keys += _row(("PrintScreen", "Delete"), 13.5, 0)
        fn["Insert"] = "Delete"
    under = {**{key: makes for makes, key in fn.items()}, **(_MAC_ROW if mac else _LAPTOP_ROW)}
    return Body(body_id, name, tuple(keys), 16, 6, fn, under, fn_key=fn_key)


@cache
def _bodies() -> dict[str, Body]:
    made = (
        _body("iso", "ISO, with numeric pad", "iso"),
        _body("iso-no-pad", "ISO, no numeric pad", "iso", pad=False),
        _body("ansi", "ANSI, with numeric pad", "ansi"),
        _body("ansi-no-pad", "ANSI, no numeric pad", "ansi", pad=False),
        _body("jis", "JIS, with numeric pad", "jis"),
        _body("jis-no-pad", "JIS, no numeric pad", "jis", pad=False),
        _body("abnt2", "ABNT2, with numeric pad", "abnt2"),
        _body("abnt2-no-pad", "ABNT2, no numeric pad", "abnt2", pad=False),
        _laptop("abnt2-laptop", "ABNT2 laptop, Home and End under Fn", "abnt2"),
        _laptop("jis-laptop", "JIS laptop, Home and End under Fn", "jis"),
        _laptop("iso-laptop", "ISO laptop, Home and End under Fn", "iso"),
        _laptop("ansi-laptop", "ANSI laptop, Home and End under Fn", "ansi"),
        _body("mac-ansi", "Mac ANSI, with numeric pad", "ansi", mac=True),
        _body("mac-iso", "Mac ISO, with numeric pad", "iso", mac=True),
        _body("mac-ansi-no-pad", "Mac ANSI, no numeric pad", "ansi", mac=True, pad=False),
        _body("mac-iso-no-pad", "Mac ISO, no numeric pad", "iso", mac=True, pad=False),
        _laptop("mac-ansi-laptop", "Mac ANSI laptop, Home and End under Fn", "ansi", mac=True),
        _laptop("mac-iso-laptop", "Mac ISO laptop, Home and End under Fn", "iso", mac=True),
        _body("mac-jis", "Mac JIS, with numeric pad", "jis", mac=True),
        _body("mac-jis-no-pad", "Mac JIS, no numeric pad", "jis", mac=True, pad=False),
        _laptop("mac-jis-laptop", "Mac JIS laptop, Home and End under Fn", "jis", mac=True),
    )
    return {b.id: b for b in made}


@cache
def with_special_row(body: Body) -> Body:
    """The same body with its top row as special keys: its function keys need Fn. One without such a row stays what it is."""
    if not body.has_special_row:
        return body
    row = {key: makes for key, makes in body.under_fn.items() if key in _MAC_ROW}
    own = {key: key for key in row}
    return replace(body, fn={**body.fn, **own}, under_fn={**body.under_fn, **own}, bare=row)


def body_ids() -> tuple[str, ...]:
    """The ids of all keyboard bodies."""
    return tuple(_bodies())


def load_body(body_id: str) -> Body:
    """Raises UnknownBody."""
    try:
        return _bodies()[body_id]
    except KeyError:
        raise UnknownBody(body_id, body_ids()) from None
