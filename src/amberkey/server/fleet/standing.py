"""How a machine's settings file stands against what its profile says: pure answers from what was last seen."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, cast

from amberkey.core.clashes.board import Board
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import Entries, Settings, read_settings
from amberkey.server.fleet.models import MachineFile

State = Literal["unseen", "problem", "waiting", "new", "behind", "in step", "drifted"]


@dataclass(frozen=True)
class Standing:
    """`differences` are sentences: what the machine has, and what the profile says."""

    state: State
    says: str
    differences: tuple[str, ...] = ()


def wanted_entries(board: Board, program: Program, file: MachineFile) -> dict[str, tuple[Shortcut, ...] | None]:
    """What the file should say: every command that a layer sets; None where one set before is back at its default."""
    wanted: dict[str, tuple[Shortcut, ...] | None] = {}
    for effective in board.setup.commands[program.id]:
        if effective.now.layer != DEFAULT:
            wanted[effective.command.id] = tuple(dict.fromkeys(s for s, _ in effective.now.shortcuts))
    for command in applied_part(file, "wanted"):
        wanted.setdefault(command, None)
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
        return Standing("waiting", f"{waiting.actor.display_name} asked for it; the machine hasn't answered yet.")
    if file.content is None:
        return Standing("unseen", "The agent hasn't shown this file yet.")
    assert program.settings_file is not None
    try:
        read = read_settings(file.content.data, program, program.settings_file)
    except SettingsFileError as error:
        return Standing("problem", f"The file can't be read: {error.says}")
    if read.missing:
        return Standing("problem", f"The file has no {read.missing}; the program may never have been started.")
    now, wanted = read.entries, wanted_entries(board, program, file)
    missing = _differences(program, board, now, wanted)
    if file.applied is None:
        if not missing:
            return Standing("in step", f"It already has what the profile says.{_left_alone(read)}")
        return Standing(
            "new",
            f"{len(missing)} {'shortcut differs' if len(missing) == 1 else 'shortcuts differ'} from the profile.",
            missing,
        )
    then = {c: tuple(read_document_shortcut(s) for s in cast(list[Json], v)) for c, v in applied_part(file, "entries").items()}
    drift = _differences(program, board, now, {**dict.fromkeys(now), **then})
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
    program: Program, board: Board, now: Entries, wanted: Mapping[str, tuple[Shortcut, ...] | None]
) -> tuple[str, ...]:
    found = []
    for command_id, shortcuts in sorted(wanted.items()):
        has = now.get(command_id)
        if has == shortcuts:
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
