"""Ways out for keys that come of where something is placed: off the shelf or out of the group, a shelf that begins with another
press, another key for a macro, an abbreviation taken out."""

from collections.abc import Iterator
from typing import cast

from amberkey.core.clashes.binding import ABBREVIATIONS, Binding
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.profiles.macros import Macro
from amberkey.core.profiles.menu_groups import MenuGroup
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.preferences import Preference
from amberkey.core.profiles.shelves import Shelf
from amberkey.core.ways.candidates import Candidate, candidates_for
from amberkey.core.ways.changes import Change, operations_of
from amberkey.core.ways.consequences import consequences_of
from amberkey.core.ways.wayout import WayOut, boards_with, reach_here

_BEGINNINGS = tuple(Shortcut((Press.of((), f"F{n}"),)) for n in range(1, 13))
_TRIES = 6


def is_placed(binding: Binding | None) -> bool:
    """Whether a binding's key comes of where it is placed, or is an abbreviation: no entry can give it another one."""
    return binding is not None and (binding.placed is not None or binding.program.id == ABBREVIATIONS)


def placed_ways(estate: Estate, group: Group) -> Iterator[WayOut]:
    """What can be done with those in a clash that are placed somewhere."""
    for binding in {id(b): b for b in (group.clash.subject, *group.clash.parties)}.values():
        if binding.layer not in estate.profiles:
            continue
        if binding.program.id == ABBREVIATIONS:
            yield from _without_abbreviation(estate, group, binding)
        elif binding.placed is not None:
            yield from _other_key(estate, group, binding)
            yield from _other_beginning(estate, group, binding)
            yield from _taken_off(estate, group, binding)


def _item(profile: Profile, binding: Binding) -> Shelf | MenuGroup | Macro | Preference | None:
    assert binding.placed is not None
    items = getattr(profile, binding.placed.section)
    return next((i for i in items if i.key == binding.placed.item), None)


def _taken_off(estate: Estate, group: Group, binding: Binding) -> Iterator[WayOut]:
    item = _item(estate.profiles[binding.layer], binding)
    after: Shelf | MenuGroup | Macro | None
    match item:
        case Shelf() | MenuGroup():
            rest = tuple(c for c in item.commands if c != binding.command.id)
            after = item.model_copy(update={"commands": rest}) if rest != item.commands and rest else None
            says = "what stands behind it moves up" if isinstance(item, Shelf) and rest != item.commands else "it is taken out"
        case Macro():
            kept = tuple(s for s in item.shortcuts.get(group.clash.platform, ()) if s != binding.shortcut)
            shortcuts = {**item.shortcuts, group.clash.platform: kept}
            gone = binding.placed is not None and bool(binding.placed.lost)
            after = None if gone else item.model_copy(update={"shortcuts": {p: s for p, s in shortcuts.items() if s}})
            says = "it is taken out" if gone else "the macro stays without this key"
        case Preference():
            after, says = None, "it is taken out"
        case None:
            return
    change = Change(binding.layer, item, after)
    told = consequences_of(estate, (change,), group)
    key = f"take_off:{binding.layer}:{binding.command.id}"
    yield WayOut(key, "take_off", binding, None, None, None, (says,), operations_of((change,)), told)


def _other_key(estate: Estate, group: Group, binding: Binding) -> Iterator[WayOut]:
    """A macro on the best free key."""
    item = _item(estate.profiles[binding.layer], binding)
    if not isinstance(item, Macro) or not binding.shortcut.presses:
        return
    for candidate in candidates_for(binding, boards_with(estate, group), _TRIES):
        way = _on_key(estate, group, binding, item, candidate)
        if not way.consequences.makes:
            yield way
            return


def move_placed(estate: Estate, group: Group, shortcut: Shortcut) -> WayOut | None:
    """A clash's subject on a shortcut of the specialist's own choice, if it is a macro; None where its place says its key."""
    binding = group.clash.subject
    item = _item(estate.profiles[binding.layer], binding) if binding.placed and binding.layer in estate.profiles else None
    return _on_key(estate, group, binding, item, shortcut) if isinstance(item, Macro) else None


def _on_key(estate: Estate, group: Group, binding: Binding, item: Macro, to: Candidate | Shortcut) -> WayOut:
    platform = group.clash.platform
    shortcut, reach, reasons = (to.shortcut, to.reach, to.reasons) if isinstance(to, Candidate) else (to, None, ())
    now = item.shortcuts.get(platform, ())
    keys = tuple(shortcut if s == binding.shortcut else s for s in now) if binding.shortcut in now else (*now, shortcut)
    change = Change(binding.layer, item, item.model_copy(update={"shortcuts": {**item.shortcuts, platform: keys}}))
    board = estate.board(group.setups[0].id)
    told = consequences_of(estate, (change,), group)
    return WayOut(
        *(f"move:{shortcut}", "move", binding, shortcut, reach, reach_here(binding, board), reasons),
        *(operations_of((change,)), told),
    )


def _other_beginning(estate: Estate, group: Group, binding: Binding) -> Iterator[WayOut]:
    """All of the shelf beginning with another press, where its program lets people choose that."""
    item = _item(estate.profiles[binding.layer], binding)
    places = binding.program.offers.shelf(item.shelf) if isinstance(item, Shelf) else None
    if places is None or not places.begin_chosen or not binding.shortcut.presses:
        return
    board = estate.board(group.setups[0].id)
    now = Shortcut(binding.shortcut.presses[:1])
    for begin in _BEGINNINGS:
        if begin == now:
            continue
        change = Change(binding.layer, item, cast(Shelf, item).model_copy(update={"begin": begin}))
        told = consequences_of(estate, (change,), group)
        if told.makes or not told.solves:
            continue
        shortcut = Shortcut((*begin.presses, *binding.shortcut.presses[1:]))
        says = f"all of {places.name} begins with {say_shortcut(begin, board)}"
        yield WayOut(
            *(f"begin:{begin}", "begin", binding, shortcut, None, reach_here(binding, board), (says,)),
            *(operations_of((change,)), told),
        )
        return


def _without_abbreviation(estate: Estate, group: Group, binding: Binding) -> Iterator[WayOut]:
    item = next((a for a in estate.profiles[binding.layer].abbreviations if a.id == binding.command.id), None)
    if item is None:
        return
    if item.set_off != "on a key":
        change = Change(binding.layer, item, item.model_copy(update={"set_off": "on a key"}))
        told = consequences_of(estate, (change,), group)
        if told.solves and not told.makes:
            key, says = f"on_key:{item.id}", "it never goes off unasked"
            yield WayOut(key, "on_key", binding, None, None, None, (says,), operations_of((change,)), told)
    change = Change(binding.layer, item, None)
    told = consequences_of(estate, (change,), group)
    yield WayOut(
        f"take_off:{item.id}", "take_off", binding, None, None, None, ("it is taken out",), operations_of((change,)), told
    )
