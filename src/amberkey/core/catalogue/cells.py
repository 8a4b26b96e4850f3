"""Keys as people write them into a cell: several with something between, several in turn, words of four languages, or none.

    cell     = shortcut { between shortcut }    between = "or" | "/" | ";" | line end | "," unless in turn
    shortcut = press { then press }             then    = "then" | ">" | "," where it doesn't part shortcuts | a blank
    press    = as `core/keys/reading` reads it

Where two readings are possible the one that more of the sheet speaks for is taken, and marked as guessed.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from amberkey.core.keys.codes import ALL_CODES
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.names import KEY_NAMES, MODIFIER_NAMES
from amberkey.core.keys.reading import MAX_TEXT, read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut

State = Literal["sure", "guessed", "none", "unread"]
MOST = 8
"""More shortcuts than a command ever has: such a cell lists keys for several things."""

_NO_KEYS = """- ; -- ; --- ; – ; — ; n/a ; na ; none ; no ; nothing ; unassigned ; unbound ; undefined ; unset ; empty ; (none)
not assigned ; not set ; not bound ; keine ; keiner ; kein ; leer ; nichts ; nicht belegt ; nicht zugewiesen
not available ; no shortcut ; no key ; no keys ; kein tastenkürzel ; ohne ; aucun raccourci ; sans ; utan
aucun ; aucune ; néant ; rien ; vide ; non attribué ; non défini ; ingen ; inget ; saknas ; tom ; ej tilldelad"""
_NONE = frozenset(w.strip() for w in re.split(r" ; |\n", _NO_KEYS))
_MOUSE = re.compile(
    r"\b(?:click|drag|scroll|wheel|mouse|pinch|swipe|hover|klick|ziehen|maus|clic|gliss|souris|molette|dra\b|mus\b|mushjul|"
    r"doppelklick)",
    re.IGNORECASE,
)
_OR = re.compile(r"\s+(?:or|oder|ou|eller|bzw\.?|alternatively)\s+|\s*\n\s*|\s*;\s+|(?<=\S);(?=\S)|\s+\|\s+", re.IGNORECASE)
_THEN = re.compile(
    r"\s*,?\s+(?:and then|then|followed by|dann|danach|puis|ensuite|sedan|därefter)\s+"
    r"|\s+>\s+|\s*[→⇒➔›]\s*|(?<=\w)\s*>\s*(?=\w)",
    re.IGNORECASE,
)
_LEAD = re.compile(r"^(?:press|hold|hit|use|type|drücken?|drücke|appuyez sur|tryck(?:\s+på)?)\s*:?\s+", re.IGNORECASE)
_TAIL = re.compile(r"\s+(?:key|keys|taste|tasten|touche|touches|tangent|tangenten)$", re.IGNORECASE)
_ASIDE = re.compile(r"\s*[(\[]([^()\[\]]{2,})[)\]]\s*")
_ALSO = re.compile(r"^(?:or|also|oder|auch|ou|aussi|eller|även)\s+", re.IGNORECASE)
_CONTROL, _COMMAND = r"\b(?:ctrl|control|strg)", r"(?:\b(?:cmd|command)|⌘)"
_MAIN = re.compile(rf"(?:{_CONTROL}\s*/\s*{_COMMAND}|{_COMMAND}\s*/\s*{_CONTROL})(?=\s*[+\-])", re.IGNORECASE)
_ARROWS = re.compile(r"[←↑→↓]|\b(?:left|right|up|down)\b", re.IGNORECASE)
_SLASH = re.compile(r"\s+/\s+|(?<=[^\s+/\-])/(?=[^\s/])")
_COMMA = re.compile(r"(?<=[^\s+\-,])\s*,\s*(?=\S)")
_RANGE = re.compile(r"(?:\.\.+|…|\bto\b|\bbis\b|\bà\b|\btill\b|[–-])\s*(\d|f\d\d?)\s*\]?$", re.IGNORECASE)
_KEY_WORD = re.compile(r"\s+(?:key|taste|touche|tangent)(?=\s*[+\-])", re.IGNORECASE)
_PAD = re.compile(
    r"\b(?:num|numpad|keypad|kp|ziffernblock|pavé num\.?|num\.? tangent)\s*(?=[+\-*/]\s*$)|\bnum\s+(?=\d\s*$|enter\s*$)",
    re.IGNORECASE,
)
_PAD_SIGNS = {"+": "code:NumpadAdd", "-": "code:NumpadSubtract", "*": "code:NumpadMultiply", "/": "code:NumpadDivide"}
_AND = re.compile(r"\s+(?:and|und|et|och|&)\s+", re.IGNORECASE)
_AROUND = (('"', '"'), ("'", "'"), ("`", "`"), ("“", "”"), ("‘", "’"), ("«", "»"), ("„", "“"), ("(", ")"))
_CAP = re.compile(r"\[([^\[\]]{1,20})\]")
_ANGLED = re.compile(r"<(\w+)>\s*(?=[<\w])")
_ARROW_BEFORE = re.compile(r"\b(?:arrow|cursor)\s+(left|right|up|down)\b", re.IGNORECASE)
_HELD = re.compile(r"[+\-]|[⌘⌥⇧⌃]")


@dataclass(frozen=True, slots=True)
class KeyCell:
    """What a cell says. `guessed`: another reading is possible, or something of it had to be mended. `says`: what was guessed,
    or why it can't be read."""

    state: State
    shortcuts: tuple[Shortcut, ...] = ()
    says: str = ""


@dataclass(frozen=True, slots=True)
class Habits:
    """What the sheet speaks for: cells in which a comma parts presses in turn, and those in which it parts shortcuts."""

    in_turn: int = 0
    apart: int = 0


def habits_of(cells: Iterable[str]) -> Habits:
    """Which commas of a sheet's cells leave no doubt: before a single letter or digit a comma parts presses in turn, so it does
    behind a press that begins several cells; before a key that is a shortcut by itself it parts shortcuts."""
    parted = [parts for c in cells if len(parts := _COMMA.split(c)) > 1]
    firsts: dict[str, set[str]] = {}
    for parts in parted:
        firsts.setdefault(parts[0].casefold(), set()).add(parts[1].casefold())
    turn = apart = 0
    for parts in parted:
        if any(_is_bare(p) for p in parts[1:]) or len(firsts[parts[0].casefold()]) > 1:
            turn += 1
        elif all(_is_whole(p) for p in parts):
            apart += 1
    return Habits(turn, apart)


@lru_cache(maxsize=20_000)
def read_key_cell(text: str, habits: Habits = Habits()) -> KeyCell:
    """What a cell of a column of keys says."""
    plain = _bare_text(text)
    if not plain or plain.casefold() in _NONE:
        return KeyCell("none")
    if plain in (".", "/", "_", "*", "=", ","):
        return KeyCell("guessed", (read_shortcut(plain),), f"{plain} was read as a key")
    # A whole key name may hold what parts others: "/" alone does, and "Ctrl+/".
    if (whole := _read(plain)) is not None and not _COMMA.search(plain) and not _OR.search(plain):
        return KeyCell("sure", (whole,))
    guessed: list[str] = []
    found: list[Shortcut] = []
    for part in _alternatives(plain, guessed):
        if _MOUSE.search(part):
            guessed.append(f"{part[:40]} needs the mouse, so it was left out")
            continue
        one = _one(part, habits, guessed)
        if one is None:
            return KeyCell("unread", (), _why(part))
        found += one
    shortcuts = tuple(dict.fromkeys(found))
    if not shortcuts:
        return KeyCell("none", (), "; ".join(guessed))
    if len(shortcuts) > MOST:
        return KeyCell("unread", (), f"There are {len(shortcuts)} shortcuts in it, more than a command has.")
    return KeyCell("guessed" if guessed else "sure", shortcuts, "; ".join(dict.fromkeys(guessed)))


def _bare_text(text: str) -> str:
    """A cell without what only stands around keys: quotes, brackets as drawn caps, a comma behind it all."""
    plain = text.strip().strip("*").strip()
    if len(plain) > 1 and plain[-1] in ",;" and plain[-2].isalnum():
        plain = plain[:-1]
    for left, right in _AROUND:
        inner = plain[1:-1].strip()
        if plain[:1] == left and plain[-1:] == right and left not in inner and right not in inner and len(inner) > 1:
            plain = inner if left != "(" or _read(inner) is not None else plain
    caps = _CAP.findall(plain)
    if caps and all(_read(c) is not None or c.casefold() in _MODIFIER_WORDS for c in caps):
        plain = _CAP.sub(lambda m: m[1], plain)
    plain = _ANGLED.sub(_held_in_angles, plain)
    return _ARROW_BEFORE.sub(lambda m: m[1], plain)


def _held_in_angles(found: re.Match[str]) -> str:
    """`<Super>d`, as desktops write it; there `Primary` is what menus go by, which is Control."""
    word = found[1].casefold()
    if word == "primary":
        return "Ctrl+"
    return f"{found[1]}+" if word in _MODIFIER_WORDS else found[0]


def _alternatives(text: str, guessed: list[str]) -> list[str]:
    """The parts that stand for a shortcut each, beyond doubt, without asides."""
    parts: list[str] = []
    for whole in _OR.split(text):
        part = whole
        asides = [a.strip() for a in _ASIDE.findall(part)]
        if asides and _read(part) is None:
            part = _ASIDE.sub(" ", part).strip()
            for aside in asides:
                if _ALSO.match(aside) and _read(_ALSO.sub("", aside)) is not None:
                    parts.append(_ALSO.sub("", aside))
                else:
                    guessed.append(f"({aside[:40]}) was left out")
        if part:
            parts.append(part)
    return parts


def _one(text: str, habits: Habits, guessed: list[str]) -> list[Shortcut] | None:
    """One part: a shortcut, several with a slash or comma between, or presses in turn. None where it can't be read."""
    part = _TAIL.sub("", _LEAD.sub("", text.strip().rstrip(".")))
    part = _on_the_pad(_KEY_WORD.sub("", _MAIN.sub("Main", part)))
    if _RANGE.search(part) and _read(part) is None:
        return None
    if (turns := _THEN.split(part)) and len(turns) > 1:
        read = _in_turn(turns, guessed)
        return None if read is None else [read]
    if _COMMA.search(part):
        return _with_commas(part, habits, guessed)
    if (read := _read(part)) is not None:
        return [read]
    if (several := _with_slashes(part)) is not None:
        spaced = re.search(r"\s/\s", part) is not None
        if len(several) > 1 and not (spaced and (_ARROWS.search(part) or all(_is_whole(p) for p in _SLASH.split(part)))):
            guessed.append(f"{part[:40]} was read as {len(several)} shortcuts")
        return several
    both = _AND.split(part)
    if len(both) > 1 and all(_is_whole(p) for p in both):
        guessed.append(f"{part[:40]} was read as {len(both)} shortcuts")
        return [one for p in both if (one := _read(p.strip())) is not None]
    words = part.split()
    if len(words) > 1 and all(_HELD.search(w.strip("+-")) or len(w) == 1 for w in words) and _HELD.search(words[0]):
        read = _in_turn(words, guessed)
        if read is not None:
            guessed.append(f"{part[:40]} was read as presses in turn")
            return [read]
    mended = _mended(part)
    if mended is not None:
        guessed.append(f"{part[:40]} was read as {mended}")
        return [mended]
    return None


def _on_the_pad(text: str) -> str:
    """`Num +` and its like as the key of the pad; by the word alone it is NumLock."""
    if (found := _PAD.search(text)) is None:
        return text
    key = text[found.end() :].strip()
    return text[: found.start()] + _PAD_SIGNS.get(key, f"Numpad {key}")


def _with_commas(part: str, habits: Habits, guessed: list[str]) -> list[Shortcut] | None:
    """Presses in turn, or shortcuts: whichever is possible; where both are, what the sheet speaks for."""
    if (whole := _read(part)) is not None and len(whole.presses) == 1:  # the comma is the key
        return [whole]
    pieces = _COMMA.split(part)
    turn = _in_turn(pieces, [])
    apart: list[Shortcut] | None = []
    for piece in pieces:
        one = _with_slashes(piece)
        apart = None if apart is None or one is None else apart + one
    if turn is None or apart is None:
        return [turn] if turn is not None else apart
    if all(_is_bare(p) for p in pieces[1:]):
        if habits.apart > habits.in_turn or _is_bare(pieces[0]):
            guessed.append(f"{part[:40]} was read as one shortcut, pressed in turn")
        return [turn]
    takes_turn = habits.in_turn > habits.apart or len({p.casefold() for p in pieces}) == 1
    stand_alone = all(_is_whole(p) for p in pieces) and any(_is_function_key(p) for p in pieces)
    if stand_alone and not takes_turn and habits.in_turn == 0:
        return apart
    says = "one shortcut, pressed in turn" if takes_turn else f"{len(pieces)} shortcuts"
    guessed.append(f"{part[:40]} was read as {says}")
    return [turn] if takes_turn else apart


def _with_slashes(part: str) -> list[Shortcut] | None:
    """`Ctrl+C / Ctrl+Insert`, and `Shift+Left/Right`, whose second part has the modifiers of the first."""
    if (read := _read(part)) is not None:
        return [read]
    pieces = [p for p in _SLASH.split(part) if p]
    if len(pieces) < 2:
        return None
    first = _read(pieces[0])
    if first is None or len(first.presses) > 1:
        return None
    held = "+".join(first.presses[0].modifiers)
    found = [first]
    for piece in pieces[1:]:
        own = _HELD.search(piece.strip("+-")) or (_is_function_key(piece) and re.search(r"\s/\s", part))
        one = _read(f"{held}+{piece}") if held and not own else None
        one = one or _read(piece)
        if one is None:
            return None
        found.append(one)
    return found


def _in_turn(parts: list[str], guessed: list[str]) -> Shortcut | None:
    presses: list[Press] = []
    for part in parts:
        one = _read(part.strip()) or _mended(part.strip())
        if one is None:
            return None
        if _read(part.strip()) is None:
            guessed.append(f"{part[:40]} was read as {one}")
        presses += one.presses
    return Shortcut(tuple(presses)) if len(presses) <= 12 else None


@lru_cache(maxsize=20_000)
def _read(text: str) -> Shortcut | None:
    if not might_be_keys(text):
        return None
    try:
        return read_shortcut(text)
    except ShortcutError:
        return None


def might_be_keys(text: str) -> bool:
    """A quick look: whether each word of a text is short or part of a key's name. Looking for the nearest name takes long."""
    return len(text) <= MAX_TEXT and all(len(w) < 3 or w in _KEY_WORDS for w in _WORDS.findall(text.casefold()))


_WORDS = re.compile(r"\w+")
_KEY_WORDS = frozenset(w for name in (*KEY_NAMES, *MODIFIER_NAMES) for w in _WORDS.findall(name.casefold())) | {"then", "code"}
_MODIFIER_WORDS = frozenset(name.casefold() for name in MODIFIER_NAMES)
_KEY_WORDS |= {code.casefold() for code in ALL_CODES}


def _mended(text: str) -> Shortcut | None:
    """The reading that the refusal itself proposes."""
    try:
        return read_shortcut(text)
    except ShortcutError as error:
        return _read(error.guess) if error.guess else None


def _why(part: str) -> str:
    try:
        read_shortcut(part)
    except ShortcutError as error:
        return f"{part[:60]}: {error.says}"
    return f"{part[:60]} can't be read as keys."


def _is_bare(text: str) -> bool:
    """A single letter, digit or sign, which by itself is rarely a shortcut."""
    return len(text.strip()) == 1


def _is_whole(text: str) -> bool:
    """Whether a text is a shortcut that can stand alone: with something held, or a key with a name."""
    return not _is_bare(text) and _read(text.strip()) is not None


def _is_function_key(text: str) -> bool:
    return re.fullmatch(r"f\d\d?|del|delete|ins|insert|esc|escape|entf|einfg", text.strip(), re.IGNORECASE) is not None
