"""Changes to profiles as proposals: single items set to other values, and the boards that they would make.

A proposal is judged on patched boards, which share everything that it doesn't touch. Saving it applies the same operations to
the documents; that both come to the same is tested by property.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal, cast

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board, put_together
from amberkey.core.clashes.part import Part, Patched, lay_out
from amberkey.core.compare.operations import JsonDocument, Operation, apply, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import sided_in
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.abbreviations import Abbreviation
from amberkey.core.profiles.effective import EffectiveCommand, EffectiveProgram, Orphan, Retired, effective_command, retired_by
from amberkey.core.profiles.macros import Macro
from amberkey.core.profiles.menu_groups import MenuGroup
from amberkey.core.profiles.model import Entry, Launcher, LayerEntries, Profile, Translation, for_layout
from amberkey.core.profiles.preferences import Preference
from amberkey.core.profiles.resolving import launchers_in_effect, resolve_setup, translations_in_effect
from amberkey.core.profiles.shelves import Shelf
from amberkey.core.programs.model import Command, Program

Item = Entry | Launcher | Translation | Shelf | MenuGroup | Macro | Abbreviation | Preference
Section = Literal["entries", "launchers", "translations", "shelves", "menu_groups", "macros", "abbreviations", "preferences"]
_SECTIONS: dict[type, Section] = {
    Entry: "entries",
    Launcher: "launchers",
    Translation: "translations",
    Shelf: "shelves",
    MenuGroup: "menu_groups",
    Macro: "macros",
    Abbreviation: "abbreviations",
    Preference: "preferences",
}
_PATCHED: frozenset[Section] = frozenset({"entries", "launchers", "translations"})


@dataclass(frozen=True, slots=True)
class Change:
    """In a profile, an item that was `before` becomes `after`; None: it isn't there."""

    profile: str
    before: Item | None
    after: Item | None

    @property
    def item(self) -> Item:
        """The item after the change; the one before it where it is taken out."""
        item = self.after if self.after is not None else self.before
        assert item is not None
        return item

    @property
    def section(self) -> Section:
        """The section of the profile in which the item stands."""
        return _SECTIONS[type(self.item)]

    @property
    def key(self) -> str:
        """The key of the item in its section."""
        return self.item.id if isinstance(self.item, Launcher | Abbreviation) else self.item.key

    @property
    def operation(self) -> Operation:
        """The same change as an operation on the profile's document."""
        return operation(self.section, self.key, _json(self.before), _json(self.after))


def _json(item: Item | None) -> Json:
    return None if item is None else cast(Json, item.model_dump(mode="json", exclude_defaults=True))


def operations_of(changes: Iterable[Change]) -> dict[str, tuple[Operation, ...]]:
    """The operations on each profile."""
    found: dict[str, tuple[Operation, ...]] = {}
    for change in changes:
        found[change.profile] = (*found.get(change.profile, ()), change.operation)
    return found


@dataclass(frozen=True)
class PatchedBoard:
    """A board after some changes, with what went and came, and the programs whose clashes can differ for it."""

    board: Board
    gone: tuple[Binding, ...]
    come: tuple[Binding, ...]
    programs: tuple[str, ...]
    moved: bool
    """Whether any shortcut in effect is another one."""
    outside: bool
    """Whether anything can differ that is no program's own: hotkeys, launchers, translations, entries that mean nothing."""


def patch(board: Board, profiles: Mapping[str, Profile], changes: Sequence[Change]) -> PatchedBoard | None:
    """The board of a setup after changes to its layers, or None where they don't reach it."""
    here = [c for c in changes if c.profile in board.setup.setup.layers]
    if not here:
        return None
    if any(c.section not in _PATCHED or _says_sides(c.before) or _says_sides(c.after) or _of_template(c) for c in here):
        return _made_anew(board, profiles, here)
    parts = dict(board.parts)
    gone: list[Binding] = []
    come: list[Binding] = []
    programs: list[str] = []
    hotkeys = False
    entries = [c for c in here if c.section == "entries"]
    orphans, far = board.setup.orphans, board.far
    for program_id in dict.fromkeys(cast(Entry, c.item).program for c in entries):
        part = board.parts.get(program_id)
        own = [c for c in entries if cast(Entry, c.item).program == program_id]
        patched = _patched(board, part, profiles, own) if part is not None else None
        if far is not None and far.program.id == program_id:
            # A far system that is set as this one is, on the same keyboard, is the very same, and stays so.
            beyond = patched if patched is not None and far is part else _patched(board, far, profiles, own)
            far, hotkeys = beyond.part, True
            gone += beyond.gone
            come += beyond.come
        if patched is None:
            orphans = _without(orphans, own)
            continue
        parts[program_id] = patched.part
        gone += patched.gone
        come += patched.come
        programs.append(program_id)
        hotkeys = hotkeys or patched.part.program.kind in ("system", "utility", "browser")
    setup = board.setup
    others = [c for c in here if c.section != "entries"]
    if others:
        hotkeys = True
        setup = replace(
            setup, launchers=_launchers(board, profiles, others), translations=_translations(board, profiles, others)
        )
    if orphans is not setup.orphans:
        setup = replace(setup, orphans=orphans)
    if hotkeys:
        after = put_together(setup, board.ground, parts, far)
        gone += [b for b in board.extra if not _stands_in(b, after.extra)]
        come += [b for b in after.extra if not _stands_in(b, board.extra)]
    else:
        after = board.with_parts(setup, parts)
    return PatchedBoard(
        after,
        tuple(gone),
        tuple(come),
        tuple(parts) if hotkeys else tuple(programs),
        _shortcuts(gone) != _shortcuts(come),
        hotkeys or orphans is not board.setup.orphans,
    )


def _of_template(change: Change) -> bool:
    """Whether a template gets or loses values: the commands of its program stand at other places then."""
    one_only = change.before is None or change.after is None
    return one_only and isinstance(change.item, Entry) and bool(change.item.arguments)


def _says_sides(item: Item | None) -> bool:
    """Whether an item says which of two modifier keys is held."""
    match item:
        case Entry():
            shortcuts = tuple(g.keys for g in item.shortcuts)
        case Launcher():
            shortcuts = tuple(s for own in item.shortcuts.values() for s in own)
        case Translation():
            shortcuts = (item.keys, *((item.becomes,) if item.becomes is not None else ()))
        case _:  # what isn't patched is laid out anew anyway
            shortcuts = ()
    return bool(sided_in(shortcuts))


def _made_anew(board: Board, profiles: Mapping[str, Profile], changes: Sequence[Change]) -> PatchedBoard:
    """The board after changes by which other strokes are told apart than before, or other commands are there, so that all is
    laid out again."""
    after = dict(profiles)
    for profile_id in dict.fromkeys(c.profile for c in changes):
        own = [c.operation for c in changes if c.profile == profile_id]
        after[profile_id] = Profile.model_validate(apply(cast(JsonDocument, profiles[profile_id].to_json()), own))
    used = (*board.setup.programs, *((board.far.program,) if board.far else ()))
    setup = resolve_setup(board.setup.setup, {(p.id, p.version): p for p in used}, after, board.setup.tasks)
    setup = replace(setup, orphans=_without(board.setup.orphans, [c for c in changes if c.section == "entries"]))
    ground = replace(board.ground, keyboard=setup.keyboard)
    of_system = next((p.ground for p in board.parts.values() if p.program.kind == "system"), board.ground)
    near = ground if of_system is board.ground else replace(of_system, keyboard=setup.near)
    parts = {i: lay_out(e, near if e.program.kind == "system" else ground) for i, e in setup.effective.items()}
    # A far system that is set as this one is, on the same keyboard, is the very same.
    far = next((p for p in parts.values() if p.effective is setup.far and p.ground is ground), None)
    if far is None and setup.far is not None:
        far = lay_out(setup.far, ground)
    made = put_together(setup, ground, parts, far)
    gone, come = ((*b.bindings, *(b.far.bindings if b.far else ()), *b.extra) for b in (board, made))
    return PatchedBoard(made, gone, come, tuple(parts), _shortcuts(gone) != _shortcuts(come), True)


def _patched(board: Board, part: Part, profiles: Mapping[str, Profile], changes: Sequence[Change]) -> Patched:
    changed = _changed_commands(board, part, profiles, changes)
    effective = _effective_after(part, changed, changes, board)
    return part.with_commands({n: command for n, (command, _) in changed.items()}, effective)


def touched_strokes(before: Board, after: PatchedBoard) -> frozenset[Stroke]:
    """Every stroke at which a change can make or solve a clash: those of what went and came, and all others of the bindings
    that share one with them."""
    found = {s for b in (*after.gone, *after.come) for way in b.ways for s in way}
    for old in _old_keys(before, after):
        found.add(old)
    beside: set[Stroke] = set()
    for board in (before, after.board):
        for program in after.programs:
            part = board.parts[program]
            for stroke in found:
                for binding in (*part.first.get(stroke, ()), *part.later.get(stroke, ())):
                    if len(binding.ways) > 1 or len(binding.ways[0]) > 1:
                        beside.update(s for way in binding.ways for s in way)
    return frozenset(found | beside)


def _old_keys(before: Board, after: PatchedBoard) -> Iterable[Stroke]:
    for program in after.programs:
        for board in (before, after.board):
            yield from board.parts[program].retired


def _stands_in(binding: Binding, others: Sequence[Binding]) -> bool:
    return any(o.same_command(binding) and o.ways == binding.ways for o in others)


def _shortcuts(bindings: Iterable[Binding]) -> set[tuple[object, ...]]:
    return {(b.program.id, b.command.id, b.arguments, b.scope, b.shortcut) for b in bindings}


def entries_for(
    profile: Profile,
    program: Program,
    command: Command,
    platform: Platform,
    layout: str,
    changes: Iterable[Change] = (),
) -> tuple[Entry, ...]:
    """What a profile says of one command, by its present name or an old one, on a layout after some changes to that profile."""
    names = {command.id, *command.was}
    found = {e.key: e for name in names for e in profile.by_command.get((program.id, name, platform), ())}
    for change in changes:
        entry = cast(Entry, change.item)
        if change.profile != profile.id or entry.platform != platform or entry.command not in names:
            continue
        found.pop(change.key, None)
        if change.after is not None:
            found[change.key] = entry
    own = for_layout(tuple(sorted(found.values(), key=lambda e: e.key)), layout)
    return tuple(e for e in profile.beside(own, program.id, platform, layout) if e.command in names)


def _changed_commands(
    board: Board, part: Part, profiles: Mapping[str, Profile], changes: Sequence[Change]
) -> dict[int, tuple[EffectiveCommand, list[tuple[LayerEntries, Entry]]]]:
    """By their place, the commands that changes set, as they are afterwards, with what the layers say of them."""
    setup = board.setup.setup
    platform, layout = part.ground.platform, part.ground.layout.id
    guard = board.setup.guard if part.ground is board.ground else None
    found: dict[int, tuple[EffectiveCommand, list[tuple[LayerEntries, Entry]]]] = {}
    for change in changes:
        entry = cast(Entry, change.item)
        command = part.program.command(entry.command)
        arguments = tuple(sorted(entry.arguments.items()))
        place = part.effective.places.get((command.id, arguments)) if command else None
        if command is None or place is None or place in found or entry.platform != platform:
            continue
        said: list[tuple[LayerEntries, Entry]] = []
        for layer in setup.layers:
            own = entries_for(profiles[layer], part.program, command, platform, layout, changes)
            own = tuple(e for e in own if tuple(sorted(e.arguments.items())) == arguments)
            said += [(LayerEntries(layer, own, profiles[layer].overlap_days), e) for e in own]
        effective = effective_command(part.program, command, arguments, platform, said, guard)
        found[place] = (effective, said)
    return found


def _effective_after(
    part: Part,
    changed: Mapping[int, tuple[EffectiveCommand, list[tuple[LayerEntries, Entry]]]],
    changes: Sequence[Change],
    board: Board,
) -> EffectiveProgram:
    effective = part.effective
    commands = list(effective.commands)
    ids = set()
    retired: list[Retired] = []
    for place, (command, said) in changed.items():
        commands[place] = command
        ids.add(command.command.id)
        retired += retired_by(command.command, command, said)
    kept = tuple(r for r in effective.retired if r.command.id not in ids)
    orphans = _without(effective.orphans, changes)
    return EffectiveProgram(effective.program, tuple(commands), orphans, (*kept, *retired), placed=effective.placed)


def _without(orphans: tuple[Orphan, ...], changes: Sequence[Change]) -> tuple[Orphan, ...]:
    gone = {(c.profile, c.key) for c in changes if c.before is not None}
    found = tuple(o for o in orphans if (o.layer, o.entry.key) not in gone)
    return orphans if len(found) == len(orphans) else found


def _launchers(board: Board, profiles: Mapping[str, Profile], changes: Sequence[Change]) -> tuple[tuple[Launcher, str], ...]:
    said: dict[str, Iterable[Launcher]] = {}
    for layer in board.setup.setup.layers:
        own = {v.id: v for v in profiles[layer].launchers}
        _apply(own, layer, "launchers", changes)
        said[layer] = own.values()
    return launchers_in_effect(said, board.setup.setup.works_on, board.setup.guard)


def _translations(
    board: Board, profiles: Mapping[str, Profile], changes: Sequence[Change]
) -> tuple[tuple[Translation, str], ...]:
    said: dict[str, Iterable[Translation]] = {}
    for layer in board.setup.setup.layers:
        own = {t.key: t for t in profiles[layer].translations}
        _apply(own, layer, "translations", changes)
        said[layer] = own.values()
    setup = board.setup
    return translations_in_effect(said, setup.setup.works_on, setup.effective, setup.guard)


def _apply(
    own: dict[str, Item] | dict[str, Launcher] | dict[str, Translation], layer: str, section: Section, changes: Sequence[Change]
) -> None:
    items = cast(dict[str, Item], own)
    for change in changes:
        if change.profile == layer and change.section == section:
            items.pop(change.key, None)
            if change.after is not None:
                items[change.key] = change.after
