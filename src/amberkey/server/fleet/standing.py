"""How a machine's settings file stands against what its profile says: pure answers from what was last seen."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.clashes.board import Board
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import Entries, Settings, of_file, read_settings
from amberkey.server.fleet.models import MachineFile, Root
from amberkey.server.fleet.verbs.watch import described_by

State = Literal["unseen", "problem", "waiting", "new", "behind", "in step", "drifted"]


WORST: tuple[State, ...] = ("problem", "drifted", "new", "behind", "waiting", "unseen", "in step")
"""How a file may stand, what needs somebody first; a machine stands as the first of its files."""


@dataclass(frozen=True)
class Standing:
    """`differences` are sentences: what the machine has, and what the profile says."""

    state: State
    says: str
    differences: tuple[str, ...] = ()


def wanted_entries(board: Board, program: Program, file: MachineFile) -> dict[str, tuple[Shortcut, ...] | None]:
    """What the file should say: every command of it that a layer sets; None where one set before is back at its default. What
    is left out of what a store is given stays in it, so there the default itself is wanted."""
    platform = board.setup.setup.works_on
    described = described_by(file, program, platform)
    if described is None:
        return {}
    wanted: dict[str, tuple[Shortcut, ...] | None] = {}
    for effective in board.setup.commands[program.id]:
        if effective.now.layer != DEFAULT and (file.root != Root.STORE or effective.command.in_file):
            wanted[effective.command.id] = tuple(dict.fromkeys(s for s, _ in effective.now.shortcuts))
    wanted = of_file(program, platform, described[0], wanted)
    for command_id in applied_part(file, "wanted"):
        command = program.command(command_id)
        if file.root == Root.STORE:
            wanted.setdefault(command_id, tuple(command.defaults_on(platform)) if command is not None else None)
        else:
            wanted.setdefault(command_id, None)
    return wanted


def applied_part(file: MachineFile, part: Literal["wanted", "entries"]) -> Mapping[str, Json]:
    if file.applied is None:
        return {}
    return cast(dict[str, dict[str, Json]], file.applied.json())[part]


def entries_json(entries: Mapping[str, tuple[Shortcut, ...] | None]) -> dict[str, Json]:
    return {c: None if v is None else cast(list[Json], [s.to_document() for s in v]) for c, v in entries.items()}


def standing_of(file: MachineFile, board: Board, program: Program) -> Standing:
    """Problem and waiting come before everything else; drift before being behind, since people's own work is at stake."""
    if file.problem:
        return Standing("problem", file.problem)
    waiting = file.orders.filter(state="waiting").first()
    if waiting is not None:
        told = waiting.says or "The machine hasn't answered yet."
        return Standing("waiting", f"{waiting.actor.display_name} asked for it. {told}")
    seen = file.seen
    if seen is None:
        return Standing("unseen", "The agent hasn't shown this file yet.")
    platform = board.setup.setup.works_on
    described = described_by(file, program, platform)
    if described is None:
        return Standing("problem", f"{program.name} {program.version} doesn't say any more what this file is.")
    try:
        how = described[1]
        read = read_settings(seen, program, how, platform)
    except SettingsFileError as error:
        return Standing("problem", f"The file can't be read: {error.says}")
    if read.missing:
        return Standing("problem", f"The file has no {read.missing}; the program may never have been started.")
    now, wanted = read.entries, wanted_entries(board, program, file)
    missing = _differences(program, board, how, now, wanted)
    if file.applied is None:
        if not missing:
            return Standing("in step", f"It already has what the profile says.{_left_alone(read)}")
        return Standing(
            "new",
            f"{len(missing)} {'shortcut differs' if len(missing) == 1 else 'shortcuts differ'} from the profile.",
            missing,
        )
    then = {c: tuple(read_document_shortcut(s) for s in cast(list[Json], v)) for c, v in applied_part(file, "entries").items()}
    drift = _differences(program, board, how, now, {**dict.fromkeys(now), **then})
    if drift:
        return Standing("drifted", "Somebody changed it on the machine since it was last written.", drift)
    if missing:
        return Standing("behind", "A newer revision of the profile has been released.", missing)
    return Standing("in step", f"It has what the profile says.{_left_alone(read)}")


def _left_alone(read: Settings) -> str:
    """What of a file can't be read and so stays as it is."""
    if not read.unread:
        return ""
    first = read.unread[0]
    more = f" and {len(read.unread) - 1} more" if len(read.unread) > 1 else ""
    return f" Line {first.line} can't be read and stays as it is{more}: {first.says}"


def _differences(
    program: Program, board: Board, how: Described, now: Entries, wanted: Mapping[str, tuple[Shortcut, ...] | None]
) -> tuple[str, ...]:
    found = []
    for command_id, shortcuts in sorted(wanted.items()):
        has = now.get(command_id)
        if how.same(has, shortcuts):
            continue
        command = program.command(command_id)
        name = command.name if command else command_id
        found.append(f"{name} has {_say(has, board)} on the machine; {_say(shortcuts, board)} is wanted.")
    return tuple(found)


def _say(shortcuts: tuple[Shortcut, ...] | None, board: Board) -> str:
    if shortcuts is None:
        return "the program's default"
    platform, language = board.setup.setup.works_on, board.setup.layout.language
    return " and ".join(words_of(s, platform, language) for s in shortcuts) or "no shortcut"
