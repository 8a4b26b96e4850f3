"""What differs between two descriptions of settings files, in words: of two versions of a program, for instance."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import cast

from amberkey.core.descriptions.described import Described
from amberkey.core.documents.canonical import Json

_WORDS: Mapping[str, str] = {
    "path": "where it lies",
    "root": "below what it lies",
    "container": "what kind of file it is",
    "options": "how it is written",
    "encoding": "its encoding",
    "at": "where its entries stand",
    "record": "what an entry is called",
    "command": "where an entry says the command",
    "context": "where an entry says the context",
    "scopes": "what a scope is called there",
    "only": "which entries are ours",
    "holds": "which scopes' commands it has",
    "keys": "how an entry says its keys",
    "shown_behind": "what stands before a default that is only shown",
    "dialect": "how keys are written",
    "rewrites_at_exit": "whether it is written when the program ends",
    "runs_as": "what its processes are called",
    "versions": "for which versions",
    "export": "how its store is exported",
}


@dataclass(frozen=True, slots=True)
class Differs:
    """`what`: the part in words, with its place in the description; `here`, `there`: as text, empty where nothing is said."""

    what: str
    here: str
    there: str


def differing(here: Described, there: Described) -> list[Differs]:
    """Part by part what one description says otherwise than another one."""
    a, b = (cast(dict[str, Json], one.model_dump(mode="json", exclude_defaults=True)) for one in (here, there))
    return list(_between(a, b, ()))


def _between(a: Mapping[str, Json], b: Mapping[str, Json], way: tuple[str, ...]) -> Iterator[Differs]:
    for name in [*a, *(n for n in b if n not in a)]:
        one, other = a.get(name), b.get(name)
        if one == other:
            continue
        if isinstance(one, dict) and isinstance(other, dict):
            yield from _between(one, other, (*way, name))
        else:
            parts = (*way, name)
            inner = f" ({', '.join(parts[1:])})" if len(parts) > 1 else ""
            yield Differs(f"{_WORDS.get(parts[0], parts[0])}{inner}", _text(one), _text(other))


def _text(value: Json) -> str:
    match value:
        case None:
            return ""
        case bool():
            return "yes" if value else "no"
        case list():
            return " ".join(_text(v) for v in value)
        case dict():
            return ", ".join(f"{name} {_text(v)}" for name, v in value.items())
        case _:
            return str(value)
