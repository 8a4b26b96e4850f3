"""Shortcuts in the words of one settings file, in both directions, by its dialect.

A dialect that can't read what it wrote is refused when it is described, so whatever a program can take comes back as it was.
"""

from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Annotated, Literal, Self, get_args

from pydantic import Field, model_validator

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.documents.model import Value, no_doubles
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.names import NAMED_KEYS, case_of_key
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut

ModifierName = Literal["Control", "Alt", "Shift", "Meta", "AltGraph"]
Word = Annotated[str, Field(min_length=1, max_length=40)]
_NAMED = {key.lower(): key for key in NAMED_KEYS}
_ALL: tuple[ModifierName, ...] = get_args(ModifierName)


class Dialect(Value):
    """How the file's text writes a shortcut. `separator` stands between the parts of a press, `then` between presses in turn.
    `modifiers` has a word for each, written in `order`; `keys` maps our key values to the file's own names where they differ.

    Refused, naming a shortcut that would not come back, where two things would read alike.
    """

    separator: Annotated[str, Field(min_length=1, max_length=3)] = "+"
    then: Annotated[str, Field(min_length=1, max_length=6)] = " "
    modifiers: dict[ModifierName, Word] = Field(default_factory=lambda: dict[ModifierName, str]((m, m) for m in _ALL))
    order: tuple[ModifierName, ...] = _ALL
    keys: dict[str, Word] = Field(default_factory=dict)
    lower_case: bool = False

    @cached_property
    def modifiers_read(self) -> Mapping[str, ModifierName]:
        """The modifiers by their words in small letters."""
        return {word.lower(): modifier for modifier, word in self.modifiers.items()}

    @cached_property
    def keys_read(self) -> Mapping[str, str]:
        """Our key values by the file's own names in small letters."""
        return {word.lower(): key for key, word in self.keys.items()}

    @model_validator(mode="after")
    def _comes_back(self) -> Self:
        for name, said in (("order", self.order), ("modifiers", self.modifiers)):
            missing = [m for m in _ALL if m not in said]
            if missing or len(said) != len(_ALL):
                raise ValueError(
                    f"{name} needs each of {', '.join(_ALL)} once" + (f"; {missing[0]} is missing" if missing else "")
                )
        for name, words in (("modifiers", self.modifiers.values()), ("keys", self.keys.values())):
            no_doubles(name, (word.lower() for word in words))
        for key in self.keys:
            if Press.of((), key) != _only_press(key):
                raise ValueError(f"keys: {key[:40]} is not a key")
        for shortcut in _tried(self):
            try:
                back: object = read_in(self, write_in(self, shortcut))
            except SettingsFileError as error:
                back = error.says
            if back != shortcut:
                raise ValueError(f"{shortcut} is written as {write_in(self, shortcut)!r}, and that reads as {back}")
        return self


def _only_press(key: str) -> Press | None:
    """The press of a key by its name, as shortcuts are written in documents; None where there is no such key."""
    try:
        presses = read_shortcut("Plus" if key == "+" else key).presses
    except ShortcutError:
        return None
    return presses[0] if len(presses) == 1 else None


def _tried(dialect: Dialect) -> Iterator[Shortcut]:
    """Shortcuts that a dialect must be able to tell apart: every key alone, with one modifier and with all; modifiers alone;
    a key by its place; and two presses in turn."""
    signs = (chr(n) for n in range(33, 127))
    keys = dict.fromkeys([*NAMED_KEYS, *map(case_of_key, signs), "Ä", "É", "ß", "€", *dialect.keys])
    for n, key in enumerate(keys):
        one = Press.of((_ALL[n % len(_ALL)],), key)
        for press in (Press.of((), key), one, Press.of(_ALL, key)):
            yield Shortcut((press,))
        yield Shortcut((one, Press.of((), key)))
    for modifier in _ALL:
        yield Shortcut((Press.of((modifier,)), Press.of((modifier,))))
    yield Shortcut((Press.of(_ALL),))
    yield Shortcut((Press.of(("Control",), code="KeyZ"), Press.of((), code="Slash")))


def write_in(dialect: Dialect, shortcut: Shortcut) -> str:
    """A shortcut as the file writes it; `read_in` gives it back."""
    return dialect.then.join(_write_press(dialect, press) for press in shortcut.presses)


def read_in(dialect: Dialect, text: str) -> Shortcut:
    """Raises SettingsFileError for a text that the dialect can't mean."""
    presses = [_read_press(dialect, part) for part in text.split(dialect.then) if part]
    if not presses:
        raise SettingsFileError(f"{text[:60]!r} is no shortcut in this file's way of writing.")
    return Shortcut(tuple(presses))


def _write_press(dialect: Dialect, press: Press) -> str:
    unknown = [m for m in press.modifiers if m not in dialect.modifiers]
    if unknown:
        raise SettingsFileError(f"{press} can't be written: this file has no word for {unknown[0]}.")
    parts = [dialect.modifiers[m] for m in dialect.order if m in press.modifiers]
    if press.code is not None:
        parts.append(f"code:{press.code}")
    elif press.key is not None:
        own = dialect.keys.get(press.key)
        parts.append(own if own is not None else _written(dialect, press.key))
    return dialect.separator.join(parts)


def _written(dialect: Dialect, key: str) -> str:
    """A key that the dialect has no name of its own for. Small where that leads back to the same key."""
    name = "Plus" if key == "+" else key
    small = name.lower()
    return small if dialect.lower_case and (len(name) > 1 or case_of_key(small) == name) else name


def _read_press(dialect: Dialect, text: str) -> Press:
    names, keys = dialect.modifiers_read, dialect.keys_read
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
    named = _NAMED.get(rest.lower())
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
