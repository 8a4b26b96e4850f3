"""Profiles found by words, program, person and what they set, however many there are; and one of them in full."""

from typing import Literal

from django.http import HttpRequest
from ninja import Router

from amberkey.core.documents.sections import SECTIONS
from amberkey.core.exchange.travelling import SECTION_WORDS
from amberkey.core.organisation.layers import layers_of
from amberkey.core.profiles.model import Profile
from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.library.documents import known_programs, own_layers, parsed
from amberkey.server.library.models import Document
from amberkey.server.library.sight import sees_document
from amberkey.server.people.sight import sees_personal
from amberkey.server.schema import Schema, Words

router = Router(tags=["profiles"])
_MOST = 60


class FoundProfileOut(Schema):
    """A profile in a line. `shortcuts` and `others`: how many items it has; `people`: who have it; `because`: where the words
    were found, if not in its name; `released`: its newest revision is the released one."""

    id: str
    name: str
    description: str
    own: bool
    shortcuts: int
    others: int
    people: int
    because: str
    released: bool


class FoundProfilesOut(Schema):
    """The first 60 that fit, and how many do."""

    total: int
    profiles: list[FoundProfileOut]


@router.get("/profiles/found", response=FoundProfilesOut)
def find_profiles(
    request: HttpRequest,
    words: Words = "",
    program: Words = "",
    person: Words = "",
    section: Words = "",
    order: Literal["name", "people"] = "name",
) -> FoundProfilesOut:
    """Profiles whose name, description or items have all of some words; that set something of a program, or in a section; that
    a person has."""
    rows = Document.objects.filter(format="amberkey/profile@1", deleted_at=None).select_related("newest", "released")
    theirs = _layers_of(person) if person else None
    programs = known_programs()
    wanted = [w.casefold() for w in words.split()]
    found: list[FoundProfileOut] = []
    for row in rows.order_by("name", "key"):
        if row.newest is None or not sees_document(row.key) or (theirs is not None and row.doc_id not in theirs):
            continue
        profile = parsed(row.newest.digest)
        assert isinstance(profile, Profile)
        if program and program not in _programs_in(profile):
            continue
        if section and not (section in profile.sections and getattr(profile, section)):
            continue
        because = _because(profile, wanted, {i: p.name for i, p in programs.items()})
        if because is not None:
            found.append(_line(row, profile, because))
    if order == "people":
        found.sort(key=lambda f: -f.people)
    return FoundProfilesOut(total=len(found), profiles=found[:_MOST])


def _line(row: Document, profile: Profile, because: str) -> FoundProfileOut:
    estate = current_estate()
    return FoundProfileOut(
        id=profile.id,
        name=profile.name,
        description=profile.description,
        own=profile.id in own_layers(),
        shortcuts=len(profile.entries),
        others=sum(len(getattr(profile, s)) for s in SECTIONS[profile.format] if s != "entries"),
        people=estate.people_of(s for s in estate.setups.values() if profile.id in s.layers),
        because=because,
        released=row.released_id == row.newest_id,
    )


def _layers_of(person: str) -> frozenset[str]:
    """The profiles that a person has at any of their machines; none where who asks may not see what people have."""
    organisation = current_organisation()
    one = next((p for p in organisation.people if p.id == person), None)
    if one is None or not sees_personal():
        return frozenset()
    at = {s.machine for s in organisation.seats if s.person == person}
    machines = [m for m in organisation.machines if m.id in at]
    return frozenset(layer.profile for m in machines for layer in layers_of(organisation, one, m))


def _programs_in(profile: Profile) -> frozenset[str]:
    arranged = {t.program for t in profile.translations} | {i for a in profile.abbreviations for i in a.programs}
    return frozenset({e.program for e in profile.all_entries} | profile.arranged.keys() | arranged)


def _because(profile: Profile, wanted: list[str], names: dict[str, str]) -> str | None:
    """Where all of some words are found: empty for its name, else the item that has them; None where nothing has."""
    said = f"{profile.name} {profile.description} {profile.id}".casefold()
    if all(w in said for w in wanted):
        return ""
    for section, words in SECTION_WORDS.items():
        for item in getattr(profile, section):
            text = item.model_dump_json(exclude_defaults=True)
            program = names.get(getattr(item, "program", ""), "")
            if all(w in f"{said} {text} {program}".casefold() for w in wanted):
                name = getattr(item, "name", "") or getattr(item, "short", "") or getattr(item, "command", "")
                return f"{words}: {name or getattr(item, 'key', '')}"
    return None
