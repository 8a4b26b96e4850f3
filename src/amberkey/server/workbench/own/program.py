"""Amber Key as a program among others: a web program in a tab, whose commands are checked by the same rules as everybody's."""

from collections.abc import Mapping
from dataclasses import replace

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.wording import say_clash
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.setup import ProgramUsed, Setup
from amberkey.core.programs.model import Command, Program, ProgramLimits, Scope
from amberkey.core.programs.reference import system_tables

OWN = "amber-key"
PLATFORMS: tuple[Platform, ...] = ("windows", "macos", "linux")
# Nothing of it is live where text is typed, so single keys are safe.
_SCOPES = (
    Scope(id="page", name="Page"),
    Scope(id="screen", name="Screen", parent="page"),
    Scope(id="fields", name="Fields", parent="page", takes_text=True),
)
ACTIONS: tuple[tuple[str, str, str], ...] = (
    ("shortcuts", "List Amber Key's own shortcuts", "?"),
    ("today", "Go to Today", "D"),
    ("standard", "Go to Standard", "G"),
    ("programs", "Go to Programs", "P"),
    ("clashes", "Go to Clashes", "C"),
    ("try", "Go to Try", "T"),
    ("profiles", "Go to Profiles", "O"),
    ("organisation", "Go to Organisation", "N"),
    ("machines", "Go to Machines", "M"),
    ("cards", "Go to Cards", "B"),
    ("lookup", "Look anything up", "F"),
    ("guide", "Open the guide at this screen, or close it", "E"),
    ("words", "Search this screen by words", "W"),
    ("keys", "Search this screen by keys", "S"),
    ("lens", "Choose another setup for the lens", "L"),
    ("everywhere", "Look through all setups in use, or one again", "A"),
    ("pin", "Hold the lens against another one, or let go", "H"),
    ("keyboard", "Show or hide the keyboard", "K"),
    ("reach", "Lay reach over the keyboard, or take it off", "R"),
    ("undo", "Undo what I did last", "Main+Z"),
    ("redo", "Do it again", "Main+Shift+Z"),
)
"""Id, what it does, and its usual key."""


def usual(action: str, platform: Platform) -> Shortcut:
    """Raises KeyError for an action that isn't there."""
    return read_shortcut({i: keys for i, _, keys in ACTIONS}[action]).resolve(platform)


def program_of(chosen: Mapping[str, str | None], platform: Platform) -> Program:
    """Amber Key with one person's choices: `chosen` has a canonical shortcut, or None where one is switched off."""

    def keys(action: str) -> tuple[Shortcut, ...]:
        if action not in chosen:
            return (usual(action, platform),)
        text = chosen[action]
        return (read_shortcut(text).resolve(platform),) if text else ()

    return Program(
        id=OWN,
        name="Amber Key",
        version="1",
        kind="web",
        platforms=PLATFORMS,
        reads_keys_by=dict.fromkeys(PLATFORMS, "character"),
        limits=ProgramLimits(bare_keys=True, shortcuts_per_command=1),
        on_tie="first",
        scopes=_SCOPES,
        commands=tuple(
            Command(id=i, name=name, scope="screen", defaults={platform: keys(i)} if keys(i) else {}) for i, name, _ in ACTIONS
        ),
    )


def clashes_of(estate: Estate, program: Program, platform: Platform) -> dict[str, list[str]]:
    """What each action clashes with, in sentences: in the setup of that platform that most people have, with its system and
    its browser; where there is none, with the platform's own table alone."""
    setups = [s for s in estate.setups.values() if s.works_on == platform]
    kinds = {i: p.kind for (i, _), p in estate.programs.items()}
    own = ProgramUsed(id=OWN, version=program.version)
    best = min(setups, key=lambda s: (all(kinds.get(u.id) != "browser" for u in s.programs), -s.people, s.id), default=None)
    if best is None:
        here, tables = _bare(platform, own)
    else:
        around = tuple(u for u in best.programs if kinds.get(u.id) in ("system", "utility", "browser"))
        here, tables = best.model_copy(update={"programs": (*around, own)}), estate.programs
    programs = {**tables, (OWN, program.version): program}
    looked = replace(estate, setups={here.id: here}, programs=programs)
    found: dict[str, list[str]] = {}
    for clash in looked.clashes(here.id):
        for party in _ours(clash):
            found.setdefault(party.command.id, []).append(say_clash(clash, looked.board(here.id)))
    return found


def _bare(platform: Platform, own: ProgramUsed) -> tuple[Setup, Mapping[tuple[str, str], Program]]:
    """A machine of a platform that nobody in the organisation has: its own table and nothing else."""
    table = next(t for t in system_tables() if platform in t.platforms)
    layout, body = ("us(mac)", "mac-ansi") if platform == "macos" else ("us", "ansi")
    used = ProgramUsed(id=table.id, version=table.version)
    setup = Setup(
        id="bare",
        name="Bare",
        place="here",
        platform=platform,
        edition="any",
        layout=layout,
        body=body,
        programs=(used, own),
        people=0,
        machines=0,
    )
    return setup, {(table.id, table.version): table}


def _ours(clash: Clash) -> list[Binding]:
    return [b for b in clash.parties if b.program.id == OWN]


def unseen_on(platform: Platform) -> list[tuple[Shortcut, str]]:
    """The presses that never reach a page on a platform, since its system takes them and can't be told otherwise, each with
    what it does there."""
    table = next((t for t in system_tables() if platform in t.platforms), None)
    return [
        (shortcut, command.name)
        for command in (table.commands if table else ())
        if command.grip == "fixed" or command.secure
        for shortcut in command.defaults_on(platform)
    ]
