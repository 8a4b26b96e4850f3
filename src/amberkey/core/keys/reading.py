"""Reading shortcuts as people write them.

    shortcut = press { separator press }        separator = "then" | ", "
    press    = token { ("+" | "-" | blank) token }
    token    = modifier word | key word | symbol | "code:" W3C code | one character

Any order of tokens, any case, words of the platforms and of the cap languages. Symbols need no sign between them.
"""

import difflib
import re
import unicodedata
from functools import lru_cache

from amberkey.core.keys.codes import ALL_CODES
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.names import CODE, KEY_NAMES, MODIFIER_NAMES, NAMED_KEYS, case_of_key
from amberkey.core.keys.platform import SIDES
from amberkey.core.keys.shortcut import Press, Shortcut

MAX_TEXT = 400
MAX_PRESSES = 12
_THEN = re.compile(r"\s+then\s+|(?<=[^\s+\-])\s*,\s+", re.IGNORECASE)
_WORD = re.compile(r"[^\s+\-]+")
_CODE = re.compile(r"code:(\w*)", re.IGNORECASE)
_CODES_BY_LOWER = {c.lower(): c for c in ALL_CODES}

_MODIFIER, _KEY, _THEN_WORD, _CAREFULLY = "modifier", "key", "then", "carefully"
# A sign that may be the key itself, a sequence by comma, a code: those want careful reading.
_SPECIAL = re.compile(r"[+\-][\s+\-]*[+\-]|^[\s+\-]*[+\-]|[+\-]\s*$|[,:\x00-\x08\x0e-\x1f\x7f]").search
_BLANKS = str.maketrans("+-", "  ")


def _plain_names() -> dict[str, tuple[str, str]]:
    """Single words to what they name. A word that also begins a longer name made of known words is read carefully."""
    found = {w: (_KEY, n) for w, n in KEY_NAMES.items()} | {w: (_MODIFIER, n) for w, n in MODIFIER_NAMES.items()}
    found = {w: n for w, n in found.items() if len(w.translate(_BLANKS).split()) == 1 and not set(w) & set("+-")}
    found["then"] = (_THEN_WORD, "")
    for name in (*KEY_NAMES, *MODIFIER_NAMES):
        words = name.translate(_BLANKS).split()
        if len(words) > 1 and all(w in found or len(w) == 1 for w in words):
            found[words[0]] = (_CAREFULLY, "")
    return found


_SKIP = ("skip", "")
_PLAIN = {**_plain_names(), "": _SKIP}
# Names of two words, whose first is no name by itself, to (key, the name with a blank, the name with a hyphen).
_LONG = {
    name: (key, name, name.replace(" ", "-"))
    for name, key in KEY_NAMES.items()
    if len(words := name.split(" ")) == 2 and words[0] not in _PLAIN and len(words[0]) > 1
}


def _lengths() -> dict[str, tuple[int, ...]]:
    """First character of a name to the lengths that names with it have, the longest first."""
    found: dict[str, set[int]] = {}
    for name in (*KEY_NAMES, *MODIFIER_NAMES):
        found.setdefault(name[0], set()).add(len(name))
    return {char: tuple(sorted(lengths, reverse=True)) for char, lengths in found.items()}


_LENGTHS = _lengths()


@lru_cache(maxsize=20_000)
def read_shortcut(text: str) -> Shortcut:
    """Read a shortcut; raises ShortcutError with the span of the fault in `text`."""
    return _read_plainly(text) or read_carefully(text)


def _read_plainly(text: str) -> Shortcut | None:
    """The quick way for texts made of whole names with signs or blanks between, as nearly all are. None: read it carefully."""
    if len(text) > MAX_TEXT or _SPECIAL(text):
        return None
    presses: list[Press] = []
    modifiers: list[str] = []
    key: str | None = None
    lowered = text.lower()
    tokens = lowered.translate(_BLANKS).split()
    for n, token in enumerate(tokens):
        found = _PLAIN.get(token)
        if found is None:
            if len(token) == 1 and key is None:
                key = token.upper() if token.isascii() else _sign_of(text.translate(_BLANKS).split()[n])
                if key is None:
                    return None
                continue
            long = _LONG.get(" ".join(tokens[n : n + 2]))
            if long is None or key is not None or not (long[1] in lowered or long[2] in lowered):
                return None
            tokens[n + 1] = ""
            key = long[0]
        elif found is _SKIP:
            continue
        elif found[0] is _MODIFIER:
            if _held_already(found[1], modifiers):
                return None
            modifiers.append(found[1])
        elif found[0] is _KEY and key is None:
            key = found[1]
        elif found[0] is _THEN_WORD and (modifiers or key):
            presses.append(_press_of(modifiers, key))
            modifiers, key = [], None
        else:
            return None
    if not (modifiers or key) or len(presses) >= MAX_PRESSES:
        return None
    presses.append(_press_of(modifiers, key))
    return Shortcut(tuple(presses))


def _held_already(modifier: str, held: list[str]) -> bool:
    """Whether a modifier is among some others: itself, or one of its sides beside the modifier whichever side it is."""
    return modifier in held or SIDES.get(modifier) in held or any(SIDES.get(h) == modifier for h in held)


def _press_of(modifiers: list[str], key: str | None) -> Press:
    if key is not None and key.startswith(CODE) and len(key) > len(CODE):
        return Press.of(modifiers, None, key.removeprefix(CODE))
    return Press.of(modifiers, key)


def _sign_of(token: str) -> str | None:
    char = unicodedata.normalize("NFC", token)
    return case_of_key(char) if len(char) == 1 and char.isprintable() and not unicodedata.combining(char) else None


def read_carefully(text: str) -> Shortcut:
    """Read a shortcut character by character, which finds the place of a fault. Same answers as `read_shortcut`."""
    if len(text) > MAX_TEXT:
        raise ShortcutError(
            text, (MAX_TEXT, len(text)), f"This is {len(text)} characters long.", f"at most {MAX_TEXT} characters"
        )
    if not text.strip():
        raise ShortcutError(text, (0, len(text)), "There is nothing here.", "a shortcut such as Control+Shift+U")
    presses: list[Press] = []
    start = 0
    bounds = [*((m.start(), m.end()) for m in _THEN.finditer(text)), (len(text), len(text))]
    for end, following in bounds:
        presses.append(_read_press(text, start, end))
        start = following
    if len(presses) > MAX_PRESSES:
        raise ShortcutError(
            text,
            (0, len(text)),
            f"This sequence has {len(presses)} presses.",
            f"at most {MAX_PRESSES}: no program takes more",
        )
    return Shortcut(tuple(presses))


def read_document_shortcut(value: object) -> Shortcut:
    """Read the document form: a list of presses, or one press as a plain string."""
    if isinstance(value, Shortcut):
        return value
    if isinstance(value, str):
        return read_shortcut(value)
    if isinstance(value, list) and value and all(isinstance(v, str) for v in value):
        presses = []
        for part in value:
            one = read_shortcut(part)
            if len(one.presses) != 1:
                raise ShortcutError(part, (0, len(part)), "This list item holds several presses.", "one press an item")
            presses.append(one.presses[0])
        if len(presses) > MAX_PRESSES:
            raise ShortcutError(
                " then ".join(value), (0, 0), f"This sequence has {len(presses)} presses.", f"at most {MAX_PRESSES}"
            )
        return Shortcut(tuple(presses))
    raise ShortcutError(str(value)[:MAX_TEXT], (0, 0), "This is no shortcut.", "a text, or a list of texts")


def _read_press(text: str, start: int, end: int) -> Press:
    modifiers: list[str] = []
    key: str | None = None
    code: str | None = None
    key_span = (start, end)
    position = start
    need_token = True
    while position < end:
        char = text[position]
        if char.isspace():
            position += 1
            continue
        if not need_token and char in "+-":
            need_token = True
            position += 1
            continue
        found_modifier, found_key, found_code, stop = _read_token(text, position, end)
        if found_modifier:
            modifiers.append(found_modifier)
        elif key is not None or code is not None:
            first, rest = text[start : key_span[1]].strip(), text[key_span[1] : end].strip().lstrip("+-")
            raise ShortcutError(
                text,
                (position, stop),
                f"A press has one key, and {text[key_span[0] : key_span[1]]} is already it.",
                "modifiers and one key; write `then` between two presses",
                _abbreviated(text[start:end]) or _good(f"{first} then {rest}"),
            )
        else:
            key, code, key_span = found_key, found_code, (position, stop)
        position = stop
        need_token = False
    if need_token:
        raise ShortcutError(
            text,
            (max(start, end - 1), end),
            "The press ends before its key." if end > start else "A press is missing here.",
            "a key",
            _ended_with_a_sign(text[start:end].strip()),
        )
    doubled = {SIDES.get(m, m) for n, m in enumerate(modifiers) if _held_already(m, modifiers[:n])}
    if doubled:
        taps = key is None and code is None and len(set(modifiers)) == 1
        guess = " then ".join(modifiers) if taps else str(Press.of(modifiers, key, code))
        raise ShortcutError(
            text,
            (start, end),
            f"{sorted(doubled)[0]} is held twice.",
            "each modifier once; Shift then Shift is a double tap",
            _good(guess),
        )
    return Press.of(modifiers, key, code)


def _read_token(text: str, position: int, end: int) -> tuple[str | None, str | None, str | None, int]:
    """(modifier, key, code, where it stops); exactly one of the first three is set."""
    match = _CODE.match(text, position, end)
    if match:
        code = _CODES_BY_LOWER.get(match[1].lower())
        if code is None:
            near = difflib.get_close_matches(match[1].lower(), _CODES_BY_LOWER, 1)
            raise ShortcutError(
                text,
                match.span(1),
                f"{match[1] or 'Nothing'} is not the code of a key.",
                "a W3C code such as KeyZ, Digit7 or NumpadDecimal",
                f"code:{_CODES_BY_LOWER[near[0]]}" if near else None,
            )
        return None, None, code, match.end()
    # The longest name that ends at a boundary wins: "page up" before "page", "alt gr" before "alt".
    for length in _LENGTHS.get(text[position].lower()[:1], ()):
        name = text[position : min(position + length, end)].lower()
        if len(name) != length:
            continue
        modifier, named = MODIFIER_NAMES.get(name), KEY_NAMES.get(name)
        if (modifier or named) and _ends_here(text, position + length, end, name):
            if named and named.startswith(CODE):
                return None, None, named.removeprefix(CODE), position + length
            return modifier, named, None, position + length
    word = _WORD.match(text, position, end)
    if word is None:  # a "+" or "-" where a token is due is that key
        return None, text[position], None, position + 1
    char = unicodedata.normalize("NFC", word[0])
    if len(char) == 1:
        if not char.isprintable() or unicodedata.combining(char):
            raise ShortcutError(
                text, word.span(), f"The character U+{ord(char):04X} is not on a key.", "a key that can be pressed"
            )
        return None, case_of_key(char), None, word.end()
    if _FUNCTION_KEY.fullmatch(word[0]):
        number = "F24" if len(word[0]) > 2 else "F10"
        guess = _good(f"{text[:position]}{number}{text[word.end() :]}")
        raise ShortcutError(text, word.span(), f"There is no key {word[0][:40].upper()}.", "F1 to F24", guess)
    raise ShortcutError(
        *(text, word.span(), f"No key is called {word[0][:40]}.", "a modifier, a key name or one character"),
        _near(text, position, word[0]),
    )


_FUNCTION_KEY = re.compile(r"[fF]\d+")
_ABBREVIATED = {"C": "Control", "M": "Alt", "S": "Shift"}
_OTHER_SEPARATORS = re.compile(r"[/_.;:|<>]+")


def _near(text: str, position: int, word: str) -> str | None:
    """The nearest good reading of a text in which a word is no name: the caret for Control, other signs between the names, or
    the name that is spelled most like it."""
    before, after = text[:position], text[position + len(word) :]
    if len(word) == 2 and word[0] == "^":
        return _good(f"{before}{'+' if before.strip() else ''}Control+{word[1]}{after}")
    parts = " ".join(filter(None, _OTHER_SEPARATORS.split(text)))
    abbreviated = _abbreviated(parts)
    if abbreviated is not None:
        return abbreviated
    if _OTHER_SEPARATORS.search(word) and len(word) > 2 and (read := _good(parts)) is not None:
        return read
    near = difflib.get_close_matches(word.lower(), (*MODIFIER_NAMES, *KEY_NAMES), 1, 0.6)
    if not near:
        return None
    name = MODIFIER_NAMES.get(near[0]) or KEY_NAMES[near[0]]
    return _good(f"{before}{'Plus' if name == '+' else name}{after}")


def _abbreviated(text: str) -> str | None:
    """Modifiers by one letter and a hyphen, as in C-x, written out; None where a text is something else."""
    *letters, key = text.strip().split("-")
    if letters and key and all(one in _ABBREVIATED for one in letters):
        return _good("+".join((*(_ABBREVIATED[one] for one in letters), key)))
    return None


def _ended_with_a_sign(text: str) -> str | None:
    """The guess for a press that ends with + or -: that this was meant as its key."""
    sign = text[-1:]
    held = text.rstrip("+-").rstrip()
    if sign not in ("+", "-") or not held:
        return _good(held)
    return _good(f"{held}+{'Plus' if sign == '+' else sign}") or _good(held)


def _ends_here(text: str, stop: int, end: int, name: str) -> bool:
    if stop >= end or not name[-1].isalnum() or text[stop].isspace() or text[stop] in "+-":
        return True
    # A symbol may follow a word directly: the rule is about letters running on ("enterprise").
    return not text[stop].isalnum() and text[stop] not in "/'_"


def _good(candidate: str) -> str | None:
    try:
        return str(read_shortcut(candidate))
    except (ShortcutError, RecursionError):
        return None


def is_named_key(key: str) -> bool:
    """Whether a key value is one of the named keys, and no character."""
    return key in NAMED_KEYS
