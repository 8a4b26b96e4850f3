"""The few calls of libxkbcommon (Debian's libxkbcommon0 and xkb-data) that layouts are derived and checked with.

Through ctypes, so that neither deriving nor testing needs a compiler: the binding on the package index comes as source only.
"""

import ctypes
import ctypes.util
import unicodedata
from ctypes import POINTER, byref, c_char_p, c_int, c_size_t, c_uint32, c_void_p

# XKB key names of the writing keys, as W3C codes.
CODES = {
    "TLDE": "Backquote", **{f"AE{n:02}": f"Digit{n % 10}" for n in range(1, 11)}, "AE11": "Minus", "AE12": "Equal",
    **{f"AD{n:02}": f"Key{c}" for n, c in enumerate("QWERTYUIOP", 1)}, "AD11": "BracketLeft", "AD12": "BracketRight",
    **{f"AC{n:02}": f"Key{c}" for n, c in enumerate("ASDFGHJKL", 1)}, "AC10": "Semicolon", "AC11": "Quote", "BKSL": "Backslash",
    "LSGT": "IntlBackslash", **{f"AB{n:02}": f"Key{c}" for n, c in enumerate("ZXCVBNM", 1)},
    "AB08": "Comma", "AB09": "Period", "AB10": "Slash", "AE13": "IntlYen", "AB11": "IntlRo", "SPCE": "Space",
}  # fmt: skip
_HELD = {"Shift": "LFSH", "Control": "LCTL", "Alt": "LALT", "Meta": "LWIN", "AltGraph": "RALT", "NumLock": "NMLK"}
_DOWN, _UP = 1, 0


class _Names(ctypes.Structure):
    _fields_ = [(name, c_char_p) for name in ("rules", "model", "layout", "variant", "options")]


def _library() -> ctypes.CDLL:
    lib = ctypes.CDLL("libxkbcommon.so.0")
    for name, result, arguments in (
        ("xkb_context_new", c_void_p, [c_int]),
        ("xkb_keymap_new_from_names", c_void_p, [c_void_p, POINTER(_Names), c_int]),
        ("xkb_keymap_key_by_name", c_uint32, [c_void_p, c_char_p]),
        ("xkb_keymap_num_levels_for_key", c_uint32, [c_void_p, c_uint32, c_uint32]),
        ("xkb_keymap_key_get_syms_by_level", c_int, [c_void_p, c_uint32, c_uint32, c_uint32, POINTER(POINTER(c_uint32))]),
        ("xkb_keysym_get_name", c_int, [c_uint32, c_char_p, c_size_t]),
        ("xkb_keysym_to_utf8", c_int, [c_uint32, c_char_p, c_size_t]),
        ("xkb_state_new", c_void_p, [c_void_p]),
        ("xkb_state_unref", None, [c_void_p]),
        ("xkb_state_update_key", c_int, [c_void_p, c_uint32, c_int]),
        ("xkb_state_key_get_utf8", c_int, [c_void_p, c_uint32, c_char_p, c_size_t]),
        ("xkb_state_key_get_one_sym", c_uint32, [c_void_p, c_uint32]),
    ):
        call = getattr(lib, name)
        call.restype, call.argtypes = result, arguments
    return lib


class Keymap:
    """A layout as XKB has it. Raises LookupError for one that it doesn't know."""

    def __init__(self, layout: str, variant: str = "") -> None:
        self._lib = _library()
        self._context = self._lib.xkb_context_new(0)
        names = _Names(b"evdev", b"pc105", layout.encode(), variant.encode(), b"")
        self._map = self._lib.xkb_keymap_new_from_names(self._context, byref(names), 0)
        if not self._map:
            raise LookupError(f"XKB has no layout {layout}({variant})")

    def level(self, key: str, number: int) -> tuple[str, str] | None:
        """(name of the key symbol, text that it types or "") on a level of an XKB key."""
        code = self._lib.xkb_keymap_key_by_name(self._map, key.encode())
        if number >= self._lib.xkb_keymap_num_levels_for_key(self._map, code, 0):
            return None
        found = POINTER(c_uint32)()
        if self._lib.xkb_keymap_key_get_syms_by_level(self._map, code, 0, number, byref(found)) < 1:
            return None
        return self._named(found[0])

    @property
    def has_altgr(self) -> bool:
        """Whether the right Alt key reaches the third level."""
        found = self.level("RALT", 0)
        return found is not None and found[0] == "ISO_Level3_Shift"

    def press(self, key: str, held: frozenset[str] = frozenset()) -> tuple[str, str]:
        """(name of the symbol, text) that pressing an XKB key brings with modifiers held, by XKB's own state machine."""
        state = self._lib.xkb_state_new(self._map)
        try:
            for name in sorted(held, reverse=True):
                code = self._lib.xkb_keymap_key_by_name(self._map, _HELD[name].encode())
                self._lib.xkb_state_update_key(state, code, _DOWN)
                if name == "NumLock":
                    self._lib.xkb_state_update_key(state, code, _UP)
            code = self._lib.xkb_keymap_key_by_name(self._map, key.encode())
            return self._named(self._lib.xkb_state_key_get_one_sym(state, code))
        finally:
            self._lib.xkb_state_unref(state)

    def _named(self, symbol: int) -> tuple[str, str]:
        name, text = ctypes.create_string_buffer(64), ctypes.create_string_buffer(16)
        self._lib.xkb_keysym_get_name(symbol, name, 64)
        written = self._lib.xkb_keysym_to_utf8(symbol, text, 16)
        shown = text.value.decode() if written > 0 else ""
        blank = len(shown) == 1 and unicodedata.category(shown) == "Zs"
        return name.value.decode(), shown if shown.isprintable() or blank else ""
