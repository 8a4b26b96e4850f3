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
    "se(mac)": ("se", "", "Swedish (Mac)", "sv", "€", "åäö", MAC),
    "es(mac)": ("es", "mac", "Spanish (Mac)", "es", "€", "áéíñóúü", MAC),
    "it(mac)": ("it", "", "Italian (Mac)", "it", "€", "àèéìòù", MAC),
    "ch(mac)": ("ch", "de_mac", "Swiss German (Mac)", "de", "", "äöüàçéè", MAC),
    "dk(mac)": ("dk", "", "Danish (Mac)", "da", "", "æøå", MAC),
    "no(mac)": ("no", "", "Norwegian (Mac)", "nb", "", "æøå", MAC),
    "fi(mac)": ("fi", "classic", "Finnish (Mac)", "fi", "€", "åäö", MAC),
    "be(mac)": ("be", "", "Belgian (Mac)", "fr", "€", "àâçéèêëîïôùûü", MAC),
    "jp(mac)": ("jp", "mac", "Japanese (Mac)", "ja", "¥", "", MAC),
    "br": ("br", "", "Brazilian (ABNT2)", "pt", "", "áâãàçéêíóôõúü", PC),
    "latam": ("latam", "", "Latin American", "es", "$", "áéíñóúü", PC),
    "fi": ("fi", "", "Finnish", "fi", "€", "åäö", PC),
    "hu": ("hu", "", "Hungarian", "hu", "", "áéíóöőúüű", PC),
    "tr(q)": ("tr", "", "Turkish Q", "tr", "₺", "çğıöşü", PC),
    "tr(f)": ("tr", "f", "Turkish F", "tr", "₺", "çğıöşü", PC),
    "sk": ("sk", "", "Slovak", "sk", "€", "áäčďéíĺľňóôŕšťúýž", PC),
    "si": ("si", "", "Slovenian", "sl", "€", "čšž", PC),
    "hr": ("hr", "", "Croatian", "hr", "€", "čćđšž", PC),
    "ro": ("ro", "", "Romanian (programmers)", "ro", "", "ăâîșț", PC),
    "ro(std)": ("ro", "std", "Romanian (standard)", "ro", "", "ăâîșț", PC),
    "lt": ("lt", "", "Lithuanian", "lt", "€", "ąčęėįšųūž", PC),
    "ie": ("ie", "", "Irish", "en", "€", "áéíóú", PC),
    "gr": ("gr", "", "Greek", "el", "€", "", PC),
    "ru": ("ru", "", "Russian", "ru", "₽", "", PC),
    "ua": ("ua", "", "Ukrainian", "uk", "₴", "", PC),
    "bg": ("bg", "", "Bulgarian", "bg", "", "", PC),
    "rs": ("rs", "", "Serbian (Cyrillic)", "sr", "", "", PC),
    "rs(latin)": ("rs", "latin", "Serbian (Latin)", "sr", "", "čćđšž", PC),
    "il": ("il", "", "Hebrew", "he", "₪", "", PC),
    "ar": ("ara", "", "Arabic", "ar", "", "", PC),
    "kr": ("kr", "", "Korean", "ko", "₩", "", PC),
    "cn": ("cn", "", "Chinese (Pinyin)", "zh", "¥", "", PC),
    "us(dvorak)": ("us", "dvorak", "US Dvorak", "en", "$", "", PC),
    "us(colemak)": ("us", "colemak", "US Colemak", "en", "$", "", PC),
    "ca(multi)": ("ca", "multi", "Canadian Multilingual", "fr", "$", "àâçéèêëîïôùû", PC),
    "fr(afnor)": ("fr", "afnor", "French (AFNOR)", "fr", "€", "àâæçéèêëîïôœùûüÿ", PC),
    "de(t2)": ("de", "e1", "German (T2)", "de", "€", "äöüß", PC),
}
# By what numbers Windows names its layouts, and macOS by what names: inventories list these.
_NUMBERS = {
    "us": "00000409", "us(intl)": "00020409", "gb": "00000809", "de": "00000407", "fr(azerty)": "0000040c",
    "se": "0000041d", "ch": "00000807", "ch(fr)": "0000100c", "es": "0000040a", "it": "00000410",
    "pl": "00000415", "dk": "00000406", "no": "00000414", "pt": "00000816", "nl": "00000413",
    "be": "0000080c", "cz": "00000405", "jp": "00000411", "ca": "00001009", "br": "00000416",
    "latam": "0000080a", "fi": "0000040b", "hu": "0000040e", "tr(q)": "0000041f", "tr(f)": "0001041f",
    "sk": "0000041b", "si": "00000424", "hr": "0000041a", "ro": "00020418", "ro(std)": "00010418",
    "lt": "00010427", "ie": "00001809", "gr": "00000408", "ru": "00000419", "ua": "00000422",
    "bg": "00030402", "rs": "00000c1a", "rs(latin)": "0000081a", "il": "0000040d", "ar": "00000401",
    "kr": "00000412", "cn": "00000804", "us(dvorak)": "00010409", "ca(multi)": "00011009", "fr(afnor)": "0001040c",
    "de(t2)": "00030407",
}  # fmt: skip
_MAC_NAMES = {
    "us(mac)": "US", "gb(mac)": "British", "de(mac)": "German", "fr(mac)": "French", "se(mac)": "Swedish-Pro",
    "es(mac)": "Spanish-ISO", "it(mac)": "Italian-Pro", "ch(mac)": "SwissGerman", "dk(mac)": "Danish", "no(mac)": "Norwegian",
    "fi(mac)": "Finnish", "be(mac)": "Belgian",
}  # fmt: skip
# Layouts of another script have a Latin layer, by which shortcuts go.
LATIN = {"gr": "us", "ru": "us", "ua": "us", "bg": "us", "rs": "rs(latin)", "il": "us", "ar": "us"}
# What caps of Korean keyboards carry beside the Latin letter: the jamo that the input method makes of it (KS X 5002).
_JAMO = dict(zip("QWERTYUIOPASDFGHJKLZXCVBNM", "ㅂㅈㄷㄱㅅㅛㅕㅑㅐㅔㅁㄴㅇㄹㅎㅗㅓㅏㅣㅋㅌㅊㅍㅠㅜㅡ", strict=True))
# Their variant for Macs, in XKB or at all, says nothing true of the third level: only what is written down of it counts.
ONLY_WRITTEN_DOWN = {"se(mac)", "es(mac)", "it(mac)", "dk(mac)", "no(mac)", "fi(mac)"}
# Windows layouts without a recording that have a near relative with one; the other unrecorded ones keep of XKB's third and
# fourth level what people surely have there: ASCII, letters of the language, the currency.
RELATIVES = {"ch(fr)": "ch", "fi": "se", "be(mac)": "fr(mac)"}
NO_ALTGR_ON_WINDOWS = {"us", "jp", "kr", "cn", "us(dvorak)", "ar", "bg"}

# What the pad's decimal key types where Windows and XKB differ.
WINDOWS_DECIMAL = {"fr(azerty)": ".", "ch": ".", "ch(fr)": ".", "be": "."}
NO_INTL_BACKSLASH = {
    "us",
    "us(mac)",
    "jp",
    "jp(mac)",
    "kr",
    "cn",
    "us(dvorak)",
    "us(colemak)",
}  # their bodies (ANSI, Mac ANSI, JIS) lack that key
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


def third_and_fourth(ours, platform, keys, recorded, currency, letters):
    """What the third and fourth level really type on Windows and macOS, where that differs from XKB; None where it doesn't."""
    if platform == "linux":
        return None
    if platform == "windows" and ours in NO_ALTGR_ON_WINDOWS:
        return {}
    if ours in ONLY_WRITTEN_DOWN:
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
    keep = {chr(n) for n in range(33, 127)} | {c for x in letters for c in (x, x.upper())} | {currency}
    found = {}
    for code, levels in keys.items():
        # Where XKB has no third level, AltGr changes nothing there; on the other platforms it then types nothing.
        pair = [v if v and v not in levels[:2] and (platform == "macos" or v[0] in keep) else None for v in levels[2:]]
        if any(pair):
            found[code] = trim(written(v, "l") for v in pair)
    return found


def exceptions_of(ours, rows):
    """{platform: {code: {level number: level}}} where a platform differs from XKB; null where a key types nothing there."""
    found = {}
    for row in rows:
        if row["layout"] == ours:
            value = written((row["text"], row["dead"] == "dead"), row["source"][0])
            found.setdefault(row["platform"], {}).setdefault(row["code"], {})[str(LEVELS.index(row["level"]))] = value
    return found


def letters_of(keys):
    """The letters of a script that the first two levels type."""
    typed = (level[0].lower() for levels in keys.values() for level in levels[:2] if level and not level[1])
    return "".join(sorted({t for t in typed if len(t) == 1 and t.isalpha() and not t.isascii()}))


def also_of(ours):
    """Further names of a layout in inventories: Windows' number (alone, short, and behind its language), macOS' input source,
    and the ways of writing XKB's."""
    layout, variant, *_ = LAYOUTS[ours]
    found = []
    if number := _NUMBERS.get(ours):
        found += [number, f"{number[4:]}:{number}", *([number[4:]] if number.startswith("0000") else [])]
    if name := _MAC_NAMES.get(ours):
        found += [f"com.apple.keylayout.{name}"]
    if variant and "macos" not in LAYOUTS[ours][6]:
        found += [f"{layout}({variant})", f"{layout}+{variant}", f"{layout} {variant}"]
    return [n for n in dict.fromkeys(found) if n != ours]


def legends_of(ours):
    """{code: what the cap carries beside what the layout types}, where an input method writes the language."""
    if ours == "kr":
        return {f"Key{key}": jamo for key, jamo in _JAMO.items()}
    if ours not in ("jp", "jp(mac)"):
        return {}
    kana = {code: level(Keymap("jp", "kana"), name, 0) for name, code in CODES.items()}
    # XKB types katakana; caps carry hiragana, which stands 96 code points before it.
    shown = {code: chr(ord(v[0]) - 96) if "ァ" <= v[0] <= "ヶ" else v[0] for code, v in kana.items() if v and v[0] != " "}
    return {code: text for code, text in shown.items() if not text.isascii()}


def main():
    recorded = {}
    for row in rows_of("altgr_levels.csv"):
        at = recorded.setdefault((row["layout"], row["platform"]), {}).setdefault(row["code"], [None, None])
        at[row["level"] == "shift+altgr"] = (row["text"], bool(row["dead"]))
    exceptions = list(rows_of("exceptions.csv"))
    layouts = {}
    for ours, (layout, variant, name, language, currency, letters, platforms) in LAYOUTS.items():
        keymap = Keymap(layout, variant)
        keys = {c: v for c, v in derived(keymap).items() if any(v)}
        if ours in NO_INTL_BACKSLASH:
            keys.pop("IntlBackslash", None)
        if ours in LATIN and not letters:
            letters = letters_of(keys)
        overlays = {p: third_and_fourth(ours, p, keys, recorded, currency, letters) for p in platforms}
        layouts[ours] = {
            "name": name, "language": language, "currency": currency, "letters": letters, "platforms": platforms,
            "decimal": WINDOWS_DECIMAL.get(ours) or keymap.level("KPDL", 1)[1],
            "keys": {c: trim(written(v, "d") for v in levels) for c, levels in keys.items()},
            "third_and_fourth": {p: o for p, o in overlays.items() if o is not None},
            "also": also_of(ours),
            "exceptions": exceptions_of(ours, exceptions),
            **({"latin": LATIN[ours]} if ours in LATIN else {}),
            **({"legends": legends} if (legends := legends_of(ours)) else {}),
        }  # fmt: skip
    text = json.dumps({"layouts": layouts}, ensure_ascii=False, separators=(",", ":"))
    TARGET.write_text(text + "\n", encoding="utf-8")
    print(f"{TARGET.relative_to(ROOT)}: {len(layouts)} layouts, {len(text.encode()) / 1024:.0f} kB")


if __name__ == "__main__":
    main()
