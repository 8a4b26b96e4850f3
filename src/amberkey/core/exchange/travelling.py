"""What of a profile travels in a bundle, what stays and why, and what needs something at its destination first."""

from collections import Counter
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass

from amberkey.core.documents.sections import SECTIONS
from amberkey.core.exchange.approving import MayLie, MayRun
from amberkey.core.exchange.bundle import Stays
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.rendering import Rendered, files_of_profile
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.preferences import Preference
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import described_on

SECTION_WORDS: Mapping[str, str] = {
    "entries": "shortcuts",
    "reserved": "reserved presses",
    "launchers": "launchers",
    "abbreviations": "abbreviations",
    "macros": "macros",
    "shelves": "shelves",
    "menu_groups": "menu groups",
    "remaps": "changed keys",
    "translations": "translations",
    "preferences": "preferences",
    "sets": "sets",
}
"""What people call the sections of a profile, several of them, in the order in which they are shown."""
NOT_CHOSEN = "They were not chosen."
_ONE = {"entries": "shortcut", "reserved": "reserved press", "shelves": "shelf", "remaps": "changed key"}


def counted(section: str, count: int) -> str:
    """So many items of a section, in words."""
    if count == 1:
        return f"1 {_ONE.get(section, SECTION_WORDS[section].removesuffix('s'))}"
    return f"{count or 'no'} {SECTION_WORDS[section]}"


@dataclass(frozen=True)
class Travel:
    """`profile`: as it travels. `sections`: those that were chosen; None where all are. `silent`: items that stay though their
    section travels, as "section: key". `files`: settings files of it."""

    profile: Profile
    sections: tuple[str, ...] | None
    silent: tuple[str, ...]
    files: tuple[Rendered, ...]
    needs: tuple[str, ...]
    stays: tuple[Stays, ...]


def travel(
    profile: Profile,
    programs: Mapping[str, Program],
    chosen: Collection[str] | None = None,
    *,
    may_run: MayRun | None = None,
    may_lie: MayLie | None = None,
) -> Travel:
    """`programs` by id, the newest version of each. `chosen`: sections; None: all. `may_run`, `may_lie`: whether somebody
    approved what a launcher runs, where a settings file lies; None asks for no approval.

    Raises BundleError for a section that a profile doesn't have, or where none is left.
    """
    known = SECTIONS[profile.format]
    unknown = sorted(set(chosen or ()) - known.keys())
    if unknown:
        raise BundleError(f"A profile has no section {unknown[0][:40]}.", cure=f"It has {', '.join(known)}.")
    if chosen is not None and not chosen:
        raise BundleError("No section was chosen.", cure="Choose one of them at least.")
    sections = tuple(s for s in known if s in chosen) if chosen is not None and set(chosen) != known.keys() else None
    stays: list[Stays] = []
    if sections is not None:
        left = [s for s in known if s not in sections and getattr(profile, s)]
        stays += [Stays(what=counted(s, len(getattr(profile, s))), why=NOT_CHOSEN) for s in left]
        profile = profile.model_copy(update={s: () for s in known if s not in sections})
    staying = list(staying_in(profile, may_run))
    stays += [Stays(what=one.what, why=one.why) for one in staying]
    if staying:
        left_out = {(one.section, one.key) for one in staying}
        profile = profile.model_copy(
            update={
                "launchers": tuple(v for v in profile.launchers if ("launchers", v.id) not in left_out),
                "macros": tuple(m for m in profile.macros if ("macros", m.key) not in left_out),
            }
        )
    files = files_of_profile(profile, programs, may_lie)
    stays += _not_in_files(profile, files, programs)
    silent = tuple(f"{one.section}: {one.key}" for one in staying)
    return Travel(profile, sections, silent, tuple(files), needs_of([profile], programs), tuple(stays))


@dataclass(frozen=True, slots=True)
class Staying:
    """An item that doesn't go along though its section does: which, in words, and why. `waits`: it does once it is approved."""

    section: str
    key: str
    what: str
    why: str
    waits: bool


def staying_in(profile: Profile, may_run: MayRun | None) -> Iterator[Staying]:
    """What of a profile stays: what runs something and nobody approved, and macros that live in a document."""
    for launcher in profile.launchers:
        if may_run is not None and not may_run(launcher):
            why = "What it runs waits for a releaser's approval."
            yield Staying("launchers", launcher.id, f"The launcher {launcher.name}", why, waits=True)
    for macro in profile.macros:
        what = f"The macro {macro.name}"
        if macro.kept == "document":
            why = f"It lives in {macro.document}; send that along, or keep the macro with the person."
            yield Staying("macros", macro.key, what, why, waits=False)
        elif may_run is not None and not may_run(macro):
            yield Staying("macros", macro.key, what, "What it does waits for a releaser's approval.", waits=True)


def needs_of(profiles: Sequence[Profile], programs: Mapping[str, Program]) -> tuple[str, ...]:
    """What some profiles need where they arrive, in sentences."""
    entries = Counter(e.program for p in profiles for e in p.all_entries)
    entries.update(t.program for p in profiles for t in p.translations)
    others = Counter(s.program for p in profiles for s in p.shelves)
    others.update(g.program for p in profiles for g in p.menu_groups)
    others.update(m.program for p in profiles for m in p.macros)
    others.update(one.program for p in profiles for one in p.preferences)
    others.update(i for p in profiles for a in p.abbreviations for i in a.programs)
    needs = []
    for program_id, count in sorted(entries.items()):
        program = programs.get(program_id)
        name = f"{program.name} {program.version}" if program else program_id
        needs.append(f"{name}, as {program_id}: {count} {'shortcut needs' if count == 1 else 'shortcuts need'} it.")
    for program_id, count in sorted(others.items()):
        program = programs.get(program_id)
        name = f"{program.name} {program.version}" if program else program_id
        needs.append(f"{name}, as {program_id}: {count} other {'thing needs' if count == 1 else 'things need'} it.")
    needs += [
        f"Macros allowed in {name}." for name in sorted({_named(m.program, programs) for p in profiles for m in p.macros})
    ]
    runs = sum(len(p.launchers) for p in profiles)
    if runs:
        needs.append(f"A releaser's approval: {runs} {'launcher runs' if runs == 1 else 'launchers run'} something.")
    macros = sum(len(p.macros) for p in profiles)
    if macros:
        needs.append(f"A releaser's approval: {macros} {'macro runs' if macros == 1 else 'macros run'} something.")
    tasks = sorted({r.task for p in profiles for r in p.reserved if r.task})
    if tasks:
        needs.append(f"These tasks, for which presses are reserved: {', '.join(tasks[:12])}{'...' if len(tasks) > 12 else ''}.")
    return tuple(n[:600] for n in needs)


def _named(program_id: str, programs: Mapping[str, Program]) -> str:
    return programs[program_id].name if program_id in programs else program_id


def _not_in_files(profile: Profile, files: Sequence[Rendered], programs: Mapping[str, Program]) -> list[Stays]:
    """What is in the bundle's documents, and in none of its settings files."""
    found = []
    for file in files:
        where = f"{file.program.name} on {PLATFORM_NAMES[file.platform]}, as a settings file"
        if not file.data:
            found.append(Stays(what=where, why=(file.left_out or ("It can't be written.",))[0][:600]))
        else:
            found += [Stays(what=where, why=why[:600]) for why in file.left_out]
    known = {(f.program.id, f.platform) for f in files}
    missing = Counter(e.program for e in profile.all_entries if (e.program, e.platform) not in known)
    found += [Stays(what=f"{program}, as a settings file", why="That program isn't described here.") for program in missing]
    apart = [s for s in _IN_NO_FILE if getattr(profile, s)]
    if apart:
        words = [SECTION_WORDS[s] for s in apart]
        what = f"{', '.join(words[:-1])} and {words[-1]}" if len(words) > 1 else words[0]
        found.append(
            Stays(
                what=f"{what[0].upper()}{what[1:]}, in settings files",
                why="No program's own file has them; they are in the documents.",
            )
        )
    loose = [p for p in profile.preferences if p.program not in programs or not in_a_file(programs[p.program], p)]
    if loose:
        found.append(
            Stays(
                what=f"{len(loose)} {'preference' if len(loose) == 1 else 'preferences'}, in settings files",
                why="No file that is described has them; they are in the documents.",
            )
        )
    return found


_IN_NO_FILE = ("launchers", "remaps", "translations", "shelves", "menu_groups", "abbreviations", "macros")


def in_a_file(program: Program, preference: Preference) -> bool:
    """Whether a settings file that is described has a preference, on one platform at least."""
    place = program.offers.preference(preference.preference)
    if place is None or not place.at:
        return False
    platforms = (preference.platform,) if preference.platform is not None else program.platforms
    return any(number == place.in_file for platform in platforms for number, _ in described_on(program, platform))
