"""What a program's settings file says, as a profile: what was read of it on a machine or from a person."""

from dataclasses import dataclass

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described
from amberkey.core.keys.platform import PLATFORMS, Platform
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import Settings, described_on, read_settings


@dataclass(frozen=True, slots=True)
class ReadAs:
    """A settings file read by one description. `number`: which of the program's, counted from 0."""

    program: Program
    platform: Platform
    number: int
    settings: Settings

    @property
    def how(self) -> Described:
        """The description."""
        return self.program.settings_files[self.number]

    @property
    def known(self) -> int:
        """How many of the program's commands it names."""
        return sum(self.program.command(c) is not None for c in self.settings.entries)

    @property
    def foreign(self) -> tuple[str, ...]:
        """What it names that the program doesn't have."""
        return tuple(c for c in self.settings.entries if self.program.command(c) is None)


def as_profile(read: ReadAs, name: str, into: Profile | None = None) -> Profile:
    """The entries of a file that aren't the program's defaults, or of which `into` says something on that platform.

    A file names no place in the program: where its shortcuts are those of `into`, its whole entry stands there.
    """
    program, platform = read.program, read.platform
    there = {e.command: e for e in into.entries if _is_plain(e, program, platform)} if into is not None else {}
    entries = []
    for command_id, shortcuts in read.settings.entries.items():
        command = program.command(command_id)
        if command is None:
            continue
        default, own = command.defaults_on(platform), there.get(command_id)
        if own is not None and tuple(dict.fromkeys(g.keys for g in own.shortcuts)) == shortcuts:
            entries.append(own)
        elif own is not None or shortcuts != default:
            given = tuple(Given(keys=s) for s in shortcuts)
            over = own.over if own is not None else tuple(default)
            entries.append(Entry(program=program.id, command=command_id, platform=platform, shortcuts=given, over=over))
    return Profile(id=f"from-{program.id}"[:80], name=name[:200] or program.name, entries=tuple(entries))


def speaks_of(read: ReadAs, entry: Entry) -> bool:
    """Whether a file could say anything of an entry: of its program, on its platform, for all layouts and without values."""
    return _is_plain(entry, read.program, read.platform)


def _is_plain(entry: Entry, program: Program, platform: Platform) -> bool:
    return entry.program == program.id and entry.platform == platform and not entry.layouts and not entry.arguments


def readings(data: bytes, called: str, programs: list[Program]) -> list[ReadAs]:
    """Every way in which a file can be read that finds something, the likeliest first: that of a file which is called so, then
    by how many commands it names. `called`: its name without folders."""
    found: list[tuple[bool, ReadAs]] = []
    for program in programs:
        for number, how in enumerate(program.settings_files):
            for p in (p for p in PLATFORMS if p in program.platforms and (number, how) in described_on(program, p)):
                try:
                    settings = read_settings(data, program, how, p)
                except SettingsFileError:
                    break
                read = ReadAs(program, p, number, settings)
                named = how.path.get(p, "").rpartition("/")[2].casefold() == called.casefold()
                if read.known or settings.unread or (named and not settings.missing):
                    found.append((named, read))
    found.sort(key=lambda one: (-one[0], -one[1].known, one[1].program.id, PLATFORMS.index(one[1].platform)))
    return [read for _, read in found]
