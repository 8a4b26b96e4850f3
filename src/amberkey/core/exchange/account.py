"""An account of a profile: of every item where it lives once people have it, whether a bundle takes it, whether a settings file
says it, and what it needs first."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from amberkey.core.documents.sections import SECTIONS
from amberkey.core.exchange.approving import MayLie, MayRun
from amberkey.core.exchange.bundle import Fares, Goes, Lives
from amberkey.core.exchange.rendering import files_of_profile
from amberkey.core.exchange.travelling import NOT_CHOSEN, counted, in_a_file, staying_in
from amberkey.core.profiles.model import Entry, Profile
from amberkey.core.programs.model import Program

_LIVES: Mapping[str, Lives] = {
    "entries": "person",
    "sets": "person",
    "shelves": "person",
    "menu_groups": "person",
    "abbreviations": "person",
    "preferences": "person",
    "launchers": "machine",
    "remaps": "machine",
    "translations": "machine",
    "reserved": "organisation",
}


@dataclass(frozen=True, slots=True)
class Travelling:
    """One item: its key in its section, and its name in words."""

    section: str
    key: str
    name: str


@dataclass(frozen=True, slots=True)
class Line:
    """Items of one section that fare alike; `says`: how many there are, in words. `in_files`: how many of them a settings file
    says."""

    section: str
    says: str
    items: tuple[Travelling, ...]
    lives: Lives
    goes: Goes
    in_files: int
    why: str
    needs: str


def account_of(
    profile: Profile,
    programs: Mapping[str, Program],
    *,
    chosen: Collection[str] | None = None,
    may_run: MayRun | None = None,
    may_lie: MayLie | None = None,
) -> list[Line]:
    """Every item of a profile, those that fare alike together. `programs` by id, the newest
    version of each; `chosen` (sections; None: all), `may_run` and `may_lie` as for bundles."""
    staying = {(s.section, s.key): s for s in staying_in(profile, may_run)}
    written = _written(profile, programs, may_lie)
    found: dict[tuple[str, Lives, Goes, str, str], list[tuple[Travelling, bool]]] = {}
    for section, how in SECTIONS[profile.format].items():
        left_out = chosen is not None and section not in chosen
        for item in getattr(profile, section):
            key = getattr(item, how.by)
            stays = staying.get((section, key))
            goes: Goes = "stays" if left_out else "goes" if stays is None else "waits" if stays.waits else "stays"
            why = NOT_CHOSEN if left_out else stays.why if stays is not None else ""
            lives: Lives = item.kept if section == "macros" else _LIVES[section]
            at = (section, lives, goes, why, _needs(section, item, programs))
            one = Travelling(section, key, _called(item, programs))
            found.setdefault(at, []).append((one, not left_out and (section, key) in written))
    return [
        Line(
            section, counted(section, len(items)), tuple(i for i, _ in items), lives, goes, sum(w for _, w in items), why, needs
        )
        for (section, lives, goes, why, needs), items in found.items()
    ]


def _written(profile: Profile, programs: Mapping[str, Program], may_lie: MayLie | None) -> frozenset[tuple[str, str]]:
    """The items that a settings file says, by section and key."""
    commands = {(f.program.id, f.platform, c) for f in files_of_profile(profile, programs, may_lie) for c in f.commands}
    found = {("entries", e.key) for e in profile.entries if (e.program, e.platform, _now(e, programs)) in commands}
    found |= {
        ("preferences", p.key)
        for p in profile.preferences
        if p.program in programs and in_a_file(programs[p.program], p) and _may_lie(programs[p.program], may_lie)
    }
    for one in profile.sets:
        if one.entries and all((e.program, e.platform, _now(e, programs)) in commands for e in one.entries):
            found.add(("sets", one.id))
    return frozenset(found)


def _now(entry: Entry, programs: Mapping[str, Program]) -> str:
    return "" if entry.arguments or entry.layouts or entry.program not in programs else entry.command


def _may_lie(program: Program, may_lie: MayLie | None) -> bool:
    if may_lie is None:
        return True
    places = ((p, how.place(p)) for how in program.settings_files for p in how.path)
    return all(may_lie(program, platform, place) for platform, place in places)


def _needs(section: str, item: Any, programs: Mapping[str, Program]) -> str:
    match section:
        case "macros":
            name = programs[item.program].name if item.program in programs else item.program
            return f"macros allowed in {name}"
        case "launchers":
            return "what it runs, on the machine"
        case "remaps":
            return "something on the machine that changes keys"
        case "translations":
            return "something on the machine that translates presses"
        case "abbreviations":
            return "something on the machine that writes texts out"
        case _:
            return ""


def _called(item: Any, programs: Mapping[str, Program]) -> str:
    """An item in a few words: its own name, or that of what it is of."""
    program = programs.get(getattr(item, "program", None) or "")
    if program is not None:
        offers = program.offers
        for field, known in (("command", program.command), ("shelf", offers.shelf), ("preference", offers.preference)):
            found = known(getattr(item, field)) if hasattr(item, field) else None
            if found is not None:
                return f"{found.name} in {program.name}"
    named = (str(v) for name in ("name", "short", "keys", "key", "id") if (v := getattr(item, name, "")))
    return next(named, "")


def fares_of(profile: str, lines: Sequence[Line]) -> tuple[Fares, ...]:
    """An account of a profile, by its id, as the manifest of a bundle says it."""
    return tuple(
        Fares(
            profile=profile,
            section=one.section,
            what=one.says,
            lives=one.lives,
            goes=one.goes,
            why=one.why,
            in_files=one.in_files,
            needs=one.needs,
        )
        for one in lines
    )
