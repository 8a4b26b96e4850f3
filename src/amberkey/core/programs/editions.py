"""Editions of a system and their versions, by the names under which inventories know them."""

import re
from collections.abc import Sequence
from typing import Annotated, NamedTuple

from pydantic import Field

from amberkey.core.documents.field import Text
from amberkey.core.documents.model import Value

ANY = "any"
"""What stands where no edition in particular is meant."""
_VERSION = re.compile(r"v?\d[\w.]*", re.ASCII)


class Edition(Value):
    """What a system comes as: `also` are further names that inventories give it."""

    name: Text
    also: tuple[Text, ...] = ()


class Release(Value):
    """A version of a system, or of one of its editions: `also` are its name for people and its builds."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    edition: Text | None = None
    also: tuple[Text, ...] = ()


class ReadEdition(NamedTuple):
    """An edition as a table knows it, and the version that was read with it ("" where none was).

    `known`: whether the table names the edition; else `name` is what stood there.
    """

    name: str
    version: str
    known: bool


def read_edition(
    editions: Sequence[Edition], releases: Sequence[Release], named: str, version: str = "", system: str = ""
) -> ReadEdition:
    """What a table knows of an edition that an inventory names: "Windows 11 Pro 24H2", "ubuntu:GNOME", "KDE Plasma 6.3", "15".

    Numbers are the version, unless `version` says it; words are the edition, whatever the system's and the maker's name stands
    around them. A table of one edition needs no words, and "any" is none in particular.
    """
    words = re.split(r"[\s:,/]+", named.strip())
    figures = [w for w in words if _VERSION.fullmatch(w)]
    said = {w.casefold() for w in words} - {w.casefold() for w in figures}
    called = next(((r.name, a) for r in releases for a in r.also if not figures_of(a) and _within(a, said)), ("", ""))
    version = _release(releases, version or " ".join(figures)) or called[0]
    names = sorted(((len(n.split()), e.name) for e in editions for n in (e.name, *e.also) if _within(n, said)), reverse=True)
    if names:
        return ReadEdition(names[0][1], version, True)
    left = said - {w.casefold() for w in (*system.split(), *called[1].split())}
    if (version and not left) or left == {ANY}:
        return ReadEdition(editions[0].name if len(editions) == 1 else "", version, True)
    return ReadEdition(named, version, False)


def _within(name: str, said: set[str]) -> bool:
    words = {w.casefold() for w in re.split(r"[\s:]+", name)}
    return words <= said


def _release(releases: Sequence[Release], version: str) -> str:
    """A version by the name that the table has for it: a build stands for its release."""
    wanted = figures_of(version)
    for release in releases:
        for also in release.also:
            build = figures_of(also)
            if len(build) > 1 and wanted[: len(build)] == build:
                return release.name
    return version


def figures_of(version: str) -> tuple[int, ...]:
    """The numbers in a version, by which two are compared."""
    return tuple(int(n[:9]) for n in re.findall(r"\d+", version))
