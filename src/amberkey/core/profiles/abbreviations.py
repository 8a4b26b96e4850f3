"""Abbreviations: short forms that become texts while people type, and when they would do so unasked."""

import re
import unicodedata
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import chain, groupby, islice
from typing import Annotated, Literal, NamedTuple, Self, cast

from pydantic import Field, model_validator

from amberkey.core.documents.field import Id, Ids
from amberkey.core.documents.model import Flag, Value
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.typing import can_type
from amberkey.core.profiles.words import LANGUAGE_NAMES, words_of

SetOff = Literal["at once", "after a space or sign", "on a key"]
FILLED = ("date", "time", "name", "caret")
"""What can be filled in by itself: the day, the time, who types, where the caret stands afterwards."""
MOST_MET = 20
"""Of how many others that one begins with, or equals, is told at most."""
_PLACE = re.compile(r"\{\{|\}\}|\{([^{}]*)\}|[{}]")


class Abbreviation(Value):
    """`short` becomes `text` in some programs (none named: in all) when it is set off.

    In the text, `{date}`, `{time}` and `{name}` are filled in, `{caret}` is where the caret stands afterwards, and
    `{ask: Berth}` is a place for people to fill in; `{{` and `}}` are braces. `any_case`: capitals set it off too.
    """

    id: Id
    short: Annotated[str, Field(min_length=1, max_length=40)]
    text: Annotated[str, Field(min_length=1, max_length=4000)]
    programs: Ids = ()
    set_off: SetOff = "after a space or sign"
    any_case: Flag = False

    @model_validator(mode="after")
    def _whole(self) -> Self:
        why = why_no_short_form(self.short)
        if why:
            raise ValueError(f"short: {why}")
        for part in parts_of(self.text):
            if part.fault:
                raise ValueError(f"text: {part.fault}")
        return self


def why_no_short_form(short: str) -> str:
    """Why a text can't be a short form on any keyboard, in words; empty where it can."""
    if any(c.isspace() for c in short):
        return "a short form has no blanks or line ends in it, since they end a word"
    if not short.isprintable():
        return "there is a character in it that nobody sees or can type"
    if unicodedata.combining(short[0]):
        return "it begins with a mark that stands on what is before it"
    return ""


class TextPart(NamedTuple):
    """A piece of a text: `said` as it stands, or a place that is filled in, `ask` with what is asked for."""

    kind: Literal["text", "date", "time", "name", "caret", "ask"]
    said: str
    fault: str = ""


def parts_of(text: str) -> tuple[TextPart, ...]:
    """A text in its pieces, in their order."""
    found: list[TextPart] = []
    at = 0
    carets = 0
    for match in _PLACE.finditer(text):
        if match.start() > at:
            found.append(TextPart("text", text[at : match.start()]))
        at = match.end()
        whole, inner = match.group(), (match.group(1) or "").strip()
        if whole in ("{{", "}}"):
            found.append(TextPart("text", whole[0]))
        elif match.group(1) is None:
            found.append(TextPart("text", whole, f"there is a {whole} alone; write {whole * 2} for the sign itself"))
        elif inner.startswith("ask:") and inner[4:].strip():
            found.append(TextPart("ask", inner[4:].strip()))
        elif inner in FILLED:
            carets += inner == "caret"
            fault = "the caret can stand at one place only" if carets > 1 else ""
            found.append(TextPart(cast(Literal["date", "time", "name", "caret"], inner), inner, fault))
        else:
            known = ", ".join(f"{{{name}}}" for name in FILLED)
            fault = f"nothing can be put in for {whole[:40]}; there are {known}, {{ask: ...}}"
            found.append(TextPart("text", whole, fault))
    if at < len(text):
        found.append(TextPart("text", text[at:]))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class GoesWrong:
    """What is wrong with an abbreviation. `kind`: it is a word, it equals or begins another, nobody can type it. `other`: the
    one that it gets in the way of; `says`: why, in words."""

    kind: Literal["word", "meets", "untypable"]
    abbreviation: Abbreviation
    layer: str
    says: str
    other: Abbreviation | None = None
    other_layer: str = ""


def serve_together(one: Abbreviation, other: Abbreviation) -> bool:
    """Whether there is a program in which both are set off."""
    return not one.programs or not other.programs or not set(one.programs).isdisjoint(other.programs)


def is_word(abbreviation: Abbreviation, languages: Iterable[str]) -> str:
    """The name of the first of some languages in which it is a word, empty where it is none. One that is set off on a key never
    goes off by itself, so it may be any word."""
    if abbreviation.set_off == "on a key":
        return ""
    short = abbreviation.short.casefold() if abbreviation.any_case else abbreviation.short
    return next((LANGUAGE_NAMES[tongue] for tongue in languages if short in words_of(tongue)), "")


def untypable_on(abbreviation: Abbreviation, layout: Layout) -> str:
    """The first sign of a short form that a layout has no press for; empty where it can be typed."""
    return next((sign for sign in abbreviation.short if not can_type(sign, layout)), "")


def in_effect(said: Iterable[tuple[str, Sequence[Abbreviation]]]) -> tuple[tuple[Abbreviation, str], ...]:
    """The nearest layer's word for each abbreviation, with the layer; `said` by layer, the farthest first."""
    found: dict[str, tuple[Abbreviation, str]] = {}
    for layer, abbreviations in said:
        for one in abbreviations:
            found[one.id] = (one, layer)
    return tuple(found[i] for i in sorted(found))


def going_wrong(
    abbreviations: Sequence[tuple[Abbreviation, str]], layout: Layout, languages: Sequence[str]
) -> Iterator[GoesWrong]:
    """What is wrong with some abbreviations (with their layers) for people with a layout who write some languages.

    Short forms are held against those that they begin with, sorted, so what is looked at grows with what is found; of each
    at most `MOST_MET` are told, so a thousand equal ones are not a million clashes.
    """
    for one, layer in abbreviations:
        sign = untypable_on(one, layout)
        if sign:
            yield GoesWrong("untypable", one, layer, f"no press on the {layout.name} keyboard types {sign}")
        language = is_word(one, languages)
        if language:
            yield GoesWrong("word", one, layer, f"it is a word in {language}")
    begun: list[tuple[str, list[tuple[Abbreviation, str]]]] = []
    for text, same in groupby(sorted(abbreviations, key=_folded), key=_folded):
        while begun and not text.startswith(begun[-1][0]):
            begun.pop()
        before = [one for _, shorter in begun for one in shorter]
        equal: list[tuple[Abbreviation, str]] = []
        for longer, layer in same:
            met = ((*one, says) for one in chain(before, equal) if (says := _meets(one[0], longer)))
            for short, its_layer, says in islice(met, MOST_MET):
                yield GoesWrong("meets", longer, layer, says, short, its_layer)
            equal.append((longer, layer))
        begun.append((text, [one for one in equal if one[0].set_off == "at once"]))


def _folded(one: tuple[Abbreviation, str]) -> str:
    return one[0].short.casefold()


def _meets(short: Abbreviation, longer: Abbreviation) -> str:
    """How one gets in the way of another one that begins with it, or equals it; empty where it doesn't."""
    if not serve_together(short, longer):
        return ""
    same_case = short.any_case or longer.any_case or longer.short.startswith(short.short)
    if not same_case:
        return ""
    if len(short.short) == len(longer.short):
        return f"{short.short} becomes another text too"
    if short.set_off == "at once":
        return f"{short.short} becomes its own text before the rest is typed"
    return ""
