"""Everything that a profile holds beside the shortcuts of commands, in words and as its document has it, for reading and
changing."""

from collections.abc import Iterable, Mapping
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router

from amberkey.core.exchange.travelling import SECTION_WORDS, counted
from amberkey.core.keys.platform import PLATFORM_NAMES, PLATFORMS, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.abbreviations import parts_of
from amberkey.core.profiles.macros import Macro, faults_of, say_step, where_kept
from amberkey.core.profiles.macros import why_not as why_no_macro
from amberkey.core.profiles.menu_groups import levels, presses
from amberkey.core.profiles.menu_groups import why_not as why_no_group
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.preferences import Preference
from amberkey.core.profiles.preferences import why_not as why_no_preference
from amberkey.core.profiles.shelves import Shelf
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import KeptIn, PreferenceKind, Replay
from amberkey.server.library.approving import may_run
from amberkey.server.library.documents import known_programs, load
from amberkey.server.library.sight import sees_document
from amberkey.server.problems import NotFound
from amberkey.server.profiles.printing import Print, print_for
from amberkey.server.schema import NamedOut, Schema, Words
from amberkey.server.workbench.words import ShortcutOut

router = Router(tags=["profiles"])
Keys = dict[str, list[ShortcutOut]]
"""Keys by platform."""


class HeldSectionOut(Schema):
    """`says`: how many there are, in words."""

    id: str
    name: str
    says: str
    count: int


class OnPlaceOut(Schema):
    """A command on a shelf: what its place is pressed with, by platform. `lost`: why it has none; empty where it has."""

    command: str
    name: str
    keys: dict[str, ShortcutOut]
    lost: str


class HeldShelfOut(Schema):
    """`most`: how many places the row has; `begin`: the press that its keys begin with instead of the program's own."""

    key: str
    item: dict[str, Any]
    program: str
    program_name: str
    name: str
    places: list[OnPlaceOut]
    most: int
    begin: ShortcutOut | None
    begin_chosen: bool
    lost: str


class InGroupOut(Schema):
    command: str
    name: str
    letter: str
    keys: dict[str, ShortcutOut]
    lost: str


class HeldGroupOut(Schema):
    """A group at a menu place as it is under this profile alone. `key` and `item`: what the profile says of it, if it says
    anything; `built_in`: it is the program's own."""

    id: str
    name: str
    letter: str
    hidden: bool
    built_in: bool
    can_hide: bool
    can_move: bool
    commands: list[InGroupOut]
    key: str | None
    item: dict[str, Any] | None


class HeldLevelOut(Schema):
    program: str
    program_name: str
    place: str
    name: str
    takes_own: bool
    groups: list[HeldGroupOut]


class LostItemOut(Schema):
    """An item that means nothing, since what it names isn't there, and why."""

    section: str
    key: str
    item: dict[str, Any]
    says: str


class HeldAbbreviationOut(Schema):
    """`filled`: what is put in or asked for, in words."""

    key: str
    item: dict[str, Any]
    short: str
    text: str
    programs: list[str]
    set_off: str
    filled: list[str]


class HeldMacroOut(Schema):
    key: str
    item: dict[str, Any]
    program_name: str
    name: str
    steps: list[str]
    keys: Keys
    kept: str
    replay: str
    approved: bool
    lost: str


class HeldLauncherOut(Schema):
    key: str
    item: dict[str, Any]
    name: str
    runs: str
    keys: Keys
    approved: bool


class HeldRemapOut(Schema):
    key: str
    item: dict[str, Any]
    becomes: str


class HeldTranslationOut(Schema):
    """`does`: what it does where it becomes no other press."""

    key: str
    item: dict[str, Any]
    program_name: str
    scope_name: str
    platform_name: str
    keys: ShortcutOut
    becomes: ShortcutOut | None
    does: str


class HeldPreferenceOut(Schema):
    key: str
    item: dict[str, Any]
    program_name: str
    name: str
    value: str
    default: str
    platform_name: str
    locked: bool
    lost: str


class HeldSetOut(Schema):
    key: str
    name: str
    entries: int


class ContentsOut(Schema):
    """`sections` are all that profiles have, in their order. `compiled`: it is made from the standard, so nobody changes it by
    hand."""

    profile: str
    name: str
    compiled: bool
    sections: list[HeldSectionOut]
    shelves: list[HeldShelfOut]
    levels: list[HeldLevelOut]
    abbreviations: list[HeldAbbreviationOut]
    macros: list[HeldMacroOut]
    launchers: list[HeldLauncherOut]
    remaps: list[HeldRemapOut]
    translations: list[HeldTranslationOut]
    preferences: list[HeldPreferenceOut]
    sets: list[HeldSetOut]
    lost: list[LostItemOut]


class ShelfPlacesOut(Schema):
    id: str
    name: str
    most: int
    begin_chosen: bool


class MenuPlaceOut(Schema):
    id: str
    name: str
    takes_own: bool


class MacroRulesOut(Schema):
    kept_in: list[KeptIn]
    replay: list[Replay]
    longest: int
    plain: bool
    reserved: list[str]


class PreferencePlaceOut(Schema):
    id: str
    name: str
    kind: PreferenceKind
    default: bool | int | str
    said: str
    least: int | None
    most: int | None
    unit: str
    choices: list[str]
    in_a_file: bool


class OfferingOut(Schema):
    """What people can arrange in a program beside shortcuts. `commands` and `scopes` for choosing among them."""

    id: str
    name: str
    platforms: list[NamedOut]
    shelves: list[ShelfPlacesOut]
    menus: list[MenuPlaceOut]
    macros: MacroRulesOut | None
    preferences: list[PreferencePlaceOut]
    commands: list[NamedOut]
    scopes: list[NamedOut]


class ProgramOffersOut(Schema):
    """A program that has any of it, in a line."""

    id: str
    name: str
    has: list[Literal["shelves", "menu_groups", "macros", "preferences"]]


@router.get("/profiles/offers", response=list[ProgramOffersOut])
def offers(request: HttpRequest) -> list[ProgramOffersOut]:
    """All programs, with what people can arrange in each."""
    return [
        ProgramOffersOut(id=p.id, name=p.name, has=_has(p)) for p in sorted(known_programs().values(), key=lambda p: p.name)
    ]


def _has(program: Program) -> list[Literal["shelves", "menu_groups", "macros", "preferences"]]:
    found = program.offers
    has: list[tuple[Literal["shelves", "menu_groups", "macros", "preferences"], object]] = [
        ("shelves", found.shelves),
        ("menu_groups", found.menus),
        ("macros", found.macros),
        ("preferences", found.preferences),
    ]
    return [name for name, there in has if there]


@router.get("/profiles/offers/{program}", response=OfferingOut)
def offering(request: HttpRequest, program: str) -> OfferingOut:
    """What people can arrange in one program."""
    found = known_programs().get(program)
    if found is None:
        raise NotFound(f"program {program[:80]}")
    return OfferingOut(
        id=found.id,
        name=found.name,
        platforms=[NamedOut(id=p, name=PLATFORM_NAMES[p]) for p in found.platforms],
        shelves=[
            ShelfPlacesOut(id=s.id, name=s.name, most=max(map(len, s.keys.values())), begin_chosen=s.begin_chosen)
            for s in found.offers.shelves
        ],
        menus=[MenuPlaceOut(id=m.id, name=m.name, takes_own=m.takes_own) for m in found.offers.menus],
        macros=MacroRulesOut(**found.offers.macros.model_dump()) if found.offers.macros else None,
        preferences=[
            PreferencePlaceOut(
                **p.model_dump(exclude={"platforms", "at", "in_file"}), said=p.said(p.default), in_a_file=bool(p.at)
            )
            for p in found.offers.preferences
        ],
        commands=[NamedOut(id=c.id, name=c.name) for c in found.commands if not c.retired],
        scopes=[NamedOut(id=s.id, name=s.name) for s in found.scopes],
    )


@router.get("/profiles/{profile_id}/held", response=ContentsOut)
def held(request: HttpRequest, profile_id: str, setup: Words = "") -> ContentsOut:
    """Everything that a profile holds beside the shortcuts of commands and reserved presses. `setup`: through whose keyboard
    keys are shown."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:60]}")
    profile = load(f"profile/{profile_id}", Profile)
    programs = known_programs()
    approved = may_run(profile_id)
    print_one = print_for(setup)
    return ContentsOut(
        profile=profile.id,
        name=profile.name,
        compiled=profile.generated is not None,
        sections=[
            HeldSectionOut(id=s, name=w, says=counted(s, len(getattr(profile, s))), count=len(getattr(profile, s)))
            for s, w in SECTION_WORDS.items()
        ],
        shelves=[_shelf(s, programs, print_one) for s in profile.shelves],
        levels=[
            level
            for p in sorted(programs.values(), key=lambda p: p.name)
            if any(g.program == p.id for g in profile.menu_groups)
            for level in _levels(profile, p, print_one)
        ],
        abbreviations=[
            HeldAbbreviationOut(
                key=a.id,
                item=_item(a),
                short=a.short,
                text=a.text,
                programs=[_name(i, programs) for i in a.programs],
                set_off=a.set_off,
                filled=[f"asks for {p.said}" if p.kind == "ask" else p.said for p in parts_of(a.text) if p.kind != "text"],
            )
            for a in profile.abbreviations
        ],
        macros=[
            HeldMacroOut(
                key=m.key,
                item=_item(m),
                program_name=_name(m.program, programs),
                name=m.name,
                steps=[say_step(s, programs.get(m.program), next(iter(m.shortcuts), "windows")) for s in m.steps],
                keys=_keys(m.shortcuts, print_one),
                kept=where_kept(m),
                replay=m.replay,
                approved=approved(m),
                lost=_lost_macro(m, programs.get(m.program)),
            )
            for m in profile.macros
        ],
        launchers=[
            HeldLauncherOut(
                key=v.id, item=_item(v), name=v.name, runs=v.runs, keys=_keys(v.shortcuts, print_one), approved=approved(v)
            )
            for v in profile.launchers
        ],
        remaps=[HeldRemapOut(key=r.key, item=_item(r), becomes=r.becomes) for r in profile.remaps],
        translations=[
            HeldTranslationOut(
                key=t.key,
                item=_item(t),
                program_name=_name(t.program, programs),
                scope_name=_scope(t.scope, programs.get(t.program)),
                platform_name=PLATFORM_NAMES[t.platform],
                keys=print_one(t.keys, t.platform),
                becomes=print_one(t.becomes, t.platform) if t.becomes is not None else None,
                does="closes the window" if t.closes else f"starts {_started(t.starts, profile)}" if t.starts else "",
            )
            for t in profile.translations
        ],
        preferences=[_preference(p, programs.get(p.program)) for p in profile.preferences],
        sets=[HeldSetOut(key=s.id, name=s.name, entries=len(s.entries)) for s in profile.sets],
        lost=list(_lost(profile, programs)),
    )


def _item(value: Any) -> dict[str, Any]:
    found: dict[str, Any] = value.model_dump(mode="json", exclude_defaults=True)
    return found


def _name(program_id: str, programs: Mapping[str, Program]) -> str:
    return programs[program_id].name if program_id in programs else program_id


def _started(launcher: str, profile: Profile) -> str:
    return next((v.name for v in profile.launchers if v.id == launcher), launcher)


def _scope(scope: str | None, program: Program | None) -> str:
    if scope is None:
        return ""
    return program.scope(scope).name if program is not None and program.has_scope(scope) else scope


def _keys(shortcuts: Mapping[Platform, Iterable[Shortcut]], print_one: Print) -> Keys:
    return {p: [print_one(s, p) for s in shortcuts[p]] for p in PLATFORMS if p in shortcuts}


def _shelf(shelf: Shelf, programs: Mapping[str, Program], print_one: Print) -> HeldShelfOut:
    program = programs.get(shelf.program)
    row = program.offers.shelf(shelf.shelf) if program is not None else None
    lost = "" if row is not None else f"There is no shelf {shelf.shelf} in {_name(shelf.program, programs)}."
    keys = {p: row.keys_on(p, shelf.begin) for p in row.keys} if row is not None else {}
    most = max(map(len, keys.values()), default=0)
    places = []
    for n, command_id in enumerate(shelf.commands):
        command = program.command(command_id) if program is not None else None
        why = "" if command is not None and not command.retired else f"{_name(shelf.program, programs)} has no such command."
        if not why and n >= most:
            why = f"It stands behind the last of {most} places."
        here = {p: print_one(own[n], p) for p, own in keys.items() if n < len(own)}
        places.append(OnPlaceOut(command=command_id, name=command.name if command else command_id, keys=here, lost=why))
    first: Platform = next(iter(keys), "windows")
    return HeldShelfOut(
        key=shelf.key,
        item=_item(shelf),
        program=shelf.program,
        program_name=_name(shelf.program, programs),
        name=row.name if row is not None else shelf.shelf,
        places=places,
        most=most,
        begin=print_one(shelf.begin, first) if shelf.begin is not None else None,
        begin_chosen=row is not None and row.begin_chosen,
        lost=lost,
    )


@router.get("/profiles/{profile_id}/levels/{program}", response=list[HeldLevelOut])
def menus_of(request: HttpRequest, profile_id: str, program: str, setup: Words = "") -> list[HeldLevelOut]:
    """The menus of a program as the profile arranges them; as the program has them where it says nothing. `setup`: through
    whose keyboard keys are shown."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:60]}")
    profile = load(f"profile/{profile_id}", Profile)
    found = known_programs().get(program)
    if found is None:
        raise NotFound(f"program {program[:80]}")
    return _levels(profile, found, print_for(setup))


def _levels(profile: Profile, program: Program, print_one: Print) -> list[HeldLevelOut]:
    """The menus of a program as the profile arranges them."""
    own = [g for g in profile.menu_groups if g.program == program.id]
    built_in = {g.id: g for m in program.offers.menus for g in m.groups}
    found = []
    for level in levels(program, [(profile.id, g) for g in own]):
        groups = []
        for shown in (*level.groups, *level.hidden):
            commands = []
            for command_id, letter in shown.commands:
                command = program.command(command_id)
                keys = {p: presses(level.place, shown, letter, p) for p in level.place.opened}
                commands.append(
                    InGroupOut(
                        command=command_id,
                        name=command.name if command else command_id,
                        letter=letter or "",
                        keys={p: print_one(s, p) for p, s in keys.items() if s is not None},
                        lost="" if command and not command.retired else f"{program.name} has no such command.",
                    )
                )
            maker = built_in.get(shown.id)
            groups.append(
                HeldGroupOut(
                    id=shown.id,
                    name=shown.name,
                    letter=shown.letter or "",
                    hidden=shown in level.hidden,
                    built_in=maker is not None,
                    can_hide=maker is None or maker.can_hide,
                    can_move=maker is None or maker.can_move,
                    commands=commands,
                    key=shown.word.key if shown.word else None,
                    item=_item(shown.word) if shown.word else None,
                )
            )
        found.append(
            HeldLevelOut(
                program=program.id,
                program_name=program.name,
                place=level.place.id,
                name=level.place.name,
                takes_own=level.place.takes_own,
                groups=groups,
            )
        )
    return found


def _lost_macro(macro: Macro, program: Program | None) -> str:
    if program is None:
        return f"There is no program {macro.program} here."
    return why_no_macro(program, macro) or "; ".join(faults_of(macro, program))


def _preference(one: Preference, program: Program | None) -> HeldPreferenceOut:
    place = program.offers.preference(one.preference) if program is not None else None
    return HeldPreferenceOut(
        key=one.key,
        item=_item(one),
        program_name=program.name if program is not None else one.program,
        name=place.name if place is not None else one.preference,
        value=place.said(one.value) if place is not None else str(one.value),
        default=place.said(place.default) if place is not None else "",
        platform_name=PLATFORM_NAMES[one.platform] if one.platform is not None else "",
        locked=one.locked,
        lost=why_no_preference(program, one) if program is not None else f"There is no program {one.program} here.",
    )


def _lost(profile: Profile, programs: Mapping[str, Program]) -> Iterable[LostItemOut]:
    """Groups that mean nothing: everything else that does stands with why in its own list."""
    for group in profile.menu_groups:
        program = programs.get(group.program)
        why = why_no_group(program, group) if program is not None else f"There is no program {group.program} here."
        if why:
            yield LostItemOut(section="menu_groups", key=group.key, item=_item(group), says=why)
