"""What of a profile travels in a bundle, what stays and why, and what needs something at its destination first."""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from amberkey.core.documents.sections import SECTIONS
from amberkey.core.exchange.approving import MayLie, MayRun
from amberkey.core.exchange.bundle import Stays
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.rendering import Rendered, files_of_profile
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program

SECTION_WORDS: Mapping[str, str] = {
    "entries": "shortcuts of commands",
    "launchers": "launchers",
    "remaps": "changed keys",
    "translations": "translations",
    "reserved": "reserved presses",
    "sets": "sets",
}
"""What people call the sections of a profile, several of them."""


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
        stays += [Stays(what=f"{len(getattr(profile, s))} {SECTION_WORDS[s]}", why="They were not chosen.") for s in left]
        profile = profile.model_copy(update={s: () for s in known if s not in sections})
    waiting = [v for v in profile.launchers if may_run is not None and not may_run(v)]
    stays += [Stays(what=f"The launcher {v.name}", why="What it runs waits for a releaser's approval.") for v in waiting]
    if waiting:
        profile = profile.model_copy(update={"launchers": tuple(v for v in profile.launchers if v not in waiting)})
    files = files_of_profile(profile, programs, may_lie)
    stays += _not_in_files(profile, files)
    silent = tuple(f"launchers: {v.id}" for v in waiting)
    return Travel(profile, sections, silent, tuple(files), needs_of([profile], programs), tuple(stays))


def needs_of(profiles: Sequence[Profile], programs: Mapping[str, Program]) -> tuple[str, ...]:
    """What some profiles need where they arrive, in sentences."""
    entries = Counter(e.program for p in profiles for e in p.all_entries)
    entries.update(t.program for p in profiles for t in p.translations)
    needs = []
    for program_id, count in sorted(entries.items()):
        program = programs.get(program_id)
        name = f"{program.name} {program.version}" if program else program_id
        needs.append(f"{name}, as {program_id}: {count} {'shortcut needs' if count == 1 else 'shortcuts need'} it.")
    runs = sum(len(p.launchers) for p in profiles)
    if runs:
        needs.append(f"A releaser's approval: {runs} {'launcher runs' if runs == 1 else 'launchers run'} something.")
    tasks = sorted({r.task for p in profiles for r in p.reserved if r.task})
    if tasks:
        needs.append(f"These tasks, for which presses are reserved: {', '.join(tasks[:12])}{'...' if len(tasks) > 12 else ''}.")
    return tuple(n[:600] for n in needs)


def _not_in_files(profile: Profile, files: Sequence[Rendered]) -> list[Stays]:
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
    if any(getattr(profile, s) for s in ("launchers", "remaps", "translations")):
        found.append(
            Stays(
                what="Launchers, changed keys and translations, in settings files",
                why="No program's own file has them; they are in the documents.",
            )
        )
    return found
