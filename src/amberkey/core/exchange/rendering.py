"""Settings files as programs read them, made from a profile or from all that holds on a setup.

What a file can't say is left out and told with why; it never keeps the rest from being written.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described, Exported
from amberkey.core.descriptions.fresh import fresh_file
from amberkey.core.exchange.approving import MayLie
from amberkey.core.keys.platform import PLATFORM_NAMES, PLATFORMS, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.preferences import preferred
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.programs.model import Command, Program
from amberkey.core.programs.offers import Scalar
from amberkey.core.programs.preference_files import in_the_file, write_preferences
from amberkey.core.programs.settings_files import described_on, holder_of, of_file, write_settings

NOT_APPROVED = "Where it lies waits for a releaser's approval."
Wanted = Mapping[str, tuple[Shortcut, ...]]
"""The shortcuts that a file shall have, by the id of their command."""


@dataclass(frozen=True, slots=True)
class Rendered:
    """One settings file of a program. `path`: where it lies below the home, with slashes. `commands`: the ids of those that it
    sets. `left_out`: what it doesn't say, in sentences. Where nothing could be written `data` is empty and `left_out` says why.
    `export`: where it is no file but goes into a store.
    """

    program: Program
    platform: Platform
    path: str
    data: bytes
    commands: tuple[str, ...]
    left_out: tuple[str, ...]
    export: Exported | None = None


def wanted_on(commands: tuple[EffectiveCommand, ...]) -> dict[str, tuple[Shortcut, ...]]:
    """What a program's file should say on a setup: every command that a layer sets."""
    return {
        one.command.id: tuple(dict.fromkeys(s for s, _ in one.now.shortcuts))
        for one in commands
        if one.now.layer != DEFAULT and not one.arguments
    }


def files_of_setup(setup: ResolvedSetup, may_lie: MayLie | None = None) -> list[Rendered]:
    """The settings files of a setup's programs, new ones with what its layers set; by program in the setup's order. `may_lie`:
    whether somebody approved where a file lies; None asks for no approval."""
    found: list[Rendered] = []
    platform = setup.setup.works_on
    for program in setup.programs:
        set_otherwise = preferences_on(setup, program)
        commands = setup.commands[program.id]
        apart = tuple(
            f"{one.command.name}: a file can't say it with {_values(one)}."
            for one in commands
            if one.now.layer != DEFAULT and one.arguments
        )
        wanted = wanted_on(commands)
        if wanted or apart or set_otherwise:
            found += _files(program, platform, wanted, apart, may_lie, set_otherwise)
    return found


def preferences_on(setup: ResolvedSetup, program: Program) -> dict[str, Scalar]:
    """What a program's files should say of preferences on a setup: every one that a layer sets."""
    found = setup.preferences(program.id)
    return {one.place.id: one.value for one in found if one.layer != DEFAULT}


def files_of_profile(profile: Profile, programs: Mapping[str, Program], may_lie: MayLie | None = None) -> list[Rendered]:
    """The settings files of a profile alone, for every program here and platform that it says something of, in that order."""
    found: list[Rendered] = []
    for program_id, program in sorted(programs.items()):
        for platform in PLATFORMS:
            said = profile.said_of(program_id, platform, "").entries
            wanted: dict[str, tuple[Shortcut, ...]] = {}
            apart: list[str] = []
            for entry in said:
                command = program.command(entry.command)
                if command is None:
                    apart.append(f"{entry.command}: {program.name} {program.version} has no such command.")
                elif entry.arguments:
                    apart.append(f"{command.name}: a file can't say it with values.")
                else:
                    wanted[entry.command] = tuple(dict.fromkeys(g.keys for g in entry.shortcuts))
            apart += _for_layouts(profile, program, platform)
            prefer = {
                one.place.id: one.value for one in preferred(program, platform, [("", profile.preferences)]) if not one.layer
            }
            prefer = prefer if platform in program.platforms else {}
            if wanted or apart or (prefer and _has_a_file_for(program, platform, prefer)):
                found += _files(program, platform, wanted, tuple(dict.fromkeys(apart)), may_lie, prefer)
    return found


def _for_layouts(profile: Profile, program: Program, platform: Platform) -> Iterator[str]:
    for entry in profile.by_program.get((program.id, platform), ()):
        if entry.layouts:
            command = program.command(entry.command)
            name = command.name if command else entry.command
            yield f"{name}: only for {', '.join(entry.layouts)}; a file of one setup has it."


def _values(one: EffectiveCommand) -> str:
    return " and ".join(f"{name} {value}" for name, value in one.arguments)


def _files(
    program: Program,
    platform: Platform,
    wanted: Wanted,
    apart: tuple[str, ...],
    may_lie: MayLie | None,
    prefer: Mapping[str, Scalar],
) -> list[Rendered]:
    described = described_on(program, platform)
    if not described:
        where = f" on {PLATFORM_NAMES[platform]}" if program.settings_files else ""
        return [Rendered(program, platform, "", b"", (), (f"Where it keeps its keys{where} isn't described.",))]
    files = []
    apart = (*apart, *_nowhere(program, platform, wanted))
    for number, how in described:
        own = of_file(program, platform, number, wanted)
        here = {p.id for p in in_the_file(program, number)} & prefer.keys()
        if not own and not here and (len(described) > 1 or not (wanted or apart)):
            continue
        path = how.path.get(platform, f"{program.id}-store.txt" if how.export else f"{program.id}.{how.container}")
        if may_lie is not None and how.path and not may_lie(program, platform, how.place(platform)):
            files.append(Rendered(program, platform, path, b"", (), (NOT_APPROVED,)))
            continue
        try:
            data, wrote, left = render(program, how, own, platform=platform)
            data, unset = with_preferences(data, program, number, prefer)
        except SettingsFileError as error:
            files.append(Rendered(program, platform, path, b"", (), (error.says, *apart)))
            continue
        files.append(Rendered(program, platform, path, data, wrote, (*left, *unset, *apart), how.export))
    return files


def _has_a_file_for(program: Program, platform: Platform, prefer: Mapping[str, Scalar]) -> bool:
    return any(p.id in prefer for number, _ in described_on(program, platform) for p in in_the_file(program, number))


def with_preferences(data: bytes, program: Program, number: int, prefer: Mapping[str, Scalar]) -> tuple[bytes, tuple[str, ...]]:
    """A settings file with preferences set, and in sentences those that it can't say. Parts that aren't there yet are made."""
    how, left = program.settings_files[number], []
    for place in in_the_file(program, number):
        if place.id not in prefer:
            continue
        try:
            data = write_preferences(data, program, how, number, {place.id: prefer[place.id]}, make_parts=True)
        except SettingsFileError as error:
            left.append(f"{place.name}: {error.says}")
    return data, tuple(left)


def _nowhere(program: Program, platform: Platform, wanted: Wanted) -> Iterator[str]:
    for command_id in wanted:
        command = program.command(command_id)
        if command is not None and holder_of(program, platform, command) is None:
            yield f"{command.name}: no file of {program.name} that is described has commands of its scope."


def render(
    program: Program, how: Described, wanted: Wanted, base: bytes | None = None, platform: Platform | None = None
) -> tuple[bytes, tuple[str, ...], tuple[str, ...]]:
    """A settings file with shortcuts set: its bytes, the ids of the commands that it has as wanted, and what it can't say.

    `base`: the file as it is; a new one is begun where there is none. `platform`: whose defaults hold. Raises
    SettingsFileError where that can't be.
    """
    left: list[str] = []
    able: dict[str, tuple[Shortcut, ...]] = {}
    for command_id, shortcuts in wanted.items():
        command = program.command(command_id)
        if command is None:
            left.append(f"{command_id}: {program.name} {program.version} has no such command.")
            continue
        if how.export is not None and not command.in_file:
            left.append(f"{command.name}: it isn't kept in {how.export.called}.")
            continue
        able[command_id] = shortcuts
    contexts = [_context(how, c) for c in map(program.command, able) if c is not None]
    begun = fresh_file(how, contexts or [_context(how, c) for c in program.commands[:1]]) if base is None else base
    try:
        return write_settings(begun, program, how, able, platform).data, tuple(able), tuple(left)
    except SettingsFileError:
        pass  # one of them can't be written: which one is found by writing them one by one
    data, wrote = begun, []
    for command_id, shortcuts in able.items():
        try:
            data = write_settings(data, program, how, {command_id: shortcuts}, platform).data
            wrote.append(command_id)
        except SettingsFileError as error:
            left.append(f"{program.commands_by_id[command_id].name}: {error.says}")
    return data, tuple(wrote), tuple(left)


def _context(how: Described, command: Command) -> str:
    return how.scopes.get(command.scope, command.scope)
