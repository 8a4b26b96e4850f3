"""`amberkey convert`: a settings file as a profile, and a profile as one, by the description in a program document."""

import json
import pathlib
from argparse import Namespace
from typing import cast

from amberkey.cli.answer import Answer, Facts
from amberkey.cli.errors import Wrong
from amberkey.cli.files import read_one
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described
from amberkey.core.exchange.from_file import ReadAs, as_profile
from amberkey.core.exchange.rendering import with_preferences
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.preferences import preferred
from amberkey.core.programs.model import Program
from amberkey.core.programs.preference_files import in_the_file, read_preferences
from amberkey.core.programs.settings_files import of_file, read_settings, write_settings


def convert(asked: Namespace) -> tuple[list[Answer], int]:
    """What a settings file says, as a profile; or a settings file with what a profile says. Exit code 1 where something of the
    file can't be read, and stays as it is."""
    program = read_one(asked.program, Program)
    if not program.settings_files:
        raise Wrong(f"{program.name} {program.version} says nothing of a settings file; describe it first.")
    if not 0 < asked.number <= len(program.settings_files):
        raise Wrong(
            f"{program.name} describes {len(program.settings_files)} settings files; there is no number {asked.number}."
        )
    how = program.settings_files[asked.number - 1]
    platform = cast(Platform, asked.platform or program.platforms[0])
    if platform not in program.platforms:
        raise Wrong(f"{program.name} isn't there on {platform}; it is on {', '.join(program.platforms)}.")
    try:
        data = pathlib.Path(asked.file).read_bytes()
    except OSError as error:
        raise Wrong(f"{asked.file} can't be read ({error.strerror}).") from error
    try:
        if asked.profile:
            return _written(asked, data, program, how, platform)
        return _read(asked, data, program, how, platform)
    except SettingsFileError as error:
        line = f", line {_line(data, error.position)}" if error.position is not None else ""
        raise Wrong(f"{asked.file}{line}: {error.says}", {"file": asked.file}) from error


def _line(data: bytes, position: int) -> int:
    return data.decode("utf-8", "replace").count("\n", 0, position) + 1


def _read(asked: Namespace, data: bytes, program: Program, how: Described, platform: Platform) -> tuple[list[Answer], int]:
    number = asked.number - 1
    said = read_preferences(data, program, number)
    read = ReadAs(program, platform, number, read_settings(data, program, how, platform), said)
    found, foreign = read.settings, read.foreign
    told = []
    for command_id, shortcuts in found.entries.items():
        command = program.command(command_id)
        if command is not None:
            default = command.defaults_on(platform)
            told.append(f"{command.name}: {_words(shortcuts, platform)}" + (", as by default" if shortcuts == default else ""))
    for place in in_the_file(program, number):
        if place.id in said:
            as_shipped = ", as by default" if said[place.id] == place.default else ""
            told.append(f"{place.name}: {place.said(said[place.id])}{as_shipped}")
    told += [f"line {u.line}, left alone: {u.says}" for u in found.unread]
    told += [f"{name}: {program.name} {program.version} has no such command; left alone" for name in foreign]
    if found.missing:
        told.append(f"The file has no {found.missing}; the program may never have been started.")
    profile = as_profile(read, f"From {pathlib.Path(asked.file).name}")
    if asked.to:
        _keep(asked.to, (json.dumps(profile.to_json(), ensure_ascii=False, indent=1) + "\n").encode())
        counted = f"{len(profile.entries)} entries"
        counted += f" and {len(profile.preferences)} preferences" if profile.preferences else ""
        told.append(f"{counted} that differ from the defaults were written to {asked.to}.")
    facts: Facts = {
        "program": f"{program.id}@{program.version}",
        "entries": {c: [s.to_document() for s in v] for c, v in found.entries.items()},
        "preferences": dict(said),
        "unread": [{"line": u.line, "says": u.says} for u in found.unread],
        "unknown": list(foreign),
        "profile": profile.to_json(),
    }
    return [Answer("\n".join(told) or "The file sets nothing.", facts)], int(bool(found.unread))


def _written(asked: Namespace, data: bytes, program: Program, how: Described, platform: Platform) -> tuple[list[Answer], int]:
    profile = read_one(asked.profile, Profile)
    if not asked.to:
        raise Wrong("Say with --to where the settings file is to be written.")
    own = [e for e in profile.entries if e.program == program.id and e.platform == platform]
    plain = [e for e in own if not e.layouts and not e.arguments]
    wanted = {e.command: tuple(g.keys for g in e.shortcuts) for e in plain if program.command(e.command) is not None}
    if len(program.settings_files) > 1:  # the other files have the others' commands
        wanted = of_file(program, platform, asked.number - 1, wanted)
    written = write_settings(data, program, how, wanted, platform)
    prefer = {p.place.id: p.value for p in preferred(program, platform, [("", profile.preferences)]) if p.layer != DEFAULT}
    with_all, unset = with_preferences(written.data, program, asked.number - 1, prefer)
    _keep(asked.to, with_all)
    told = [f"{len(written.changed)} of {len(wanted)} commands are others in {asked.to} now; everything else is as it was."]
    if prefer:
        told.append(f"{len(prefer) - len(unset)} of {len(prefer)} preferences are as the profile says.")
    told += unset
    left = len(own) - len(wanted)
    if left:
        told.append(
            f"{left} entries were left out: for single layouts, with arguments, or of commands that the file doesn't have."
        )
    facts: Facts = {"changed": [w.command for w in written.changed], "wanted": sorted(wanted), "left_out": left}
    return [Answer(" ".join(told), facts)], 0


def _words(shortcuts: tuple[Shortcut, ...], platform: Platform) -> str:
    return " and ".join(words_of(s, platform) for s in shortcuts) or "no shortcut"


def _keep(to: str, data: bytes) -> None:
    try:
        pathlib.Path(to).write_bytes(data)
    except OSError as error:
        raise Wrong(f"{to} can't be written ({error.strerror}).") from error
