"""A dialect: how the text of one settings file says modifiers, keys and presses in turn, read and written.

Each modifier is a text that has its separator in it (`Ctrl+`, `C-`, `<Control>`, `^`), so nothing is said twice. A way of
writing that would read something else than it wrote is refused when it is described.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.key_tables import Table, keys_by_name, names_in
from amberkey.core.documents.model import Value
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.names import NAMED_KEYS, case_of_key
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut

ModifierName = Literal["Control", "Alt", "Shift", "Meta", "AltGraph"]
Word = Annotated[str, Field(min_length=1, max_length=40)]
Letters = Literal["as they are", "small", "capital", "case is shift"]
Texts = Annotated[tuple[Word, ...], Field(min_length=1, max_length=8)]
_NAMED = {key.lower(): key for key in NAMED_KEYS}
MOST_PRESSES = 12
_MOST_KNOWN = 20_000


class Wrapping(Value):
    """What stands around a press: always, or only around those that are more than a single sign."""

    before: Word
    after: Word
    when: Literal["always", "special"] = "always"


class Dialect(Value):
    """`modifiers`: texts with their separator, all read, the first one written, in `order`. `then`: what stands between presses
    in turn, likewise; none: there are none. `letters`: how they are written; where case is Shift, a capital one says Shift.
    `table` names keys, `keys` are the file's own names, which go before it; `whole`: presses with a text of their own.
    """

    modifiers: dict[ModifierName, Texts]
    order: tuple[ModifierName, ...] = ("Control", "Alt", "Shift", "Meta", "AltGraph")
    then: tuple[Annotated[str, Field(min_length=1, max_length=8)], ...] = ()
    wrapping: Wrapping | None = None
    letters: Letters = "as they are"
    table: Table | None = None
    keys: dict[str, Word] = Field(default_factory=dict)
    whole: dict[str, Word] = Field(default_factory=dict)
    any_case: bool = True

    @cached_property
    def key_names(self) -> Mapping[str, str]:
        """What keys are called in the file, by our names."""
        table = names_in(self.table) if self.table else {}
        return {**table, **self.keys}

    @cached_property
    def keys_read(self) -> Mapping[str, str]:
        """Our names by the file's, letter case folded where it means nothing."""
        table = keys_by_name(self.table) if self.table else {}
        folded = {self.folded(name): key for name, key in table.items()}
        return folded | {self.folded(name): key for key, name in self.keys.items()}

    @cached_property
    def modifiers_read(self) -> tuple[tuple[str, ModifierName], ...]:
        """Every text of a modifier, the longest first."""
        found = [(self.folded(text), m) for m, texts in self.modifiers.items() for text in texts]
        return tuple(sorted(found, key=lambda f: -len(f[0])))

    @cached_property
    def whole_read(self) -> Mapping[str, Shortcut]:
        return {self.folded(text): read_shortcut(shortcut) for shortcut, text in self.whole.items()}

    @cached_property
    def known(self) -> dict[str, Shortcut]:
        """Texts that were read before: the same ones stand in a file again and again."""
        return {}

    @cached_property
    def whole_written(self) -> Mapping[Shortcut, str]:
        return {read_shortcut(shortcut): text for shortcut, text in self.whole.items()}

    def folded(self, text: str) -> str:
        """A text as texts are compared."""
        return text.lower() if self.any_case and self.letters != "case is shift" else text

    @model_validator(mode="after")
    def _comes_back(self) -> Self:
        missing = [m for m in self.modifiers if m not in self.order]
        if missing:
            raise ValueError(f"order: {missing[0]} has a text and no place in the order")
        for shortcut in self.whole:
            try:
                read_shortcut(shortcut)
            except ShortcutError as error:
                raise ValueError(f"whole: {shortcut[:40]}: {error.says}") from error
        fault = _fault(_Said(self.model_dump_json(), self))
        if fault is not None:
            raise ValueError(fault)
        return self


@dataclass(frozen=True, slots=True)
class _Said:
    """A dialect, equal to another where both say the same `text`."""

    text: str
    how: Dialect = field(compare=False)


@lru_cache(maxsize=512)  # hundreds of shortcuts are tried, and the same dialect comes with every reading of its program
def _fault(said: _Said) -> str | None:
    """What a dialect would write and not read back as it was, if anything."""
    for tried in _tried(said.how):
        try:
            text = write(said.how, tried)
        except SettingsFileError:
            continue  # what it has no text for isn't written, and that is said when somebody wants it
        try:
            back: object = read(said.how, text)
        except SettingsFileError as error:
            back = error.says
        if back != tried:
            return f"{tried} is written as {text!r}, and that reads as {back}"
    return None


def _tried(how: Dialect) -> Iterator[Shortcut]:
    """Shortcuts that a dialect must tell apart: every key alone, with each modifier and with all, and two in turn."""
    signs = [case_of_key(chr(n)) for n in range(33, 127)]
    keys = dict.fromkeys([*NAMED_KEYS, *signs, "Ä", "ß", *(k for k in how.key_names if not k.startswith("code:"))])
    held = tuple(how.modifiers)
    for n, key in enumerate(keys):
        one = Press.of((held[n % len(held)],) if held else (), key)
        for press in dict.fromkeys((Press.of((), key), one, Press.of(held, key))):
            yield Shortcut((press,))
        yield Shortcut((one, Press.of((), key)))
    for key in how.key_names:
        if key.startswith("code:"):
            yield Shortcut((Press.of(held[:1], code=key.removeprefix("code:")),))
    yield from how.whole_read.values()


def write(how: Dialect, shortcut: Shortcut) -> str:
    """A shortcut as the file writes it. Raises SettingsFileError for one that it has no text for."""
    own = how.whole_written.get(shortcut)
    if own is not None:
        return own
    if len(shortcut.presses) > 1 and not how.then:
        raise SettingsFileError(f"{shortcut} can't be written: this file has no presses in turn.")
    return (how.then[0] if how.then else "").join(_written(how, press) for press in shortcut.presses)


def _written(how: Dialect, press: Press) -> str:
    modifiers, key = set(press.modifiers), press.key
    unknown = sorted(modifiers - how.modifiers.keys() - ({"Shift"} if _case_says_shift(how, press) else set()))
    if unknown:
        raise SettingsFileError(f"{press} can't be written: this file has no text for {unknown[0]}.")
    if press.is_tap:
        raise SettingsFileError(f"{press} can't be written: this file has no modifiers by themselves.")
    if _case_says_shift(how, press) and "Shift" in modifiers:
        modifiers.discard("Shift")
        name = str(key)
    else:
        name = _key_name(how, key, press.code)
    text = "".join(how.modifiers[m][0] for m in how.order if m in modifiers) + name
    wrap = how.wrapping
    if wrap is not None and (wrap.when == "always" or modifiers or len(name) > 1):
        return f"{wrap.before}{text}{wrap.after}"
    return text


def _case_says_shift(how: Dialect, press: Press) -> bool:
    return how.letters == "case is shift" and press.key is not None and _has_case(press.key)


def _has_case(sign: str) -> bool:
    """Whether a single letter has a small and a capital form, one sign each."""
    return len(sign) == 1 and len(sign.upper()) == 1 and len(sign.lower()) == 1 and sign.upper() != sign.lower()


def _key_name(how: Dialect, key: str | None, code: str | None) -> str:
    ours = f"code:{code}" if code is not None else str(key)
    named = how.key_names.get(ours)
    if named is not None:
        return named
    if code is not None or (how.table is not None and how.table not in ("w3c", "x11")):
        raise SettingsFileError(f"{ours} can't be written: this file has no name for it.")
    name = (
        "Plus" if ours == "+" and "+" not in how.keys and any("+" in t for ts in how.modifiers.values() for t in ts) else ours
    )
    if len(name) == 1 and name.isalpha():
        return name.lower() if how.letters in ("small", "case is shift") and case_of_key(name.lower()) == name else name
    if len(name) > 1 and how.table == "x11":
        raise SettingsFileError(f"{ours} can't be written: this file has no name for it.")
    return name.lower() if how.letters == "small" else name.upper() if how.letters == "capital" else name


def read(how: Dialect, text: str) -> Shortcut:
    """A text of the file as a shortcut. Raises SettingsFileError for one that can't be meant."""
    known = how.known.get(text)
    if known is None:
        known = _read(how, text)
        if len(how.known) < _MOST_KNOWN:
            how.known[text] = known
    return known


def _read(how: Dialect, text: str) -> Shortcut:
    own = how.whole_read.get(how.folded(text))
    if own is not None:
        return own
    presses = _presses(how, text)
    if presses is None:
        raise SettingsFileError(f"{text[:60]!r} is no shortcut in this file's dialect.")
    return Shortcut(tuple(presses))


def _presses(how: Dialect, text: str, most: int = MOST_PRESSES) -> list[Press] | None:
    """The presses of a text: one, or several with what parts them between; the first way of parting that reads counts."""
    one = _press(how, text)
    if one is not None:
        return [one]
    for between in how.then if most > 1 else ():
        at = text.find(between)
        while at > 0:
            first = _press(how, text[:at])
            rest = _presses(how, text[at + len(between) :], most - 1) if first is not None else None
            if first is not None and rest is not None:
                return [first, *rest]
            at = text.find(between, at + 1)
    return None


def _press(how: Dialect, text: str) -> Press | None:
    wrap = how.wrapping
    inner = text
    if wrap is not None:
        around = len(wrap.before) + len(wrap.after)
        if len(text) > around and text.startswith(wrap.before) and text.endswith(wrap.after):
            inner = text[len(wrap.before) : -len(wrap.after)]
        elif wrap.when == "always" or len(text) > 1:
            return None
    held: list[str] = []
    rest = inner
    while (found := _modifier_at(how, rest)) is not None and found[1] not in held:
        held.append(found[1])
        rest = rest[len(found[0]) :]
    return _with_key(how, held, rest)


def _modifier_at(how: Dialect, text: str) -> tuple[str, ModifierName] | None:
    """The modifier with whose text another text begins, where a key comes behind it."""
    folded = how.folded(text)
    return next((f for f in how.modifiers_read if folded.startswith(f[0]) and len(text) > len(f[0])), None)


def _with_key(how: Dialect, held: list[str], name: str) -> Press | None:
    key = how.keys_read.get(how.folded(name))
    if how.letters == "case is shift" and _has_case(name):
        capital = case_of_key(name.lower())
        if name != name.lower() and capital == name:
            return Press.of([*held, "Shift"], capital)
        return Press.of(held, capital)
    if key is not None:
        return Press.of(held, None, key.removeprefix("code:")) if key.startswith("code:") else Press.of(held, key)
    if how.table is not None and how.table not in ("w3c", "x11"):
        return None
    named = _NAMED.get(name.lower())
    if named is not None and how.table != "x11":
        return Press.of(held, named)
    if name.lower() == "plus" and "+" not in how.keys:
        return Press.of(held, "+")
    if len(name) == 1 and not name.isspace():
        return Press.of(held, case_of_key(name))
    return None
