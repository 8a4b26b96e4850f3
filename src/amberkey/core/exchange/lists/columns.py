"""The columns of each list, and guessing which heading of a sheet is which."""

import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

ListKind = Literal["people", "machines", "uses"]
LIST_KINDS: tuple[ListKind, ...] = get_args(ListKind)


@dataclass(frozen=True, slots=True)
class Column:
    """`needed`: a new item must have it. `says`: what stands in it. `words`: headings that mean it, in several languages."""

    id: str
    title: str
    says: str
    words: tuple[str, ...] = ()
    needed: bool = False


_ID = Column("id", "Id", "its id; without one, it is made from the name", ("id", "key", "kennung", "nummer", "number", "nr"))
_PROFILES = Column("profiles", "Profiles", "its own profiles, the farthest first", ("profile", "profil", "profils", "profiler"))
_RETIRED = Column(
    "retired", "Retired", "the day from which it is out of use", ("left", "ausgeschieden", "parti", "slutat", "until")
)

_PERSON_ID = Column(
    "id",
    "Id",
    "its id here or in your other lists, which is kept beside; people are known again by it",
    (*_ID.words, "staff number", "personnel number", "personalnummer", "matricule", "anställningsnummer"),
)

COLUMNS: Mapping[ListKind, tuple[Column, ...]] = {
    "people": (
        _PERSON_ID,
        Column("name", "Name", "the name of the sign-in", ("person", "nom", "namn", "sign-in", "user", "anmeldung"), True),
        Column(
            "department", "Department", "its name or id", ("abteilung", "département", "service", "avdelning", "dept"), True
        ),
        Column("roles", "Roles", "names or ids, with semicolons between", ("role", "rolle", "rollen", "rôle", "roll", "job")),
        Column("stands_for", "Stands for", "how many people share the sign-in", ("people", "shared by", "personen", "antal")),
        Column(
            "machines",
            "Machines",
            "where the person sits",
            ("machine", "seats", "sits at", "gerät", "dator"),
        ),
        # Neither hands and helpers nor layers of their own: what says something of a person doesn't travel in lists.
        _RETIRED,
    ),
    "machines": (
        _ID,
        Column("name", "Name", "the name of the machine", ("machine", "host", "nom", "namn", "gerät", "computer"), True),
        Column("platform", "Platform", "Windows, macOS or Linux", ("os", "system", "plattform", "système"), True),
        Column("edition", "Edition", "of the desktop", ("ausgabe", "édition", "utgåva"), True),
        Column("layouts", "Layouts", "installed keyboard layouts, the first one first", ("layout", "tastatur"), True),
        Column("body", "Keyboard body", "ISO, ANSI, with or without pad", ("body", "keyboard", "bauform", "tangentbord"), True),
        Column("kits", "Kits", "names or ids, with semicolons between", ("kit", "image", "bundle", "paket")),
        Column(
            "programs", "Programs", "id and version of each that stands over the kits", ("software", "program", "programme")
        ),
        Column("numlock", "NumLock", "yes or no", ("num", "num lock")),
        _PROFILES,
        _RETIRED,
    ),
    "uses": (
        Column("role", "Role", "its name or id", ("rolle", "rôle", "roll", "who"), True),
        Column("program", "Program", "its id or name", ("programm", "programme", "software"), True),
        Column("command", "Command", "its id or name", ("befehl", "commande", "kommando", "action"), True),
        Column(
            "weekly", "Times a week", "by one person of the role", ("uses", "times", "count", "mal", "fois", "weekly"), True
        ),
    ),
}


def columns_of(kind: ListKind) -> Mapping[str, Column]:
    """The columns of a list by their ids, in order."""
    return {c.id: c for c in COLUMNS[kind]}


def guess(kind: ListKind, heads: Sequence[str]) -> dict[str, int]:
    """Which heading (by its place) is which column. A heading is taken once; exact words go before likenesses."""
    plain = [_plain(h) for h in heads]
    found: dict[str, int] = {}
    taken: set[int] = set()
    for likeness in (_is, _begins):
        for column in COLUMNS[kind]:
            if column.id in found:
                continue
            words = [_plain(w) for w in (column.title, column.id, *column.words)]
            place = next((n for n, h in enumerate(plain) if n not in taken and any(likeness(h, w) for w in words)), None)
            if place is not None:
                found[column.id] = place
                taken.add(place)
    return found


def _is(heading: str, word: str) -> bool:
    return heading == word


def _begins(heading: str, word: str) -> bool:
    return len(word) > 3 and heading.startswith(word)


def _plain(text: str) -> str:
    folded = unicodedata.normalize("NFKD", text).casefold()
    return "".join(c for c in folded if c.isalnum())
