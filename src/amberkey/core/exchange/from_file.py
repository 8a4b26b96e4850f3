"""What a program's settings file says, as a profile: what was read of it on a machine or from a person."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described
from amberkey.core.keys.platform import PLATFORMS, Platform
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.profiles.preferences import Preference
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import Scalar
from amberkey.core.programs.preference_files import in_the_file, read_preferences
from amberkey.core.programs.settings_files import Settings, described_on, read_settings


@dataclass(frozen=True, slots=True)
class ReadAs:
    """A settings file read by one description. `number`: which of the program's, counted from 0. `preferences`: what it says of
    these, by their ids."""

    program: Program
    platform: Platform
    number: int
    settings: Settings
    preferences: Mapping[str, Scalar] = field(default_factory=dict)

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
    """What a file says that isn't as the maker ships it, or of which `into` says something on that platform: entries and
    preferences.

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
    preferences = tuple(_preferences(read, into))
    return Profile(
        id=f"from-{program.id}"[:80], name=name[:200] or program.name, entries=tuple(entries), preferences=preferences
    )


def _preferences(read: ReadAs, into: Profile | None) -> Iterator[Preference]:
    """A file says nothing of platforms: where `into` has a preference for its own alone, that one is meant."""
    there = {p.preference: p for p in _standing(read, into)}
    for place in in_the_file(read.program, read.number):
        value, own = read.preferences.get(place.id), there.get(place.id)
        if value is None:
            continue
        if own is not None:
            yield own.model_copy(update={"value": value}) if own.value != value else own
        elif value != place.default:
            yield Preference(program=read.program.id, preference=place.id, value=value)


def _standing(read: ReadAs, into: Profile | None) -> list[Preference]:
    found = [p for p in into.preferences if speaks_of_preference(read, p)] if into is not None else []
    return sorted(found, key=lambda p: p.platform is not None)


def speaks_of_preference(read: ReadAs, one: Preference) -> bool:
    """Whether a file could say anything of a preference: it is of its program, on its platform or all, and stands in it."""
    if one.program != read.program.id or one.platform not in (None, read.platform):
        return False
    return any(p.id == one.preference for p in in_the_file(read.program, read.number))


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
                read = ReadAs(program, p, number, settings, read_preferences(data, program, number))
                named = how.path.get(p, "").rpartition("/")[2].casefold() == called.casefold()
                if read.known or settings.unread or (named and not settings.missing):
                    found.append((named, read))
    found.sort(key=lambda one: (-one[0], -one[1].known, one[1].program.id, PLATFORMS.index(one[1].platform)))
    return [read for _, read in found]
