"""Shortcuts in the words of one settings file, in both directions, by its dialect."""

from amberkey.core.exchange.errors import SettingsFileError
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.names import NAMED_KEYS, case_of_key
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.programs.settings import Dialect


def write_in(dialect: Dialect, shortcut: Shortcut) -> str:
    return dialect.then.join(_write_press(dialect, press) for press in shortcut.presses)


def read_in(dialect: Dialect, text: str) -> Shortcut:
    """Raises SettingsFileError for a text that the dialect can't mean."""
    presses = [_read_press(dialect, part) for part in text.split(dialect.then) if part]
    if not presses:
        raise SettingsFileError(f"{text[:60]!r} is no shortcut in this file's way of writing.")
    return Shortcut(tuple(presses))


def _write_press(dialect: Dialect, press: Press) -> str:
    parts = [dialect.modifiers[m] for m in dialect.order if m in press.modifiers]
    if press.code is not None:
        parts.append(f"code:{press.code}")
    elif press.key is not None:
        key = dialect.keys.get(press.key, "Plus" if press.key == "+" else press.key)
        parts.append(key.lower() if dialect.lower_case and key not in dialect.keys.values() else key)
    return dialect.separator.join(parts)


def _read_press(dialect: Dialect, text: str) -> Press:
    names = {word.lower(): modifier for modifier, word in dialect.modifiers.items()}
    keys = {word.lower(): key for key, word in dialect.keys.items()}
    modifiers: list[str] = []
    rest = text
    while True:
        head, sign, tail = rest.partition(dialect.separator)
        if sign and tail and head.lower() in names:
            modifiers.append(names[head.lower()])
            rest = tail
            continue
        break
    if rest.lower() in names and rest.lower() not in keys:
        return Press.of([*modifiers, names[rest.lower()]])
    if rest.lower() in keys:
        return Press.of(modifiers, keys[rest.lower()])
    named = next((k for k in NAMED_KEYS if k.lower() == rest.lower()), None)
    if named is not None:
        return Press.of(modifiers, named)
    if len(rest) == 1:
        return Press.of(modifiers, case_of_key(rest))
    try:
        last = read_shortcut(rest).presses
    except ShortcutError as error:
        raise SettingsFileError(f"{text[:60]!r}: {error.says}") from error
    if len(last) != 1 or last[0].modifiers:
        raise SettingsFileError(f"{text[:60]!r} is no shortcut in this file's way of writing.")
    return Press.of(modifiers, last[0].key, last[0].code)
