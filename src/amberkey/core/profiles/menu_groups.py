"""Groups of commands in a program's menus: own ones, built-in ones hidden or put elsewhere, and the letters that reach them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, NamedTuple

from pydantic import Field

from amberkey.core.documents.field import Id, MaybeText
from amberkey.core.documents.model import Flag, Value
from amberkey.core.documents.sections import menu_group_key
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.profiles.letters import letters_for
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import BuiltInGroup, MenuPlace

TOP = "top"
"""What a group that stands before all others comes after."""


class MenuGroup(Value):
    """A group at a `place` of a program's menus. One that the program has anyway is named by its id and has neither name nor
    commands of its own: it is `hidden`, put at another place, or behind another group.

    `after`: the group behind which it stands, `top` for none; not said: behind all that are there.
    """

    program: Id
    id: Id
    place: Id
    name: MaybeText = ""
    commands: Annotated[tuple[Id, ...], Field(max_length=200)] = ()
    after: Id | None = None
    hidden: Flag = False

    @property
    def key(self) -> str:
        """What makes it the same group in every revision: program and id."""
        return menu_group_key(self.model_dump(mode="json"))


class Shown(NamedTuple):
    """A group as people find it. `letter`: what opens it; `commands`: those of an own group with their letters; a command
    without a letter is reached by arrows only. `layer`: the profile that says so; None for the program itself. `word`: what
    that profile says."""

    id: str
    name: str
    letter: str | None
    commands: tuple[tuple[str, str | None], ...]
    layer: str | None
    word: MenuGroup | None


@dataclass(frozen=True, slots=True)
class Level:
    """The groups at one place of a program's menus in their order, and those that are hidden."""

    place: MenuPlace
    groups: tuple[Shown, ...]
    hidden: tuple[Shown, ...]


def levels(program: Program, said: Sequence[tuple[str, MenuGroup]]) -> tuple[Level, ...]:
    """The menus of a program under what layers say, the farthest first: of each group the nearest word counts.

    What can't be (a built-in group that can't be hidden or moved, a place that isn't there) is left as the program has it; see
    `why_not`.
    """
    words: dict[str, tuple[str, MenuGroup]] = {}
    for layer, group in said:
        words.pop(group.id, None)  # a nearer layer's word comes behind those of further ones
        words[group.id] = (layer, group)
    words = {i: w for i, w in words.items() if not why_not(program, w[1])}
    return tuple(_level(program, place, words) for place in program.offers.menus)


def why_not(program: Program, group: MenuGroup) -> str:
    """Why a group can't be so in a program, in words; empty where it can. Commands that aren't there are another matter."""
    place = program.offers.menu(group.place)
    if place is None:
        return f"{program.name} has no menu place {group.place}"
    built_in = program.offers.built_in(group.id)
    if built_in is None:
        if not place.takes_own:
            return f"{place.name} of {program.name} takes no groups of people's own"
        return "" if group.name else "a group of people's own needs a name"
    home, own = built_in
    if group.name or group.commands:
        return f"{own.name} is a group of {program.name} itself: it keeps its name and commands"
    if group.hidden and not own.can_hide:
        return f"{own.name} of {program.name} can't be hidden"
    if (group.place != home.id or group.after is not None) and not own.can_move:
        return f"{own.name} of {program.name} can't be put elsewhere"
    return ""


def _level(program: Program, place: MenuPlace, words: Mapping[str, tuple[str, MenuGroup]]) -> Level:
    own = {g.id: g for m in program.offers.menus for g in m.groups}
    stays = [g.id for g in place.groups if g.id not in words or words[g.id][1].place == place.id]
    order = stays + [i for i, (_, g) in words.items() if g.place == place.id and i not in stays]
    for group_id in [i for i in order if i in words and words[i][1].after is not None]:
        after = words[group_id][1].after
        if after != TOP and (after not in order or after == group_id):
            continue
        order.remove(group_id)
        order.insert(0 if after == TOP else order.index(str(after)) + 1, group_id)
    hidden = [i for i in order if i in words and words[i][1].hidden]
    shown = [i for i in order if i not in hidden]
    letters = _letters(program, place, shown, own, words)
    made = {i: _shown(program, place, i, letters.get(i), own.get(i), words.get(i)) for i in order}
    return Level(place, tuple(made[i] for i in shown), tuple(made[i] for i in hidden))


def _letters(
    program: Program,
    place: MenuPlace,
    shown: Sequence[str],
    own: Mapping[str, BuiltInGroup],
    words: Mapping[str, tuple[str, MenuGroup]],
) -> dict[str, str | None]:
    """The program's groups keep their letters; where one that comes from elsewhere finds its letter taken it has none."""
    given: dict[str, str | None] = {}
    for group_id in sorted((i for i in shown if i in own), key=lambda i: own[i] not in place.groups):
        letter = own[group_id].letter.upper()
        given[group_id] = letter if letter and letter not in given.values() else None
    mine = [i for i in shown if i not in own]
    taken = "".join(v for v in given.values() if v)
    given.update(zip(mine, letters_for([words[i][1].name for i in mine], place.letters, taken), strict=True))
    return given


def _shown(
    program: Program,
    place: MenuPlace,
    group_id: str,
    letter: str | None,
    own: BuiltInGroup | None,
    word: tuple[str, MenuGroup] | None,
) -> Shown:
    layer, group = word if word is not None else (None, None)
    commands = tuple(dict.fromkeys(group.commands)) if group is not None else ()
    names = [c.name if (c := program.command(i)) is not None else i for i in commands]
    name = own.name if own is not None else group.name if group is not None else group_id
    return Shown(group_id, name, letter, tuple(zip(commands, letters_for(names, place.letters), strict=True)), layer, group)


def presses(place: MenuPlace, group: Shown, letter: str | None, platform: Platform) -> Shortcut | None:
    """The presses in turn that run a command of a group; None where there are none: no letters on that platform, or none for
    the group or the command."""
    opened = place.opened.get(platform)
    if opened is None or group.letter is None or letter is None:
        return None
    first = opened.resolve(platform).presses[0]
    last = Press.of((), case_of_key(letter))
    if place.with_letter:
        return Shortcut((Press.of(first.modifiers, case_of_key(group.letter)), last))
    return Shortcut((first, Press.of((), case_of_key(group.letter)), last))
