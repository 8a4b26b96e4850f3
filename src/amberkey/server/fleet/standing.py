"""How a machine's settings file stands against what its profile says: pure answers from what was last seen."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, TypedDict, cast

from django.utils import timezone

from amberkey.core.clashes.board import Board
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import Entries, Settings, of_file, read_settings
from amberkey.server.fleet.models import MachineFile, Root
from amberkey.server.fleet.preferring import preferring
from amberkey.server.fleet.verbs.watch import described_by

State = Literal["unseen", "problem", "waiting", "new", "behind", "in step", "drifted"]


WRITTEN_ANEW = "What was written isn't there any more, and nothing else is: a new image, an update, or the program was reset."
Wanted = Mapping[str, tuple[Shortcut, ...] | None]
"""Shortcuts by the ids of commands; None: the default."""
WORST: tuple[State, ...] = ("problem", "drifted", "new", "behind", "waiting", "unseen", "in step")
"""How a file may stand, what needs somebody first; a machine stands as the first of its files."""


class OwnKeys(TypedDict):
    """What somebody set for a command in a file, and what is wanted there, as documents have shortcuts; None: the default.
    `says`: the same in a sentence."""

    command: str
    says: str
    has: list[Json] | None
    wanted: list[Json] | None


@dataclass(frozen=True)
class Standing:
    """`differences` are sentences: what the machine has, and what the profile says. `own`: of these the ones that somebody set
    there, so that nobody overwrites them unseen."""

    state: State
    says: str
    differences: tuple[str, ...] = ()
    own: tuple[OwnKeys, ...] = ()


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
    wanted = _with_overlap(of_file(program, platform, described[0], wanted), file)
    for command_id in applied_part(file, "wanted"):
        command = program.command(command_id)
        if file.root == Root.STORE:
            wanted.setdefault(command_id, tuple(command.defaults_on(platform)) if command is not None else None)
        else:
            wanted.setdefault(command_id, None)
    return wanted


def _with_overlap(wanted: dict[str, tuple[Shortcut, ...] | None], file: MachineFile) -> dict[str, tuple[Shortcut, ...] | None]:
    """With the keys that were given up and still work for a while, behind those that are wanted."""
    if not file.overlap or file.overlap_until is None or file.overlap_until <= timezone.localdate():
        return wanted
    found = dict(wanted)
    for command, kept in file.overlap.items():
        own = found.get(command)
        if own:
            found[command] = tuple(dict.fromkeys((*own, *(read_document_shortcut(s) for s in kept))))
    return found


def given_up(wanted: Wanted, file: MachineFile, board: Board, program: Program) -> dict[str, list[Json]]:
    """The keys that a file's commands had by what was written before and lose by what is wanted now, where no command of the
    program has them by then."""
    taken = {s for one in board.setup.commands[program.id] for s, _ in one.now.shortcuts}
    found: dict[str, list[Json]] = {}
    for command, had in applied_part(file, "wanted").items():
        now = wanted.get(command)
        lost = [s for s in (read_document_shortcut(k) for k in cast(list[Json], had)) if s not in taken]
        if now and lost:
            found[command] = cast(list[Json], [s.to_document() for s in lost])
    return found


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
        number, how = described
        read = read_settings(seen, program, how, platform)
        prefers = preferring(file, seen, board, program, number)
    except SettingsFileError as error:
        return Standing("problem", f"The file can't be read: {error.says}")
    if read.missing:
        return Standing("problem", f"The file has no {read.missing}; the program may never have been started.")
    now, wanted = read.entries, wanted_entries(board, program, file)
    left = left_in(file, now)
    missing = _differing(how, now, {c: s for c, s in wanted.items() if c not in left})
    if file.applied is None:
        if not missing and not prefers.write:
            return Standing("in step", f"It already has what the profile says.{_left_alone(read)}")
        return Standing(
            "new",
            _how_many_differ(len(missing), len(prefers.write)),
            (*_told(program, board, now, missing), *prefers.differences),
            _own(program, board, now, missing),
        )
    then = {c: tuple(read_document_shortcut(s) for s in cast(list[Json], v)) for c, v in applied_part(file, "entries").items()}
    drift = _differing(how, now, {c: s for c, s in {**dict.fromkeys(now), **then}.items() if c not in left})
    # What somebody set and is wanted by now is no drift any more.
    drift = {c: s for c, s in drift.items() if c not in wanted or not how.same(now.get(c), wanted[c])}
    if drift and then and all(now.get(c) in (None, _default(program, platform, c)) for c in {*then, *now}):
        says = (
            "What was written isn't there any more, and nothing else is: a new image, an update, or somebody reset the program."
        )
        return Standing("new", says, (*_told(program, board, now, missing), *prefers.differences))
    if drift:
        own = _own(program, board, now, {c: wanted.get(c, s) for c, s in drift.items()}, all_of_them=True)
        changed = (*_told(program, board, now, drift), *prefers.own)
        return Standing("drifted", "Somebody changed it on the machine since it was last written.", changed, own)
    if missing or prefers.write:
        differences = (*_told(program, board, now, missing), *prefers.differences)
        return Standing("behind", "A newer revision of the profile has been released.", differences)
    return Standing("in step", f"It has what the profile says.{_left_alone(read)}", prefers.own)


def _how_many_differ(shortcuts: int, preferences: int) -> str:
    counted = [f"{shortcuts} {'shortcut' if shortcuts == 1 else 'shortcuts'}"] if shortcuts else []
    counted += [f"{preferences} {'preference' if preferences == 1 else 'preferences'}"] if preferences else []
    one = shortcuts + preferences == 1
    return f"{' and '.join(counted)} {'differs' if one else 'differ'} from the profile."


def left_in(file: MachineFile, now: Entries) -> frozenset[str]:
    """The commands of a file whose own keys somebody decided to leave, as long as that holds and they are still those."""
    today = timezone.localdate().isoformat()
    return frozenset(
        command
        for command, one in (file.left or {}).items()
        if one["until"] >= today and entries_json({command: now.get(command)})[command] == one["has"]
    )


def _default(program: Program, platform: Platform, command_id: str) -> tuple[Shortcut, ...] | None:
    command = program.command(command_id)
    return tuple(command.defaults_on(platform)) if command is not None else None


def _left_alone(read: Settings) -> str:
    """What of a file can't be read and so stays as it is."""
    if not read.unread:
        return ""
    first = read.unread[0]
    more = f" and {len(read.unread) - 1} more" if len(read.unread) > 1 else ""
    return f" Line {first.line} can't be read and stays as it is{more}: {first.says}"


def _differing(how: Described, now: Entries, wanted: Wanted) -> Wanted:
    return {c: shortcuts for c, shortcuts in sorted(wanted.items()) if not how.same(now.get(c), shortcuts)}


def _told(program: Program, board: Board, now: Entries, wanted: Wanted) -> tuple[str, ...]:
    found = []
    for command_id, shortcuts in wanted.items():
        command = program.command(command_id)
        name = command.name if command else command_id
        found.append(f"{name} has {_say(now.get(command_id), board)} on the machine; {_say(shortcuts, board)} is wanted.")
    return tuple(found)


def _own(program: Program, board: Board, now: Entries, wanted: Wanted, *, all_of_them: bool = False) -> tuple[OwnKeys, ...]:
    """Of what differs that which somebody set: it is said in the file, and isn't the default."""
    found, platform = [], board.setup.setup.works_on
    for command_id, shortcuts in wanted.items():
        has = now.get(command_id)
        if all_of_them or (has is not None and has != _default(program, platform, command_id)):
            said = entries_json({"has": has, "wanted": shortcuts})
            found.append(
                OwnKeys(
                    command=command_id,
                    says=_told(program, board, now, {command_id: shortcuts})[0],
                    has=cast("list[Json] | None", said["has"]),
                    wanted=cast("list[Json] | None", said["wanted"]),
                )
            )
    return tuple(found)


def _say(shortcuts: tuple[Shortcut, ...] | None, board: Board) -> str:
    if shortcuts is None:
        return "the program's default"
    platform, language = board.setup.setup.works_on, board.setup.layout.language
    return " and ".join(words_of(s, platform, language) for s in shortcuts) or "no shortcut"
