"""Derives core/layouts/data/layouts.json from Debian's xkb-data and the recorded third and fourth levels.

Needs `pip install xkbcommon` (with Debian's libxkbcommon-dev, libffi-dev and gcc); run it again only when a layout is added.

    python tools/derive_layouts.py
"""

import csv
import json
import pathlib

from xkbcommon import xkb

ROOT = pathlib.Path(__file__).resolve().parent.parent
TARGET = ROOT / "src/amberkey/core/layouts/data/layouts.json"

# our id: (xkb layout, xkb variant, name for people, language of the caps, currency, letters beyond a-z, platforms)
LAYOUTS = {
    "us": ("us", "", "US", "en", "$", "", ["windows", "linux"]),
    "de": ("de", "", "German", "de", "€", "äöüß", ["windows", "linux"]),
    "us(mac)": ("us", "mac", "US (Mac)", "en", "$", "", ["macos"]),
}

# XKB key names of the writing keys, as W3C codes.
CODES = {
    "TLDE": "Backquote", **{f"AE{n:02}": f"Digit{n % 10}" for n in range(1, 11)}, "AE11": "Minus", "AE12": "Equal",
    **{f"AD{n:02}": f"Key{c}" for n, c in enumerate("QWERTYUIOP", 1)}, "AD11": "BracketLeft", "AD12": "BracketRight",
    **{f"AC{n:02}": f"Key{c}" for n, c in enumerate("ASDFGHJKL", 1)}, "AC10": "Semicolon", "AC11": "Quote", "BKSL": "Backslash",
    "LSGT": "IntlBackslash", **{f"AB{n:02}": f"Key{c}" for n, c in enumerate("ZXCVBNM", 1)},
    "AB08": "Comma", "AB09": "Period", "AB10": "Slash",
}  # fmt: skip
NO_INTL_BACKSLASH = {"us", "us(mac)"}  # their bodies (ANSI, Mac ANSI) lack that key
SPACING = {
    "dead_circumflex": "^", "dead_acute": "´", "dead_grave": "`", "dead_diaeresis": "¨", "dead_tilde": "~", "dead_cedilla": "¸",
    "dead_abovering": "°", "dead_caron": "ˇ", "dead_breve": "˘", "dead_doubleacute": "˝", "dead_ogonek": "˛",
    "dead_abovedot": "˙", "dead_macron": "¯", "dead_stroke": "/", "dead_belowdot": "̣", "dead_hook": "̉", "dead_horn": "̛",
    "dead_greek": "µ", "dead_doublegrave": "̏", "dead_invertedbreve": "̑", "dead_belowcomma": "̦", "dead_belowmacron": "ˍ",
}  # fmt: skip


def level(keymap, keycode, number):
    """[text, source letter, dead?] or None."""
    if number >= keymap.num_levels_for_key(keycode, 0):
        return None
    syms = keymap.key_get_syms_by_level(keycode, 0, number)
    if not syms:
        return None
    name = xkb.keysym_get_name(syms[0])
    if name.startswith("dead_"):
        return [SPACING.get(name, name.removeprefix("dead_")), "d", 1]
    try:
        text = xkb.keysym_to_string(syms[0])
    except xkb.XKBInvalidKeysym:
        text = None
    return [text, "d"] if text and text.isprintable() else None


def trim(levels):
    while levels and levels[-1] is None:
        levels.pop()
    return levels


def main():
    recorded = {}
    with (ROOT / "tools/layout_facts/altgr_levels.csv").open(encoding="utf-8", newline="") as file:
        for row in csv.DictReader(file):
            at = recorded.setdefault((row["layout"], row["platform"]), {}).setdefault(row["code"], [None, None])
            at[row["level"] == "shift+altgr"] = [row["text"], "r", 1] if row["dead"] else [row["text"], "r"]
    layouts = {}
    for ours, (layout, variant, name, language, currency, letters, platforms) in LAYOUTS.items():
        keymap = xkb.Context().keymap_new_from_names(rules="evdev", model="pc105", layout=layout, variant=variant)
        by_name = {name: keymap.key_by_name(name) for name in CODES}
        keys = {}
        for xkb_name, code in CODES.items():
            if code == "IntlBackslash" and ours in NO_INTL_BACKSLASH:
                continue
            levels = trim([level(keymap, by_name[xkb_name], n) for n in range(4)])
            if levels:
                keys[code] = levels
        keys["Space"] = [[" ", "d"], [" ", "d"]]
        overlays = {}
        for platform in platforms:
            rows = recorded.get((ours, platform))
            if platform == "windows" or rows is not None:
                overlays[platform] = {c: trim(v) for c, v in (rows or {}).items() if c in keys}
        layouts[ours] = {
            "name": name, "language": language, "currency": currency, "letters": letters,
            "platforms": platforms, "keys": keys, "third_and_fourth": overlays,
        }  # fmt: skip
    text = json.dumps({"layouts": layouts}, ensure_ascii=False, separators=(",", ":"), sort_keys=True)
    TARGET.write_text(text + "\n", encoding="utf-8")
    print(f"{TARGET.relative_to(ROOT)}: {len(layouts)} layouts, {len(text.encode()) / 1024:.0f} kB")


if __name__ == "__main__":
    main()
