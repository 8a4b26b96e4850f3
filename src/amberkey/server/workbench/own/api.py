"""Amber Key's own shortcuts for whoever is signed in, and the presses that a browser never sees."""

from typing import get_args

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import caps_of_press, words_of
from amberkey.core.layouts.keyboard import usual_keyboard
from amberkey.core.programs.limits import why_not
from amberkey.server.estate import current_estate
from amberkey.server.people.acting import actor_of
from amberkey.server.people.verbs.choose import choose_shortcut
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema
from amberkey.server.workbench.own.program import ACTIONS, clashes_of, program_of, unseen_on, usual
from amberkey.server.workbench.words import ShortcutOut

router = Router(tags=["own"])


class PressedKeyOut(Schema):
    """How a browser's event looks when it is pressed: the modifiers, and the key by its UI Events name."""

    modifiers: list[str]
    key: str


class OwnOut(Schema):
    """`keys` is null where it is switched off. `clashes`: what it clashes with on this person's platform, in sentences."""

    id: str
    name: str
    keys: ShortcutOut | None
    press: PressedKeyOut | None
    changed: bool
    clashes: list[str]


class OwnIn(Schema):
    """`keys`: a shortcut as text, "" to switch it off, null for the usual one."""

    keys: str | None


class UnseenOut(Schema):
    keys: ShortcutOut
    does: str


@router.get("/own-shortcuts", response=list[OwnOut])
def own_shortcuts(request: HttpRequest, platform: str) -> list[OwnOut]:
    """Every action with its shortcut on a platform, checked against the system and the browser there."""
    here = _platform(platform)
    chosen = _chosen(request)
    program = program_of(chosen, here)
    clashes = clashes_of(current_estate(), program, here)
    found = []
    for (action, name, _), command in zip(ACTIONS, program.commands, strict=True):
        keys = next(iter(command.defaults_on(here)), None)
        found.append(
            OwnOut(
                id=action,
                name=name,
                keys=_told(keys, here) if keys else None,
                press=PressedKeyOut(modifiers=list(keys.presses[0].modifiers), key=keys.presses[0].key or "") if keys else None,
                changed=action in chosen,
                clashes=list(dict.fromkeys(clashes.get(action, []))),
            )
        )
    return found


@router.put("/own-shortcuts/{action}", response=list[OwnOut])
def change_own(request: HttpRequest, action: str, platform: str, given: OwnIn) -> list[OwnOut]:
    """Give an action another shortcut, switch it off, or put the usual one back."""
    here = _platform(platform)
    if action not in {i for i, _, _ in ACTIONS}:
        raise NotFound(f"action {action[:40]}")
    keys = given.keys
    if keys:
        shortcut = read_shortcut(keys).resolve(here)
        why = why_not(program_of({}, here), shortcut, usual_keyboard(here))
        if why or shortcut.presses[0].key is None:
            raise Problem(
                400, f"Amber Key can't take {shortcut}.", f"{why or 'It asks for a key by its name'}.", "Choose another one."
            )
        keys = str(shortcut) if shortcut != usual(action, here) else None
    choose_shortcut(actor_of(request), action, keys)
    return own_shortcuts(request, platform)


@router.get("/unseen", response=list[UnseenOut])
def unseen(request: HttpRequest, platform: str) -> list[UnseenOut]:
    """The presses that never reach a page on a platform, with what its system does instead."""
    here = _platform(platform)
    return [UnseenOut(keys=_told(shortcut, here), does=does) for shortcut, does in unseen_on(here)]


def _platform(name: str) -> Platform:
    for one in get_args(Platform):
        if one == name:
            return one  # type: ignore[no-any-return]
    raise Problem(400, f"{name[:40]} is no platform.", cure=f"There are {', '.join(get_args(Platform))}.")


def _chosen(request: HttpRequest) -> dict[str, str | None]:
    known = {i for i, _, _ in ACTIONS}
    return {i: keys for i, keys in actor_of(request).user.own_shortcuts.items() if i in known}


def _told(shortcut: Shortcut, platform: Platform) -> ShortcutOut:
    return ShortcutOut(
        text=str(shortcut),
        words=words_of(shortcut, platform, "en"),
        caps=[caps_of_press(p, platform, "en") for p in shortcut.presses],
    )
