"""Derives core/layouts/data/layouts.json from Debian's xkb-data and the recorded third and fourth levels.

Needs Debian's libxkbcommon0 and xkb-data; run it again when a layout is added or a fact is corrected.

    python tools/derive_layouts.py
"""

import csv
import json
import pathlib
import sys

ROOT = pathlib.Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tools.xkb import CODES, Keymap

TARGET = ROOT / "src/amberkey/core/layouts/data/layouts.json"

PC, MAC = ("windows", "linux"), ("macos",)
# our id: (xkb layout, xkb variant, name for people, language of the caps, currency, letters beyond a-z, platforms)
LAYOUTS = {
    "us": ("us", "", "US", "en", "$", "", PC),
    "us(intl)": ("us", "intl", "US International", "en", "$", "", PC),
    "gb": ("gb", "", "British", "en", "£", "", PC),
    "de": ("de", "", "German", "de", "€", "äöüß", PC),
    "fr(azerty)": ("fr", "azerty", "French", "fr", "€", "àâæçéèêëîïôœùûüÿ", PC),
    "se": ("se", "", "Swedish", "sv", "", "åäö", PC),
    "ch": ("ch", "", "Swiss German", "de", "", "äöüàçéè", PC),
    "ch(fr)": ("ch", "fr", "Swiss French", "fr", "", "àâäçéèêëîïôöùûü", PC),
    "es": ("es", "", "Spanish", "es", "€", "áéíñóúü", PC),
    "it": ("it", "", "Italian", "it", "€", "àèéìòù", PC),
    "pl": ("pl", "", "Polish", "pl", "", "ąćęłńóśźż", PC),
    "dk": ("dk", "", "Danish", "da", "", "æøå", PC),
    "no": ("no", "", "Norwegian", "nb", "", "æøå", PC),
    "pt": ("pt", "", "Portuguese", "pt", "€", "áàâãçéêíóôõú", PC),
    "nl": ("nl", "", "Dutch", "nl", "€", "éèëïöü", PC),
    "be": ("be", "", "Belgian", "fr", "€", "àâçéèêëîïôùûü", PC),
    "cz": ("cz", "", "Czech", "cs", "", "áčďéěíňóřšťúůýž", PC),
    "jp": ("jp", "", "Japanese", "ja", "¥", "", PC),
    "ca": ("ca", "", "Canadian French", "fr", "$", "àâçéèêëîïôùû", PC),
    "us(mac)": ("us", "mac", "US (Mac)", "en", "$", "", MAC),
    "gb(mac)": ("gb", "mac", "British (Mac)", "en", "£", "", MAC),
    "de(mac)": ("de", "mac", "German (Mac)", "de", "€", "äöüß", MAC),
    "fr(mac)": ("fr", "mac", "French (Mac)", "fr", "€", "àâæçéèêëîïôœùûüÿ", MAC),
    "se(mac)": ("se", "mac", "Swedish (Mac)", "sv", "", "åäö", MAC),
}
# Windows layouts without a recording that have a near relative with one; the other unrecorded ones keep of XKB's third and
# fourth level what people surely have there: ASCII, letters of the language, the currency.
RELATIVES = {"ch(fr)": "ch"}
NO_ALTGR_ON_WINDOWS = {"us", "jp"}

# What the pad's decimal key types where Windows and XKB differ.
WINDOWS_DECIMAL = {"fr(azerty)": ".", "ch": ".", "ch(fr)": ".", "be": "."}
NO_INTL_BACKSLASH = {"us", "us(mac)", "jp"}  # their bodies (ANSI, Mac ANSI, JIS) lack that key
LEVELS = ("plain", "shift", "altgr", "shift+altgr")
SPACING = {
    "dead_circumflex": "^", "dead_acute": "´", "dead_grave": "`", "dead_diaeresis": "¨", "dead_tilde": "~", "dead_cedilla": "¸",
    "dead_abovering": "°", "dead_caron": "ˇ", "dead_breve": "˘", "dead_doubleacute": "˝", "dead_ogonek": "˛",
    "dead_abovedot": "˙", "dead_macron": "¯", "dead_stroke": "/", "dead_belowdot": "̣", "dead_hook": "̉", "dead_horn": "̛",
    "dead_greek": "µ", "dead_doublegrave": "̏", "dead_invertedbreve": "̑", "dead_belowcomma": "̦", "dead_belowmacron": "ˍ",
}  # fmt: skip


HELD = (frozenset(), frozenset({"Shift"}), frozenset({"AltGraph"}), frozenset({"Shift", "AltGraph"}))


def level(keymap, key, number):
    """(text, dead) or None, as XKB's own state machine answers the press."""
    if number >= 2 and not keymap.has_altgr:
        return None
    name, text = keymap.press(key, HELD[number])
    if name.startswith("dead_"):
        return (SPACING.get(name, name.removeprefix("dead_")), True)
    return (text, False) if text else None


def derived(keymap):
    """{code: four of (text, dead) or None} as XKB has them."""
    return {code: [level(keymap, name, n) for n in range(4)] for name, code in CODES.items()}


def rows_of(name):
    with (ROOT / "tools/layout_facts" / name).open(encoding="utf-8", newline="") as file:
        yield from csv.DictReader(file)


def written(value, source):
    """One level in the data file: the letter of its source (upper case where it is dead), then the text."""
    if value is None or not value[0]:
        return None
    return (source.upper() if value[1] else source) + value[0]


def trim(levels):
    levels = list(levels)
    while levels and levels[-1] is None:
        levels.pop()
    return levels


def third_and_fourth(ours, platform, keys, recorded):
    """What the third and fourth level really type on Windows and macOS, where that differs from XKB; None where it doesn't."""
    if platform == "linux":
        return None
    if platform == "windows" and ours in NO_ALTGR_ON_WINDOWS:
        return {}
    source = "r" if (ours, platform) in recorded else "l"
    rows = recorded.get((ours, platform)) or recorded.get((RELATIVES.get(ours), platform))
    if rows is not None:
        found = {}
        for code, pair in rows.items():
            # Windows recordings don't say what is dead; XKB does, for the same sign on the same key.
            dead = {v[0] for v in keys.get(code, [])[2:] if v and v[1]} if platform == "windows" else set()
            found[code] = trim(written((v[0], v[1] or v[0] in dead), source) if v else None for v in pair)
        return found
    _, _, _, _, currency, letters, _ = LAYOUTS[ours]
    keep = {chr(n) for n in range(33, 127)} | {c for x in letters for c in (x, x.upper())} | {currency}
    found = {}
    for code, levels in keys.items():
        # Where XKB has no third level, AltGr changes nothing there; on the other platforms it then types nothing.
        pair = [v if v and v not in levels[:2] and (platform == "macos" or v[0] in keep) else None for v in levels[2:]]
        if any(pair):
            found[code] = trim(written(v, "l") for v in pair)
    return found


def first_and_second(ours, exceptions):
    """{code: {level number: level}} where Windows differs from XKB, null where a key types nothing there."""
    found = {}
    for row in exceptions:
        if row["layout"] == ours:
            found.setdefault(row["code"], {})[str(LEVELS.index(row["level"]))] = written(
                (row["text"], row["dead"] == "dead"), "r"
            )
    return found


def main():
    recorded = {}
    for row in rows_of("altgr_levels.csv"):
        at = recorded.setdefault((row["layout"], row["platform"]), {}).setdefault(row["code"], [None, None])
        at[row["level"] == "shift+altgr"] = (row["text"], bool(row["dead"]))
    exceptions = list(rows_of("windows_exceptions.csv"))
    layouts = {}
    for ours, (layout, variant, name, language, currency, letters, platforms) in LAYOUTS.items():
        keymap = Keymap(layout, variant)
        keys = {c: v for c, v in derived(keymap).items() if any(v)}
        if ours in NO_INTL_BACKSLASH:
            keys.pop("IntlBackslash", None)
        overlays = {p: third_and_fourth(ours, p, keys, recorded) for p in platforms}
        layouts[ours] = {
            "name": name, "language": language, "currency": currency, "letters": letters, "platforms": platforms,
            "decimal": WINDOWS_DECIMAL.get(ours) or keymap.level("KPDL", 1)[1],
            "keys": {c: trim(written(v, "d") for v in levels) for c, levels in keys.items()},
            "third_and_fourth": {p: o for p, o in overlays.items() if o is not None},
            "windows_exceptions": first_and_second(ours, exceptions),
        }  # fmt: skip
    text = json.dumps({"layouts": layouts}, ensure_ascii=False, separators=(",", ":"))
    TARGET.write_text(text + "\n", encoding="utf-8")
    print(f"{TARGET.relative_to(ROOT)}: {len(layouts)} layouts, {len(text.encode()) / 1024:.0f} kB")


if __name__ == "__main__":
    main()
