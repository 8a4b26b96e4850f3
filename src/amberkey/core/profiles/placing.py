"""Keys that come of where something is placed and not of an entry: places on shelves, letters of menus, and macros' own. With
what is arranged in vain, since the program hasn't got it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from amberkey.core.documents.field import Id
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.profiles.guard import Guard, say_held
from amberkey.core.profiles.macros import Macro, command_of, faults_of
from amberkey.core.profiles.macros import why_not as why_no_macro
from amberkey.core.profiles.menu_groups import levels, presses
from amberkey.core.profiles.menu_groups import why_not as why_no_group
from amberkey.core.profiles.model import LayerEntries
from amberkey.core.profiles.preferences import why_not as why_no_preference
from amberkey.core.profiles.shelves import Shelf
from amberkey.core.programs.model import Command, Program


@dataclass(frozen=True, slots=True)
class Placed:
    """A command with a key that its place gives it. `by`: whose key it is, in words ("place 3 of the shelf Stamps").

    `section` and `item`: where it stands in the profile `layer`, as its section's name and key. `refused`: why the key comes to
    nothing; `lost`: why all of it means nothing, since what it names isn't there. `own`: people chose the key, so the limits of
    the program hold for it.
    """

    command: Command
    scope: str
    shortcut: Shortcut
    layer: str
    by: str
    section: str
    item: str
    refused: str = ""
    lost: str = ""
    own: bool = False


_NOTHING = Shortcut(())


def placed_in(
    program: Program, platform: Platform, layers: Sequence[LayerEntries], guard: Guard | None = None
) -> tuple[Placed, ...]:
    """What some layers place in a program, the farthest first; of each item the nearest layer's word counts."""
    if not any(layer.arranged for layer in layers):
        return ()
    finds = (_on_shelves, _in_menus, _macros, _preferences)
    return tuple(_guarded(one, program, guard) for find in finds for one in find(program, platform, layers))


def _guarded(one: Placed, program: Program, guard: Guard | None) -> Placed:
    """A press that a further layer reserved is refused here too."""
    if guard is None or one.lost or one.refused or not one.shortcut.presses or one.layer == DEFAULT:
        return one
    held = guard.against(one.layer, program, one.command.task, [one.shortcut])
    if held is None:
        return one
    return Placed(
        *(one.command, one.scope, one.shortcut, one.layer, one.by, one.section, one.item),
        refused=say_held(held, guard.names),
        own=one.own,
    )


def _on_shelves(program: Program, platform: Platform, layers: Sequence[LayerEntries]) -> Iterator[Placed]:
    nearest: dict[str, tuple[Shelf, str]] = {}
    for layer in layers:
        for shelf in layer.arranged.shelves if layer.arranged else ():
            nearest[shelf.shelf] = (shelf, layer.layer)
    for shelf, by in nearest.values():
        places = program.offers.shelf(shelf.shelf)
        if places is None:
            yield _lost(program, shelf.shelf, by, "shelves", shelf.key, f"{program.name} has no shelf {shelf.shelf}")
            continue
        keys = places.keys_on(platform, shelf.begin)
        if not keys:
            continue  # on this platform its places have no keys
        for n, command_id in enumerate(shelf.commands):
            command = program.command(command_id)
            where = f"place {n + 1} of {places.name}"
            if command is None or command.retired:
                yield _lost(program, command_id, by, "shelves", shelf.key, _gone(program, command_id, command))
            elif n >= len(keys):
                says = f"{places.name} ends at place {len(keys)}, and this is place {n + 1}"
                scope = places.scope or command.scope
                yield Placed(command, scope, _NOTHING, by, where, "shelves", shelf.key, refused=says)
            else:
                yield Placed(command, places.scope or command.scope, keys[n], by, where, "shelves", shelf.key)


def _in_menus(program: Program, platform: Platform, layers: Sequence[LayerEntries]) -> Iterator[Placed]:
    said = [(layer.layer, g) for layer in layers for g in (layer.arranged.menu_groups if layer.arranged else ())]
    for by, group in said:
        why = why_no_group(program, group)
        if why:
            yield _lost(program, group.id, by, "menu_groups", group.key, why)
    for level in levels(program, said) if said else ():
        for shown in level.groups:
            if shown.word is None or shown.layer is None:
                continue
            item = shown.word.key
            for command_id, letter in shown.commands:
                command = program.command(command_id)
                if command is None or command.retired:
                    why = _gone(program, command_id, command)
                    yield _lost(program, command_id, shown.layer, "menu_groups", item, why)
                    continue
                shortcut = presses(level.place, shown, letter, platform)
                if shortcut is not None:
                    where = f"{shown.name} in {level.place.name}"
                    yield Placed(command, program.root.id, shortcut, shown.layer, where, "menu_groups", item)


def _macros(program: Program, platform: Platform, layers: Sequence[LayerEntries]) -> Iterator[Placed]:
    nearest: dict[str, tuple[Macro, str]] = {}
    for layer in layers:
        for macro in layer.arranged.macros if layer.arranged else ():
            nearest[macro.id] = (macro, layer.layer)
    for macro, by in nearest.values():
        why = why_no_macro(program, macro) or "; ".join(faults_of(macro, program)[:3])
        command = command_of(program, macro)
        if why:
            yield Placed(command, program.root.id, _NOTHING, by, "a macro", "macros", macro.key, lost=why)
            continue
        for shortcut in macro.shortcuts.get(platform, ()):
            yield Placed(command, program.root.id, shortcut, by, "a macro", "macros", macro.key, own=True)


def _preferences(program: Program, platform: Platform, layers: Sequence[LayerEntries]) -> Iterator[Placed]:
    """Preferences have no keys; those that can't be set so are told where keys that mean nothing are."""
    for layer in layers:
        for one in layer.arranged.preferences if layer.arranged else ():
            why = why_no_preference(program, one)
            if why and one.platform in (None, platform):
                yield _lost(program, one.preference, layer.layer, "preferences", one.key, why)


def _gone(program: Program, command_id: str, command: Command | None) -> str:
    return f"{program.name} has no command {command_id}" if command is None else f"{command.name} is retired in {program.name}"


def _lost(program: Program, name: Id, layer: str, section: str, item: str, why: str) -> Placed:
    command = program.command(name) or Command(id=name, name=name, scope=program.root.id)
    return Placed(command, program.root.id, _NOTHING, layer, "", section, item, lost=why)
