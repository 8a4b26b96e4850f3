"""What has to be set by hand on a machine: everything that its layers set and that no settings file can say."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from amberkey.core.documents.canonical import digest_of
from amberkey.core.exchange.approving import MayLie
from amberkey.core.exchange.as_sheets.cells import OR, canonical, in_words
from amberkey.core.exchange.rendering import files_of_setup
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand
from amberkey.core.profiles.macros import Macro, say_macro
from amberkey.core.profiles.macros import why_not as no_macro
from amberkey.core.profiles.menu_groups import MenuGroup
from amberkey.core.profiles.menu_groups import why_not as no_group
from amberkey.core.profiles.model import Launcher
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.profiles.shelves import Shelf
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import described_on

MayRunOf = Callable[[str, Launcher | Macro], bool]


@dataclass(frozen=True, slots=True)
class ByHand:
    """One thing to set. `item`: what it is, whatever it is set to; `content`: what it shall be, so that a tick counts for that
    alone.

    `where`: program and place; `what`: the command, launcher or key; `old` and `new` in words; `why` no file says it.
    """

    item: str
    kind: Literal["command", "launcher", "remap", "translation", "shelf", "menu group", "abbreviation", "macro", "preference"]
    where: str
    what: str
    old: str
    new: str
    content: str
    why: str

    @property
    def id(self) -> str:
        """16 hexadecimal digits that name the item among all of a machine."""
        return digest_of(self.item.encode())[:16]


def by_hand(setup: ResolvedSetup, may_lie: MayLie | None = None, may_run: MayRunOf | None = None) -> list[ByHand]:
    """The things to set by hand on a setup, by program in its order. `may_lie` as for files: what may not be written yet is set
    by hand as long as it waits. `may_run`: whether somebody approved a launcher or macro of a layer; others aren't told."""
    covered: dict[str, set[str]] = {}
    why: dict[str, str] = {}
    for file in files_of_setup(setup, may_lie):
        covered.setdefault(file.program.id, set()).update(file.commands)
        if not file.data and file.left_out:
            why.setdefault(file.program.id, file.left_out[0])
    found: list[ByHand] = []
    for program in setup.programs:
        for one in setup.commands[program.id]:
            said = not one.arguments and one.command.id in covered.get(program.id, ())
            # A layer may hold what the maker ships: there is nothing to set.
            as_shipped = _keys(one) == one.command.defaults_on(setup.setup.works_on)
            if one.now.layer != DEFAULT and not said and not as_shipped:
                found.append(_command(setup, program, one, why.get(program.id, "Its settings file can't say it.")))
    return [*found, *_others(setup, may_run), *_arranged(setup, may_run)]


def _command(setup: ResolvedSetup, program: Program, one: EffectiveCommand, why: str) -> ByHand:
    platform, language = setup.setup.works_on, setup.layout.language
    scope = next((s.name for s in program.scopes if s.id == one.command.scope), one.command.scope)
    values = f" with {' and '.join(f'{n} {v}' for n, v in one.arguments)}" if one.arguments else ""
    new = _keys(one)
    return ByHand(
        item=f"{program.id}/{one.command.id}{values} on {platform}",
        kind="command",
        where=f"{program.name}, {scope}",
        what=f"{one.command.name}{values}",
        old=in_words(one.command.defaults_on(platform), platform, language),
        new=in_words(new, platform, language),
        content=canonical(new),
        why="A file can't say it with values." if one.arguments and program.settings_files else why,
    )


def _keys(one: EffectiveCommand) -> tuple[Shortcut, ...]:
    return tuple(dict.fromkeys(s for s, _ in one.now.shortcuts))


def _others(setup: ResolvedSetup, may_run: MayRunOf | None) -> Iterator[ByHand]:
    """Launchers, changed keys and translations: no program's file has them."""
    platform, language = setup.setup.works_on, setup.layout.language
    why = "No program's settings file has such things."
    for launcher, layer in setup.launchers:
        keys = launcher.shortcuts.get(platform, ())
        if keys and (may_run is None or may_run(layer, launcher)):
            new = f"{in_words(keys, platform, language)} runs {launcher.runs}"
            content = f"{canonical(keys)}{OR}{launcher.runs}"
            yield ByHand(f"launcher {launcher.id}", "launcher", "Everywhere", launcher.name, "none", new, content, why)
    for code, layer in sorted(setup.remapped_by.items()):
        becomes = setup.remaps.get(code, "") or "nothing"
        yield ByHand(
            f"remap {code}", "remap", "Everywhere", f"The key {code}", code, becomes, becomes, f"{why} Set by {layer}."
        )
    for one, _ in setup.translations:
        if one.platform == platform:
            program = setup.program(one.program)
            where = f"{program.name if program else one.program}{f', {one.scope}' if one.scope else ''}"
            what, new, content = in_words([one.keys], platform, language), "closes the window", "closes"
            if one.becomes is not None:
                new, content = in_words([one.becomes], platform, language), canonical([one.becomes])
            elif one.starts is not None:
                started = (v.name for v, _ in setup.launchers if v.id == one.starts)
                new, content = f"starts {next(started, one.starts)}", f"starts {one.starts}"
            yield ByHand(f"translation {one.key}", "translation", where, what, what, new, content, why)


def _arranged(setup: ResolvedSetup, may_run: MayRunOf | None) -> Iterator[ByHand]:
    """Shelves, menu groups, macros, preferences that no file has, and abbreviations."""
    platform, language = setup.setup.works_on, setup.layout.language
    why = "No program's settings file has such things."
    for program in setup.programs:
        offers, by_id = program.offers, program.commands_by_id
        for shelf, _ in setup.nearest(program.id, "shelves"):
            assert isinstance(shelf, Shelf)
            row = offers.shelf(shelf.shelf)
            names = ", ".join(by_id[c].name for c in shelf.commands if c in by_id)
            if row is not None:
                content = f"{shelf.begin or ''}{OR}{OR.join(shelf.commands)}"
                begins = f"; beginning with {in_words([shelf.begin], platform, language)}" if shelf.begin else ""
                yield ByHand(
                    f"shelf {shelf.key}", "shelf", program.name, row.name, "as shipped", f"{names}{begins}", content, why
                )
        for group, _ in setup.nearest(program.id, "menu_groups"):
            assert isinstance(group, MenuGroup)
            place = offers.menu(group.place)
            if place is not None and not no_group(program, group):
                names = ", ".join(by_id[c].name for c in group.commands if c in by_id)
                new = "hidden" if group.hidden else names or "stands there"
                content = group.model_dump_json(exclude_defaults=True)
                yield ByHand(
                    *(f"menu group {group.key}", "menu group", f"{program.name}, {place.name}", group.name or group.id),
                    *("none", new, content, why),
                )
        for macro, layer in setup.nearest(program.id, "macros"):
            assert isinstance(macro, Macro)
            if not no_macro(program, macro) and (may_run is None or may_run(layer, macro)):
                keys = macro.shortcuts.get(platform, ())
                new = f"{in_words(keys, platform, language)}: {say_macro(macro, program, platform)}"
                content = f"{canonical(keys)}{OR}{macro.content}"
                yield ByHand(f"macro {macro.key}", "macro", program.name, macro.name, "none", new, content, why)
        yield from _preferences(setup, program)
    for one, _ in setup.abbreviations:
        serves = ", ".join(p.name for p in setup.programs if p.id in one.programs) or "Everywhere"
        content = one.model_dump_json(exclude_defaults=True)
        yield ByHand(
            f"abbreviation {one.id}", "abbreviation", serves, one.short, "none", f"{one.text}, {one.set_off}", content, why
        )


def _preferences(setup: ResolvedSetup, program: Program) -> Iterator[ByHand]:
    numbers = {number for number, _ in described_on(program, setup.setup.works_on)}
    for one in setup.preferences(program.id):
        place = one.place
        if one.layer == DEFAULT or one.value == place.default or (place.at and place.in_file in numbers):
            continue
        yield ByHand(
            *(f"preference {place.id} in {program.id}", "preference", program.name, place.name, place.said(place.default)),
            *(place.said(one.value), str(one.value), "No settings file that is described has it."),
        )
