"""Items of a profile's sections: what a change would do, told before it is saved, and saving it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.platform import Platform
from amberkey.core.profiles.macros import say_macro
from amberkey.core.profiles.menu_groups import levels
from amberkey.core.profiles.setup import Setup
from amberkey.core.profiles.shelves import Shelf, at_the_end, changing_fewest, renumbered
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import ShelfPlaces
from amberkey.core.ways.remapped import OtherReach, remapped
from amberkey.core.ways.several import with_operations
from amberkey.server.estate import current_estate
from amberkey.server.library.approving import may_run
from amberkey.server.library.documents import known_programs
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.profiles.printing import Print, print_for
from amberkey.server.profiles.verbs.arrange import Arranged, Wish, arrange, arranged
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.words import ShortcutOut
from amberkey.server.workbench.would import WouldOut, would

router = Router(tags=["profiles"])


class ArrangedItemIn(Schema):
    """What an item shall be. `key`: of the one that it is now, null for a new one; `item` null: it goes."""

    key: str | None = None
    item: dict[str, Any] | None = None


class ArrangedItemsIn(Schema):
    """`about`: of a shelf, the command that is put somewhere on purpose. `setup`: through whose keyboard keys are shown."""

    section: Words
    items: list[ArrangedItemIn] = Field(min_length=1, max_length=500)
    about: Words = ""
    setup: Words = ""


class RenumberedOut(Schema):
    """A command whose key on a shelf is another one; null: none. `uses`: how often its people press it in a week, if that is
    known."""

    command: str
    name: str
    before: ShortcutOut | None
    after: ShortcutOut | None
    uses: int | None


class PlacingOut(Schema):
    """Another order of a shelf, and how many keys that people know it changes."""

    says: str
    commands: list[str]
    changes: int
    uses: int


class ShelfPlanOut(Schema):
    """`renumbered`: every changed key, what people press most first; `changes`: of those, the keys that people know; `people`:
    who have the shelf. `others`: placings that change fewer."""

    renumbered: list[RenumberedOut]
    changes: int
    people: int
    others: list[PlacingOut]


class ArrangedPlanOut(Schema):
    """`told`: what it means, in sentences; `waits`: it runs something, so a releaser approves it first."""

    would: WouldOut
    told: list[str]
    shelf: ShelfPlanOut | None
    waits: list[str]


@router.post("/profiles/{profile_id}/items/plan", response=ArrangedPlanOut, auth=By(Role.EDITOR))
def plan_items(request: HttpRequest, profile_id: str, given: ArrangedItemsIn) -> ArrangedPlanOut:
    """What a change of some items would do; saves nothing."""
    found = arranged(profile_id, given.section, _wishes(given))
    estate = current_estate()
    setups = [s for s in estate.setups.values() if profile_id in s.layers]
    return ArrangedPlanOut(
        would=would(profile_id, found.operations),
        told=list(_told(given.section, found, estate, setups)),
        shelf=_shelf_plan(found, given.about, estate, setups, print_for(given.setup)) if given.section == "shelves" else None,
        waits=list(_waits(profile_id, found)),
    )


@router.post("/profiles/{profile_id}/items", response=ChangeOut, auth=By(Role.EDITOR))
def save_items(request: HttpRequest, profile_id: str, given: ArrangedItemsIn) -> ChangeOut:
    """Change some items of one section."""
    done = arrange(actor_of(request), profile_id, given.section, _wishes(given))
    return ChangeOut(id=done.id, title=done.title)


def _wishes(given: ArrangedItemsIn) -> list[Wish]:
    return [Wish(i.key, i.item) for i in given.items]


def _waits(profile_id: str, found: Arranged) -> Iterable[str]:
    approved = may_run(profile_id)
    known = {m.content for m in found.before.macros}
    programs = known_programs()
    for launcher in found.after.launchers:
        if launcher not in found.before.launchers and not approved(launcher):
            yield f"{launcher.name} runs {launcher.runs}. A releaser approves it before it reaches anybody."
    for macro in found.after.macros:
        if macro.content not in known and not approved(macro):
            platform: Platform = next(iter(macro.shortcuts), "windows")
            says = say_macro(macro, programs.get(macro.program), platform)
            yield f"{macro.name}: {says} A releaser approves it before it reaches anybody."


def _told(section: str, found: Arranged, estate: Estate, setups: Sequence[Setup]) -> Iterable[str]:
    if section == "remaps":
        yield from _told_of_keys(found, estate, setups)
    if section == "menu_groups":
        for program in known_programs().values():
            yield from _told_of_letters(found, program)


def _told_of_letters(found: Arranged, program: Program) -> Iterable[str]:
    """The groups and commands of which the letter is another one."""
    was, now = (
        {
            (level.place.id, shown.id, command): (
                f"{shown.name}: {_command(program, command)}" if command else shown.name,
                letter,
            )
            for level in levels(program, [(p.id, g) for g in p.menu_groups if g.program == program.id])
            for shown in level.groups
            for command, letter in (("", shown.letter), *shown.commands)
        }
        for p in (found.before, found.after)
    )
    for key, (name, letter) in now.items():
        if key in was and was[key][1] != letter:
            yield f"{name} in {program.name} is reached by {letter or 'no letter'} instead of {was[key][1] or 'none'}."


def _called_in(group: str, program: Program, command_id: str) -> str:
    return f"{group}: {_command(program, command_id)}" if command_id else group


def _command(program: Program, command_id: str) -> str:
    command = program.command(command_id)
    return command.name if command is not None else command_id


def _told_of_keys(found: Arranged, estate: Estate, setups: Sequence[Setup]) -> Iterable[str]:
    """Of changed keys: what nothing makes any more, and what is easier or harder to press, on the setup of most people of each
    keyboard."""
    if not setups or not found.operations:
        return
    after = with_operations(estate, {found.before.id: found.operations})
    told: set[tuple[str, str]] = set()
    for setup in sorted(setups, key=lambda s: -s.people):
        keyboard = (setup.layout, setup.body)
        if keyboard in told:
            continue
        told.add(keyboard)
        board = estate.board(setup.id)
        changes = remapped(board, after.board(setup.id))
        where = f"On the {board.ground.layout.name} keyboard ({setup.body})"
        if changes.unmade:
            yield f"{where} nothing makes {', '.join(changes.unmade)} any more."
        for others, word in ((changes.easier, "easier"), (changes.harder, "harder")):
            if others:
                count = f"{len(others)} {'shortcut is' if len(others) == 1 else 'shortcuts are'}"
                yield f"{where} {count} {word} to press: {_most(others, board)}."


def _most(others: Sequence[OtherReach], board: Board) -> str:
    def reach(score: int | None) -> str:
        return "out of reach" if score is None else f"reach {score}"

    shown = [
        f"{o.binding.called} ({say_shortcut(o.binding.shortcut, board)}, {reach(o.before)} before, {reach(o.after)} after)"
        for o in others[:3]
    ]
    return "; ".join(shown)


def _shelf_plan(found: Arranged, about: str, estate: Estate, setups: Sequence[Setup], print_one: Print) -> ShelfPlanOut | None:
    """Of the shelf that changes most, since one is changed at a time."""
    before, after = _changed_shelf(found)
    shelf = after or before
    program = known_programs().get(shelf.program) if shelf is not None else None
    row = program.offers.shelf(shelf.shelf) if shelf is not None and program is not None else None
    if shelf is None or program is None or row is None:
        return None
    having = [s for s in setups if any(p.id == shelf.program for p in s.programs)]
    platform = _platform_of(row, having)
    return _Renumbering(estate, having, program, row, platform, print_one).plan(before, after, about)


@dataclass(frozen=True)
class _Renumbering:
    """A row of a program in some setups, as their people have it."""

    estate: Estate
    setups: Sequence[Setup]
    program: Program
    row: ShelfPlaces
    platform: Platform
    print_one: Print

    def uses(self, command: str) -> int | None:
        census = self.estate.census
        return census.uses_a_week(self.program.id, command, (s.id for s in self.setups)) if census is not None else None

    def plan(self, before: Shelf | None, after: Shelf | None, about: str) -> ShelfPlanOut:
        rows = [
            RenumberedOut(
                command=r.command,
                name=_command(self.program, r.command),
                before=self.print_one(r.before, self.platform) if r.before else None,
                after=self.print_one(r.after, self.platform) if r.after else None,
                uses=self.uses(r.command),
            )
            for r in renumbered(self.row, before, after, self.platform)
        ]
        known = sum(r.before is not None for r in rows)
        return ShelfPlanOut(
            renumbered=sorted(rows, key=lambda r: -(r.uses or 0)),
            changes=known,
            people=self.estate.people_of(self.setups),
            others=self.others(before, after, about, known) if before is not None and after is not None else [],
        )

    def others(self, before: Shelf, after: Shelf, about: str, changes: int) -> list[PlacingOut]:
        """Placings of the same commands that change fewer keys."""
        ways = [("So that fewest keys change", changing_fewest(before.commands, after.commands, about or None))]
        if about in after.commands and about not in before.commands:
            ways.append((f"{_command(self.program, about)} at the end", at_the_end(before.commands, after.commands, about)))
        found: list[PlacingOut] = []
        for says, order in ways:
            other = renumbered(self.row, before, after.model_copy(update={"commands": order}), self.platform)
            known = [r.command for r in other if r.before is not None]
            one = PlacingOut(says=says, commands=list(order), changes=len(known), uses=sum(self.uses(c) or 0 for c in known))
            if order != after.commands and one.changes < changes and all(f.commands != one.commands for f in found):
                found.append(one)
        return found


def _changed_shelf(found: Arranged) -> tuple[Shelf | None, Shelf | None]:
    was, now = ({s.key: s for s in p.shelves} for p in (found.before, found.after))
    key = next((k for k in {**now, **was} if was.get(k) != now.get(k)), None)
    return (was.get(key), now.get(key)) if key is not None else (None, None)


def _platform_of(row: ShelfPlaces, setups: Sequence[Setup]) -> Platform:
    """The platform of most people who have the row."""
    people: dict[Platform, int] = {}
    for setup in setups:
        if setup.works_on in row.keys:
            people[setup.works_on] = people.get(setup.works_on, 0) + setup.people
    return max(people, key=lambda p: people[p]) if people else next(iter(row.keys))
