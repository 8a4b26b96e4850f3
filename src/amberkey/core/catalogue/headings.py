"""Which column of a table is what: by the words of its heading in four languages, and by what it holds."""

import re
import unicodedata
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from amberkey.core.catalogue.cells import might_be_keys, read_key_cell
from amberkey.core.catalogue.tables import Table, TableRow
from amberkey.core.keys.platform import Platform

Field = Literal[
    "name",
    "id",
    "group",
    "scope",
    "description",
    "other_words",
    "task",
    "kind",
    "risky",
    "keys",
    "keys.windows",
    "keys.macos",
    "keys.linux",
]
FIELD_WORDS: Mapping[Field, tuple[str, ...]] = {
    "name": (
        *("command", "action", "name", "function", "operation", "what", "title", "label", "menu item", "befehl", "aktion"),
        *("funktion", "bezeichnung", "commande", "action", "fonction", "nom", "intitulé", "kommando", "åtgärd", "namn", "vad"),
    ),
    "id": ("id", "command id", "key", "identifier", "code", "kennung", "identifiant", "command name in files"),
    "group": (
        *("group", "category", "section", "menu", "area", "gruppe", "kategorie", "bereich", "menü", "abschnitt", "groupe"),
        *("catégorie", "rubrique", "grupp", "kategori", "avsnitt", "meny", "område"),
    ),
    "scope": ("scope", "context", "where", "when", "focus", "kontext", "wo", "contexte", "où", "sammanhang", "var", "portée"),
    "description": (
        *("description", "does", "what it does", "details", "notes", "note", "help", "explanation", "beschreibung"),
        *("erklärung", "hinweis", "bemerkung", "remarque", "remarques", "explication", "beskrivning", "förklaring"),
    ),
    "other_words": (
        *("other words", "aliases", "alias", "synonyms", "also called", "keywords", "andere wörter", "synonyme"),
        *("stichwörter", "autres mots", "mots-clés", "andra ord", "synonymer", "nyckelord"),
    ),
    "task": ("task", "job", "aufgabe", "tâche", "uppgift"),
    "kind": ("kind", "type", "art", "typ", "genre", "sort", "slag"),
    "risky": ("risky", "dangerous", "danger", "risk", "gefährlich", "risque", "dangereux", "riskabel", "farlig"),
    "keys": (
        *("keys", "shortcut", "shortcuts", "keyboard shortcut", "hotkey", "hotkeys", "binding", "key binding", "keybinding"),
        *("default", "default keys", "keystroke", "keystrokes", "press", "tasten", "tastenkürzel", "tastenkombination"),
        *("kürzel", "kurzbefehl", "tastaturbefehl", "raccourci", "raccourcis", "touches", "touche"),
        *("kortkommando", "kortkommandon", "genväg", "snabbtangent", "tangent", "tangenter", "key combination"),
    ),
    "keys.windows": ("windows", "win", "pc"),
    "keys.macos": ("macos", "mac", "os x", "mac os", "apple"),
    "keys.linux": ("linux", "gnome", "plasma", "ubuntu", "unix", "windows linux"),
}
KEY_FIELDS: Mapping[Field, Platform | None] = {
    "keys": None,
    "keys.windows": "windows",
    "keys.macos": "macos",
    "keys.linux": "linux",
}
_LONG = 60
_LOOKED_AT = 200
"""Rows by which a column is judged."""


@dataclass(frozen=True, slots=True)
class Matching:
    """`head`: the number of the row of headings, 0 where there is none. `columns`: what each column is, by its place from 0.
    `says`: what was guessed, in sentences."""

    head: int
    columns: Mapping[int, Field]
    says: tuple[str, ...] = ()


def plain_words(text: str) -> str:
    """A text for comparing: without case, accents and signs."""
    folded = unicodedata.normalize("NFKD", text).casefold()
    kept = "".join(c if c.isalnum() else " " for c in folded if not unicodedata.combining(c))
    return " ".join(kept.split())


_BY_WORD: dict[str, Field] = {}
for _field, _words in FIELD_WORDS.items():
    for _word in _words:
        _BY_WORD.setdefault(plain_words(_word), _field)


def field_of(heading: str) -> Field | None:
    """What a heading says of its column; of several things in it the platform counts, then the first that is known."""
    plain = plain_words(heading)
    if plain in _BY_WORD:
        return _BY_WORD[plain]
    words = plain.split()
    platforms = {f for w in words if (f := _BY_WORD.get(w)) is not None and f.startswith("keys.")}
    if len(platforms) == 1 and len(words) < 5:
        return platforms.pop()
    if len(words) < 5:
        for length in (3, 2, 1):
            for n in range(len(words) - length + 1):
                found = _BY_WORD.get(" ".join(words[n : n + length]))
                if found is not None and not found.startswith("keys."):
                    return found
    return None


def match_headings(table: Table) -> Matching:
    """The row of headings and what each column is. What no heading says is guessed by what the column holds."""
    head = _head_of(table)
    rows = [r for r in table.rows if head is None or r.number > head.number][:_LOOKED_AT]
    columns: dict[int, Field] = {}
    says: list[str] = []
    if head is not None:
        for n, text in enumerate(head.cells):
            field = field_of(text)
            if field is None:
                continue
            if field in columns.values():
                first = next(c for c, f in columns.items() if f == field)
                says.append(f"Columns {first + 1} and {n + 1} are both called as {_told(field)} are; the first one counts.")
                continue
            columns[n] = field
    shares = {n: _share_of_keys(rows, n) for n in range(table.width)}
    _keys_by_content(rows, shares, columns, says)
    _names_by_content(rows, table.width, columns, says)
    return Matching(head.number if head is not None else 0, dict(sorted(columns.items())), tuple(says))


def _head_of(table: Table) -> TableRow | None:
    """The first of the first rows in which at least two cells, and half of them, are words for columns; or one of a table with
    one or two columns."""
    for row in table.rows[:15]:
        filled = [c for c in row.cells if c]
        known = [f for c in filled if (f := field_of(c)) is not None]
        if len(set(known)) >= 2 and len(known) * 2 >= len(filled):
            return row
        narrow = row.number <= 1 and 0 < len(filled) <= 2 and any(f.startswith("keys") or f == "name" for f in known)
        if narrow and not any(len(c) > 1 and read_key_cell(c).shortcuts for c in filled):
            return row
    return None


def _share_of_keys(rows: Sequence[TableRow], n: int) -> float:
    """The share of the filled cells of a column that read as keys, those that say none aside."""
    cells = (r.cells[n] for r in rows if n < len(r.cells) and r.cells[n])
    found = Counter(read_key_cell(c).state if len(c) < _LONG and _may_hold_keys(c) else "unread" for c in cells)
    filled = found.total() - found["none"]
    return (found["sure"] + found["guessed"] * 0.8) / filled if filled else 0.0


def _keys_by_content(rows: Sequence[TableRow], shares: Mapping[int, float], columns: dict[int, Field], says: list[str]) -> None:
    """Columns that no heading names, in which most cells are keys; and keys of no platform that speak of one by modifiers."""
    # Names of commands may be names of keys too: Print, Undo. Where a column has something held, others need it as well.
    held = {n: _share_held(rows, n) for n in shares}
    least = 0.3 if any(share >= 0.3 for share in held.values()) else 0.0
    for n, share in shares.items():
        if n not in columns and share >= 0.6 and held[n] >= least and _filled(rows, n) >= 2:
            wanted: Field = "keys"
            if "keys" in columns.values():
                wanted = _platform_by_modifiers(rows, n) or "keys"
            if wanted not in columns.values():
                columns[n] = wanted
                says.append(f"Column {n + 1} holds keys.")
    general = next((n for n, f in columns.items() if f == "keys"), None)
    if general is None:
        return
    by_modifiers = _platform_by_modifiers(rows, general)
    if by_modifiers is not None and by_modifiers not in columns.values():
        columns[general] = by_modifiers
        says.append(f"Column {general + 1} is read as {_told(by_modifiers)}, by its modifiers.")


def _may_hold_keys(text: str) -> bool:
    """Whether half of the words of a cell may be keys; others are texts, and looking for keys in them takes long."""
    words = text.split()
    return sum(map(might_be_keys, words)) * 2 >= len(words)


def _share_held(rows: Sequence[TableRow], n: int) -> float:
    """The share of the filled cells of a column in which something is held while a key is pressed, or a function key stands."""
    cells = [r.cells[n] for r in rows if n < len(r.cells) and r.cells[n]]
    return sum(_HELD.search(c) is not None for c in cells) / len(cells) if cells else 0.0


_HELD = re.compile(r"\w\s*[+\-]\s*\S|[⌘⌥⇧⌃]|^f\d\d?$", re.IGNORECASE)
_OF_MAC = ("⌘", "⌥", "⇧", "⌃", "cmd", "command", "option", "opt+")
_OF_LINUX = ("super",)
_OF_WINDOWS = ("win+", "windows+", "win +")


def _platform_by_modifiers(rows: Sequence[TableRow], n: int) -> Field | None:
    text = "\n".join(r.cells[n] for r in rows if n < len(r.cells)).casefold()
    found: list[Field] = []
    if any(m in text for m in _OF_MAC) and "/cmd" not in text and "cmd/" not in text:
        found.append("keys.macos")
    if any(m in text for m in _OF_LINUX):
        found.append("keys.linux")
    if any(m in text for m in _OF_WINDOWS):
        found.append("keys.windows")
    return found[0] if len(found) == 1 else None


def _names_by_content(rows: Sequence[TableRow], width: int, columns: dict[int, Field], says: list[str]) -> None:
    """The name is the leftmost column of texts that hardly repeat; one of longer texts behind it is the description."""
    texts = [n for n in range(width) if n not in columns and _share_held(rows, n) < 0.3 and _filled(rows, n)]
    if "name" not in columns.values():
        named = next((n for n in texts if len({r.cells[n] for r in rows if n < len(r.cells)}) * 2 > _filled(rows, n)), None)
        if named is not None:
            columns[named] = "name"
            texts.remove(named)
            says.append(f"Column {named + 1} is taken for the names.")
    if "description" not in columns.values():
        long = [n for n in texts if n not in columns and _length(rows, n) > 25]
        if long:
            columns[long[0]] = "description"


def _filled(rows: Sequence[TableRow], n: int) -> int:
    return sum(n < len(r.cells) and bool(r.cells[n]) for r in rows)


def _length(rows: Sequence[TableRow], n: int) -> float:
    return sum(len(r.cells[n]) for r in rows if n < len(r.cells)) / max(1, _filled(rows, n))


def _told(field: Field) -> str:
    return {
        "keys": "keys",
        "keys.windows": "keys on Windows",
        "keys.macos": "keys on macOS",
        "keys.linux": "keys on Linux",
        "other_words": "other words",
    }.get(field, f"{field}s")
