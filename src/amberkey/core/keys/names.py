"""Names of keys: the canonical ones (W3C UI Events `key` values), what people call them, what the caps say.

Caps in the four languages are as printed on ordinary keyboards sold in those countries; symbols are those of
ISO 9995-7 and Unicode's technical blocks.
"""

from amberkey.core.keys.platform import FN, MODIFIERS, SIDES, STAND_INS

LANGUAGES = ("en", "de", "fr", "sv")

# key value: cap in English, German, French, Swedish, symbol ("" where none is common)
NAMED_KEYS: dict[str, tuple[str, str, str, str, str]] = {
    "Enter": ("Enter", "Eingabe", "Entrée", "Retur", "↵"),
    "Tab": ("Tab", "Tab", "Tab", "Tabb", "⇥"),
    "Space": ("Space", "Leertaste", "Espace", "Blanksteg", "␣"),
    "Escape": ("Esc", "Esc", "Échap", "Esc", "⎋"),
    "Backspace": ("Backspace", "Rück", "Retour", "Backsteg", "⌫"),
    "Delete": ("Del", "Entf", "Suppr", "Delete", "⌦"),
    "Insert": ("Ins", "Einfg", "Inser", "Insert", ""),
    "Home": ("Home", "Pos1", "Début", "Home", "⇱"),
    "End": ("End", "Ende", "Fin", "End", "⇲"),
    "PageUp": ("PgUp", "Bild↑", "Pg préc", "PgUp", "⇞"),
    "PageDown": ("PgDn", "Bild↓", "Pg suiv", "PgDn", "⇟"),
    "ArrowLeft": ("←", "←", "←", "←", "←"),
    "ArrowRight": ("→", "→", "→", "→", "→"),
    "ArrowUp": ("↑", "↑", "↑", "↑", "↑"),
    "ArrowDown": ("↓", "↓", "↓", "↓", "↓"),
    "CapsLock": ("Caps", "Feststell", "Verr maj", "Skiftlås", "⇪"),
    "NumLock": ("Num", "Num", "Verr num", "Num", "⇭"),
    "ScrollLock": ("Scroll", "Rollen", "Arrêt défil", "Scroll", ""),
    "PrintScreen": ("PrtSc", "Druck", "Impr écr", "PrtSc", ""),
    "Pause": ("Pause", "Pause", "Pause", "Pause", ""),
    "ContextMenu": ("Menu", "Menü", "Menu", "Meny", "☰"),
    **{f"F{n}": (f"F{n}", f"F{n}", f"F{n}", f"F{n}", "") for n in range(1, 25)},
    "AudioVolumeMute": ("Mute", "Ton aus", "Muet", "Ljud av", ""),
    "AudioVolumeDown": ("Vol−", "Leiser", "Vol−", "Vol−", ""),
    "AudioVolumeUp": ("Vol+", "Lauter", "Vol+", "Vol+", ""),
    # What the top row of a Mac does where it isn't function keys.
    "BrightnessDown": ("Dim", "Dunkler", "Sombre", "Mörkare", ""),
    "BrightnessUp": ("Bright", "Heller", "Clair", "Ljusare", ""),
    "ShowAllWindows": ("Overview", "Übersicht", "Aperçu", "Översikt", ""),
    "LaunchApp1": ("Search", "Suche", "Recherche", "Sök", ""),
    "SpeechInputToggle": ("Dictate", "Diktat", "Dictée", "Diktera", ""),
    "MediaTrackPrevious": ("Back◂", "Zurück◂", "Préc◂", "Bakåt◂", ""),
    "MediaPlayPause": ("Play", "Wiedergabe", "Lecture", "Spela", ""),
    "MediaTrackNext": ("Next▸", "Weiter▸", "Suiv▸", "Nästa▸", ""),
    "DoNotDisturbToggle": ("Focus", "Fokus", "Conc.", "Fokus", ""),
    # Keys of other boards that desktops listen to.
    "Eject": ("Eject", "Auswurf", "Éjecter", "Mata ut", "⏏"),
    "Power": ("Power", "Ein/Aus", "Marche", "Ström", ""),
    "Sleep": ("Sleep", "Ruhe", "Veille", "Vila", ""),
    "MediaStop": ("Stop", "Stopp", "Arrêt", "Stopp", ""),
    "MediaPause": ("Pause▮▮", "Pause▮▮", "Pause▮▮", "Paus▮▮", ""),
    "MediaSelect": ("Player", "Player", "Lecteur", "Spelare", ""),
    "MediaFastForward": ("Forward▸▸", "Vor▸▸", "Avance▸▸", "Framåt▸▸", ""),
    "MediaRewind": ("Rewind◂◂", "Zurück◂◂", "Retour◂◂", "Bakåt◂◂", ""),
    "MicrophoneMuteToggle": ("Mic off", "Mikro aus", "Micro", "Mikrofon", ""),
    "KeyboardBacklightDown": ("Keys dim", "Tasten dunkler", "Touches−", "Tangenter−", ""),
    "KeyboardBacklightUp": ("Keys bright", "Tasten heller", "Touches+", "Tangenter+", ""),
    "KeyboardBacklightToggle": ("Keys light", "Tastenlicht", "Touches", "Tangentljus", ""),
    "LaunchApp2": ("Calculator", "Rechner", "Calculette", "Räknare", ""),
    "LaunchMail": ("Mail", "Post", "Courrier", "Post", ""),
    "LaunchControlPanel": ("Settings", "Einstellungen", "Réglages", "Inställningar", ""),
    "LaunchScreenSaver": ("Lock", "Sperren", "Verrouiller", "Lås", ""),
    "BrowserHome": ("Browser", "Browser", "Navigateur", "Webbläsare", ""),
    "BrowserSearch": ("Find", "Suchen", "Chercher", "Hitta", ""),
    "DisplayToggleIntExt": ("Displays", "Bildschirme", "Écrans", "Skärmar", ""),
    # The keys beside Space of Japanese and Korean boards.
    "Lang1": ("Kana/Hangul", "Kana/Hangul", "Kana/Hangul", "Kana/Hangul", "かな"),
    "Lang2": ("Eisu/Hanja", "Eisu/Hanja", "Eisu/Hanja", "Eisu/Hanja", "英数"),
    # Keys of the JIS body, with what is printed on them.
    "NonConvert": ("NonConvert", "NonConvert", "NonConvert", "NonConvert", "無変換"),
    "Convert": ("Convert", "Convert", "Convert", "Convert", "変換"),
    "KanaMode": ("Kana", "Kana", "Kana", "Kana", "かな"),
}

# Keyboards of further countries carry words for some keys, and English for the others.
OTHER_CAPS: dict[str, dict[str, str]] = {
    "es": {
        "Enter": "Intro",
        "Backspace": "Retroceso",
        "Delete": "Supr",
        "Home": "Inicio",
        "End": "Fin",
        "PageUp": "Re Pág",
        "PageDown": "Av Pág",
        "CapsLock": "Bloq Mayús",
        "NumLock": "Bloq Num",
        "ScrollLock": "Bloq Despl",
        "PrintScreen": "Impr Pant",
        "Pause": "Pausa",
        "Shift": "Mayús",
        "Space": "Espacio",
    },
    "it": {
        "Enter": "Invio",
        "Delete": "Canc",
        "End": "Fine",
        "PageUp": "Pag↑",
        "PageDown": "Pag↓",
        "CapsLock": "Bloc Maiusc",
        "NumLock": "Bloc Num",
        "ScrollLock": "Bloc Scorr",
        "PrintScreen": "Stamp",
        "Pause": "Pausa",
        "Shift": "Maiusc",
        "Space": "Spazio",
    },
}

# Other spellings that people use; compared without regard to case.
_KEY_WORDS: dict[str, tuple[str, ...]] = {
    "Enter": ("return", "enter", "entree", "retur", "zeilenschaltung", "eingabetaste", "⏎", "⌤", "↩"),
    "Tab": ("tabulator", "tabulation", "tab key"),
    "Space": ("spacebar", "space bar", "leer", "mellanslag", "barre d'espace", "barre espace", "leertaste"),
    "Escape": ("escape", "echap", "échappement", "esc key"),
    "Backspace": ("back", "bksp", "rücktaste", "retour arrière", "rueck", "backsteg"),
    "Delete": ("delete", "entfernen", "supprimer", "forward delete"),
    "Insert": ("insert", "einfügen", "einfuegen", "insertion"),
    "Home": ("pos 1", "debut", "origine", "↖"),
    "End": ("ende", "slut", "↘"),
    "PageUp": ("page up", "page-up", "bild auf", "bildauf", "pg up", "prior", "page préc", "sida upp"),
    "PageDown": ("page down", "page-down", "bild ab", "bildab", "pg down", "next page", "page suiv", "sida ned"),
    "ArrowLeft": (
        "left",
        "left arrow",
        "links",
        "pfeil links",
        "gauche",
        "flèche gauche",
        "fleche gauche",
        "vänster",
        "vänsterpil",
        "vanster",
    ),
    "ArrowRight": (
        "right",
        "right arrow",
        "rechts",
        "pfeil rechts",
        "droite",
        "flèche droite",
        "fleche droite",
        "höger",
        "högerpil",
        "hoger",
    ),
    "ArrowUp": ("up", "up arrow", "hoch", "pfeil hoch", "pfeil oben", "haut", "flèche haut", "fleche haut", "upp", "uppil"),
    "ArrowDown": (
        "down",
        "down arrow",
        "runter",
        "pfeil runter",
        "pfeil unten",
        "bas",
        "flèche bas",
        "fleche bas",
        "ned",
        "nedpil",
    ),
    "CapsLock": ("caps lock", "feststelltaste", "verrouillage majuscule"),
    "NumLock": ("num lock",),
    "ScrollLock": ("scroll lock",),
    "PrintScreen": ("print screen", "print", "druck", "impécr"),
    "Pause": ("break", "pause/break"),
    "ContextMenu": ("menu key", "application", "kontextmenü", "apps"),
}

# Keys of the numeric pad are keys by position: their names stand for codes. What people write before the cap:
_PAD_WORDS = ("num ", "num", "numpad ", "numpad", "pad ", "ziffernblock ", "pavé num ", "pave num ", "numeriskt ")
_PAD_SIGNS = {
    **{str(n): f"Numpad{n}" for n in range(10)},
    "/": "NumpadDivide",
    "*": "NumpadMultiply",
    "−": "NumpadSubtract",
    "enter": "NumpadEnter",
    "plus": "NumpadAdd",
    "minus": "NumpadSubtract",
    "times": "NumpadMultiply",
    "divide": "NumpadDivide",
    "decimal": "NumpadDecimal",
    "komma": "NumpadDecimal",
    "eingabe": "NumpadEnter",
    "entrée": "NumpadEnter",
}
PAD_CAPS = {
    **{f"Numpad{n}": str(n) for n in range(10)},
    "NumpadAdd": "+",
    "NumpadSubtract": "−",
    "NumpadMultiply": "×",
    "NumpadDivide": "÷",
    "NumpadEnter": "↵",
    "NumpadDecimal": ".",
    "NumpadComma": ",",
    "NumpadEqual": "=",
}
PAD_WORDS = ("Num", "Num", "Pavé num", "Num")
CODE = "code:"

_CHARACTER_WORDS: dict[str, str] = {
    "plus": "+",
    "minus": "-",
    "hyphen": "-",
    "comma": ",",
    "komma": ",",
    "period": ".",
    "dot": ".",
    "punkt": ".",
    "slash": "/",
    "schrägstrich": "/",
    "backslash": "\\",
    "semicolon": ";",
    "colon": ":",
    "equals": "=",
    "equal": "=",
    "quote": "'",
    "backquote": "`",
    "backtick": "`",
    "hash": "#",
    "raute": "#",
    "asterisk": "*",
    "underscore": "_",
}

# modifier: caps in the four languages on Windows and Linux keyboards, symbol
_MODIFIER_CAPS: dict[str, tuple[str, str, str, str, str]] = {
    "Control": ("Ctrl", "Strg", "Ctrl", "Ctrl", "⎈"),
    "Alt": ("Alt", "Alt", "Alt", "Alt", "⎇"),
    "Shift": ("Shift", "Umschalt", "Maj", "Skift", "⇧"),
    "Meta": ("Win", "Win", "Win", "Win", "⊞"),
    "AltGraph": ("AltGr", "AltGr", "AltGr", "AltGr", "⇮"),
}
_MAC_CAPS: dict[str, tuple[str, str, str, str, str]] = {
    "Control": ("Control", "Control", "Control", "Control", "⌃"),
    "Alt": ("Option", "Option", "Option", "Alternativ", "⌥"),
    "Shift": ("Shift", "Umschalt", "Maj", "Skift", "⇧"),
    "Meta": ("Cmd", "Befehl", "Commande", "Kommando", "⌘"),
    "AltGraph": ("Option", "Option", "Option", "Alternativ", "⌥"),
}
# Left and right in the four languages, as one letter before the cap: RCtrl. It is a name of its own in every language.
_SIDE_LETTERS = {"Left": "LLGV", "Right": "RRDH"}


def _with_sides(caps: dict[str, tuple[str, str, str, str, str]]) -> dict[str, tuple[str, str, str, str, str]]:
    found = {**caps, FN: ("Fn", "Fn", "Fn", "Fn", "")}
    for sided, modifier in SIDES.items():
        letters = _SIDE_LETTERS[sided.removeprefix(modifier)]
        en, de, fr, sv = (letter + cap for letter, cap in zip(letters, caps[modifier], strict=False))
        found[sided] = (en, de, fr, sv, "")
    return found


MODIFIER_CAPS = {
    "windows": _with_sides(_MODIFIER_CAPS),
    "linux": _with_sides({**_MODIFIER_CAPS, "Meta": ("Super", "Super", "Super", "Super", "❖")}),
    "macos": _with_sides(_MAC_CAPS),
}

_MODIFIER_WORDS: dict[str, tuple[str, ...]] = {
    "Control": ("ctrl", "ctl", "control", "strg", "steuerung", "contrôle", "⌃", "⎈"),
    "Alt": ("alt", "option", "opt", "alternativ", "⌥", "⎇"),
    "Shift": ("shift", "umschalt", "umsch", "maj", "majuscule", "skift", "mayús", "mayus", "maiusc", "⇧"),
    "Meta": (
        *("meta", "cmd", "command", "befehl", "commande", "kommando", "win", "windows", "super"),
        *("⌘", "⊞", "❖"),
    ),
    "AltGraph": ("altgraph", "altgr", "alt gr", "alt-gr", "⇮"),
    "Main": ("main",),
    "Side": ("side",),
    "Fn": ("fn",),
}


def _modifier_table() -> dict[str, str]:
    table = {word: name for name, words in _MODIFIER_WORDS.items() for word in words}
    for sided, modifier in SIDES.items():
        side = sided.removeprefix(modifier).lower()
        words = [w for w in _MODIFIER_WORDS[modifier] if w.isalpha()]
        table |= {text: sided for w in words for text in (f"{w}{side}", f"{side}{w}", f"{side[0]}{w}")}
        table |= {cap.lower(): sided for caps in MODIFIER_CAPS.values() for cap in caps[sided] if cap}
    assert set(table.values()) == {*MODIFIERS, *STAND_INS, *SIDES, FN}
    return table


def _key_table() -> dict[str, str]:
    table: dict[str, str] = {}
    for key, caps in NAMED_KEYS.items():
        for word in (key, *caps):
            if word:
                table.setdefault(word.lower(), key)
    for key, words in _KEY_WORDS.items():
        for word in words:
            table.setdefault(word, key)
    for caps_there in OTHER_CAPS.values():
        for key, word in caps_there.items():
            if key in NAMED_KEYS:
                table.setdefault(word.lower(), key)
    for word, char in _CHARACTER_WORDS.items():
        table.setdefault(word, char)
    for before in _PAD_WORDS:
        for sign, code in _PAD_SIGNS.items():
            table.setdefault(f"{before}{sign}", f"{CODE}{code}")
    return table


MODIFIER_NAMES = _modifier_table()
KEY_NAMES = _key_table()


def case_of_key(char: str) -> str:
    """A character as a key value: upper-cased where that goes back and forth in one code point (ß and µ stay)."""
    upper = char.upper()
    return upper if len(upper) == 1 and upper.lower() == char else char


def cap_of_code(code: str) -> str:
    """The English cap of a key that is no writing key: a named key, a modifier, or the code itself."""
    if code in NAMED_KEYS:
        return NAMED_KEYS[code][0]
    return code.removesuffix("Left").removesuffix("Right")
