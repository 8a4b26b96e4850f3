"""What keys are called in the named tables that programs write into their files.

`w3c`: `key` values of UI Events (W3C, 2024). `x11`: names of keysyms (X11, keysymdef.h). Numbers: `hid` usages of the keyboard
page (USB HID Usage Tables 1.5, section 10), `vk` virtual keys (Windows, winuser.h), `evdev` key codes (Linux,
input-event-codes.h). `hid` and `evdev` number places: a letter or sign stands for the place that it has on a US keyboard.
"""

from collections.abc import Mapping
from functools import cache
from typing import Literal, get_args

Table = Literal["w3c", "x11", "hid", "vk", "evdev"]
TABLES: tuple[Table, ...] = get_args(Table)
_COLUMNS: tuple[Table, ...] = ("x11", "hid", "vk", "evdev")
# Ours, x11, hid, vk, evdev; - where the table has none.
_ROWS = """
Enter Return 40 13 28
Tab Tab 43 9 15
Space space 44 32 57
Escape Escape 41 27 1
Backspace BackSpace 42 8 14
Delete Delete 76 46 111
Insert Insert 73 45 110
Home Home 74 36 102
End End 77 35 107
PageUp Page_Up 75 33 104
PageDown Page_Down 78 34 109
ArrowLeft Left 80 37 105
ArrowRight Right 79 39 106
ArrowUp Up 82 38 103
ArrowDown Down 81 40 108
CapsLock Caps_Lock 57 20 58
NumLock Num_Lock 83 144 69
ScrollLock Scroll_Lock 71 145 70
PrintScreen Print 70 44 99
Pause Pause 72 19 119
ContextMenu Menu 101 93 127
AudioVolumeMute XF86AudioMute 127 173 113
AudioVolumeDown XF86AudioLowerVolume 129 174 114
AudioVolumeUp XF86AudioRaiseVolume 128 175 115
- minus 45 189 12
= equal 46 187 13
[ bracketleft 47 219 26
] bracketright 48 221 27
\\ backslash 49 220 43
; semicolon 51 186 39
' apostrophe 52 222 40
` grave 53 192 41
, comma 54 188 51
. period 55 190 52
/ slash 56 191 53
+ plus - - -
# numbersign - - -
? question - - -
! exclam - - -
" quotedbl - - -
$ dollar - - -
% percent - - -
& ampersand - - -
( parenleft - - -
) parenright - - -
* asterisk - - -
: colon - - -
< less - - -
> greater - - -
@ at - - -
^ asciicircum - - -
_ underscore - - -
{ braceleft - - -
| bar - - -
} braceright - - -
~ asciitilde - - -
Ä adiaeresis - - -
Ö odiaeresis - - -
Ü udiaeresis - - -
Å aring - - -
É eacute - - -
È egrave - - -
À agrave - - -
Ç ccedilla - - -
ß ssharp - - -
€ EuroSign - - -
§ section - - -
code:NumpadDivide KP_Divide 84 111 98
code:NumpadMultiply KP_Multiply 85 106 55
code:NumpadSubtract KP_Subtract 86 109 74
code:NumpadAdd KP_Add 87 107 78
code:NumpadEnter KP_Enter 88 - 96
code:NumpadDecimal KP_Decimal 99 110 83
code:Numpad0 KP_0 98 96 82
code:Numpad1 KP_1 89 97 79
code:Numpad2 KP_2 90 98 80
code:Numpad3 KP_3 91 99 81
code:Numpad4 KP_4 92 100 75
code:Numpad5 KP_5 93 101 76
code:Numpad6 KP_6 94 102 77
code:Numpad7 KP_7 95 103 71
code:Numpad8 KP_8 96 104 72
code:Numpad9 KP_9 97 105 73
"""
_LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
# The three rows of letters of a US keyboard, with the number of the first place of each.
_EVDEV_ROWS = (("QWERTYUIOP", 16), ("ASDFGHJKL", 30), ("ZXCVBNM", 44))


@cache
def names_in(table: Table) -> Mapping[str, str]:
    """What each key is called in a table, by our name for it (a key value, or `code:` and a place)."""
    if table == "w3c":
        keys = [row.split()[0] for row in _ROWS.strip().splitlines()]
        found = {k: k for k in keys if not k.startswith("code:")} | {f"F{n}": f"F{n}" for n in range(1, 25)}
        return found | {c: c.lower() for c in _LETTERS} | {str(n): str(n) for n in range(10)} | {"Space": " "}
    column = _COLUMNS.index(table) + 1
    found = {row.split()[0]: row.split()[column] for row in _ROWS.strip().splitlines()}
    found = {key: name for key, name in found.items() if name != "-" or key == "-"}
    if table != "x11":
        found.pop("+", None)
    return found | _letters(table) | _digits(table) | _functions(table)


def _letters(table: Table) -> dict[str, str]:
    if table == "x11":
        return {c: c.lower() for c in _LETTERS}
    if table == "evdev":
        return {c: str(first + n) for row, first in _EVDEV_ROWS for n, c in enumerate(row)}
    first = {"hid": 4, "vk": 65}[table]
    return {c: str(first + n) for n, c in enumerate(_LETTERS)}


def _digits(table: Table) -> dict[str, str]:
    if table in ("x11", "vk"):
        return {str(n): str(n if table == "x11" else 48 + n) for n in range(10)}
    first = {"hid": 30, "evdev": 2}[table]
    return {str(n): str(first + (n - 1) % 10) for n in range(10)}


def _functions(table: Table) -> dict[str, str]:
    if table == "x11":
        return {f"F{n}": f"F{n}" for n in range(1, 25)}
    starts = {"hid": (58, 104), "vk": (112, 124), "evdev": (59, 183)}[table]
    found = {f"F{n}": str(starts[0] + n - 1 if n <= 12 else starts[1] + n - 13) for n in range(1, 25)}
    return found | ({"F11": "87", "F12": "88"} if table == "evdev" else {})


@cache
def keys_by_name(table: Table) -> Mapping[str, str]:
    """Our names by those of a table; of two keys with one name the first one listed counts."""
    found: dict[str, str] = {}
    for key, name in names_in(table).items():
        found.setdefault(name, key)
    extra = {"Prior": "PageUp", "Next": "PageDown", "ISO_Left_Tab": "Tab"} if table == "x11" else {}
    return extra | found
