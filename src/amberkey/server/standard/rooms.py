"""Commands that make room for the standard's lines: which, for which lines, and giving one other keys or its own back."""

from collections.abc import Sequence

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.programs.model import Command
from amberkey.core.standard.model import MakesRoom, Standard
from amberkey.core.standard.rooms import Making, making_room, with_rooms
from amberkey.server.estate import STANDARD, current_estate, current_standard
from amberkey.server.library.contradicting import ChosenItemIn, chosen_items
from amberkey.server.library.documents import digests
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import Actor, By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Number, Reason, Schema
from amberkey.server.standard.drafts import WhatIfOut, draft_out
from amberkey.server.standard.plans import PlanOfStandardOut, planned
from amberkey.server.standard.verbs.drafts import find_draft, keep_draft, standard_of
from amberkey.server.standard.verbs.set_lines import save_standard, seen_standard
from amberkey.server.workbench.words import ShortcutOut, shortcut_on

router = Router(tags=["standard"])


class RoomLineOut(Schema):
    """A line that a command makes room for."""

    task: str
    name: str
    keys: ShortcutOut
    layouts: list[str]


class RoomOut(Schema):
    """A command that makes room. `had`: its own keys; `keys`: what it has instead; `lines`: those that it makes room for, none
    where that is in vain. `known`: whether anybody has the command."""

    program: str
    program_name: str
    command: str
    command_name: str
    platform: Platform
    had: list[ShortcutOut]
    keys: list[ShortcutOut]
    lines: list[RoomLineOut]
    people: int
    known: bool
    reason: str
    owner: str


class RoomsOut(Schema):
    """`seen`: the digest of the standard, to be given back; "" where there is none."""

    seen: str
    rooms: list[RoomOut]


class OwnKeysOut(Schema):
    """A command that could make room, with its own keys on a platform."""

    id: str
    name: str
    keys: list[ShortcutOut]


class RoomIn(Schema):
    """A command as it is to make room: `keys` as somebody writes shortcuts, none where it is left without; None gives it its
    own keys back."""

    program: str
    command: str
    platform: Platform
    keys: list[str] | None
    reason: Reason = ""


class RoomsIn(Schema):
    """`draft`: they make room in that one. `seen`: the digest of the standard that somebody saw; `chosen`: whose is to count
    where others said otherwise meanwhile."""

    rooms: list[RoomIn]
    draft: Number | None = None
    seen: str | None = None
    chosen: list[ChosenItemIn] = []


class DraftRoomsIn(Schema):
    rooms: list[RoomIn]


@router.get("/standard/rooms", response=RoomsOut)
def rooms(request: HttpRequest, draft: Number | None = None) -> RoomsOut:
    """The commands that make room in the standard, or in a draft of it."""
    estate, standard = current_estate(), _standard(draft)
    names = {t.id: t.name for t in estate.tasks.tasks}
    return RoomsOut(seen=digests().get(STANDARD, ""), rooms=[_room_out(m, names) for m in making_room(estate, standard)])


@router.get("/standard/rooms/commands", response=list[OwnKeysOut])
def commands_with_keys(request: HttpRequest, program: str, platform: Platform) -> list[OwnKeysOut]:
    """The commands of a program that have keys of their own on a platform, by name."""
    estate = current_estate()
    found: dict[str, Command] = {}
    for (program_id, _), one in sorted(estate.programs.items()):
        if program_id == program:
            found.update((c.id, c) for c in one.commands if c.defaults_on(platform))
    if not found and all(program_id != program for program_id, _ in estate.programs):
        raise NotFound(f"program {program[:60]}")
    return [
        OwnKeysOut(id=c.id, name=c.name, keys=[shortcut_on(s, platform) for s in c.defaults_on(platform)])
        for c in sorted(found.values(), key=lambda c: (c.name, c.id))
    ]


@router.post("/standard/rooms/plan", response=PlanOfStandardOut)
def plan_rooms(request: HttpRequest, given: RoomsIn) -> PlanOfStandardOut:
    """What it would do that commands make room otherwise, before it is saved."""
    now = _standard(given.draft) if given.draft is not None else current_standard()
    return planned(now, _wanted(actor_of(request), given.rooms, now))


@router.post("/standard/rooms", response=ChangeOut, auth=By(Role.EDITOR))
def save_rooms(request: HttpRequest, given: RoomsIn) -> ChangeOut:
    """Have commands make room otherwise, beside whatever others saved meanwhile."""
    if given.draft is not None:
        raise Problem(400, "A draft isn't saved here.", cure="Keep it in the draft.")
    actor, base = actor_of(request), seen_standard(given.seen)
    wanted = _wanted(actor, given.rooms, base)
    reason = next((r.reason for r in given.rooms if r.reason), "")
    done = save_standard(actor, wanted, given.seen, _title(given.rooms, wanted), reason, chosen_items(given.chosen))
    return ChangeOut(id=done.id, title=done.title)


@router.post("/standard/drafts/{draft_id}/rooms", response=WhatIfOut, auth=By(Role.EDITOR))
def keep_rooms(request: HttpRequest, draft_id: Number, given: DraftRoomsIn) -> WhatIfOut:
    """Have commands make room otherwise in a draft."""
    actor, draft = actor_of(request), find_draft(draft_id)
    return draft_out(request, keep_draft(actor, draft.name, _wanted(actor, given.rooms, standard_of(draft)), draft))


def _standard(draft: int | None) -> Standard:
    return current_standard() if draft is None else standard_of(find_draft(draft))


def _command(room: RoomIn | MakesRoom) -> tuple[str, Command | None]:
    """The name of a program, its id where nobody has it, and its command in the newest version that has it."""
    name, found = room.program, None
    for (program_id, _), program in sorted(current_estate().programs.items()):
        if program_id == room.program:
            name, found = program.name, program.command(room.command) or found
    return name, found


def _wanted(actor: Actor, given: Sequence[RoomIn], over: Standard) -> Standard:
    """A standard with what somebody asks for. Raises NotFound, ShortcutError, or Problem where nothing would change."""
    wanted: list[MakesRoom] = []
    gone: list[str] = []
    known = {room.key: room for room in over.makes_room}
    for one in given:
        program, command = _command(one)
        base = MakesRoom.model_construct(program=one.program, command=one.command, platform=one.platform)
        if one.keys is None:
            if base.key not in known:
                raise NotFound(f"command that makes room, {one.command[:40]} in {one.program[:40]} on {one.platform},")
            gone.append(base.key)
            continue
        if command is None:
            raise NotFound(f"command {one.command[:60]} in {one.program[:60]}")
        if len(one.keys) > 8:
            raise Problem(400, f"{command.name} would have {len(one.keys)} keys.", cure="Leave it eight at most.")
        shortcuts = tuple(dict.fromkeys(read_shortcut(k).resolve(one.platform) for k in one.keys))
        if set(shortcuts) >= set(command.defaults_on(one.platform)):
            why = "It keeps all its own keys." if command.defaults_on(one.platform) else "It has no key of its own."
            cure = "Take one of its own keys away, or give it its own keys back."
            raise Problem(400, f"{command.name} in {program} would make no room.", why, cure)
        old = known.get(base.key)
        reason = one.reason.strip() or (old.reason if old else "")
        values = {"program": one.program, "command": old.command if old else one.command, "platform": one.platform}
        wanted.append(MakesRoom.model_validate({**values, "keys": shortcuts, "reason": reason, "owner": actor.name}))
    return with_rooms(over, wanted, gone)


def _title(given: Sequence[RoomIn], wanted: Standard) -> str:
    """What was done, in a sentence for the history."""
    if not given:
        return "Changed the standard"
    kept = {room.key: room for room in wanted.makes_room}
    one = given[0]
    program, command = _command(one)
    name = f"{command.name if command else one.command} in {program} on {PLATFORM_NAMES[one.platform]}"
    room = kept.get(MakesRoom.model_construct(program=one.program, command=one.command, platform=one.platform).key)
    if room is None:
        told = f"Gave {name} its own keys back"
    elif room.keys:
        told = f"{name} makes room and has {' and '.join(words_of(s, one.platform) for s in room.shortcuts)}"
    else:
        told = f"{name} makes room and has no key"
    return told if len(given) == 1 else f"{told}, and {len(given) - 1} more"


def _room_out(making: Making, names: dict[str, str]) -> RoomOut:
    room = making.room
    program, command = _command(room)
    platform = room.platform
    return RoomOut(
        program=room.program,
        program_name=program,
        command=room.command,
        command_name=command.name if command else room.command,
        platform=platform,
        had=[shortcut_on(s, platform) for s in (making.had or (command.defaults_on(platform) if command else ()))],
        keys=[shortcut_on(s, platform) for s in room.shortcuts],
        lines=[
            RoomLineOut(
                task=v.task, name=names.get(v.task, v.task), keys=shortcut_on(v.shortcut, platform), layouts=list(v.layouts)
            )
            for v in making.lines
        ],
        people=making.people,
        known=making.command is not None,
        reason=room.reason,
        owner=room.owner,
    )
